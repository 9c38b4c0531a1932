package flow

import (
	"math"

	"jevvo/internal/core/geom"
)

// StepWhole lets a run always step the whole film, to compare with.
func (r *Run) StepWhole() { r.coat.film.move.off = true }

// Back is from where what shows at a point has come since it was last drawn, in mm.
func (r *Run) Back(p geom.Point) geom.Point {
	s := r.seen().coat.skin
	cell := 1000 * s.grid.Cell
	bx, by := s.back.at(s.grid, p.X/cell-0.5, p.Y/cell-0.5)
	return geom.At(p.X+bx*cell, p.Y+by*cell)
}

// EachStep calls for every step of the film, when the rest has not to follow first: how far
// the layers of a cell, with what they have not given on yet, are from its film at most, in
// m, and what there is on the board and what ran off it, in m³.
func (r *Run) EachStep(do func(apart, on, over float64)) {
	f, c := r.coat.film, r.coat
	goes := f.goes
	f.goes = func(p part) {
		if goes != nil {
			goes(p)
		}
		if f.move.rest {
			return
		}
		apart, on, nx := 0.0, 0.0, f.grid.NX
		for i, h := range f.h {
			lies := c.height(i) - f.moved.out[i] - f.moved.x[i] - f.moved.y[i]
			if i > 0 {
				lies += f.moved.x[i-1]
			}
			if i >= nx {
				lies += f.moved.y[i-nx]
			}
			apart = max(apart, math.Abs(h+f.move.owed[i]-lies))
			on += lies
		}
		do(apart, on*f.grid.Cell*f.grid.Cell, f.ran)
	}
}

// Home is how far what shows at a point has gone since cells opened there, back, in mm.
func (r *Run) Home(p geom.Point) geom.Point {
	s := r.seen().coat.skin
	cell := 1000 * s.grid.Cell
	x, y := s.home.at(s.grid, p.X/cell-0.5, p.Y/cell-0.5)
	return geom.At(x*cell, y*cell)
}
