package colour_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
)

// What stands at the very end of what is taken in is taken in: a film of no
// thickness shows its backing, a clear one too; infinities are refused.
func TestTheEndsAreTakenIn(t *testing.T) {
	r, err := colour.Film([]float64{1, 0}, []float64{2, 0}, []float64{0.3, 0.3}, 0)
	require.NoError(t, err)
	assert.InDelta(t, 0.3, r[0], 1e-9)
	r, err = colour.Film([]float64{0}, []float64{0}, []float64{0.3}, 2)
	require.NoError(t, err)
	assert.InDelta(t, 0.3, r[0], 1e-9)
	_, err = colour.Film([]float64{math.Inf(1)}, []float64{math.Inf(1)}, []float64{0.3}, 2)
	assert.Error(t, err)
	_, err = colour.FromMasstone(colour.Flat(0.5), 1000, colour.Surface{})
	assert.NoError(t, err)
	_, err = colour.FromWash(colour.Flat(0.5), 1, 1.6, colour.Surface{})
	assert.NoError(t, err)
	mixed, err := colour.Blend([]colour.Part{{Reflectance: colour.Flat(0.5), Amount: 1},
		{Reflectance: colour.Flat(0.1), Amount: 0}})
	require.NoError(t, err)
	assert.InDelta(t, 0.5, mixed[3], 1e-9)
	// A dye over black shows nothing at all, over the chart's white what it lets
	// through twice.
	o, err := colour.Drawdown(colour.Flat(0), colour.Flat(0.2), colour.Flat(0.8), 1, colour.Surface{})
	require.NoError(t, err)
	assert.InDelta(t, math.Log(4)/2, o.K[10], 0.02, "Beer and Lambert")
	_, err = colour.Drawdown(colour.Flat(0), colour.Flat(0), colour.Flat(0), 1, colour.Surface{})
	assert.Error(t, err, "a chart without a white")
	o, err = colour.Drawdown(colour.Flat(0.5), colour.Flat(1), colour.Flat(1), 1, colour.Surface{})
	require.NoError(t, err)
	assert.InDelta(t, 1, o.S[10], 0.02, "a white that takes no light: R₀ = SX/(1 + SX)")
}

// One band of the tables alone: its tristimulus values stand to each other as in CIE
// 15 at 450 and 600 nm, scaled to the white point as the whole is.
func TestSingleBandsAsInTheTables(t *testing.T) {
	raw := colour.RawWhite()
	for band, want := range map[int]colour.XYZ{7: {X: 0.3362, Y: 0.0380, Z: 1.7721},
		22: {X: 1.0622, Y: 0.6310, Z: 0.0008}} {
		var s colour.Spectrum
		s[band] = 1
		got := s.XYZ()
		assert.InEpsilon(t, want.X/want.Y*colour.White.X/(raw.X/raw.Y), got.X/got.Y, 1e-9)
		assert.InEpsilon(t, want.Z/want.Y*colour.White.Z/(raw.Z/raw.Y), got.Z/got.Y, 1e-9)
	}
}

// paint is a candidate of a flat absorption.
func paint(k, s, limit float64, tint int) colour.Candidate {
	o := colour.Optics{K: colour.Flat(k), S: colour.Flat(s)}
	for i := range o.K {
		if i/12 == tint {
			o.K[i] *= 8
		}
	}
	return colour.Candidate{Optics: o, Limit: limit}
}

// A recipe that is off by a factor is brought back in both directions, never over the
// limits and never under what is worth a bottle; as many recipes are given as were
// asked for, each of pigments named once, the nearest first.
func TestRecipesAreBroughtHome(t *testing.T) {
	candidates := []colour.Candidate{paint(8, 60, 0.06, 0), paint(20, 20, 0.06, 1), paint(30, 8, 0.06, 2),
		paint(1, 90, 0.06, 3), paint(90, 3, 0.06, 1), paint(12, 30, 0.06, 2)}
	q := colour.Query{Film: 1.6 * units.Millimetre, Backing: colour.Flat(0.4), Surface: colour.Finish(1), Best: 5}
	made := []colour.RecipePart{{Candidate: 0, Load: 0.012}, {Candidate: 1, Load: 0.008}}
	doses := []colour.Dose{{Optics: candidates[0].Optics, Load: made[0].Load},
		{Optics: candidates[1].Optics, Load: made[1].Load}}
	q.Target = q.Surface.Out(colour.Cup(doses).Over(q.Backing, q.Film)).Lab()
	for _, off := range [][2]float64{{1.4, 1.3}, {0.7, 0.8}, {1.3, 0.75}, {0.75, 1.3}} {
		home := q.Descend(colour.Recipe{Parts: []colour.RecipePart{{Candidate: 0, Load: made[0].Load * off[0]},
			{Candidate: 1, Load: made[1].Load * off[1]}}}, candidates)
		assert.Less(t, home.Difference, 0.2, "%v", off)
		// Off the same way the search ends in a valley, where the colour is right at
		// other loads; off opposite ways it comes all the way home.
		if (off[0] > 1) != (off[1] > 1) {
			assert.InEpsilon(t, made[0].Load, home.Parts[0].Load, 0.02)
			assert.InEpsilon(t, made[1].Load, home.Parts[1].Load, 0.02)
		}
	}
	best, err := colour.Match(t.Context(), q, candidates)
	require.NoError(t, err)
	require.Len(t, best, 5)
	for i, r := range best {
		require.True(t, i == 0 || best[i-1].Difference <= r.Difference)
		seen := map[int]bool{}
		for _, p := range r.Parts {
			require.False(t, seen[p.Candidate])
			seen[p.Candidate] = true
		}
	}
	q.Best = 0
	usual, err := colour.Match(t.Context(), q, candidates)
	require.NoError(t, err)
	assert.Len(t, usual, 3)
	// What is already in a recipe is not added to it again.
	start := colour.Recipe{Parts: []colour.RecipePart{{Candidate: 4, Load: 0.01}}}
	better, err := colour.Refine(t.Context(), q, start, candidates, []int{4, 0, 0, 3})
	require.NoError(t, err)
	seen := map[int]bool{}
	for _, p := range better.Parts {
		require.False(t, seen[p.Candidate], "a bottle opened twice")
		seen[p.Candidate] = true
	}
	assert.Less(t, better.Difference, q.Descend(start, candidates).Difference)
	// At the limit no more is added, and nothing goes below the least.
	dark := q
	dark.Target = q.Surface.Out(colour.Cup([]colour.Dose{{Optics: candidates[3].Optics, Load: 0.5}}).Over(q.Backing,
		q.Film)).Lab()
	full := dark.Descend(colour.Recipe{Parts: []colour.RecipePart{{Candidate: 3, Load: 0.0599}}}, candidates)
	assert.LessOrEqual(t, full.Parts[0].Load, 0.06*(1+1e-9))
	assert.Greater(t, full.Parts[0].Load, 0.0595)
	pale := q
	pale.Target = colour.Lab{L: 100}
	pale.Backing = colour.Flat(0.9)
	thin := pale.Descend(colour.Recipe{Parts: []colour.RecipePart{{Candidate: 4, Load: 2.2 * colour.LeastLoad}}},
		candidates)
	assert.GreaterOrEqual(t, thin.Parts[0].Load, colour.LeastLoad)
	assert.Less(t, thin.Parts[0].Load, 1.2*colour.LeastLoad)
}

// Colours at the edge of what a screen shows are drawn in towards their own grey by no
// more than three parts in a hundred of the way.
func TestEdgesAreDrawnTowardsTheirGrey(t *testing.T) {
	for _, hex := range []string{"#0000ff", "#ff0000", "#00ff00", "#ffff00", "#ff00ff", "#00ffff", "#ff8000", "#8000ff"} {
		c, err := colour.ParseHex(hex)
		require.NoError(t, err)
		s, err := c.Reflectance()
		require.NoError(t, err)
		got := s.XYZ().RGB()
		grey := (c.R + c.G + c.B) / 3
		for _, v := range [][2]float64{{c.R, got.R}, {c.G, got.G}, {c.B, got.B}} {
			lo, hi := math.Min(v[0], v[0]+0.03*(grey-v[0])), math.Max(v[0], v[0]+0.03*(grey-v[0]))
			assert.True(t, v[1] >= lo-3e-4 && v[1] <= hi+3e-4, "%s: %v became %v", hex, v[0], v[1])
		}
	}
}
