package findings_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/findings"
)

// Jeffreys intervals at 95 % as tabled by Brown, Cai & DasGupta 2001, table 5 (from
// memory, to the three digits given there; ends at 0 and n as they modify them).
func TestIntervalsAsPublished(t *testing.T) {
	for _, c := range []struct {
		yes, of   int
		low, high float64
	}{
		{0, 7, 0, 0.292}, {1, 7, 0.016, 0.501}, {2, 7, 0.065, 0.648}, {3, 7, 0.139, 0.766},
		{0, 10, 0, 0.217}, {1, 10, 0.011, 0.381}, {2, 10, 0.044, 0.503}, {3, 10, 0.092, 0.606}, {5, 10, 0.224, 0.776},
		{10, 10, 0.783, 1},
	} {
		low, high, err := findings.Count{Yes: c.yes, Of: c.of}.Interval(0.95)
		require.NoError(t, err)
		assert.InDelta(t, c.low, low, 0.0011, "%d of %d", c.yes, c.of)
		assert.InDelta(t, c.high, high, 0.0011, "%d of %d", c.yes, c.of)
	}
	for _, bad := range []findings.Count{{-1, 4}, {5, 4}, {0, -1}} {
		_, _, err := bad.Interval(0.9)
		assert.Error(t, err)
	}
	for _, level := range []float64{0, 1, math.NaN()} {
		_, _, err := findings.Count{Yes: 1, Of: 2}.Interval(level)
		assert.Error(t, err)
	}
}

// Laws: no and yes are mirrored; more of the same says the same more surely; one
// more yes moves everything up.
func TestSharesKeepTheirLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		of := rapid.IntRange(1, 60).Draw(t, "of")
		yes := rapid.IntRange(0, of-1).Draw(t, "yes")
		share := func(y, n int) findings.Beta { return findings.Count{Yes: y, Of: n}.Share() }
		a, mirror := share(yes, of), share(of-yes, of)
		low, high := a.Interval(0.9)
		mLow, mHigh := mirror.Interval(0.9)
		require.InDelta(t, low, 1-mHigh, 1e-9)
		require.InDelta(t, high, 1-mLow, 1e-9)
		require.InDelta(t, 0.9, a.Below(high)-a.Below(low), 1e-9)
		require.InDelta(t, (float64(yes)+0.5)/float64(of+1), a.Mean(), 1e-12)
		more := share(10*yes, 10*of)
		require.Less(t, more.Variance(), a.Variance())
		up := share(yes+1, of)
		uLow, uHigh := up.Interval(0.9)
		require.Greater(t, uLow, low)
		require.Greater(t, uHigh, high)
		require.Greater(t, up.Beats(a, 0), 0.5)
		require.InDelta(t, 1, a.Beats(up, 0)+up.Beats(a, 0), 2e-3)
	})
}

// How likely one share beats another, against counting draws.
func TestBeatsAsDrawn(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for _, c := range []struct {
		a, b findings.Count
		by   float64
	}{{findings.Count{Yes: 8, Of: 10}, findings.Count{Yes: 3, Of: 9}, 0}, {findings.Count{Yes: 8, Of: 10},
		findings.Count{Yes: 3, Of: 9}, 0.15}, {findings.Count{Yes: 1, Of: 2}, findings.Count{}, 0}} {
		a, b := c.a.Share(), c.b.Share()
		yes, n := 0, 200_000
		for range n {
			if a.Quantile(random.Float64()) > b.Quantile(random.Float64())+c.by {
				yes++
			}
		}
		assert.InDelta(t, float64(yes)/float64(n), a.Beats(b, c.by), 0.005)
	}
	assert.True(t, findings.Count{Yes: 18, Of: 20}.Share().Better(findings.Count{Yes: 4, Of: 20}.Share()))
	assert.False(t, findings.Count{Yes: 2, Of: 2}.Share().Better(findings.Count{Yes: 0, Of: 1}.Share()),
		"two tries do not shout")
}

// What one more try teaches, against the sum over its outcomes: the information
// between the two is E[KL(after ‖ before)], integrated by brute force.
func TestWhatATryTeaches(t *testing.T) {
	for _, c := range []findings.Count{{0, 0}, {1, 1}, {3, 10}, {40, 50}} {
		before := c.Share()
		gain := 0.0
		for _, o := range []struct {
			p     float64
			after findings.Count
		}{{before.Mean(), findings.Count{Yes: c.Yes + 1, Of: c.Of + 1}}, {1 - before.Mean(),
			findings.Count{Yes: c.Yes, Of: c.Of + 1}}} {
			after := o.after.Share()
			const n = 20000
			for k := range n { // equal slices of what is known after
				q := after.Quantile((float64(k) + 0.5) / n)
				ratio := (after.A-before.A)*math.Log(q) + (after.B-before.B)*math.Log(1-q)
				gain += o.p / n * (ratio - math.Log(o.p)) / math.Ln2
			}
		}
		assert.InDelta(t, gain, before.Learns(), 2e-4, "%+v", c)
	}
	assert.Greater(t, findings.Count{Yes: 1, Of: 2}.Share().Learns(), findings.Count{Yes: 10, Of: 20}.Share().Learns(),
		"the less is known, the more a try teaches")
}

// The rat tumours of Tarone 1982 as in Gelman et al., Bayesian Data Analysis, table
// 5.1 (from memory): 70 earlier groups and one of 4 in 14. Pooled, that one is drawn
// from 0.29 to about 0.2, and the groups' mean share is about 0.14.
func TestAlikeThingsLendStrength(t *testing.T) {
	var counts []findings.Count
	add := func(yes, of, times int) {
		for range times {
			counts = append(counts, findings.Count{Yes: yes, Of: of})
		}
	}
	add(0, 20, 7)
	add(0, 19, 4)
	add(0, 18, 2)
	add(0, 17, 1)
	add(1, 20, 4)
	add(1, 19, 2)
	add(1, 18, 2)
	for _, c := range [][2]int{{2, 25}, {2, 24}, {2, 23}, {2, 20}, {2, 20}, {2, 20}, {2, 20}, {2, 20}, {2, 20}, {1, 10},
		{5, 49}, {2, 19}, {5, 46}, {3, 27}, {2, 17}, {7, 49}, {7, 47}, {3, 20}, {3, 20}, {2, 13}, {9, 48}, {10, 50}, {4, 20},
		{4, 20}, {4, 20}, {4, 20}, {4, 20}, {4, 20}, {4, 20}, {10, 48}, {4, 19}, {4, 19}, {4, 19}, {5, 22}, {11, 46},
		{12, 49}, {5, 20}, {5, 20}, {6, 23}, {5, 19}, {6, 22}, {6, 20}, {6, 20}, {6, 20}, {16, 52}, {15, 47}, {15, 46},
		{9, 24}} {
		add(c[0], c[1], 1)
	}
	require.Len(t, counts, 70)
	counts = append(counts, findings.Count{Yes: 4, Of: 14})
	pooled := findings.Pool(counts)
	own := counts[70].Share().Mean()
	last := pooled[70].Mean()
	assert.InDelta(t, 0.21, last, 0.015)
	assert.Less(t, last, own)
	sum := 0.0
	for _, b := range pooled {
		sum += b.Mean()
	}
	assert.InDelta(t, 0.14, sum/71, 0.01)
}

// Pooling draws each share towards the others and never past them; one alone stays
// near its own; what was tried often hardly moves.
func TestPoolingDrawsTogether(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		counts := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) findings.Count {
			of := rapid.IntRange(0, 30).Draw(t, "of")
			return findings.Count{Yes: rapid.IntRange(0, of).Draw(t, "yes"), Of: of}
		}), 2, 8).Draw(t, "counts")
		yes, of := 0, 0
		for _, c := range counts {
			yes, of = yes+c.Yes, of+c.Of
		}
		for i, b := range findings.Pool(counts) {
			m := b.Mean()
			require.True(t, m > 0 && m < 1 && b.Variance() > 0)
			if c := counts[i]; c.Of > 0 {
				raw := float64(c.Yes) / float64(c.Of)
				require.GreaterOrEqual(t, m, math.Min(raw, math.Min(float64(yes)/float64(of), 0.5))-0.15)
				require.LessOrEqual(t, m, math.Max(raw, math.Max(float64(yes)/float64(of), 0.5))+0.15)
			}
		}
	})
	often := findings.Pool([]findings.Count{{Yes: 290, Of: 300}, {Yes: 1, Of: 3}, {Yes: 2, Of: 3}})
	assert.InDelta(t, 0.966, often[0].Mean(), 0.01)
}

// A bias of pairs made with a known factor is found; its bounds are Student's: three
// logarithms of −0.1, 0, 0.1 have t = 4.303 at 95 % with two degrees of freedom
// (published table), half width 4.303·0.1/√3.
func TestHowFarForecastsAreOff(t *testing.T) {
	var pairs []findings.Pair
	for _, l := range []float64{-0.1, 0, 0.1} {
		pairs = append(pairs, findings.Pair{Forecast: 7, Came: 7 * 1.4 * math.Exp(l)})
	}
	b, ok := findings.BiasOf(pairs, 0.95)
	require.True(t, ok)
	assert.InDelta(t, 1.4, b.Factor, 1e-12)
	assert.InDelta(t, 4.303*0.1/math.Sqrt(3), math.Log(b.High/b.Factor), 2e-4)
	assert.InDelta(t, math.Exp(0.1), b.Spread, 1e-9)
	assert.True(t, b.Off())
	_, ok = findings.BiasOf(append(pairs[:1:1], findings.Pair{Forecast: 0, Came: 3},
		findings.Pair{Forecast: 2, Came: math.NaN()}), 0.95)
	assert.False(t, ok, "one pair that is one")
	two, ok := findings.BiasOf([]findings.Pair{{1, 2}, {1, 2.001}}, 0.9)
	require.True(t, ok)
	assert.False(t, two.Off(), "two are too few to calibrate by")
}

func BenchmarkPool40(b *testing.B) {
	var counts []findings.Count
	for k := range 40 {
		counts = append(counts, findings.Count{Yes: k % 7, Of: 6 + k%5})
	}
	for b.Loop() {
		findings.Pool(counts)
	}
}
