package journal_test

import (
	"bytes"
	"image/color"
	"image/jpeg"
	"math"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/verdict"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studiotest"
	"jevvo/internal/words"
)

// gap is the difference of a spot in CIELAB, wet and cured.
func gap(s journal.Spot) float64 {
	d := 0.0
	for k := range s.Wet {
		d += (s.Wet[k] - s.Cured[k]) * (s.Wet[k] - s.Cured[k])
	}
	return math.Sqrt(d)
}

// A result is due the day after, is filled in once, corrected, and refused from an
// old tab; how the coat was made stays what it was when the plan changes.
func TestAResultIsDueAndKept(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Made("Mudflat")
	due := func() []journal.Due {
		a, err := r.Agenda.Current(r.Ctx())
		require.NoError(t, err)
		out, err := r.Journal.Due(r.Ctx(), a, words.Coat)
		require.NoError(t, err)
		return out
	}
	assert.Empty(t, due(), "not on the day itself")
	r.Clock.T = r.Clock.T.Add(24 * time.Hour)
	require.Len(t, due(), 1)
	done := r.Edit(p, map[string]string{"state": string(plan.Done)})
	require.Len(t, due(), 1, "of a piece that is done with, too")
	p = done
	v, err := r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	require.False(t, v.Result.Filled())
	require.NotEmpty(t, v.Result.Pairs)
	first := v.Result
	first.Pairs[0].What, first.Mark, first.Sentence = "laced", 4, "laced in the middle"
	require.NoError(t, r.Journal.Keep(r.Ctx(), v, first))
	assert.Empty(t, due())
	old := first
	err = r.Journal.Keep(r.Ctx(), v, old)
	var refused *form.Refused
	require.ErrorAs(t, err, &refused, "the same form sent twice is not two results")
	v, err = r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	film := v.Result.Made.Film
	changed := v.Result
	changed.Mark = 2
	require.NoError(t, r.Journal.Keep(r.Ctx(), v, changed))
	fresh, err := r.Pieces.Piece(r.Ctx(), p.ID)
	require.NoError(t, err)
	r.Edit(fresh, map[string]string{pieces.CoatKey(plan.FirstCoat, "amount"): "3.3 mm"})
	v, err = r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	assert.Equal(t, film, v.Result.Made.Film)
	assert.Equal(t, 2, v.Result.Mark)
	for field, bad := range map[string]func(*journal.Result){
		"mark": func(x *journal.Result) { x.Mark = 6 }, "again": func(x *journal.Result) { x.Again = "perhaps" },
		"face":     func(x *journal.Result) { x.Face = []string{"velvet"} },
		"sentence": func(x *journal.Result) { x.Sentence = strings.Repeat("x", 5000) },
		"pairs":    func(x *journal.Result) { x.Pairs = []journal.Pair{{What: "danced"}} },
		"figures":  func(x *journal.Result) { x.Figures.Hides = 2 }, "preview": func(x *journal.Result) { x.Preview = -1 },
	} {
		x := v.Result
		bad(&x)
		require.ErrorAs(t, r.Journal.Keep(r.Ctx(), v, x), &refused, field)
		assert.Equal(t, field, refused.Field)
	}
	entries, _, err := r.Journal.Find(r.Ctx(), journal.Asked{Find: "LACED mid"})
	require.NoError(t, err)
	require.Len(t, entries, 1)
	assert.Equal(t, "result", entries[0].Kind)
	none, _, err := r.Journal.Find(r.Ctx(), journal.Asked{Find: `"*"`})
	require.NoError(t, err)
	assert.Empty(t, none)
}

// The same places in the wet and the cured photograph are compared with the light of
// each taken out by its grey card: what differs only by light does not differ.
func TestWetAndCuredAreCompared(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	grey, warm := color.NRGBA{118, 118, 118, 255}, color.NRGBA{140, 118, 90, 255} // 18 % grey, and under a warm lamp
	blue := color.NRGBA{60, 90, 160, 255}
	lit := func(c color.NRGBA) color.NRGBA { // the lamp's cast, in linear light
		lin := func(v uint8) float64 { return math.Pow(float64(v)/255, 2.2) }
		enc := func(v float64) uint8 { return uint8(255*math.Pow(v, 1/2.2) + 0.5) }
		return color.NRGBA{enc(lin(c.R) * lin(warm.R) / lin(118)), enc(lin(c.G)), enc(lin(c.B) * lin(warm.B) / lin(118)), 255}
	}
	add := func(moment string, data []byte) int64 {
		id, err := r.Journal.AddPhoto(r.Ctx(), p.ID, plan.FirstCoat, moment, bytes.NewReader(data))
		require.NoError(t, err)
		return id
	}
	wet := add("wet", studiotest.Shot(t, blue, color.NRGBA{200, 190, 180, 255}, grey))
	cured := add("cured", studiotest.Shot(t, lit(blue), color.NRGBA{90, 80, 70, 255}, warm))
	assert.Equal(t, wet, add("wet", studiotest.Shot(t, blue, color.NRGBA{200, 190, 180, 255}, grey)),
		"sent twice, kept once")
	card := &journal.Place{X: 0.5, Y: 0.1}
	places := []journal.Place{{Name: "blue", X: 0.25, Y: 0.6}, {Name: "sand", X: 0.75, Y: 0.6}}
	spots, err := r.Journal.Compare(r.Ctx(), p.ID, wet, cured, card, card, places)
	require.NoError(t, err)
	assert.Less(t, gap(spots[0]), 2.0, "the same blue under two lights")
	assert.Greater(t, gap(spots[1]), 15.0)
	bare, err := r.Journal.Compare(r.Ctx(), p.ID, wet, cured, nil, nil, places)
	require.NoError(t, err)
	assert.Greater(t, gap(bare[0]), 5.0, "without the card the lamp counts")
	var refused *form.Refused
	_, err = r.Journal.Compare(r.Ctx(), p.ID, wet, cured, card, card, []journal.Place{{X: 3, Y: 0}})
	require.ErrorAs(t, err, &refused)
	_, err = r.Journal.AddPhoto(r.Ctx(), p.ID, plan.FirstCoat, "wet", strings.NewReader("no picture"))
	require.ErrorAs(t, err, &refused)
	_, err = r.Journal.AddPhoto(r.Ctx(), p.ID, plan.FirstCoat, "sideways",
		bytes.NewReader(studiotest.Shot(t, blue, blue, grey)))
	require.ErrorAs(t, err, &refused)
	photos, err := r.Journal.Photos(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Len(t, photos, 2)
	small, err := r.Journal.PhotoPicture(r.Ctx(), p.ID, wet, true)
	require.NoError(t, err)
	m, err := jpeg.Decode(bytes.NewReader(small))
	require.NoError(t, err)
	assert.Equal(t, 360, m.Bounds().Dx())
}

// A cured colour tells how strong its pigment is, and the materials take it over once it
// is asked to; a cup of two pigments tells nothing.
func TestACuredColourTellsAStrength(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"name": "Tile"})
	v, err := r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	book := v.Agenda.Book
	pigment := book.Paints[0].ID
	for _, k := range book.Paints {
		if !k.Clear && k.Scatter > 0 && k.Scatter < 2 {
			pigment = k.ID
		}
	}
	p = r.Edit(p, map[string]string{studiotest.CupKey(v.Coat.Cups[1].Colour.ID, "pigment"): strconv.FormatInt(pigment, 10),
		studiotest.CupKey(v.Coat.Cups[1].Colour.ID, "load"): "0.4 %"})
	v, err = r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	require.ErrorContains(t, r.Journal.Keep(r.Ctx(), v, v.Result), "has not been poured")
	require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, plan.PourKey(plan.FirstCoat), r.Clock.T))
	v, err = r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	cup := v.Coat.Cups[1]
	cured := v.Plan.Context.Surface.Out(colour.Optics{}.Add(cup.Look.Optics, 1.5).Over(v.Coat.On(&cup), cup.Film)).Lab()
	res := v.Result
	res.Spots = []journal.Spot{{Name: "One", Cured: [3]float64{cured.L, cured.A, cured.B}}}
	require.NoError(t, r.Journal.Keep(r.Ctx(), v, res))
	s, err := r.Learn.Strength(r.Ctx(), p.ID, plan.FirstCoat, 0, cup.Colour.ID)
	require.NoError(t, err)
	assert.InDelta(t, 1.5, s.Times, 0.03)
	assert.Less(t, s.After, s.Before)
	before := book.Pigments[pigment].Full
	require.NoError(t, r.Learn.Strengthen(r.Ctx(), p.ID, plan.FirstCoat, 0, cup.Colour.ID))
	now, err := r.Materials.Pigment(r.Ctx(), pigment)
	require.NoError(t, err)
	assert.InEpsilon(t, s.Times*before.S[10], now.Full.S[10], 1e-9)
	_, err = r.Learn.Strength(r.Ctx(), p.ID, plan.FirstCoat, 7, cup.Colour.ID)
	assert.ErrorIs(t, err, store.ErrNotFound)
	var refused *form.Refused
	_, err = r.Learn.Strength(r.Ctx(), p.ID, plan.FirstCoat, 0, "none")
	require.ErrorAs(t, err, &refused)
}

// A wall shows the newest photograph of the surface, cured rather than wet, and what the
// newest result says.
func TestWhatAWallShowsOfAPiece(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Made("Mudflat")
	glance := func() journal.Glance {
		all, err := r.Journal.Glances(r.Ctx(), []int64{p.ID, p.ID + 1})
		require.NoError(t, err)
		assert.NotContains(t, all, p.ID+1)
		return all[p.ID]
	}
	assert.Equal(t, journal.Glance{}, glance())
	assert.Equal(t, words.Sentence{Weight: verdict.Mind, Text: msg.ID("Poured. How did it come out?")},
		glance().Result.Verdict())

	photo := func(moment string, level uint8) int64 {
		r.Clock.T = r.Clock.T.Add(time.Hour)
		grey := color.NRGBA{level, level, level, 255}
		id, err := r.Journal.AddPhoto(r.Ctx(), p.ID, plan.FirstCoat, moment,
			bytes.NewReader(studiotest.Shot(t, grey, grey, grey)))
		require.NoError(t, err)
		return id
	}
	wet := photo("wet", 90)
	assert.Equal(t, wet, glance().Photo)
	photo("cured", 100)
	cured := photo("cured", 110)
	photo("wet", 120)
	photo("fault", 130)
	assert.Equal(t, cured, glance().Photo)

	for _, c := range []struct {
		mark   int
		again  string
		weight verdict.Weight
		text   string
	}{{4, "yes", verdict.Settled, "Rated 4 of 5; repeat: yes, as it is."},
		{2, "", verdict.Mind, "Rated 2 of 5."}, {0, "no",
			verdict.Mind, "Repeat: no."}, {0, "changed", verdict.Settled, "Repeat: yes, changed."}} {
		v, err := r.Journal.View(r.Ctx(), p.ID, plan.FirstCoat)
		require.NoError(t, err)
		v.Result.Mark, v.Result.Again = c.mark, c.again
		require.NoError(t, r.Journal.Keep(r.Ctx(), v, v.Result))
		came := glance().Result.Verdict()
		assert.Equal(t, c.weight, came.Weight)
		assert.Equal(t, c.text, came.Text.In(msg.English))
	}
}
