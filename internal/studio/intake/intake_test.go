package intake_test

import (
	"bytes"
	"image/color"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/studio/intake"
	"jevvo/internal/studiotest"
)

func states(l intake.List) string {
	var out []string
	for _, r := range l.Rows {
		out = append(out, string(r.State))
	}
	return strings.Join(out, " ")
}

// Names alone are enough: the colour is what the name suggests (names of colours: SVG 1.1),
// and nothing is kept before it is asked for.
func TestAListOfNames(t *testing.T) {
	r := studiotest.Open(t)
	before, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	list := "Dark slate blue\nChalk white\nOcker\nQuux\n"
	l, err := r.Intake.Look(r.Ctx(), intake.Pigments, list)
	require.NoError(t, err)
	assert.Equal(t, "new new new new", states(l))
	assert.Equal(t, "#6a5acd", l.Rows[0].Typed["swatch"])
	assert.Equal(t, "#ffffff", l.Rows[1].Typed["swatch"])
	assert.True(t, l.Rows[2].Guessed)
	assert.False(t, l.Rows[3].Guessed)
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	require.Len(t, b.Paints, len(before.Paints))
	l, err = r.Intake.Make(r.Ctx(), intake.Pigments, list)
	require.NoError(t, err)
	assert.Equal(t, 4, l.Count(intake.Kept))
	l, err = r.Intake.Make(r.Ctx(), intake.Pigments, list)
	require.NoError(t, err)
	assert.Equal(t, "known known known known", states(l), "sent twice it makes nothing twice")
}

// What nobody said of a pigment is what is usual for its form and colour: a white covers and is heavy.
func TestWhatIsUsualIsTakenForGranted(t *testing.T) {
	r := studiotest.Open(t)
	_, err := r.Intake.Make(r.Ctx(), intake.Pigments,
		"Chalk A; paste; white\nChalk B; paste; #5a6a72\nChalk C; ink; #244f8f")
	require.NoError(t, err)
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	is := map[string]material.Pigment{}
	for _, p := range b.Paints {
		is[p.Name] = p
	}
	assert.Greater(t, is["Chalk A"].Scatter, 2*is["Chalk B"].Scatter)
	assert.Greater(t, is["Chalk A"].Liquid, is["Chalk B"].Liquid)
	assert.True(t, is["Chalk C"].Clear)
}

// Columns are found by what they are called in English or German, or by what they hold; a
// pigment takes what its form usually is.
func TestColumnsAreFound(t *testing.T) {
	r := studiotest.Open(t)
	for _, list := range []string{
		"Farbe;Art;Farbwert;Preis;Regal\nKreide A;mica powder;F0F0EE;9,50 €;3\nKreide B;xyz;#112233;4;1",
		"Kreide A;mica;#F0F0EE;9,50 €;3\nKreide A;paste;#112233;4,00 €;1",
	} {
		l, err := r.Intake.Look(r.Ctx(), intake.Pigments, list)
		require.NoError(t, err)
		assert.Equal(t, "new refused", states(l), list)
		assert.Equal(t, "mica", l.Rows[0].Typed["form"])
		assert.Equal(t, "#f0f0ee", l.Rows[0].Typed["swatch"])
		assert.Equal(t, "9,50", l.Rows[0].Typed["price"])
		require.NotNil(t, l.Rows[1].Wrong())
	}
	l, err := r.Intake.Make(r.Ctx(), intake.Pigments, "Farbe;Art;Regal\nKreide A;mica;3")
	require.NoError(t, err)
	assert.Equal(t, []string{"Regal"}, l.Unread())
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	for _, p := range b.Paints {
		if p.Name == "Kreide A" {
			rule, _ := colour.RuleOf(colour.Mica)
			assert.Equal(t, rule.Spoon, p.Spoon, "a powder is measured by the spoon")
			return
		}
	}
	t.Fatal("it was not kept")
}

// Without heads each cell is what it looks like, in whatever order its line has them.
func TestARaggedListIsReadLineByLine(t *testing.T) {
	r := studiotest.Open(t)
	l, err := r.Intake.Look(r.Ctx(), intake.Pigments,
		"Chalk A; paste; white\nChalk B; #10204a; mica\nNavy blue\nNight blue; third drawer\nChalk C; 4,50 €; #abc")
	require.NoError(t, err)
	assert.Equal(t, "new new new new new", states(l))
	assert.Equal(t, []string{"name", "form", "swatch", "price"}, keys(l.Columns))
	swatches := []string{}
	for _, row := range l.Rows {
		swatches = append(swatches, row.Typed["swatch"])
	}
	// navy and midnight blue: SVG 1.1
	assert.Equal(t, []string{"#ffffff", "#10204a", "#000080", "#191970", "#aabbcc"}, swatches)
	assert.Equal(t, "mica", l.Rows[1].Typed["form"])
	assert.Equal(t, "4,50", l.Rows[4].Typed["price"])
	assert.Equal(t, []string{"third drawer"}, l.Rows[3].Unread, "what fills no field is said")
	assert.Equal(t, []bool{false, false, true, true, false}, guessed(l))
}

func keys(columns []intake.Column) []string {
	var out []string
	for _, c := range columns {
		out = append(out, c.Key)
	}
	return out
}

func guessed(l intake.List) []bool {
	var out []bool
	for _, row := range l.Rows {
		out = append(out, row.Guessed)
	}
	return out
}

func TestResinsAndGoods(t *testing.T) {
	r := studiotest.Open(t)
	l, err := r.Intake.Make(r.Ctx(), intake.Resins,
		"Name,Ratio,Ratio by,Pot life,Hard after\nBarrow 50,2:1,weight,50 min,20 h\nBarrow 0,0:0,weight,50 min,20 h")
	require.NoError(t, err)
	assert.Equal(t, "kept refused", states(l))
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	found := false
	for _, p := range b.Resins {
		if p.Name == "Barrow 50" {
			found = true
			assert.Equal(t, 50.0, p.WorkingMinutes)
			assert.Equal(t, 20.0, p.HardHours)
			assert.Equal(t, resin.ByWeight, p.By)
		}
	}
	assert.True(t, found)
	l, err = r.Intake.Make(r.Ctx(), intake.Goods, "Item\tUnit\tPack size\tPrice\nCups, small\tpieces\t50\t12.90")
	require.NoError(t, err)
	assert.Equal(t, "kept", states(l))
}

// Past pieces are done, on the day they were poured, and plan nothing.
func TestPastPieces(t *testing.T) {
	r := studiotest.Open(t)
	l, err := r.Intake.Make(r.Ctx(), intake.Past,
		"Title;Size;Technique;Date\nLow tide;40 x 60 cm;Swipe;14.9.2025\nNone;9 m;;")
	require.NoError(t, err)
	require.Equal(t, "kept refused", states(l), "%v", l.Rows[0].Wrong())
	list, _, err := r.Pieces.Found(r.Ctx(), store.PieceFilter{Find: "Low tide"}, 9, 0)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, plan.Done, list[0].State)
	assert.Equal(t, "swipe", list[0].First().What)
	assert.InDelta(t, 600, float64(list[0].Height), 1e-9)
	assert.Equal(t, "2025-09-14", list[0].Start.Format("2006-01-02"))
	assert.Equal(t, units.Length(400), list[0].Width)
}

// With strokes the day comes first, in American English the month.
func TestDatesByTheLanguage(t *testing.T) {
	r := studiotest.Open(t)
	for language, want := range map[string]string{"en": "2025-02-03T00:00", "en-US": "2025-03-02T00:00"} {
		_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"language": language})
		require.NoError(t, err)
		require.True(t, n.OK())
		l, err := r.Intake.Look(r.Ctx(), intake.Past, "Title;Size;Date\nLow tide;40 x 60 cm;3/2/2025")
		require.NoError(t, err)
		assert.Equal(t, want, l.Rows[0].Typed["start"], language)
	}
}

func TestWhatIsNoListIsRefused(t *testing.T) {
	r := studiotest.Open(t)
	for _, text := range []string{"", " \n;;\n", "PK\x03\x04\x00"} {
		_, err := r.Intake.Look(r.Ctx(), intake.Pigments, text)
		assert.Error(t, err)
	}
	_, err := r.Intake.Look(r.Ctx(), "nothing", "a")
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// A photograph of a swatch is a line with the colour in its middle.
func TestASwatchFromAPhotograph(t *testing.T) {
	r := studiotest.Open(t)
	slate := color.NRGBA{0x3d, 0x4a, 0x54, 255}
	photo := studiotest.Shot(t, slate, slate, slate)
	line, err := r.Intake.Swatch(r.Ctx(), "folder/Sea_slate;1.jpg", bytes.NewReader(photo))
	require.NoError(t, err)
	name, hex, _ := strings.Cut(line, "; ")
	assert.Equal(t, "Sea slate 1", name)
	got, err := colour.ParseHex(hex)
	require.NoError(t, err)
	want, _ := colour.ParseHex("#3d4a54")
	assert.InDelta(t, want.R, got.R, 0.01)
	assert.InDelta(t, want.B, got.B, 0.01)
	_, err = r.Intake.Swatch(r.Ctx(), "a.jpg", strings.NewReader("no picture"))
	assert.Error(t, err)
}

// Lines as they are jotted down: one parted by commas among others by semicolons, a colour's figures
// behind its name, German colours in one word. A comma within a name parts nothing.
func TestLinesAsTheyAreJottedDown(t *testing.T) {
	r := studiotest.Open(t)
	for list, want := range map[string][]string{
		"Slate 2 #33485a\nBrass, metal powder\nInk black; ink\nBone, paste, 9.50 €": {"Slate 2||", "Brass|metal|",
			"Ink black|ink|", "Bone|paste|9.50"},
		"Slate; ink\nHarbour, at night; paste\nBone; paste\nDune, pale": {"Slate|ink|", "Harbour, at night|paste|",
			"Bone|paste|", "Dune, pale||"},
	} {
		l, err := r.Intake.Look(r.Ctx(), intake.Pigments, list)
		require.NoError(t, err)
		var read []string
		for _, row := range l.Rows {
			read = append(read, strings.Join([]string{row.Name, row.Typed["form"], row.Typed["price"]}, "|"))
			assert.Empty(t, row.Unread)
			if row.Name == "Slate 2" {
				assert.Equal(t, "#33485a", row.Typed["swatch"])
			}
		}
		assert.Equal(t, want, read)
	}
	for name, hex := range map[string]string{"Deckweiß": "#ffffff", "Schieferblau": "#708090", "Rostrot": "#a0522d",
		"Dunkelblau": "#00008b", "Hellgrün": "#90ee90", "Zitronengelb": "#ffff00", "Messing": "#b8860b", "Trott": ""} {
		l, err := r.Intake.Look(r.Ctx(), intake.Pigments, name)
		require.NoError(t, err)
		assert.Equal(t, hex, l.Rows[0].Typed["swatch"], name)
	}
}
