package composition

import (
	"cmp"
	"math"
	"slices"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/technique"
)

// Order is how zones of a board follow each other.
type Order string

// The orders.
const (
	RowByRow   Order = "rows"       // from the far left to the near right
	OutsideIn  Order = "outside-in" // the rim first, the middle last
	MiddleOut  Order = "middle-out" // the middle first, then to the rim
	LaneByLane Order = "lanes"      // long lanes along the longer side, one beside the other
)

// Within returns a place's part of a box whose y runs to the near edge: along one
// side from end to end, in a corner or the middle as wide as high for its share.
func Within(box geom.Box, place technique.Place, share float64) geom.Box {
	rule, ok := place.Rule()
	if !ok || share <= 0 || share >= 1 {
		return box
	}
	wide, high := math.Sqrt(share), math.Sqrt(share)
	switch {
	case rule.X != 0 && rule.Y == 0:
		wide, high = share, 1
	case rule.Y != 0 && rule.X == 0:
		wide, high = 1, share
	}
	span := func(low, high, part float64, side int) (float64, float64) {
		from := low + (high-low)*(1-part)*float64(side+1)/2
		return from, from + (high-low)*part
	}
	out := geom.Box{}
	out.MinX, out.MaxX = span(box.MinX, box.MaxX, wide, rule.X)
	out.MinY, out.MaxY = span(box.MinY, box.MaxY, high, rule.Y)
	return out
}

// Zones divides a box into n zones as square as may be, or into lanes, in the
// order they are worked; fewer boxes than one are one.
func Zones(box geom.Box, n int, o Order) []geom.Box {
	n = max(1, n)
	w, h := float64(box.Width()), float64(box.Height())
	rows := 1
	switch {
	case o == LaneByLane && w >= h:
		rows = n
	case o == LaneByLane:
	default:
		rows = min(max(int(math.Round(math.Sqrt(float64(n)*h/math.Max(w, 1e-9)))), 1), n)
	}
	out := make([]geom.Box, 0, n)
	for r := range rows { // rows hold as many zones as they can, the first ones one more
		from, to := n*r/rows, n*(r+1)/rows
		top, bottom := box.MinY+h*float64(r)/float64(rows), box.MinY+h*float64(r+1)/float64(rows)
		for i := from; i < to; i++ {
			k := float64(to - from)
			out = append(out, geom.Box{MinX: box.MinX + w*float64(i-from)/k, MaxX: box.MinX + w*float64(i-from+1)/k, MinY: top,
				MaxY: bottom})
		}
	}
	middle := geom.At((box.MinX+box.MaxX)/2, (box.MinY+box.MaxY)/2)
	away := func(b geom.Box) float64 {
		return geom.At((b.MinX+b.MaxX)/2, (b.MinY+b.MaxY)/2).Sub(middle).Norm()
	}
	switch o {
	case OutsideIn:
		slices.SortStableFunc(out, func(a, b geom.Box) int { return cmp.Compare(away(b), away(a)) })
	case MiddleOut:
		slices.SortStableFunc(out, func(a, b geom.Box) int { return cmp.Compare(away(a), away(b)) })
	}
	return out
}
