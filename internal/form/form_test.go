package form_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

type board struct {
	Depth  units.Length
	Count  int
	Edge   string
	Sealed bool
	Start  time.Time
	Ground string
	Load   float64
}

var fields = form.Fields[board]{
	form.Length("depth", "Side depth", func(b *board) *units.Length { return &b.Depth }, 0, 150),
	form.Count("count", "Boards", func(b *board) *int { return &b.Count }, 1, 24),
	form.Choice("edge", "Edge", func(b *board) *string { return &b.Edge }, form.Plain("open", "rim")...),
	form.Bool("sealed", "Sealed", func(b *board) *bool { return &b.Sealed }),
	form.At("start", "Start", func(b *board) *time.Time { return &b.Start }),
	form.Swatch("ground", "Ground", func(b *board) *string { return &b.Ground }),
	form.Share("load", "Load", func(b *board) *float64 { return &b.Load }, 0.5),
}

func whole() board {
	return board{Depth: 20, Count: 1, Edge: "open", Start: time.Date(2026, 3, 2, 9, 30, 0, 0, time.Local),
		Ground: "#d8c3a0", Load: 0.03}
}

func TestTypedValuesAreTakenOrRefused(t *testing.T) {
	b := whole()
	n := fields.Apply(&b, map[string]string{"depth": "1 in", "count": "two", "edge": "cliff", "sealed": "yes",
		"ground": "red", "load": "60 %"}, form.Metric)
	assert.InDelta(t, 25.4, float64(b.Depth), 1e-9, "an inch is 25.4 mm exactly (NIST SP 811)")
	assert.True(t, b.Sealed)
	for _, key := range []string{"count", "edge", "ground", "load"} {
		assert.NotEmpty(t, n.Errors[key], key)
	}
	want := whole()
	want.Depth, want.Sealed = b.Depth, true
	assert.Equal(t, want, b, "what was refused changes nothing")
	assert.False(t, n.OK())
}

// What a field shows is accepted when it is sent back, and is no change.
func TestShownIsNoChange(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		b := whole()
		b.Depth = units.Length(rapid.Float64Range(0, 150).Draw(rt, "depth"))
		b.Count = rapid.IntRange(1, 24).Draw(rt, "count")
		b.Load = rapid.Float64Range(0, 0.5).Draw(rt, "load")
		for _, sys := range []units.System{units.Metric, units.US} {
			style := form.Style{Units: sys, Lang: msg.English}
			shown := fields.Values(&b, sys)
			assert.Empty(rt, fields.Changed(&b, shown, style))
			again := b
			require.True(rt, fields.Apply(&again, shown, style).OK())
			assert.Equal(rt, b, again)
		}
	})
}

func TestViewsShowWhatWasRefused(t *testing.T) {
	b := whole()
	typed := map[string]string{"count": "two", "depth": "30 mm"}
	n := fields.Apply(&b, typed, form.Metric)
	v := fields.Views(&b, form.Metric, typed, n, nil)
	assert.Equal(t, "two", v["count"].Value, "a refused text stays in its field")
	assert.NotEmpty(t, v["count"].Error)
	assert.Equal(t, "30 mm", v["depth"].Value)
	assert.Equal(t, form.Choose, v["edge"].Kind)
	assert.Len(t, v["edge"].Options, 2)
}

func FuzzParseMoment(f *testing.F) {
	f.Add("2026-03-02T09:30")
	f.Add("")
	f.Fuzz(func(t *testing.T, text string) {
		if m, err := form.ParseMoment(text); err == nil && m.Year() > 9999 {
			t.Fatalf("%q is the year %d", text, m.Year())
		}
	})
}

// In German a comma is the decimal mark (DIN 1333): what is shown, what is typed and what is
// refused have it; what another program reads keeps the point.
func TestFieldsOfALanguage(t *testing.T) {
	german := form.Style{Units: units.Metric, Lang: words.In(words.German)}
	b := whole()
	b.Depth = 12.5
	assert.Equal(t, "12,5 mm", fields.Views(&b, german, nil, form.NewNotices(), nil)["depth"].Value)
	assert.Equal(t, "12.5 mm", fields.Values(&b, units.Metric)["depth"])
	assert.Empty(t, fields.Changed(&b, map[string]string{"depth": "12,5 mm"}, german), "as it is shown")
	assert.Empty(t, fields.Changed(&b, map[string]string{"depth": "12.5 mm"}, german))
	n := fields.Apply(&b, map[string]string{"depth": "1,275 cm", "count": "99", "load": "x", "edge": "lip"}, german)
	assert.InDelta(t, 12.75, float64(b.Depth), 1e-9, "no thousand")
	said := func(n form.Notices, key string) string { return msg.Say(n.Errors[key], german.Lang) }
	assert.Len(t, n.Errors, 3)
	assert.Equal(t, "muss eine ganze Zahl zwischen 1 und 24 sein", said(n, "count"))
	assert.Equal(t, `"x" ist kein Anteil; schreibe ihn als 30%`, said(n, "load"))
	assert.Equal(t, `"lip" steht nicht zur Wahl`, said(n, "edge"))
	n = fields.Apply(&b, map[string]string{"depth": "wide"}, german)
	assert.Equal(t, `"wide" ist nicht als eine Länge zu lesen; schreibe 46 cm, 1,7 mm oder 18 in`, said(n, "depth"))
	assert.Equal(t, "die Technik \"x\" hat keine Schritte, oder viel zu viele",
		msg.Error(form.Refusef("file", "the technique %q has no steps, or far too many", "x"), german.Lang))
}

// What stands in one line has no line break: it may become the head of a letter.
func TestOneLineIsOneLine(t *testing.T) {
	type letter struct{ To, Text string }
	fields := form.Fields[letter]{
		form.Text("to", "To", func(l *letter) *string { return &l.To }, 200, false),
		form.Words("text", "Text", func(l *letter) *string { return &l.Text }, 200),
	}
	l := letter{To: "mara@studio.example"}
	n := fields.Apply(&l, map[string]string{"to": "mara@studio.example\r\nBcc: all@studio.example", "text": "two\nlines"},
		form.Metric)
	assert.NotEmpty(t, n.Errors["to"])
	assert.Equal(t, letter{"mara@studio.example", "two\nlines"}, l)
}
