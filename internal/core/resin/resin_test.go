package resin_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
)

func product(a, b float64, by resin.Measure, da, db units.Density) resin.Product {
	return resin.Product{RatioA: a, RatioB: b, By: by, DensityA: da, DensityB: db, Viscosity: 1000, WorkingMinutes: 45, HardHours: 24, Tolerance: 0.02}
}

func ExampleProduct_Correct() {
	p := product(2, 1, resin.ByVolume, 1130, 970)
	c, err := p.Correct(200, 100) // weighed as if 2:1 were by weight
	fmt.Printf("%+.1f %%, add %.1f g A, %v\n", c.OffRatio*100, float64(c.AddA), err)
	// Output: +16.5 %, add 33.0 g A, <nil>
}

// A worked example and common practice.
func TestRatios(t *testing.T) {
	p := product(2, 1, resin.ByVolume, 1130, 970)
	assert.InDelta(t, 2.330, 1/p.WeightRatio(), 5e-4, "2:1 by volume is 2.330:1 by weight (worked example)")
	b, err := p.Volume(300)
	require.NoError(t, err)
	assert.InDelta(t, 200, float64(b.A.Volume), 1e-9, "300 mL at 2:1 is 200 + 100 (common practice)")
	assert.InDelta(t, 100, float64(b.B.Volume), 1e-9)
	three := product(3, 1, resin.ByWeight, 1120, 1010)
	n, err := three.Next(30, 31, 0)
	require.NoError(t, err)
	assert.InDelta(t, 10.33, float64(n.Target), 5e-3, "31 g A needs 10.33 g B (common practice)")
}

func anyProduct(t *rapid.T) resin.Product {
	return product(rapid.Float64Range(0.5, 10).Draw(t, "a"), rapid.Float64Range(0.5, 10).Draw(t, "b"),
		rapid.SampledFrom([]resin.Measure{resin.ByVolume, resin.ByWeight}).Draw(t, "by"),
		units.Density(rapid.Float64Range(900, 1300).Draw(t, "ρA")), units.Density(rapid.Float64Range(900, 1300).Draw(t, "ρB")))
}

// Splitting a lot loses nothing and keeps the ratio, by weight and by volume.
func TestSplitConserves(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyProduct(t)
		v := units.Volume(rapid.Float64Range(0.1, 1e5).Draw(t, "mL"))
		b, err := p.Volume(v)
		require.NoError(t, err)
		assert.InEpsilon(t, float64(v), float64(b.Volume()), 1e-9)
		assert.InEpsilon(t, p.WeightRatio(), float64(b.B.Mass/b.A.Mass), 1e-9)
		if p.By == resin.ByVolume {
			assert.InEpsilon(t, p.RatioB/p.RatioA, float64(b.B.Volume/b.A.Volume), 1e-9)
		}
	})
}

// After the correction the ratio is right, only one part was added, and no
// smaller addition of either part would do.
func TestCorrectionRestoresTheRatio(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyProduct(t)
		a := units.Mass(rapid.Float64Range(1, 2000).Draw(t, "a g"))
		b := units.Mass(rapid.Float64Range(1, 2000).Draw(t, "b g"))
		c, err := p.Correct(a, b)
		require.NoError(t, err)
		assert.True(t, c.AddA == 0 || c.AddB == 0)
		assert.True(t, c.AddA >= 0 && c.AddB >= 0)
		fixed, err := p.Correct(a+c.AddA, b+c.AddB)
		require.NoError(t, err)
		assert.InDelta(t, 0, fixed.OffRatio, 1e-9)
		assert.True(t, fixed.Within)
		assert.InEpsilon(t, float64(a+b+c.AddA+c.AddB), float64(c.Total), 1e-12)
	})
}

// Pouring as told, with a hand that overshoots, always ends within tolerance.
func TestNextEndsWithinTolerance(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := anyProduct(t)
		a, b := units.Mass(0), units.Mass(0)
		for range 40 {
			n, err := p.Next(100, a, b)
			require.NoError(t, err)
			if n.Satisfied {
				assert.LessOrEqual(t, math.Abs(p.OffRatio(a, b)), p.Tolerance+1e-9)
				return
			}
			over := n.Target * units.Mass(1+rapid.Float64Range(-0.05, 0.05).Draw(t, "hand"))
			if n.Part == resin.PartA {
				a += over
			} else {
				b += over
			}
		}
		t.Fatal("never within tolerance")
	})
}

func TestJudgePour(t *testing.T) {
	for _, x := range []struct {
		net  units.Mass
		want resin.Pour
	}{{0, resin.PourOn}, {80, resin.PourOn}, {90, resin.PourSlow}, {99, resin.PourSlow}, {99.96, resin.PourStop}, {100, resin.PourStop}, {100.04, resin.PourStop}, {100.2, resin.PourOver}} {
		assert.Equal(t, x.want, resin.JudgePour(x.net, 100, 0.1), "%g g", float64(x.net))
	}
	assert.Equal(t, resin.PourSlow, resin.JudgePour(3.1, 5, 0.1), "a stream carries two grams after the jug is set down")
}

func TestStagesLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		step := rapid.Float64Range(0.5, 50).Draw(t, "step")
		largest := step * rapid.Float64Range(1, 100).Draw(t, "largest/step")
		total := rapid.Float64Range(0.1, 20_000).Draw(t, "total")
		lots, err := resin.Stages(units.Volume(total), units.Volume(largest), units.Volume(step))
		if err != nil {
			assert.ErrorContains(t, err, "ten thousand lots")
			return
		}
		sum := 0.0
		for i, l := range lots {
			sum += float64(l)
			assert.LessOrEqual(t, float64(l), largest*(1+1e-9), "none above the largest")
			n := float64(l) / step
			assert.InDelta(t, math.Round(n), n, 1e-6, "multiples of the step")
			if i > 0 {
				assert.LessOrEqual(t, float64(l), float64(lots[i-1])*(1+1e-9), "larger first")
			}
		}
		assert.LessOrEqual(t, float64(lots[0]-lots[len(lots)-1]), step*(1+1e-6), "as equal as possible")
		assert.GreaterOrEqual(t, sum, total*(1-1e-9))
		assert.Less(t, sum, total+step*(1+1e-6))
		fewest := math.Ceil(math.Ceil(total/step-1e-9)/math.Floor(largest/step+1e-9) - 1e-9)
		assert.Equal(t, int(fewest), len(lots), "fewest lots")
	})
}

func TestRefuses(t *testing.T) {
	p := product(2, 1, resin.ByVolume, 1130, 970)
	require.NoError(t, p.Check())
	for _, bad := range []func(*resin.Product){
		func(p *resin.Product) { p.RatioA = 0 }, func(p *resin.Product) { p.RatioB = math.NaN() }, func(p *resin.Product) { p.By = "eye" },
		func(p *resin.Product) { p.DensityA = 1 }, func(p *resin.Product) { p.Viscosity = 0 }, func(p *resin.Product) { p.WorkingMinutes = -1 },
		func(p *resin.Product) { p.HardHours = math.Inf(1) }, func(p *resin.Product) { p.Tolerance = 2 },
	} {
		q := p
		bad(&q)
		assert.Error(t, q.Check(), "%+v", q)
	}
	_, err := p.Volume(units.Volume(math.NaN()))
	assert.Error(t, err)
	_, err = p.Correct(0, 10)
	assert.Error(t, err)
	for _, x := range [][3]units.Volume{{0, 100, 5}, {100, 0, 5}, {100, 100, 0}, {100, 3, 5}, {units.Volume(math.NaN()), 100, 5}} {
		_, err := resin.Stages(x[0], x[1], x[2])
		assert.Error(t, err, "%v", x)
	}
}
