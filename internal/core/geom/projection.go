package geom

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"
)

// A Projection takes places of one plane to another as a camera does (a homography):
// straight lines stay straight.
type Projection struct {
	m    [9]float64
	from Point // a corner, which no horizon goes through
}

// ErrNoProjection says that four corners do not make a picture of a rectangle.
var ErrNoProjection = errors.New(
	"the four corners must go round a patch: none on the line of two others, and none inside the other three")

// Project returns the projection that takes four corners to four others, in order. It
// solves the eight linear equations of its eight numbers (Heckbert 1989, chapter 2).
func Project(from, to [4]Point) (Projection, error) {
	if !convex(from) || !convex(to) {
		return Projection{}, ErrNoProjection
	}
	a, b := mat.NewDense(8, 8, nil), mat.NewVecDense(8, nil)
	for i := range 4 {
		x, y, u, v := from[i].X-from[0].X, from[i].Y-from[0].Y, to[i].X, to[i].Y
		a.SetRow(2*i, []float64{x, y, 1, 0, 0, 0, -u * x, -u * y})
		a.SetRow(2*i+1, []float64{0, 0, 0, x, y, 1, -v * x, -v * y})
		b.SetVec(2*i, u)
		b.SetVec(2*i+1, v)
	}
	var h mat.VecDense
	if err := h.SolveVec(a, b); err != nil {
		return Projection{}, ErrNoProjection
	}
	p := Projection{[9]float64{8: 1}, from[0]}
	for i := range 8 {
		p.m[i] = h.AtVec(i)
	}
	return p, nil
}

// convex reports whether four corners go round a patch without a dent.
func convex(q [4]Point) bool {
	turn := 0.0
	for i := range 4 {
		a, b, c := q[i], q[(i+1)%4], q[(i+2)%4]
		cross := (b.X-a.X)*(c.Y-b.Y) - (b.Y-a.Y)*(c.X-b.X)
		if !(math.Abs(cross) > 1e-9) || math.IsInf(cross, 0) || turn*cross < 0 {
			return false
		}
		turn = cross
	}
	return true
}

// At returns where a place goes; false for one on the horizon or behind the camera.
func (p Projection) At(v Point) (Point, bool) {
	v = Point{v.X - p.from.X, v.Y - p.from.Y}
	w := p.m[6]*v.X + p.m[7]*v.Y + p.m[8]
	if !(w > 1e-12) {
		return Point{}, false
	}
	return Point{(p.m[0]*v.X + p.m[1]*v.Y + p.m[2]) / w, (p.m[3]*v.X + p.m[4]*v.Y + p.m[5]) / w}, true
}
