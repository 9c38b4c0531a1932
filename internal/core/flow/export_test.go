package flow

import "jevvo/internal/core/geom"

// StepWhole lets a run always step the whole film, to compare with.
func (r *Run) StepWhole() { r.coat.film.move.off = true }

// Back is from where what shows at a point has come since it was last drawn, in mm.
func (r *Run) Back(p geom.Point) geom.Point {
	s := r.seen().coat.skin
	cell := 1000 * s.grid.Cell
	bx, by := s.back.at(s.grid, p.X/cell-0.5, p.Y/cell-0.5)
	return geom.At(p.X+bx*cell, p.Y+by*cell)
}
