package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// ring is a disc of a radius about a middle with a hole, drawn in straight bits, and its area.
func ring(middle geom.Point, radius, hole float64) (loops [][]geom.Point, area float64, in func(geom.Point) bool) {
	circle := func(r float64) (out []geom.Point) {
		for k := range 720 {
			a := 2 * math.Pi * float64(k) / 720
			out = append(out, middle.Add(geom.At(r*math.Cos(a), r*math.Sin(a))))
		}
		return out
	}
	loops = [][]geom.Point{circle(radius)}
	if hole > 0 {
		loops = append(loops, circle(hole))
	}
	return loops, math.Pi * (radius*radius - hole*hole), func(p geom.Point) bool {
		d := p.Sub(middle).Norm()
		return d < radius && d >= hole
	}
}

// cut is a grid over a ring of 100 mm with a hole, its cells cut by it.
func cut(t require.TestingT, n int, hole float64) (flow.Grid, float64) {
	loops, area, in := ring(geom.At(100, 100), 100, hole)
	g, err := flow.NewGrid(200, 200, n, in)
	require.NoError(t, err)
	return g.Cut(loops, area), area
}

// What the cells of a board have is its area, whatever it is cut by: a disc, a ring, and
// polygons at any slant, whose every cell is what two of them leave of one another.
func TestCutCellsHaveTheBoardsArea(t *testing.T) {
	for _, hole := range []float64{0, 13, 60} {
		for _, n := range []int{20, 57, 112} {
			g, area := cut(t, n, hole)
			sum := 0.0
			for i := range g.Len() {
				sum += g.Share(i) * g.Cell * g.Cell * 1e6
			}
			require.InEpsilon(t, area, sum, 1e-9, "%d cells, hole %g", n, hole)
		}
	}
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(5, 95)
		corner := func() geom.Point { return geom.At(v.Draw(t, "x"), v.Draw(t, "y")) }
		a, b, c := corner(), corner(), corner()
		area := math.Abs(geom.SignedArea([]geom.Point{a, b, c}))
		if area < 800 {
			return
		}
		loop := []geom.Point{a, b, c}
		g, err := flow.NewGrid(100, 100, 40, func(p geom.Point) bool { return geom.Contains(loop, p) })
		require.NoError(t, err)
		g = g.Cut([][]geom.Point{loop}, area)
		sum, whole := 0.0, 0
		for i := range g.Len() {
			sum += g.Share(i) * 2.5 * 2.5
			mid, in := g.Middle(i), true
			for k := range 4 {
				off := geom.At(float64(k%2)*2.5-1.25, float64(k/2)*2.5-1.25)
				in = in && geom.Contains(loop, mid.Add(off))
			}
			if in {
				whole++
				require.GreaterOrEqual(t, g.Share(i), 1-1e-9, "cell %d lies within", i)
			}
		}
		require.InEpsilon(t, area, sum, 1e-9)
		require.Positive(t, whole)
	})
}

// A bed on a cut board is its film times the board's area, as thick at the rim as in the
// middle, and lies still.
func TestABedOnACutBoard(t *testing.T) {
	g, area := cut(t, 57, 20)
	s := board(200, 57, 1100, 1100)
	s.Grid, s.Tension = g, 0.04
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1.5e-3}}
	for _, at := range []float64{0, 1800} {
		r := play(t, s, at)
		sample := r.Sample()
		require.InEpsilon(t, 1.5e-3*area*1e-6, sample.OnBoard[0], 1e-6)
		require.InEpsilon(t, 1.5e-3, sample.Mean, 1e-9)
		require.InEpsilon(t, 1.5e-3, sample.Thinnest, 1e-9)
		require.InEpsilon(t, 1.5e-3, sample.Deepest, 1e-9)
	}
}

// On a cut board layers are the film after every step, all is poured less what ran off, and a
// heap levels to what it is over the area.
func TestACutBoardHoldsWhatWasPoured(t *testing.T) {
	g, area := cut(t, 30, 25)
	s := board(200, 30, 1100, 1140)
	s.Grid, s.Tension = g, 0.04
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1.5e-3},
		{Kind: flow.Puddle, At: 10, Cup: 1, Points: []geom.Point{at(60, 150)}, Volume: 20e-6},
		{Kind: flow.Tilting, At: 60, TiltX: 4, TiltY: -3, For: 30},
		{Kind: flow.Swipe, At: 200, Points: []geom.Point{at(70, -10), at(70, 210)}, Width: 0.12, Gap: 2.6e-3, Speed: 0.1},
		{Kind: flow.Blow, At: 300, Points: []geom.Point{at(150, 150), at(110, 120)}, Width: 0.05, Shear: 6, For: 6}}
	r, err := flow.Start(s)
	require.NoError(t, err)
	r.EachStep(func(apart, _, _ float64) { require.Less(t, apart, 2e-12) })
	require.NoError(t, r.To(t.Context(), 4*3600))
	require.NoError(t, r.Settle(t.Context()))
	sample, all := r.Sample(), 0.0
	for k := range sample.OnBoard {
		all += sample.OnBoard[k] + sample.Sides[k] + sample.Below[k]
	}
	require.InEpsilon(t, 1.5e-3*area*1e-6+20e-6, all, 1e-9)
	require.InDelta(t, sample.Mean, sample.Thinnest, 2e-6)
	require.InDelta(t, sample.Mean, sample.Deepest, 2e-6)
}
