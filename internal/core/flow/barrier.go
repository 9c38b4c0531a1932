package flow

import (
	"math"

	"jevvo/internal/core/geom"
)

// A face between two cells: that to the east of one, or to the north.
type face struct {
	cell  int32
	north bool
}

// barrier stands a strip on its edge along a line, for a while or to the end: nothing
// flows past it. A blade is lifted over it.
func (r *Run) barrier(m Move) error {
	faces := r.crossed(m.Points)
	if len(faces) == 0 {
		return errBeside
	}
	r.then(m.At, func() { r.coat.film.bar(faces, 1) })
	if m.For > 0 {
		r.then(m.At+m.For, func() { r.coat.film.bar(faces, -1) })
	}
	return nil
}

// crossed are the faces of the board that a line lies between: those whose two cells
// have their middles on either side of it.
func (r *Run) crossed(line []geom.Point) []face {
	g := r.scene.Grid
	seen := map[face]bool{}
	var out []face
	for k := 1; k < len(line); k++ {
		a, b := line[k-1], line[k]
		mid := geom.At((a.X+b.X)/2, (a.Y+b.Y)/2)
		r.near(mid, a.Sub(b).Norm()/2+2000*g.Cell, func(i int, p geom.Point) {
			for _, f := range []face{{int32(i), false}, {int32(i), true}} {
				if j, ok := g.beyond(f); ok && !seen[f] && parted(p, g.Middle(j), a, b) {
					seen[f] = true
					out = append(out, f)
				}
			}
		})
	}
	return out
}

// beyond is the cell on the other side of a face; false where there is none.
func (g Grid) beyond(f face) (int, bool) {
	i, j := int(f.cell), int(f.cell)+1
	if f.north {
		j = i + g.NX
	}
	if j >= g.Len() || !f.north && j%g.NX == 0 || !g.On(i) || !g.On(j) {
		return 0, false
	}
	return j, true
}

// parted reports whether the segment from p to q crosses that from a to b; a point on
// the line counts to one side of it, so that nothing slips through.
func parted(p, q, a, b geom.Point) bool {
	side := func(o, d, x geom.Point) float64 { return (d.X-o.X)*(x.Y-o.Y) - (d.Y-o.Y)*(x.X-o.X) }
	if (side(a, b, p) >= 0) == (side(a, b, q) >= 0) {
		return false
	}
	s, t := side(p, q, a), side(p, q, b)
	return s == 0 || t == 0 || (s > 0) != (t > 0)
}

// bar sets barriers on faces, or takes them away.
func (f *Film) bar(faces []face, by int) {
	if len(faces) == 0 {
		return
	}
	var near part
	for _, at := range faces {
		near = near.with(f.grid.cell(int(at.cell)))
	}
	f.before(near)
	if f.bars == nil {
		f.bars = map[face]int{}
	}
	for _, at := range faces {
		f.bars[at] += by
		link := f.lx
		if at.north {
			link = f.ly
		}
		link[at.cell] = 1
		if f.bars[at] > 0 {
			link[at.cell] = 0
		}
		f.changedAt(int(at.cell))
	}
	f.disturbed()
}

// ridge lays a raised line under the film, of paste that is hard: the film runs off it
// and stands thinner over it.
func (r *Run) ridge(m Move) error {
	film, any := r.coat.film, false
	reach := m.Width * 1000 / 2
	height := make([]float64, r.scene.Grid.Len())
	for k := 1; k < len(m.Points); k++ {
		a, b := m.Points[k-1], m.Points[k]
		r.near(geom.At((a.X+b.X)/2, (a.Y+b.Y)/2), a.Sub(b).Norm()/2+reach, func(i int, p geom.Point) {
			if h := m.Depth * hump(geom.FromSegment(p, a, b)/reach); h > 0 && r.scene.Grid.On(i) {
				height[i] = math.Max(height[i], h)
				any = true
			}
		})
	}
	if !any {
		return errBeside
	}
	r.then(m.At, func() { film.raise(height) })
	return nil
}

// raise makes the ground as high as given where it is lower, in m.
func (f *Film) raise(height []float64) {
	if f.ground == nil {
		f.ground, f.stands = make([]float64, len(f.h)), make([]float64, len(f.h))
	}
	for i, h := range height {
		if h > f.ground[i] {
			f.ground[i] = h
			f.changedAt(i)
		}
	}
	f.disturbed()
}

// surface is how high the film's surface stands over the lowest ground, cell by cell: the
// film itself where the ground is flat.
func (f *Film) surface() []float64 {
	f.lift(f.at.grown(2, f.grid))
	if f.ground == nil {
		return f.high
	}
	f.byRows(f.at.grown(2, f.grid), func(y int, p part) {
		for i := y*f.grid.NX + p.x0; i < y*f.grid.NX+p.x1; i++ {
			f.stands[i] = f.high[i] + f.ground[i]
		}
	})
	return f.stands
}
