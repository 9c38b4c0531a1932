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

// Every sum refuses each of its values alone: nothing, less than nothing, more
// than anything, no number.
func TestEverySumRefusesEachOfItsValues(t *testing.T) {
	good := film.Liquid{Viscosity: 1000, Density: 1100, SurfaceTension: 40}
	without := func(change func(*film.Liquid, float64), v float64) film.Liquid {
		l := good
		change(&l, v)
		return l
	}
	viscosity := func(l *film.Liquid, v float64) { l.Viscosity = units.Viscosity(v) }
	density := func(l *film.Liquid, v float64) { l.Density = units.Density(v) }
	tension := func(l *film.Liquid, v float64) { l.SurfaceTension = v }
	for _, v := range []float64{0, -1, math.NaN(), math.Inf(1)} {
		bad := units.Length(v)
		refused := map[string]func() error{
			"puddle, density":  func() error { _, err := film.PuddleHeight(50, without(density, v)); return err },
			"puddle, tension":  func() error { _, err := film.PuddleHeight(50, without(tension, v)); return err },
			"wall, tension":    func() error { _, err := film.AgainstWall(50, without(tension, v)); return err },
			"side, viscosity":  func() error { _, err := film.Side(without(viscosity, v), 20, 60); return err },
			"side, density":    func() error { _, err := film.Side(without(density, v), 20, 60); return err },
			"side, time":       func() error { _, err := film.Side(good, 20, v); return err },
			"side after, flow": func() error { _, err := film.SideAfter(v, 20); return err },
			"mean side, flow":  func() error { _, err := film.MeanSide(v, 20); return err },
			"line, viscosity": func() error {
				_,
					err := film.LineHalfWidth(10, 300, without(viscosity, v), 1)
				return err
			},
			"line, density":         func() error { _, err := film.LineHalfWidth(10, 300, without(density, v), 1); return err },
			"line, length":          func() error { _, err := film.LineHalfWidth(10, bad, good, 1); return err },
			"line, volume":          func() error { _, err := film.LineAfter(units.Volume(v), 300, 1); return err },
			"puddle run, viscosity": func() error { _, err := film.PuddleRadius(10, without(viscosity, v), 1); return err },
			"puddle run, volume":    func() error { _, err := film.PuddleAfter(units.Volume(v), 1); return err },
			"levelling, wave":       func() error { _, err := film.LevellingRate(bad, 1.6, good); return err },
			"levelling, film":       func() error { _, err := film.LevellingRate(20, bad, good); return err },
			"Orchard, film":         func() error { _, err := film.OrchardRate(20, bad, good); return err },
			"Orchard, viscosity":    func() error { _, err := film.OrchardRate(20, 1.6, without(viscosity, v)); return err },
			"left of, wave":         func() error { _, err := film.LeftOf(bad, 1.6, good, 1); return err },
			"settling, size":        func() error { _, err := film.SettlingSpeed(bad, 3600, good); return err },
			"settling, viscosity":   func() error { _, err := film.SettlingSpeed(1, 3600, without(viscosity, v)); return err },
			"travelled, size":       func() error { _, err := film.Travelled(bad, 3600, 1100, 1); return err },
			"travelled, density":    func() error { _, err := film.Travelled(1, 3600, units.Density(v), 1); return err },
			"bubble, flow":          func() error { _, err := film.SmallestEscaping(1.6, v); return err },
			"tilted, film":          func() error { _, err := film.Tilted(bad, 600, 10, 1); return err },
			"tilted, length":        func() error { _, err := film.Tilted(1, bad, 10, 1); return err },
			"drift, film":           func() error { _, err := film.Drift(bad, 1, 1); return err },
			"cells, upper film":     func() error { s := stack(1, 1, 1000, 60, 0); s.Upper.Film = bad; return s.Check() },
			"cells, lower density": func() error {
				s := stack(1, 1, 1000, 60,
					0)
				s.Lower.Density = units.Density(v)
				return s.Check()
			},
			"cells, wave": func() error { _, err := stack(1, 1, 1000, 60, 0).GrowthAt(bad); return err },
		}
		for name, try := range refused {
			assert.Error(t, try(), "%s of %g", name, v)
		}
	}
	for _, v := range []float64{-1, math.NaN()} { // nothing is allowed here
		_, err := film.Side(good, units.Length(v), 60)
		assert.Error(t, err)
		_, err = film.SideAfter(1, units.Length(v))
		assert.Error(t, err)
		_, err = film.LineHalfWidth(10, 300, good, v)
		assert.Error(t, err)
		_, err = film.LineAfter(10, 300, v)
		assert.Error(t, err)
		_, err = film.PuddleRadius(10, good, v)
		assert.Error(t, err)
		_, err = film.PuddleAfter(10, v)
		assert.Error(t, err)
		_, err = film.LevellingRate(20, 1.6, without(tension, v))
		assert.Error(t, err)
		_, err = film.SettlingSpeed(1, units.Density(v), good)
		assert.Error(t, err)
		_, err = film.Travelled(1, units.Density(v), 1100, 1)
		assert.Error(t, err)
		_, err = film.Travelled(1, 3600, 1100, v)
		assert.Error(t, err)
		_, err = film.Drift(1, units.Angle(v), 1)
		assert.Error(t, err)
		_, err = film.Drift(1, 1, v)
		assert.Error(t, err)
		s := stack(1, 1, 1000, 60, v)
		assert.Error(t, s.Check())
		s = stack(1, 1, 1000, 60, 0)
		s.SurfaceTension = v
		assert.Error(t, s.Check())
		_, err = s.GrowthAt(10)
		assert.Error(t, err)
	}
	for _, angle := range []units.Angle{0, 181, -5} {
		_, err := film.PuddleHeight(angle, good)
		assert.Error(t, err)
	}
	_, err := film.Drift(1, 91, 1)
	assert.Error(t, err)
	top, err := film.PuddleHeight(180, good)
	require.NoError(t, err)
	assert.InDelta(t, 2*float64(top.Capillary), float64(top.Height), 1e-12,
		"a liquid that wets nothing stands twice its capillary length")
	still, err := film.SideAfter(1, 0)
	require.NoError(t, err)
	assert.Zero(t, still, "nothing is left at the very top")
	at, err := film.LineHalfWidth(10, 300, good, 0)
	require.NoError(t, err)
	assert.Zero(t, at)
	none, err := film.LevellingRate(20, 1.6, without(tension, 0))
	require.NoError(t, err)
	assert.Positive(t, none, "gravity alone levels too")
}

// A surface without tension levels more slowly, a rise of any value shows in the
// result it stands in: each law of its own variable (published formulas).
func TestLawsOfEachVariable(t *testing.T) {
	l := film.DefaultLiquid
	rapid.Check(t, func(t *rapid.T) {
		f := rapid.Float64Range(1.1, 5).Draw(t, "times")
		thick := l
		thick.Viscosity *= units.Viscosity(f)
		a, _ := film.Side(l, 20, 60)
		b, _ := film.Side(thick, 20, 60)
		assert.InEpsilon(t, math.Sqrt(f), float64(b/a), 1e-9, "Jeffreys: √ν")
		c, _ := film.Side(l, units.Length(20*f), 60)
		assert.InEpsilon(t, math.Sqrt(f), float64(c/a), 1e-9, "and √z")
		s, _ := film.SettlingSpeed(0.05, 3600, l)
		big, _ := film.SettlingSpeed(units.Length(0.05*f), 3600, l)
		assert.InEpsilon(t, f*f, big/s, 1e-9, "Stokes: r²")
		slow, _ := film.SettlingSpeed(0.05, 3600, thick)
		assert.InEpsilon(t, 1/f, slow/s, 1e-9, "and 1/μ")
		rise, _ := film.Travelled(0.05, 0, 1100, 1000)
		sink, _ := film.Travelled(0.05, 2200, 1100, 1000)
		assert.InEpsilon(t, float64(sink), -float64(rise), 1e-9, "an empty sphere rises as one of twice the density sinks")
		one, _ := film.SmallestEscaping(1, 1000)
		deep, _ := film.SmallestEscaping(units.Length(f), 1000)
		assert.InEpsilon(t, math.Sqrt(f), float64(deep/one), 1e-9)
		long, _ := film.SmallestEscaping(1, 1000*f)
		assert.InEpsilon(t, 1/math.Sqrt(f), float64(long/one), 1e-9)
		p, _ := film.PuddleHeight(50, film.Liquid{Density: 1100, SurfaceTension: 40})
		q, _ := film.PuddleHeight(50, film.Liquid{Density: 1100, SurfaceTension: 40 * f})
		assert.InEpsilon(t, math.Sqrt(f), float64(q.Height/p.Height), 1e-9)
		drift, _ := film.Drift(1, 1, 1000)
		thicker, _ := film.Drift(units.Length(f), 1, 1000)
		assert.InEpsilon(t, f*f, float64(thicker/drift), 1e-9)
		rate, _ := film.OrchardRate(20, 1.6, l)
		slower, _ := film.OrchardRate(20, 1.6, thick)
		assert.InEpsilon(t, 1/f, slower/rate, 1e-9)
		left, _ := film.LeftOf(20, 1.6, l, 100)
		later, _ := film.LeftOf(20, 1.6, l, 100*f)
		assert.InEpsilon(t, math.Pow(left, f), later, 1e-9, "what is left decays by the same factor each time")
		v, _ := film.LineHalfWidth(10, 300, l, 60)
		more, _ := film.LineHalfWidth(units.Volume(10*f), 300, l, 60)
		assert.InEpsilon(t, math.Pow(f, 0.6), float64(more/v), 1e-9, "Huppert: q^⅗")
		r, _ := film.PuddleRadius(10, l, 60)
		wide, _ := film.PuddleRadius(units.Volume(10*f), l, 60)
		assert.InEpsilon(t, math.Pow(f, 0.375), float64(wide/r), 1e-9, "and V^⅜")
	})
}

// The dominant mode is the larger, save where that neither grows nor decays.
func TestTheDominantMode(t *testing.T) {
	assert.Equal(t, 0.3, film.Growth{Larger: 0.3, Smaller: -1}.Dominant())
	assert.Equal(t, -0.3, film.Growth{Larger: -0.3, Smaller: -1}.Dominant())
	assert.Equal(t, -1.0, film.Growth{Larger: 1e-12, Smaller: -1}.Dominant(), "two equal liquids have no interface")
	assert.Equal(t, 1e-12, film.Growth{Larger: 1e-12, Smaller: -1e-12}.Dominant(), "nor has anything that stands still")
}
