package composition

import (
	"math"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/surface"
)

// Snap moves a point to the nearest thing worth being on within reach: points
// of other things first, then the middles, thirds and edges of the board in
// each direction by itself, then whole steps of a grid. skip is the id of the
// thing being moved.
func Snap(p geom.Point, board surface.Shape, things []Thing, skip string, reach, grid float64) geom.Point {
	best, at := reach, p
	for _, t := range things {
		if t.ID == skip {
			continue
		}
		for _, q := range t.Points {
			if d := math.Hypot(p.X-q.X, p.Y-q.Y); d < best {
				best, at = d, q
			}
		}
	}
	if best < reach {
		return at
	}
	box := board.Bounds()
	return geom.Point{
		X: snapTo(p.X, float64(box.Width()), reach, grid),
		Y: snapTo(p.Y, float64(box.Height()), reach, grid),
	}
}

func snapTo(v, size, reach, grid float64) float64 {
	best, at := reach, math.NaN()
	for _, f := range []float64{0, 1. / 3, 0.5, 2. / 3, 1} {
		if d := math.Abs(v - f*size); d < best {
			best, at = d, f*size
		}
	}
	if !math.IsNaN(at) {
		return at
	}
	if grid > 0 {
		return math.Round(v/grid) * grid
	}
	return v
}
