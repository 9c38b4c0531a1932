package studio_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

func (b *bench) pigment(t *testing.T, name string) studio.Pigment {
	t.Helper()
	shelf, err := b.Pigments(ctx)
	require.NoError(t, err)
	for _, p := range shelf {
		if p.Name == name {
			return p
		}
	}
	t.Fatalf("no pigment %q", name)
	return studio.Pigment{}
}

func TestPigmentShelfHasEveryForm(t *testing.T) {
	b := open(t)
	shelf, err := b.Pigments(ctx)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, len(shelf), 24)
	forms := map[colour.Form]bool{}
	for _, p := range shelf {
		forms[p.Form] = true
		sample, err := b.Sample(p)
		require.NoError(t, err)
		require.NotEmpty(t, sample.Steps)
		last := 0.0
		for _, s := range sample.Steps {
			assert.LessOrEqual(t, s.Load, p.LoadLimit+1e-9, "%s is never shown over its limit", p.Name)
			assert.GreaterOrEqual(t, s.Contrast, last-1e-9)
			last = s.Contrast
		}
	}
	assert.Len(t, forms, len(colour.Forms))
}

func TestPigmentFormIsChecked(t *testing.T) {
	b := open(t)
	for key, bad := range map[string]string{"form": "chalk", "swatch": "blue", "scatter": "-1", "drop": "1 L", "load_limit": "90%", "particle": "3 m", "density": "1", "light": "9", "price": "x", "stock": "-3 g", "clear": "maybe"} {
		_, n, err := b.SavePigment(ctx, 0, 0, map[string]string{"name": "Mine", key: bad})
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], key)
	}
	p, n, err := b.SavePigment(ctx, 0, 0, map[string]string{"name": "Mine", "drop": "1 drop", "particle": "30 µm", "density": "4.2 g/cm3", "stock": "1 oz wt"})
	require.NoError(t, err)
	require.True(t, n.OK(), "%v", n.Errors)
	assert.InDelta(t, 0.03, float64(p.Particle), 1e-12)
	assert.InDelta(t, 4200, float64(p.Density), 1e-9)
	assert.InDelta(t, 28.35, float64(p.Stock), 0.01)
	_, n, err = b.SavePigment(ctx, 0, 0, map[string]string{"name": "mine"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["name"], "has this name")
	require.NoError(t, b.RetirePigment(ctx, p.ID, true))
	p, err = b.Pigment(ctx, p.ID)
	require.NoError(t, err)
	assert.True(t, p.Retired)
}

// A drawdown made with a known pigment gives that pigment back.
func TestDrawdownTeachesThePigment(t *testing.T) {
	b := open(t)
	known := b.pigment(t, "Wet sand")
	swatch, err := colour.ParseHex(known.Swatch)
	require.NoError(t, err)
	reflectance, err := swatch.Reflectance()
	require.NoError(t, err)
	full, err := colour.FromMasstone(reflectance, known.Scatter)
	require.NoError(t, err)
	film, load := 0.2*units.Millimetre, 0.02
	cup := colour.Optics{}.Add(full, load)
	hex := func(ground float64) string { return cup.Over(colour.Flat(ground), film).XYZ().RGB().Hex() }
	chart := colour.Flat(0.80).XYZ().RGB().Hex()
	typed := map[string]string{"over_black": hex(0), "over_white": hex(0.80), "chart_white": chart, "draw_film": "0.2 mm", "draw_load": "2 %"}
	p, n, err := b.SolveDrawdown(ctx, b.pigment(t, "Bone").ID, typed)
	require.NoError(t, err)
	require.True(t, n.OK(), "%v", n.Errors)
	p, err = b.Pigment(ctx, p.ID)
	require.NoError(t, err)
	require.NotNil(t, p.Solved, "it is kept")
	want := colour.Cup([]colour.Dose{{Optics: full, Load: 0.03}})
	got := colour.Cup([]colour.Dose{{Optics: *p.Solved, Load: 0.03}})
	assert.InDelta(t, want.Contrast(1.6), got.Contrast(1.6), 0.02, "the picked colours have 256 steps")
	assert.Less(t, colour.Difference(want.Over(colour.Flat(0.3), 1.6).Lab(), got.Over(colour.Flat(0.3), 1.6).Lab()), 3.0)

	for key, bad := range map[string]string{"over_black": "dark", "draw_film": "0", "draw_load": "0", "over_white": "#000000"} {
		values := map[string]string{}
		for k, v := range typed {
			values[k] = v
		}
		values[key] = bad
		_, n, err := b.SolveDrawdown(ctx, p.ID, values)
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], key)
	}
	edited, n, err := b.SavePigment(ctx, p.ID, p.Rev, map[string]string{"swatch": "#334455"})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Nil(t, edited.Solved, "a new swatch is not what was drawn down")
}

// A base that lets its ground through is said, with the drops that cure it;
// so many drops do cure it.
func TestCupsSayWhetherTheyHide(t *testing.T) {
	b := open(t)
	white := b.pigment(t, "Lacing white")
	p := b.piece(t, map[string]string{"name": "x", "film": "1.6 mm"})
	id := fmt.Sprint(white.ID)
	p, n := b.edit(t, p.ID, p.Rev, map[string]string{"colour.c1.pigment": id, "colour.c1.load": "0.3 %", "ground": "#7a1f1a"})
	require.True(t, n.OK(), "%v", n.Errors)
	assert.Equal(t, "Lacing white", p.Colours[0].Name, "an unnamed colour takes the pigment's name")
	assert.Equal(t, white.Swatch, p.Colours[0].Swatch)
	plan, err := b.Plan(ctx, p.ID)
	require.NoError(t, err)
	cup := plan.Coats[0].Cups[0]
	require.True(t, cup.Look.Known)
	assert.Equal(t, colour.Translucent, cup.Look.Hiding)
	assert.Positive(t, cup.Look.Drops)
	assert.NotEqual(t, cup.Look.Film, cup.Look.Deep, "the film is not the cup")
	said := plan.Of(studio.PartColours)
	require.NotEmpty(t, said)
	assert.Contains(t, said[0].Text, "will not hide the ground")
	assert.Contains(t, said[0].Advice, "more drops")
	more := cup.Colour.Load + float64(units.Mass(cup.Look.Drops)*white.DropMass()/(cup.A.Mass+cup.B.Mass))
	p, n = b.edit(t, p.ID, p.Rev, map[string]string{"colour.c1.load": units.Fixed(more*100, 6) + " %"})
	require.True(t, n.OK(), "%v", n.Errors)
	plan, err = b.PlanPiece(ctx, p)
	require.NoError(t, err)
	assert.Equal(t, colour.Opaque, plan.Coats[0].Cups[0].Look.Hiding)
	assert.False(t, plan.Coats[0].Cups[1].Look.Known, "a colour known by its swatch promises nothing")
	_, n = b.edit(t, p.ID, p.Rev, map[string]string{"colour.c2.pigment": "4711"})
	assert.NotEmpty(t, n.Errors["colour.c2.pigment"])
}

func TestLoadsAndFlammables(t *testing.T) {
	b := open(t)
	p := b.piece(t, map[string]string{"name": "x"})
	p, n := b.edit(t, p.ID, p.Rev, map[string]string{"colour.c2.pigment": fmt.Sprint(b.pigment(t, "Squall ink").ID), "colour.c2.load": "4.5 %"})
	require.True(t, n.OK())
	plan, err := b.PlanPiece(ctx, p)
	require.NoError(t, err)
	all := fmt.Sprint(plan.Of(studio.PartColours))
	assert.Contains(t, all, "its limit is 4 %", "inks stop at 4 % (common practice)")
	assert.Contains(t, all, "flammable while wet")
}
