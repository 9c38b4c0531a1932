package colour_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
)

func masstone(t require.TestingT, hex string, scatter float64) colour.Optics {
	o, err := colour.FromMasstone(colour.MustHex(hex), scatter, colour.Surface{})
	require.NoError(t, err)
	return o
}

// The mistake everyone makes (common practice): two drops of a strong white in
// two US fluid ounces look opaque in the cup, and are not in a film of 1.6 mm.
func TestOpaqueInTheCupIsNotOpaqueInTheFilm(t *testing.T) {
	white := masstone(t, "#f6f5f1", 2.4)
	drops := (2 * units.Drop).Weighing(1800)
	resin := (2 * units.FluidOunce).Weighing(1100)
	cup := colour.Cup([]colour.Dose{{Optics: white, Load: float64(drops / resin)}})
	assert.Equal(t, colour.Opaque, colour.HidingOf(cup.Contrast(50)), "the stick vanishes in a 50 mm deep cup")
	assert.Equal(t, colour.Translucent, colour.HidingOf(cup.Contrast(1.6)))
}

// A masstone thick enough is its swatch again; a wash at its own load and film
// over the chart's white is its swatch again.
func TestSwatchesComeBack(t *testing.T) {
	for _, hex := range []string{"#a08c74", "#17455c", "#9c4f2d", "#f6f5f1", "#a12a2b"} {
		swatch := colour.MustHex(hex)
		o := masstone(t, hex, 0.8)
		seen := colour.Optics{}.Add(o, 0.06).Over(colour.Flat(0), 500)
		assert.Less(t, colour.Difference(swatch.Lab(), seen.Lab()), 0.5, hex)
	}
	for _, hex := range []string{"#244f8f", "#3f6b46", "#5a3b7c"} {
		swatch := colour.MustHex(hex)
		o, err := colour.FromWash(swatch, 0.02, 1.6, colour.Surface{})
		require.NoError(t, err)
		seen := colour.Optics{}.Add(o, 0.02).Over(colour.Flat(colour.ChartWhite), 1.6)
		assert.Less(t, colour.Difference(swatch.Lab(), seen.Lab()), 1.0, hex)
		assert.Equal(t, colour.Transparent,
			colour.HidingOf(colour.Cup([]colour.Dose{{Optics: o, Load: 0.002}}).Contrast(1.6)))
	}
}

// The load that just hides hides, and a little less does not.
func TestLoadToHide(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		doses := []colour.Dose{{Optics: masstone(t, "#a08c74", rapid.Float64Range(0.3, 3).Draw(t, "strength"))}}
		thick := units.Length(rapid.Float64Range(0.5, 3).Draw(t, "film"))
		load, ok := colour.LoadToHide(doses, thick, 0.5, colour.Surface{})
		if !ok {
			return
		}
		contrast := func(l float64) float64 {
			return colour.Cup([]colour.Dose{{Optics: doses[0].Optics, Load: l}}).Contrast(thick)
		}
		assert.GreaterOrEqual(t, contrast(load), 0.98)
		assert.Less(t, contrast(load*0.99), 0.98)
	})
	_, ok := colour.LoadToHide(nil, 1.6, 0.06, colour.Surface{})
	assert.False(t, ok)
	weak := []colour.Dose{{Optics: masstone(t, "#f6f5f1", 0.05)}}
	_, ok = colour.LoadToHide(weak, 0.3, 0.06, colour.Surface{})
	assert.False(t, ok, "a weak white never hides in a thin film")
}

// More pigment never hides less, whatever is in the cup already.
func TestMorePigmentHidesMore(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		a, b := masstone(t, "#a08c74", 0.8), masstone(t, "#17455c", 0.6)
		l, m := rapid.Float64Range(0, 0.05).Draw(t, "a"), rapid.Float64Range(0, 0.05).Draw(t, "b")
		less := colour.Cup([]colour.Dose{{Optics: a, Load: l}, {Optics: b, Load: m}}).Contrast(1.6)
		more := colour.Cup([]colour.Dose{{Optics: a, Load: l * 1.3}, {Optics: b, Load: m * 1.3}}).Contrast(1.6)
		assert.GreaterOrEqual(t, more, less-1e-12)
	})
}

func TestEveryFormHasItsRule(t *testing.T) {
	// Load limits by mass of mixed resin (common practice).
	for form, limit := range map[colour.Form]float64{colour.Paste: 0.06, colour.Tint: 0.06, colour.Ink: 0.04,
		colour.Mica: 0.06, colour.Acrylic: 0.05, colour.Glow: 0.25} {
		r, ok := colour.RuleOf(form)
		require.True(t, ok, form)
		assert.Equal(t, limit, r.LoadLimit, form)
	}
	ink, _ := colour.RuleOf(colour.Ink)
	assert.True(t, ink.Flammable)
	_, ok := colour.RuleOf("chalk")
	assert.False(t, ok)
	// 7 g of glow powder to a US fluid ounce: four ounces take 28 g (common
	// practice), which is within the limit by mass.
	assert.Less(t, 28/(28+float64((4*units.FluidOunce).Weighing(1100))), 0.25)
}

func TestPigmentsRefuse(t *testing.T) {
	_, err := colour.FromMasstone(colour.Flat(0.5), 0, colour.Surface{})
	assert.Error(t, err)
	_, err = colour.FromMasstone(colour.Flat(0.5), math.NaN(), colour.Surface{})
	assert.Error(t, err)
	_, err = colour.FromWash(colour.Flat(0.5), 0, 1, colour.Surface{})
	assert.Error(t, err)
	_, err = colour.FromWash(colour.Flat(0.5), 0.02, 0, colour.Surface{})
	assert.Error(t, err)
}
