package portion_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/portion"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
)

// Common practice: 12 US fl oz on an 18 × 18 in board is a
// normal clear bed of 1.70 mm, 11 fl oz is 1.56 mm.
func TestTwelveOuncesOnEighteenInches(t *testing.T) {
	face := (18 * units.Inch).Times(18 * units.Inch)
	assert.InDelta(t, 1.70, float64((12 * units.FluidOunce).Over(face)), 5e-3)
	assert.InDelta(t, 1.56, float64((11 * units.FluidOunce).Over(face)), 5e-3)
	a, err := portion.Coat{Face: face, Film: 1.6977}.Amount()
	require.NoError(t, err)
	assert.InDelta(t, 12, a.Total.FluidOunces(), 1e-3)
}

// total = (face + sides + absorbed + texture − inclusions)/(1 − share) + cups·loss
func TestAmountAddsUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := func(name string, hi float64) float64 { return rapid.Float64Range(0, hi).Draw(t, name) }
		c := portion.Coat{Face: units.Area(v("face", 1e6)), Side: units.Area(v("side", 1e5)),
			Film: units.Length(v("film", 5)), SideFilm: units.Length(v("sideFilm", 1)),
			Absorbed: units.Volume(v("absorbed", 100)), Texture: units.Volume(v("texture", 100)), RunOff: v("run-off", 0.5),
			Cups: 4, CupLoss: 3}
		a, err := c.Amount()
		require.NoError(t, err)
		stays := float64(c.Face)*float64(c.Film)/1000 + float64(c.Side)*float64(c.SideFilm)/1000 +
			float64(c.Absorbed+c.Texture)
		assert.InDelta(t, stays/(1-c.RunOff)+12, float64(a.Total), 1e-6)
		assert.InDelta(t, float64(a.OnBoard()), float64(a.Poured())*(1-c.RunOff), 1e-6,
			"the run-off is its share of what is poured")
	})
}

func TestAmountRefuses(t *testing.T) {
	for _, c := range []portion.Coat{{Face: -1}, {Face: 100, Film: 1, RunOff: 1}, {Face: 100, Film: 1, RunOff: math.NaN()},
		{Face: 1000, Film: 1, Inclusions: 50}, {Face: units.Area(math.Inf(1)), Film: 1}} {
		_, err := c.Amount()
		assert.Error(t, err, "%+v", c)
	}
}

// Whatever the shares, the rounded cups add up to the rounded mix, every cup
// is within a step of what it should be, and a cup that is off is flagged.
func TestCupsConserve(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := resin.Product{RatioA: rapid.Float64Range(1, 4).Draw(t, "ratio"), RatioB: 1, By: resin.ByVolume, DensityA: 1130,
			DensityB: 980, Tolerance: 0.02}
		step := rapid.SampledFrom([]units.Mass{0.01, 0.1, 0.5, 1, 5}).Draw(t, "step")
		n := rapid.IntRange(1, 12).Draw(t, "cups")
		shares := make([]portion.Share, n)
		for i := range shares {
			shares[i] = portion.Share{Name: string(rune('a' + i)), Share: rapid.Float64Range(0.01, 5).Draw(t, "share")}
		}
		coat := units.Volume(rapid.Float64Range(20, 3000).Draw(t, "mL"))
		mix, err := portion.Cups(p, coat, 3, step, shares)
		require.NoError(t, err)
		a, b, v := 0.0, 0.0, 0.0
		for _, c := range mix.Cups {
			a, b, v = a+float64(c.A), b+float64(c.B), v+float64(c.Volume)
			exact, err := p.Volume(c.Volume)
			require.NoError(t, err)
			assert.InDelta(t, float64(exact.A.Mass), float64(c.A), float64(step)*1.000001)
			assert.InDelta(t, float64(exact.B.Mass), float64(c.B), float64(step)*1.000001)
			off := c.A == 0 || math.Abs(float64(c.B/c.A)/p.WeightRatio()-1) > p.Tolerance
			assert.Equal(t, off, c.OffRatio)
		}
		assert.InDelta(t, float64(mix.A), a, 1e-6)
		assert.InDelta(t, float64(mix.B), b, 1e-6)
		assert.InDelta(t, float64(coat)+3*float64(n), v, 1e-6)
	})
}

func TestLargestRemainder(t *testing.T) {
	whole, total := portion.LargestRemainder([]float64{1.5, 1.5, 1.5, 1.5})
	assert.Equal(t, []int{2, 2, 1, 1}, whole, "earlier ones first on a tie")
	assert.Equal(t, 6, total)
	// The usual example of the method (Hamilton apportionment, published).
	whole, total = portion.LargestRemainder([]float64{4.7, 1.6, 1.58, 1.2, 0.6, 0.32})
	assert.Equal(t, 10, total)
	assert.Equal(t, []int{5, 2, 1, 1, 1, 0}, whole)
}

func TestCupsRefuse(t *testing.T) {
	p := resin.Product{RatioA: 2, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 980, Tolerance: 0.02}
	one := []portion.Share{{Name: "a", Share: 1}}
	for _, f := range []func() error{
		func() error { _, err := portion.Cups(p, 0, 3, 0.1, one); return err },
		func() error { _, err := portion.Cups(p, 100, -1, 0.1, one); return err },
		func() error { _, err := portion.Cups(p, 100, 3, 0, one); return err },
		func() error { _, err := portion.Cups(p, 100, 3, 0.1, nil); return err },
		func() error { _, err := portion.Cups(p, 100, 3, 0.1, []portion.Share{{Name: "a"}}); return err },
		func() error {
			_, err := portion.Cups(p, 100, 3, 0.1, []portion.Share{{Name: "a", Share: math.NaN()}})
			return err
		},
		func() error { _, err := portion.Cups(p, 100, 3, 0.1, make([]portion.Share, 500)); return err },
	} {
		assert.Error(t, f())
	}
}

// A cup is flagged only when no rounding of its parts inside one step saves it,
// and among the roundings with as few flags the errors are the least: against
// trying every rounding of every cup.
func TestNoCupIsFlaggedThatAnotherRoundingSaves(t *testing.T) {
	flagged := 0
	rapid.Check(t, func(t *rapid.T) {
		p := resin.Product{RatioA: rapid.Float64Range(1, 4).Draw(t, "ratio"), RatioB: 1, By: resin.ByWeight, DensityA: 1130,
			DensityB: 980, Tolerance: 0.02}
		n := rapid.IntRange(1, 5).Draw(t, "cups")
		shares := make([]portion.Share, n)
		sum := 0.0
		for i := range shares {
			shares[i] = portion.Share{Share: rapid.Float64Range(0.1, 3).Draw(t, "share")}
			sum += shares[i].Share
		}
		coat := rapid.Float64Range(20, 400).Draw(t, "mL")
		mix, err := portion.Cups(p, units.Volume(coat), 0, 1, shares)
		require.NoError(t, err)
		exact := make([]resin.Batch, n)
		got, off := 0, 0.0
		for i, s := range shares {
			exact[i], err = p.Volume(units.Volume(coat * s.Share / sum))
			require.NoError(t, err)
			if mix.Cups[i].OffRatio {
				got++
			}
			off += errorOf(exact[i], float64(mix.Cups[i].A), float64(mix.Cups[i].B))
		}
		flagged += got
		whole, err := p.Volume(units.Volume(coat))
		require.NoError(t, err)
		assert.InDelta(t, float64(whole.A.Mass), float64(mix.A), 0.5+1e-9, "both parts add up to their rounded sums")
		assert.InDelta(t, float64(whole.B.Mass), float64(mix.B), 0.5+1e-9)
		least, nearest := n+1, math.Inf(1)
		for code := range 1 << (2 * n) { // bit 2i: A of cup i rounded up, bit 2i+1: its B
			a, b, bad, far := 0.0, 0.0, 0, 0.0
			for i, e := range exact {
				ca, cb := math.Floor(float64(e.A.Mass))+float64(code>>(2*i)&1), math.Floor(float64(e.B.Mass))+
					float64(code>>(2*i+1)&1)
				if ca == 0 || math.Abs(cb/ca*p.RatioA-1) > p.Tolerance {
					bad++
				}
				a, b, far = a+ca, b+cb, far+errorOf(e, ca, cb)
			}
			if a != float64(mix.A) || b != float64(mix.B) || bad > least {
				continue
			}
			if bad < least {
				least, nearest = bad, far
			}
			nearest = math.Min(nearest, far)
		}
		assert.Equal(t, least, got)
		if got > 0 || n == 1 {
			assert.InDelta(t, nearest, off, 1e-6)
		}
	})
	assert.Positive(t, flagged, "some cups are too small for a scale that reads to a gram")
}

// errorOf is how far, in squares of grams, a rounding lies from a batch.
func errorOf(b resin.Batch, partA, partB float64) float64 {
	da, db := partA-float64(b.A.Mass), partB-float64(b.B.Mass)
	return da*da + db*db
}

// Rounding by hand, ties to the earlier; parts always add up to the rounded
// sum, also where there are too many cups to round both parts together.
func TestRoundingAddsUp(t *testing.T) {
	for _, x := range []struct {
		exact []float64
		want  []int
	}{
		{[]float64{7.6, 4.3, 4.1}, []int{8, 4, 4}}, {[]float64{0.5, 0.5}, []int{1, 0}},
		{[]float64{1.2, 1.2, 1.2}, []int{2, 1, 1}}, {[]float64{3}, []int{3}},
		{[]float64{0.3, 0.3, 0.3}, []int{1, 0, 0}}, {[]float64{2.49}, []int{2}}, {[]float64{2.5}, []int{3}}, {nil, []int{}},
	} {
		got, total := portion.LargestRemainder(x.exact)
		assert.Equal(t, x.want, got, "%v", x.exact)
		sum := 0
		for _, v := range got {
			sum += v
		}
		assert.Equal(t, total, sum)
	}
	many := make([]portion.Share, 80) // too many to be rounded with an eye on each other
	for i := range many {
		many[i] = portion.Share{Share: 1 + float64(i%7)}
	}
	p := resin.Product{RatioA: 3, RatioB: 1, By: resin.ByWeight, DensityA: 1100, DensityB: 1000, Tolerance: 0.02}
	mix, err := portion.Cups(p, 3000, 0, 1, many)
	require.NoError(t, err)
	a, b := units.Mass(0), units.Mass(0)
	for i, c := range mix.Cups {
		a, b = a+c.A, b+c.B
		batch, err := p.Volume(c.Volume)
		require.NoError(t, err)
		assert.LessOrEqual(t, math.Abs(float64(c.A-batch.A.Mass)), 1.0, "cup %d", i)
	}
	assert.InDelta(t, float64(mix.A), float64(a), 1e-9)
	assert.InDelta(t, float64(mix.B), float64(b), 1e-9)
}

// The limits of a coat and of its cups belong to what is allowed.
func TestPortionLimitsAreInclusive(t *testing.T) {
	p := resin.Product{RatioA: 2, RatioB: 1, By: resin.ByWeight, DensityA: 1100, DensityB: 1000, Tolerance: 0.02}
	one := []portion.Share{{Name: "a", Share: 1}}
	for _, x := range []struct {
		coat, loss units.Volume
		step       units.Mass
		shares     []portion.Share
		allowed    bool
	}{
		{100, 0, 0.1, one, true}, {0, 3, 0.1, one, false}, {1e-6, 3, 0.1, one, true}, {9e8, 3, 1, one, true},
		{1.1e9, 3, 1, one, false}, {100, 1e6, 1, one, true}, {100, 1.1e6, 1, one, false},
		{100, -1, 1, one, false}, {100, 3, 0, one, false}, {100, 3, 1e6, one, true}, {100, 3, 1.1e6, one, false},
		{100, 3, 1, nil, false},
		{100, 3, 1, []portion.Share{{Share: 0}}, false}, {100, 3, 1, []portion.Share{{Share: 0}, {Share: 1}}, true},
		{100, 3, 1, []portion.Share{{Share: -1}, {Share: 2}}, false},
		{100, 3, 1, []portion.Share{{Share: 1e9}}, true}, {100, 3, 1, []portion.Share{{Share: 1.1e9}}, false},
		{100, 3, 1, []portion.Share{{Share: math.NaN()}}, false},
		{1000, 0, 1, make200(200), true}, {1000, 0, 1, make200(201), false},
	} {
		_, err := portion.Cups(p, x.coat, x.loss, x.step, x.shares)
		assert.Equal(t, x.allowed, err == nil, "%+v", x.coat)
	}
	for v, allowed := range map[float64]bool{0: true, 0.9: true, 0.901: false, -0.01: false} {
		_, err := portion.Coat{Face: 1000, Film: 1, RunOff: v}.Amount()
		assert.Equal(t, allowed, err == nil, "run-off of %g", v)
	}
	for v, allowed := range map[float64]bool{0: true, 1e12: true, 1.1e12: false, -1: false} {
		_, err := portion.Coat{Face: units.Area(v), Film: 1}.Amount()
		assert.Equal(t, allowed, err == nil, "a face of %g", v)
	}
	full, err := portion.Coat{Face: 1000, Film: 1, Inclusions: 1}.Amount()
	require.NoError(t, err, "stones may fill the coat")
	assert.Zero(t, full.Total)
	_, err = portion.Coat{Face: 1000, Film: 1, Inclusions: 1.001}.Amount()
	assert.Error(t, err)
	walled, err := portion.Coat{Face: 1000, Film: 1, Wall: 2, Texture: 3, Absorbed: 4, Side: 1000, SideFilm: 0.5,
		Inclusions: 1.5}.Amount()
	require.NoError(t, err)
	assert.InDelta(t, 1+2+3+4+0.5-1.5, float64(walled.OnBoard()), 1e-12)
}

func make200(n int) []portion.Share {
	out := make([]portion.Share, n)
	for i := range out {
		out[i].Share = 1
	}
	return out
}
