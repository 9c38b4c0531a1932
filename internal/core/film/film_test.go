package film_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

var resin = film.DefaultLiquid // 1 Pa·s, 1100 kg/m³, 40 mN/m

// Each a published formula at a worked point.
func TestPublishedFormulas(t *testing.T) {
	p, err := film.PuddleHeight(50, resin)
	require.NoError(t, err)
	assert.InDelta(t, 1.926, float64(p.Capillary), 5e-4, "de Gennes et al. ch. 2")
	assert.InDelta(t, 1.63, float64(p.Height), 5e-3, "de Gennes et al. ch. 2")
	assert.InDelta(t, 2.72, float64(p.Pinned), 5e-3, "de Gennes et al. ch. 2")
	for seconds, want := range map[float64]float64{10: 15.6, 60: 22.4, 300: 30.9} {
		x, err := film.LineHalfWidth(10, 300, resin, seconds)
		require.NoError(t, err)
		assert.InDelta(t, want, float64(x), 0.05, "Huppert 1982, both ways")
	}
	for seconds, want := range map[float64]float64{10: 80.9, 60: 101.2, 300: 123.8} {
		r, err := film.PuddleRadius(50, resin, seconds)
		require.NoError(t, err)
		assert.InDelta(t, want, float64(r), 0.05, "Huppert 1982")
	}
	for wavelength, want := range map[units.Length]float64{20: 1.986, 100: 0.0590, 600: 0.00162} {
		rate, err := film.LevellingRate(wavelength, 1.6, resin)
		require.NoError(t, err)
		assert.InEpsilon(t, want, rate, 3e-3, "Orchard 1962")
	}
	for _, x := range []struct {
		size    units.Length
		density units.Density
		want    float64
	}{{50, 3600, 3.41}, {20, 8500, 1.61}, {0.3, 4200, 0.00015}, {200, 0, -23.9}, {1000, 0, -599}} {
		v, err := film.SettlingSpeed(x.size*units.Micrometre, x.density, resin)
		require.NoError(t, err)
		assert.InEpsilon(t, x.want, v, 0.02, "Stokes, %g µm", float64(x.size))
	}
}

// Huppert's similarity solution conserves volume: with the profile
// h ∝ (1 − (x/X)²)^{1/3} the thickness at the middle follows from it.
func TestSpreadingFollowsItsPowerLaw(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := units.Volume(rapid.Float64Range(1, 200).Draw(t, "mL"))
		s := rapid.Float64Range(1, 1000).Draw(t, "s")
		a, err := film.LineHalfWidth(v, 300, resin, s)
		require.NoError(t, err)
		b, err := film.LineHalfWidth(v, 300, resin, 32*s)
		require.NoError(t, err)
		assert.InEpsilon(t, 2*float64(a), float64(b), 1e-9, "t^⅕")
		c, err := film.PuddleRadius(v, resin, s)
		require.NoError(t, err)
		d, err := film.PuddleRadius(v, resin, 256*s)
		require.NoError(t, err)
		assert.InEpsilon(t, 2*float64(c), float64(d), 1e-9, "t^⅛")
	})
}

// Jeffreys 1930 (published); with ∫dt/ν = t/ν both agree.
func TestSides(t *testing.T) {
	h, err := film.Side(resin, 20, 60)
	require.NoError(t, err)
	assert.InDelta(t, 0.1758, float64(h), 5e-5)
	same, err := film.SideAfter(60*1100/1.0, 20)
	require.NoError(t, err)
	assert.InEpsilon(t, float64(h), float64(same), 1e-12)
	mean, err := film.MeanSide(60*1100, 20)
	require.NoError(t, err)
	sum, n := 0.0, 20000
	for i := range n { // the average over the depth, calculated the long way
		z, err := film.Side(resin, units.Length(20*(float64(i)+0.5)/float64(n)), 60)
		require.NoError(t, err)
		sum += float64(z) / float64(n)
	}
	assert.InEpsilon(t, sum, float64(mean), 1e-5)
}

func stack(lower, upper units.Length, mu units.Viscosity, over units.Density, tension float64) film.Stack {
	return film.Stack{
		Lower: film.Layer{Film: lower, Viscosity: mu, Density: 1100},
		Upper: film.Layer{Film: upper, Viscosity: mu, Density: 1100 + over}, InterfaceTension: tension, SurfaceTension: 40,
	}
}

// One liquid in two halves is Orchard's film: −((ρg + γk²)/(2μk))·(sinh 2kh −
// 2kh)/(cosh 2kh + 1 + 2k²h²) (Orchard 1962, exact; published).
func TestOneLiquidIsOrchard(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		h := rapid.Float64Range(0.2, 5).Draw(t, "film, mm")
		cut := rapid.Float64Range(0.1, 0.9).Draw(t, "lower share")
		wave := rapid.Float64Range(2, 200).Draw(t, "wavelength, mm")
		s := stack(units.Length(h*cut), units.Length(h*(1-cut)), 1000, 0, 0)
		g, err := s.GrowthAt(units.Length(wave))
		require.NoError(t, err)
		k, m := 2*math.Pi/(wave/1000), h/1000
		exact := -(1100*film.Gravity + 0.04*k*k) / (2 * 1.0 * k) * (math.Sinh(2*k*m) - 2*k*m) / (math.Cosh(2*k*m) + 1 +
			2*k*k*m*m)
		assert.InEpsilon(t, exact, g.Dominant(), 1e-6)
	})
	g, err := stack(0.8, 0.8, 1000, 0, 0).GrowthAt(20)
	require.NoError(t, err)
	assert.InDelta(t, -1.36735, g.Dominant(), 5e-6)
}

// Deep layers overturn at Δρ·g/(2k(μ₁ + μ₂)) (Rayleigh–Taylor for two viscous
// half-spaces without tension, published).
func TestDeepLayersAreRayleighTaylor(t *testing.T) {
	s := film.Stack{Lower: film.Layer{Film: 200, Viscosity: 1000, Density: 1100},
		Upper: film.Layer{Film: 200, Viscosity: 400, Density: 1160}, SurfaceTension: 40}
	for _, wave := range []units.Length{2, 10, 40} {
		g, err := s.GrowthAt(wave)
		require.NoError(t, err)
		assert.InEpsilon(t, 60*film.Gravity/(2*2*math.Pi/wave.Metres()*1.4), g.Larger, 1e-6)
	}
}

// Typical cells (regression values of the model).
func TestTypicalCells(t *testing.T) {
	for _, x := range []struct {
		stack          film.Stack
		spacing, efold float64
	}{{stack(1.2, 0.4, 1000, 60, 0), 2.23, 30}, {stack(1.2, 0.4, 400, 60, 0), 2.23, 12}, {stack(1.2, 0.4, 1000, 60, 0.5),
		8.5, 225}} {
		c, err := x.stack.Fastest()
		require.NoError(t, err)
		assert.InDelta(t, x.spacing, float64(c.Spacing), 0.01)
		assert.InDelta(t, x.efold, 1/c.Growth, 0.5)
	}
	calm, err := stack(1.2, 0.4, 1000, -60, 0).Fastest()
	require.NoError(t, err)
	assert.Zero(t, calm, "lighter on top does not grow")
}

// No wavelength grows faster than the one found.
func TestFastestIsFastest(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := film.Stack{
			Lower: film.Layer{Film: units.Length(rapid.Float64Range(0.2, 3).Draw(t, "h1")),
				Viscosity: units.Viscosity(rapid.Float64Range(200, 5000).Draw(t, "mu1")), Density: 1100},
			Upper: film.Layer{Film: units.Length(rapid.Float64Range(0.1, 2).Draw(t, "h2")),
				Viscosity: units.Viscosity(rapid.Float64Range(200, 5000).Draw(t, "mu2")),
				Density:   units.Density(rapid.Float64Range(1110, 1300).Draw(t, "rho2"))},
			InterfaceTension: rapid.Float64Range(0, 1).Draw(t, "tension"), SurfaceTension: 40,
		}
		best, err := s.Fastest()
		require.NoError(t, err)
		if best.Growth == 0 {
			return
		}
		for range 20 {
			g, err := s.GrowthAt(units.Length(math.Exp(rapid.Float64Range(math.Log(0.05), math.Log(500)).Draw(t, "ln mm"))))
			require.NoError(t, err)
			assert.LessOrEqual(t, g.Larger, best.Growth*(1+1e-5))
		}
	})
}

func TestRefusesNonsense(t *testing.T) {
	_, err := film.PuddleHeight(0, resin)
	assert.Error(t, err)
	_, err = film.PuddleHeight(50, film.Liquid{Density: -1, SurfaceTension: 40})
	assert.Error(t, err)
	_, err = film.LineHalfWidth(0, 300, resin, 1)
	assert.Error(t, err)
	_, err = film.LevellingRate(20, units.Length(math.NaN()), resin)
	assert.Error(t, err)
	_, err = stack(0, 1, 1000, 10, 0).Fastest()
	assert.Error(t, err)
	_, err = stack(1, 1, 1000, 10, 0).GrowthAt(0)
	assert.Error(t, err)
}

func BenchmarkFastest(b *testing.B) {
	s := stack(1.2, 0.4, 1000, 60, 0)
	for b.Loop() {
		if _, err := s.Fastest(); err != nil {
			b.Fatal(err)
		}
	}
}
