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
	return resin.Product{RatioA: a, RatioB: b, By: by, DensityA: da, DensityB: db, Viscosity: 1000, WorkingMinutes: 45,
		HardHours: 24, Tolerance: 0.02}
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
		units.Density(rapid.Float64Range(900, 1300).Draw(t, "ρA")), units.Density(rapid.Float64Range(900, 1300).Draw(t,
			"ρB")))
}

// Splitting a batch loses nothing and keeps the ratio, by weight and by volume.
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
	}{{0, resin.PourOn}, {80, resin.PourOn}, {90, resin.PourSlow}, {99, resin.PourSlow}, {99.96, resin.PourStop}, {100,
		resin.PourStop}, {100.04, resin.PourStop}, {100.2, resin.PourOver}} {
		assert.Equal(t, x.want, resin.JudgePour(x.net, 100, 0.1), "%g g", float64(x.net))
	}
	assert.Equal(t, resin.PourSlow, resin.JudgePour(3.1, 5, 0.1), "a stream carries two grams after the jug is set down")
}

func TestStagesLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		step := rapid.Float64Range(0.5, 50).Draw(t, "step")
		largest := step * rapid.Float64Range(1, 100).Draw(t, "largest/step")
		total := rapid.Float64Range(0.1, 20_000).Draw(t, "total")
		batches, err := resin.Stages(units.Volume(total), units.Volume(largest), units.Volume(step))
		if err != nil {
			assert.ErrorContains(t, err, "ten thousand batches")
			return
		}
		sum := 0.0
		for i, l := range batches {
			sum += float64(l)
			assert.LessOrEqual(t, float64(l), largest*(1+1e-9), "none above the largest")
			n := float64(l) / step
			assert.InDelta(t, math.Round(n), n, 1e-6, "multiples of the step")
			if i > 0 {
				assert.LessOrEqual(t, float64(l), float64(batches[i-1])*(1+1e-9), "larger first")
			}
		}
		assert.LessOrEqual(t, float64(batches[0]-batches[len(batches)-1]), step*(1+1e-6), "as equal as possible")
		assert.GreaterOrEqual(t, sum, total*(1-1e-9))
		assert.Less(t, sum, total+step*(1+1e-6))
		fewest := math.Ceil(math.Ceil(total/step-1e-9)/math.Floor(largest/step+1e-9) - 1e-9)
		assert.Equal(t, int(fewest), len(batches), "fewest lots")
	})
}

func TestRefuses(t *testing.T) {
	p := product(2, 1, resin.ByVolume, 1130, 970)
	require.NoError(t, p.Check())
	for _, bad := range []func(*resin.Product){
		func(p *resin.Product) { p.RatioA = 0 }, func(p *resin.Product) { p.RatioB = math.NaN() }, func(
			p *resin.Product) {
			p.By = "eye"
		},
		func(p *resin.Product) { p.DensityA = 1 }, func(p *resin.Product) { p.Viscosity = 0 }, func(
			p *resin.Product) {
			p.WorkingMinutes = -1
		},
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
	for _, x := range [][3]units.Volume{{0, 100, 5}, {100, 0, 5}, {100, 100, 0}, {100, 3, 5},
		{units.Volume(math.NaN()), 100, 5}} {
		_, err := resin.Stages(x[0], x[1], x[2])
		assert.Error(t, err, "%v", x)
	}
}

// The limits of a product and of an amount belong to what is allowed, and
// nothing beyond them does.
func TestLimitsAreInclusive(t *testing.T) {
	good := resin.Product{RatioA: 2, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 970, Viscosity: 1000,
		WorkingMinutes: 45, HardHours: 24, Tolerance: 0.02}
	require.NoError(t, good.Check())
	for name, x := range map[string]struct {
		set    func(*resin.Product, float64)
		lo, hi float64
	}{
		"ratio A":   {func(p *resin.Product, v float64) { p.RatioA = v }, 0.001, 1000},
		"ratio B":   {func(p *resin.Product, v float64) { p.RatioB = v }, 0.001, 1000},
		"density A": {func(p *resin.Product, v float64) { p.DensityA = units.Density(v) }, 500, 3000},
		"density B": {func(p *resin.Product, v float64) { p.DensityB = units.Density(v) }, 500, 3000},
		"viscosity": {func(p *resin.Product, v float64) { p.Viscosity = units.Viscosity(v) }, 1, 1e6},
		"working":   {func(p *resin.Product, v float64) { p.WorkingMinutes = v }, 1, 7 * 24 * 60},
		"hard":      {func(p *resin.Product, v float64) { p.HardHours = v }, 0.05, 60 * 24},
		"tolerance": {func(p *resin.Product, v float64) { p.Tolerance = v }, 0, 0.5},
	} {
		for v, allowed := range map[float64]bool{x.lo: true, x.hi: true, x.lo - 1e-4: false, x.hi * 1.0001: false} {
			p := good
			x.set(&p, v)
			assert.Equal(t, allowed, p.Check() == nil, "%s of %g", name, v)
		}
	}
	for v, allowed := range map[units.Mass]bool{0: true, 1e9: true, -1e-9: false, 1.001e9: false,
		units.Mass(math.NaN()): false} {
		_, err := good.Mass(v)
		assert.Equal(t, allowed, err == nil, "%g g", float64(v))
		_, err = good.Volume(units.Volume(v))
		assert.Equal(t, allowed && v < 1e9, err == nil, "%g mL, which weigh a little more", float64(v))
	}
	for _, x := range []struct {
		a, b    units.Mass
		allowed bool
	}{{1, 0, true}, {0, 1, false}, {-1, 1, false}, {1, -1, false}, {1e9, 1, true}, {1.001e9, 1, false}, {1, 1e9, true}, {1,
		1.001e9, false}} {
		_, err := good.Correct(x.a, x.b)
		assert.Equal(t, x.allowed, err == nil, "%g and %g", float64(x.a), float64(x.b))
	}
	b, err := good.Volume(300)
	require.NoError(t, err)
	assert.InDelta(t, 300, float64(b.Volume()), 1e-9)
	assert.InDelta(t, float64(b.A.Mass+b.B.Mass), float64(b.Mass()), 1e-12)
}

// The words of a pour change exactly where they should: half a step about the
// target is on it, the last tenth, at least two grams, is the last stretch.
func TestPoursAreJudgedAtTheLine(t *testing.T) {
	for _, x := range []struct {
		net, target units.Mass
		want        resin.Pour
	}{
		{100.05, 100, resin.PourStop}, {100.0501, 100, resin.PourOver}, {99.95, 100, resin.PourStop},
		{99.9499, 100, resin.PourSlow},
		{90, 100, resin.PourSlow}, {89.999, 100, resin.PourOn}, {8, 10, resin.PourSlow}, {7.999, 10, resin.PourOn},
		{0, 100, resin.PourOn},
	} {
		assert.Equal(t, x.want, resin.JudgePour(x.net, x.target, 0.1), "%g of %g", float64(x.net), float64(x.target))
	}
}

// A tolerance is forgiven up to its last digit, and what is added brings the
// ratio back exactly.
func TestToleranceAtItsEdge(t *testing.T) {
	p := resin.Product{RatioA: 2, RatioB: 1, By: resin.ByWeight, DensityA: 1100, DensityB: 1000, Tolerance: 0.02}
	for b, within := range map[units.Mass]bool{51: true, 51.001: false, 49: true, 48.999: false} {
		c, err := p.Correct(100, b)
		require.NoError(t, err)
		assert.Equal(t, within, c.Within, "%g g", float64(b))
		assert.InDelta(t, 0.5, float64((b+c.AddB)/(100+c.AddA)), 1e-12)
		assert.InDelta(t, float64(100+b+c.AddA+c.AddB), float64(c.Total), 1e-9)
		assert.True(t, c.AddA == 0 || c.AddB == 0)
	}
	assert.True(t, math.IsNaN(p.OffRatio(0, 1)))
	assert.True(t, math.IsNaN(p.OffRatio(1, 0)))
	assert.InDelta(t, 0.1, p.OffRatio(100, 55), 1e-12)
	for _, x := range []struct {
		a, b units.Mass
		want resin.Need
	}{
		{0, 0, resin.Need{Part: resin.PartA, Target: 30}}, {-1, 0, resin.Need{Part: resin.PartA, Target: 30}},
		{31, 0, resin.Need{Part: resin.PartB, Target: 15.5}},
		{31, -1, resin.Need{Part: resin.PartB, Target: 15.5}}, {30, 15, resin.Need{Satisfied: true}},
		{30, 18, resin.Need{Part: resin.PartA, Target: 6, Corrects: true}},
		{30, 12, resin.Need{Part: resin.PartB, Target: 3, Corrects: true}},
	} {
		got, err := p.Next(30, x.a, x.b)
		require.NoError(t, err)
		assert.InDelta(t, float64(x.want.Target), float64(got.Target), 1e-9)
		got.Target = x.want.Target
		assert.Equal(t, x.want, got)
	}
}

// Batches in whole marks of the jug: the arithmetic of 0.1 + 0.2 costs no mark, a
// hair more does.
func TestStagesCountWholeMarks(t *testing.T) {
	for _, x := range []struct {
		total, largest, step units.Volume
		batches              int
		sum                  units.Volume
	}{{0.3, 0.1, 0.1, 3, 0.3}, {units.Volume(0.1 + 0.2), 0.3, 0.1, 1, 0.3}, {300.1, 400, 5, 1, 305}, {1, 400, 5, 1,
		5}, {100, 5, 5, 20, 100}, {50_000, 5, 5, 10_000, 50_000}} {
		batches, err := resin.Stages(x.total, x.largest, x.step)
		require.NoError(t, err)
		assert.Len(t, batches, x.batches)
		sum := units.Volume(0)
		for _, l := range batches {
			sum += l
		}
		assert.InDelta(t, float64(x.sum), float64(sum), 1e-9)
	}
	for _, bad := range [][3]units.Volume{{0, 10, 5}, {-1, 10, 5}, {10, 10, 0}, {10, 4, 5}, {50_005, 5, 5}} {
		_, err := resin.Stages(bad[0], bad[1], bad[2])
		assert.Error(t, err, "%v", bad)
	}
}
