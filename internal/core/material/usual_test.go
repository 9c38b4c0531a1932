package material_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/units"
)

// gloss is the surface of a usual film.
var gloss = colour.Finish(0.9)

func optical(t *testing.T, p material.Pigment) material.Pigment {
	t.Helper()
	p, err := p.Optical(&colour.Memo{}, gloss)
	require.NoError(t, err)
	return p
}

// A white nobody has measured is a titanium white: twice as strong as other pastes, heavy enough to
// lace (half of it solid, 1 700 kg/m³: from memory), and white where it is poured thinly over black (common practice).
func TestAWhiteIsTakenForATitaniumWhite(t *testing.T) {
	white := optical(t, material.Usual(colour.Paste, "#ffffff"))
	assert.InDelta(t, 1700, float64(white.Liquid), 60)
	cup := colour.Cup([]colour.Dose{{Optics: white.Full, Load: 0.045}})
	assert.GreaterOrEqual(t, gloss.Contrast(cup, 1.6*units.Millimetre), 0.95)
	black := gloss.In(colour.Flat(0.03))
	thin := gloss.Out(cup.Over(black, 0.25*units.Millimetre)).Lab()
	assert.Greater(t, thin.L, 78.0)
	grey := material.Usual(colour.Paste, "#5a6a72")
	assert.Greater(t, white.Scatter, 2*grey.Scatter)
	assert.Greater(t, white.Liquid, grey.Liquid)
}

// Carbon black is light and absorbs, an ink lets light through, mica shimmers on large flakes (common practice).
func TestFormsAndColoursDiffer(t *testing.T) {
	soot, grey := material.Usual(colour.Paste, "#141414"), material.Usual(colour.Paste, "#808080")
	assert.Less(t, soot.Density, grey.Density)
	assert.Less(t, soot.Scatter, grey.Scatter)
	assert.True(t, material.Usual(colour.Ink, "#2c6f9b").Clear)
	assert.False(t, material.Usual(colour.Tint, "#2c6f9b").Clear)
	mica := material.Usual(colour.Mica, "#20b0a8")
	assert.Greater(t, mica.Particle, 10*units.Micrometre)
	assert.Positive(t, mica.Spoon)
	assert.Greater(t, material.Usual(colour.MetalPowder, "#9a7338").Density, 3*grey.Density/2)
	assert.Equal(t, material.Usual(colour.Paste, ""), material.Usual("no form", "no colour"))
}

// Whatever form and colour, nothing of what is taken for granted is doubted, and all of it is within its bounds.
func TestNothingUsualIsDoubted(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		form := rapid.SampledFrom(colour.Forms).Draw(t, "form").Form
		p := material.Usual(form, fmt.Sprintf("#%06x", rapid.IntRange(0, 0xffffff).Draw(t, "swatch")))
		if d := p.Doubt(); d != material.DoubtFits {
			t.Fatalf("%s %s is doubted: %s", form, p.Swatch, d)
		}
		if p.Scatter <= 0 || p.Density < 500 || p.Particle <= 0 || p.LoadLimit <= 0 || p.Solids <= 0 || p.Liquid < 500 {
			t.Fatalf("%+v", p)
		}
	})
}
