package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// what lies west and east of the middle of a board, in m³.
func halves(r *flow.Run, cells int) (west, east float64) {
	for i, h := range r.Coat().Film().H() {
		if i%cells < cells/2 {
			west += h
		} else {
			east += h
		}
	}
	area := r.Coat().Film().Grid().Cell * r.Coat().Film().Grid().Cell
	return west * area, east * area
}

// Nothing passes a barrier, however it lies, also down a slope and before the wind; once
// it is lifted the film levels.
func TestABarrierHolds(t *testing.T) {
	const cells = 40
	for name, line := range map[string][]geom.Point{
		"straight": {at(200, -10), at(200, 410)}, "through middles": {at(195, -10), at(195, 410)},
		"bent": {at(200, -10), at(203, 100), at(198, 333), at(200, 410)},
	} {
		s := board(400, cells, 1100)
		s.Moves = []flow.Move{
			{Kind: flow.Barrier, Points: line, For: 3000},
			{Kind: flow.Bed, At: 1, Volume: 200e-6, Within: func(p geom.Point) bool { return p.X < 190 }},
			{Kind: flow.Tilting, At: 10, TiltX: -3, For: 60},
			{Kind: flow.Blow, At: 100, Points: []geom.Point{at(100, 200), at(300, 200)}, Width: 0.08, Shear: 4, For: 8},
		}
		r := play(t, s, 2999)
		_, east := halves(r, cells)
		assert.InDelta(t, 0, east, 1e-12, name)
		require.NoError(t, r.To(t.Context(), 40_000))
		west, east := halves(r, cells)
		assert.InEpsilon(t, west, east, 0.02, name)
		assert.InDelta(t, 200e-6, west+east, 1e-12, name)
	}
}

// Over a ridge the surface levels, not the film: it is thinner there by its height, and
// dry where the ridge stands out.
func TestTheSurfaceLevelsOverARidge(t *testing.T) {
	const cells = 40
	s := board(400, cells, 1100)
	s.Moves = []flow.Move{
		{Kind: flow.Ridge, Points: []geom.Point{at(200, 50), at(200, 350)}, Width: 0.06, Depth: 1e-3},
		{Kind: flow.Bed, At: 1, Film: 2e-3},
	}
	r := play(t, s, 80_000)
	h := r.Coat().Film().H()
	top, off := h[20*cells+20], h[20*cells+5]
	assert.InDelta(t, 0.97e-3, off-top, 0.04e-3, "half a cell beside its crest")
	assert.InDelta(t, 2e-3*0.16, r.Coat().Film().Balance().OnBoard, 1e-12)
	low, high := math.Inf(1), 0.0
	for i, v := range h {
		x, y := float64(i%cells)*10+5, float64(i/cells)*10+5
		d := geom.FromSegment(at(x, y), at(200, 50), at(200, 350)) / 30
		stands := v + 1e-3*math.Cbrt(math.Max(0, 1-d*d))
		low, high = math.Min(low, stands), math.Max(high, stands)
	}
	assert.Less(t, high-low, 2e-5)
	s.Moves = []flow.Move{{Kind: flow.Ridge, Points: []geom.Point{at(900, 900), at(950, 950)}, Width: 0.01, Depth: 1e-3}}
	_, err := flow.Start(s)
	assert.ErrorContains(t, err, "off the board")
}
