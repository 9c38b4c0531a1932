package composition_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
)

// Zones cover the box once, whatever their number and order; outside in begins
// where middle out ends.
func TestZonesCoverTheBoard(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		box := geom.Box{MinX: 5, MinY: 7, MaxX: 5 + rapid.Float64Range(50, 2000).Draw(t, "w"),
			MaxY: 7 + rapid.Float64Range(50, 2000).Draw(t, "h")}
		n := rapid.IntRange(1, 60).Draw(t, "n")
		for _, o := range []composition.Order{composition.RowByRow, composition.OutsideIn, composition.MiddleOut,
			composition.LaneByLane} {
			zones := composition.Zones(box, n, o)
			assert.Len(t, zones, n)
			area := 0.0
			for i, z := range zones {
				area += float64(z.Width() * z.Height())
				assert.GreaterOrEqual(t, z.MinX, box.MinX-1e-9)
				assert.LessOrEqual(t, z.MaxY, box.MaxY+1e-9)
				for _, other := range zones[i+1:] {
					over := (min(z.MaxX, other.MaxX) - max(z.MinX, other.MinX)) * (min(z.MaxY, other.MaxY) - max(z.MinY, other.MinY))
					assert.False(t, over > 1e-6 && z.MaxX > other.MinX && other.MaxX > z.MinX && z.MaxY > other.MinY &&
						other.MaxY > z.MinY, "two zones overlap")
				}
			}
			assert.InEpsilon(t, float64(box.Width()*box.Height()), area, 1e-9)
		}
	})
	board := geom.Box{MaxX: 600, MaxY: 600}
	in := composition.Zones(board, 9, composition.OutsideIn)
	assert.InDelta(t, 300, (in[8].MinX+in[8].MaxX)/2, 1e-9, "the middle comes last")
	out := composition.Zones(board, 9, composition.MiddleOut)
	assert.InDelta(t, 300, (out[0].MinY+out[0].MaxY)/2, 1e-9, "and first")
	for _, lane := range composition.Zones(board, 4, composition.LaneByLane) {
		assert.InDelta(t, 600, float64(lane.Width()), 1e-9, "lanes run along the longer side")
	}
}
