package colours_test

import (
	"bytes"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studiotest"
)

// Every form of pigment is among the materials, and its sample hides more with
// every step up to its limit and never beyond.
func TestPigmentsHaveEveryForm(t *testing.T) {
	r := studiotest.Open(t)
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	formsSeen := map[colour.Form]bool{}
	for _, p := range b.Paints {
		formsSeen[p.Form] = true
		steps := materials.Sample(p, b.Surface)
		require.NotEmpty(t, steps, p.Name)
		last := 0.0
		for _, s := range steps {
			assert.LessOrEqual(t, s.Load, p.LoadLimit+1e-9, "%s is never shown over its limit", p.Name)
			assert.GreaterOrEqual(t, s.Contrast, last-1e-9, p.Name)
			last = s.Contrast
		}
	}
	assert.Len(t, formsSeen, len(colour.Forms))
}

func TestPigmentFormIsChecked(t *testing.T) {
	r := studiotest.Open(t)
	for key, bad := range map[string]string{"form": "chalk", "swatch": "blue", "scatter": "-1", "drop": "1 L",
		"load_limit": "90%", "particle": "3 m", "density": "0.1", "light": "9", "price": "x", "bottle": "-3 g",
		"clear": "maybe"} {
		_, n, err := r.Materials.SavePigment(r.Ctx(), 0, 0, map[string]string{"name": "Mine", key: bad})
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], key)
	}
	p, n, err := r.Materials.SavePigment(r.Ctx(), 0, 0,
		map[string]string{"name": "Mine", "drop": "1 drop", "particle": "30 µm", "density": "4.2 g/cm3", "bottle": "1 oz wt"})
	require.NoError(t, err)
	require.True(t, n.OK(), "%v", n.Errors)
	assert.InDelta(t, 0.03, float64(p.Particle), 1e-12)
	assert.InDelta(t, 4200, float64(p.Density), 1e-9)
	assert.InDelta(t, 28.349523125, p.Content.Grams(), 1e-9, "an avoirdupois ounce (NIST SP 811)")
	_, n, err = r.Materials.SavePigment(r.Ctx(), 0, 0, map[string]string{"name": "mine"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["name"], "has this name")
	require.NoError(t, r.Materials.RetirePigment(r.Ctx(), p.ID, true))
	p, err = r.Materials.Pigment(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.True(t, p.Retired)
}

// A drawdown made with a known pigment gives that pigment back.
func TestDrawdownTeachesThePigment(t *testing.T) {
	r := studiotest.Open(t)
	known, air := r.Pigment("Wet sand"), r.Surface()
	film, load := 0.2*units.Millimetre, 0.02
	cup := colour.Optics{}.Add(known.Full, load)
	hex := func(ground float64) string {
		return air.Out(cup.Over(air.In(colour.Flat(ground)), film)).XYZ().RGB().Hex()
	}
	typed := map[string]string{"over_black": hex(0.04), "over_white": hex(0.80),
		"chart_white": colour.Flat(0.80).XYZ().RGB().Hex(), "draw_film": "0.2 mm", "draw_load": "2 %"}
	p, n, err := r.Materials.SolveDrawdown(r.Ctx(), r.Pigment("Bone").ID, typed)
	require.NoError(t, err)
	require.True(t, n.OK(), "%v", n.Errors)
	p, err = r.Materials.Pigment(r.Ctx(), p.ID)
	require.NoError(t, err)
	require.NotNil(t, p.Solved, "it is kept")
	want := colour.Cup([]colour.Dose{{Optics: known.Full, Load: 0.03}})
	got := colour.Cup([]colour.Dose{{Optics: *p.Solved, Load: 0.03}})
	assert.InDelta(t, air.Contrast(want, 1.6), air.Contrast(got, 1.6), 0.03, "the picked colours have 256 steps")

	for key, bad := range map[string]string{"over_black": "dark", "draw_film": "0", "draw_load": "0"} {
		values := maps.Clone(typed)
		values[key] = bad
		_, n, err := r.Materials.SolveDrawdown(r.Ctx(), p.ID, values)
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], key)
	}
	edited, n, err := r.Materials.SavePigment(r.Ctx(), p.ID, p.Rev, map[string]string{"swatch": "#334455"})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Nil(t, edited.Solved, "a new swatch is not what was drawn down")
}

// A base that lets its ground through has the drops that cure it; so many drops
// do cure it.
func TestCupsSayWhetherTheyHide(t *testing.T) {
	r := studiotest.Open(t)
	b, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	var strong material.Pigment
	for _, p := range b.Paints {
		if steps := materials.Sample(p, b.Surface); p.Form == colour.Paste && steps[len(steps)-1].Contrast > 0.99 {
			strong = p
		}
	}
	require.NotZero(t, strong.ID)
	p := r.Piece(map[string]string{"ground": "#7a1f1a", pieces.CoatKey(plan.FirstCoat, "technique"): "flow"})
	id := p.First().Coat.Colours[0].ID
	p = r.Edit(p, map[string]string{studiotest.CupKey(id, "pigment"): fmt.Sprint(strong.ID),
		studiotest.CupKey(id, "load"): "0.1 %"})
	cup := r.Plan(p).Coats[0].Cup(id)
	assert.Less(t, cup.Look.Contrast, 0.98, "it does not hide yet (ISO 6504-3)")
	require.Positive(t, cup.Look.Drops, "%+v, film %v", cup.Look, cup.Film)
	more := cup.Colour.Load + float64(units.Mass(cup.Look.Drops)*strong.DropMass()/cup.Resin())
	p = r.Edit(p, map[string]string{studiotest.CupKey(id, "load"): units.Fixed(more*100, 6) + " %"})
	assert.Equal(t, colour.Opaque, r.Plan(p).Coats[0].Cup(id).Look.Hiding)
	_, n, err := r.Pieces.Edit(r.Ctx(), p.ID, p.Rev, map[string]string{studiotest.CupKey(id, "pigment"): "4711"})
	require.NoError(t, err)
	assert.NotEmpty(t, n.Errors[studiotest.CupKey(id, "pigment")])
}

// Drops are counted as they fall and taken out as they are sucked up.
func TestTheMixerCountsDrops(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	id := p.First().Coat.Colours[1].ID
	p, err := r.Pieces.ChangeCup(r.Ctx(), p.ID, plan.FirstCoat, id,
		func(c *plan.Colour) error { c.Load, c.Pigment, c.More = 0, 0, nil; return nil })
	require.NoError(t, err)
	white, soot := r.Pigment("Lacing white"), r.Pigment("Lamp soot")
	dose := func(pigment int64, text string) error {
		_, err := r.Colours.Dose(r.Ctx(), p.ID, plan.FirstCoat, id, pigment, text)
		return err
	}
	require.NoError(t, dose(white.ID, "4 drops"))
	require.NoError(t, dose(soot.ID, "1 drop"))
	p, err = r.Pieces.Piece(r.Ctx(), p.ID)
	require.NoError(t, err)
	m, err := r.Colours.Mixer(r.Ctx(), p, plan.FirstCoat, id, "")
	require.NoError(t, err)
	require.Len(t, m.Rows, 2)
	// 20 drops a millilitre (pharmacy convention, from memory) of the bottle's density.
	assert.InEpsilon(t, 4*0.05*float64(white.Liquid)/1000, m.Rows[0].Grams.Grams(), 0.01,
		"but for the room the pigment itself takes")
	assert.Equal(t, "4 drops", msg.Say(m.Rows[0].Measure, msg.English))
	assert.Equal(t, "1 drop", msg.Say(m.Rows[1].Measure, msg.English))
	assert.Greater(t, m.Rows[1].More.Difference, m.Rows[0].More.Difference,
		"a drop of black changes more than one of white")

	require.NoError(t, dose(soot.ID, "-1 drop"))
	p, err = r.Pieces.Piece(r.Ctx(), p.ID)
	require.NoError(t, err)
	m, err = r.Colours.Mixer(r.Ctx(), p, plan.FirstCoat, id, "black")
	require.NoError(t, err)
	assert.Len(t, m.Rows, 1, "what is taken out is gone")

	var refused *form.Refused
	for _, bad := range []string{"a lot", "", "1 kg", "5 °C"} {
		assert.ErrorAs(t, dose(soot.ID, bad), &refused, bad)
	}
}

// A picture becomes a palette, the palette a piece with a cup a colour, and the
// palette goes out as a file and comes back.
func TestAPictureBecomesCups(t *testing.T) {
	r := studiotest.Open(t)
	p, err := r.Colours.ReadPicture(r.Ctx(), `C:\pictures\low_tide.png`, studiotest.Tide(t, 10))
	require.NoError(t, err)
	assert.Equal(t, "low tide", p.Name)
	require.Len(t, p.Colours, 2)
	assert.InDelta(t, 2./3, p.Colours[0].Share, 0.01)

	near, err := r.Colours.Match(r.Ctx(), p.Colours[0].Hex)
	require.NoError(t, err)
	far, err := r.Colours.Match(r.Ctx(), "#00ff00")
	require.NoError(t, err)
	require.NotEmpty(t, near.Best)
	require.NotEmpty(t, far.Best)
	assert.Less(t, near.Best[0].Difference, 1.0, "the examples have wet sand")
	assert.Greater(t, far.Best[0].Difference, 10.0, "and nothing as green as a screen")

	piece, err := r.Colours.PieceFromPalette(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, technique.Base, piece.First().Coat.Colours[0].Role)
	assert.NotZero(t, piece.First().Coat.Colours[0].Pigment)

	var gpl bytes.Buffer
	_, err = r.Colours.ExportPalette(r.Ctx(), p.ID, &gpl)
	require.NoError(t, err)
	again, err := r.Colours.ImportPalette(r.Ctx(), "x.gpl", &gpl)
	require.NoError(t, err)
	assert.Equal(t, p.Colours[1].Hex, again.Colours[1].Hex)

	var refused *form.Refused
	_, err = r.Colours.ReadPicture(r.Ctx(), "x.png", strings.NewReader("not a picture"))
	assert.ErrorAs(t, err, &refused)
	_, n, err := r.Colours.EditPalette(r.Ctx(), p.ID, p.Rev, map[string]string{"count": "8"})
	require.NoError(t, err)
	assert.Contains(t, msg.Say(n.Notes["count"], msg.English), "only 2 colours")
	_, n, err = r.Colours.EditPalette(r.Ctx(), p.ID, p.Rev, map[string]string{"name": "Late"})
	require.NoError(t, err)
	assert.False(t, n.OK(), "another page was faster")

	require.NoError(t, r.Colours.RemoveColour(r.Ctx(), p.ID, 0))
	require.NoError(t, r.Colours.TakeBack(r.Ctx(), p.ID))
	back, err := r.Colours.Palette(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, p.Colours, back.Colours)
}

// A tile scales by area at equal film and load: two boards of 60 × 40 cm are
// 48 tiles of 10 × 10 cm.
func TestATileScalesAtEqualFilmAndLoad(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"support": "tile", "size": "10 x 10 cm", "sides": "taped"})
	_, err := r.Pieces.StartComposition(r.Ctx(), p.ID, plan.FirstCoat, "current")
	require.NoError(t, err)
	out, err := r.Pieces.Rescale(r.Ctx(), p.ID, map[string]string{"size": "60 x 40 cm", "count": "2"}, nil)
	require.NoError(t, err)
	require.True(t, out.Notices.OK(), out.Notices.Errors)
	require.NotEmpty(t, out.Rows)
	for _, row := range out.Rows {
		assert.InDelta(t, row.From.Colour.Load, row.To.Colour.Load, 1e-12)
		assert.InDelta(t, row.From.Share, row.To.Share, 0.02, row.From.Colour.Name)
	}
	assert.InEpsilon(t, 48, float64(out.To.Face/out.From.Face), 1e-9)
	assert.InDelta(t, float64(out.From.Coats[0].Film), float64(out.To.Coats[0].Film), 1e-9)
	kept, n, err := r.Pieces.KeepRescaled(r.Ctx(), p.ID, map[string]string{"size": "60 x 40 cm", "name": "Large one"}, nil)
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Equal(t, "Large one", kept.Name)
	_, n, err = r.Pieces.KeepRescaled(r.Ctx(), p.ID, map[string]string{"size": "nought"}, nil)
	require.NoError(t, err)
	assert.False(t, n.OK())
}

// Another board on another day matches the cups that were weighed for the first one,
// not those that were planned (handbook 13, common practice).
func TestASecondBoardMatchesTheWeighedCups(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"coat.first.mixing": school.MixingCups, "size": "30 x 20 cm"})
	w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	(&studiotest.Painter{Way: school.TareEach, Over: 1.25}).Weigh(r, w)
	recipes, err := r.Bench.Recipes(r.Ctx(), p.ID)
	require.NoError(t, err)
	second, n, err := r.Pieces.KeepRescaled(r.Ctx(), p.ID,
		map[string]string{"size": "60 x 40 cm", "cups": pieces.AsWeighed}, recipes)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	for _, was := range p.First().Coat.Colours {
		now := second.First().Coat.Colours[slices.IndexFunc(second.First().Coat.Colours,
			func(c plan.Colour) bool { return c.ID == was.ID })]
		assert.InDelta(t, was.TotalLoad()*1.25, now.TotalLoad(), 0.002, "%s was weighed a quarter over", was.Name)
		assert.InDelta(t, was.Share, now.Share, 0.01, was.Name)
	}
	as, _, err := r.Pieces.KeepRescaled(r.Ctx(), p.ID, map[string]string{"size": "60 x 40 cm"}, recipes)
	require.NoError(t, err)
	assert.Equal(t, p.First().Coat.Colours[0].Load, as.First().Coat.Colours[0].Load, "as planned unless it is asked for")
}

// White comes first, in a clean cup; the darkest last, so that one cup serves a
// family (common practice).
func TestCupsAreOrderedPaleToDark(t *testing.T) {
	r := studiotest.Open(t)
	v := r.Plan(r.Piece(map[string]string{}))
	order := v.InOrder(&v.Coats[0])
	require.NotEmpty(t, order)
	first := true
	for _, c := range order {
		if c.Colour.Role == technique.Clear {
			continue
		}
		if first {
			assert.Equal(t, technique.White, c.Colour.Role)
			assert.Empty(t, c.Reuse, "white always in a clean cup")
			first = false
		}
	}
}

// Orange and blue side by side go to mud where they mix (common practice).
func TestNeighboursAreJudged(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): "flow"})
	p, err := r.Pieces.SetCups(r.Ctx(), p.ID, plan.FirstCoat, []plan.Colour{
		{ID: "c1", Name: "Orange", Role: technique.Base, Swatch: "#c05a10", Share: 0.6, Load: 0.04},
		{ID: "c2", Name: "Blue", Role: technique.Accent, Swatch: "#1f5fa8", Share: 0.4, Load: 0.04},
	})
	require.NoError(t, err)
	got := r.Plan(p).Neighbours(0)
	require.Len(t, got, 1)
	assert.NotEmpty(t, got[0].Meeting.Mud)
	assert.Empty(t, got[0].Heavier, "nothing is known of what they weigh")
}
