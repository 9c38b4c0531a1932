package surface

import (
	"math"

	"jevvo/internal/core/geom"
)

// An edge is one chord of a flattened loop.
type edge struct {
	a, b     geom.Point
	from, to geom.Point // the ends of the edges before and after it
	loop, i  int
	n        int // edges in its loop
	visiting int // last edge it was compared with
}

func (e edge) follows(f edge) bool {
	if e.loop != f.loop {
		return false
	}
	d := (e.i - f.i + e.n) % e.n
	return d == 1 || d == e.n-1
}

// crossing reports where two edges of the lines cross or run along each other.
// Lines that only touch in a point do neither: a figure may come back to where it
// was.
// Edges are sorted into a square grid of about one cell an edge, so the cost
// stays near linear for any outline a person would draw.
func crossing(lines [][]geom.Point, box geom.Box) (geom.Point, bool) {
	edges := edgesOf(lines)
	g := newGrid(box, len(edges))
	for i := range edges {
		edges[i].visiting = -1
	}
	for i := range edges {
		e := &edges[i]
		var at geom.Point
		found := false
		g.visit(e.a, e.b, func(cell []int32) bool {
			for _, j := range cell {
				other := &edges[j]
				if other.visiting == i {
					continue
				}
				other.visiting = i
				if apart(e, other) {
					continue
				}
				if p, meet := meets(*e, *other); meet {
					at, found = p, true
					return false
				}
			}
			return true
		})
		if found {
			return at, true
		}
		g.add(e.a, e.b, int32(i))
	}
	return geom.Point{}, false
}

func edgesOf(lines [][]geom.Point) []edge {
	var edges []edge
	for l, line := range lines {
		n := len(line)
		for i, p := range line {
			edges = append(edges, edge{a: p, b: line[(i+1)%n], from: line[(i+n-1)%n], to: line[(i+2)%n], loop: l, i: i, n: n})
		}
	}
	return edges
}

// apart reports whether the boxes of two edges do not touch.
func apart(e, f *edge) bool {
	const slack = 1e-6
	return max(e.a.X, e.b.X) < min(f.a.X, f.b.X)-slack || max(f.a.X, f.b.X) < min(e.a.X, e.b.X)-slack ||
		max(e.a.Y, e.b.Y) < min(f.a.Y, f.b.Y)-slack || max(f.a.Y, f.b.Y) < min(e.a.Y, e.b.Y)-slack
}

// meets reports whether two edges cross inside both or run along each other;
// neighbours in one loop may share their common end but must not fold back on
// each other. An edge that ends on another only touches it: whether the line
// crosses there is seen by where it comes from and goes to, see passes.
func meets(e, f edge) (geom.Point, bool) {
	d1, d2 := e.b.Sub(e.a), f.b.Sub(f.a)
	den := d1.Cross(d2)
	scale := d1.Norm() * d2.Norm()
	if math.Abs(den) <= 1e-12*scale { // parallel
		if math.Abs(f.a.Sub(e.a).Cross(d1)) > 1e-9*d1.Norm()*math.Max(1, d1.Norm()) {
			return geom.Point{}, false
		}
		// On one line: do they overlap by more than a point?
		t0, t1 := f.a.Sub(e.a).Dot(d1)/d1.Dot(d1), f.b.Sub(e.a).Dot(d1)/d1.Dot(d1)
		lo, hi := math.Max(0, math.Min(t0, t1)), math.Min(1, math.Max(t0, t1))
		if hi-lo > 1e-9 {
			return e.at((lo + hi) / 2), true
		}
		return geom.Point{}, false
	}
	if e.follows(f) {
		return geom.Point{}, false // not parallel: only the shared end is common
	}
	w := f.a.Sub(e.a)
	t, u := w.Cross(d2)/den, w.Cross(d1)/den
	const slack = 1e-9
	if t < -slack || t > 1+slack || u < -slack || u > 1+slack {
		return geom.Point{}, false
	}
	return e.at(t), e.passes(t, f, u)
}

// passes reports whether two lines that meet at a point of both go through each
// other there: the one comes from one side of the other and leaves on its other
// side.
func (e edge) passes(t float64, f edge, u float64) bool {
	in, out := e.rays(t)
	back, ahead := f.rays(u)
	return within(in, out, back) != within(in, out, ahead)
}

// rays are the ways a line comes to and leaves a point of the edge.
func (e edge) rays(t float64) (in, out geom.Point) {
	const end = 1e-9
	switch {
	case t <= end:
		return e.from.Sub(e.a), e.b.Sub(e.a)
	case t >= 1-end:
		return e.a.Sub(e.b), e.to.Sub(e.b)
	}
	return e.a.Sub(e.b), e.b.Sub(e.a)
}

// within reports whether turning left from a to b passes c.
func within(a, b, c geom.Point) bool {
	turn := func(v geom.Point) float64 {
		angle := math.Atan2(a.Cross(v), a.Dot(v))
		if angle < 0 {
			angle += 2 * math.Pi
		}
		return angle
	}
	return turn(c) < turn(b)
}

func (e edge) at(t float64) geom.Point { return geom.Lerp(e.a, e.b, t) }

// grid is a uniform bucket grid over a box.
type grid struct {
	box   geom.Box
	cell  float64
	nx    int
	ny    int
	cells [][]int32
}

func newGrid(box geom.Box, edges int) *grid {
	w, h := math.Max(float64(box.Width()), 1e-9), math.Max(float64(box.Height()), 1e-9)
	cell := math.Max(math.Sqrt(w*h/float64(max(edges, 1))), math.Max(w, h)/2048)
	g := &grid{box: box, cell: cell, nx: int(w/cell) + 1, ny: int(h/cell) + 1}
	g.cells = make([][]int32, g.nx*g.ny)
	return g
}

// visit calls do with each cell the line from a to b passes through.
func (g *grid) visit(a, b geom.Point, do func([]int32) bool) {
	g.walk(a, b, func(i int) bool { return do(g.cells[i]) })
}

func (g *grid) add(a, b geom.Point, id int32) {
	g.walk(a, b, func(i int) bool { g.cells[i] = append(g.cells[i], id); return true })
}

// walk goes row by row through the cells that cover the segment.
func (g *grid) walk(a, b geom.Point, do func(int) bool) {
	if a.Y > b.Y {
		a, b = b, a
	}
	slack := g.cell * 1e-6
	row := func(y float64) int { return min(max(int((y-g.box.MinY)/g.cell), 0), g.ny-1) }
	col := func(x float64) int { return min(max(int((x-g.box.MinX)/g.cell), 0), g.nx-1) }
	for r := row(a.Y - slack); r <= row(b.Y+slack); r++ {
		x0, x1 := a.X, b.X
		if b.Y > a.Y {
			top, bottom := g.box.MinY+float64(r)*g.cell-slack, g.box.MinY+float64(r+1)*g.cell+slack
			x0 = geom.Lerp(a, b, clamp((top-a.Y)/(b.Y-a.Y))).X
			x1 = geom.Lerp(a, b, clamp((bottom-a.Y)/(b.Y-a.Y))).X
		}
		// A hair of slack on each side keeps touching edges together.
		for c := col(math.Min(x0, x1) - slack); c <= col(math.Max(x0, x1)+slack); c++ {
			if !do(r*g.nx + c) {
				return
			}
		}
	}
}

func clamp(t float64) float64 { return math.Max(0, math.Min(1, t)) }

// depth returns how many other loops contain loop i.
func depth(lines [][]geom.Point, i int) int {
	n, p := 0, lines[i][0]
	for j, line := range lines {
		if j != i && geom.Contains(line, p) {
			n++
		}
	}
	return n
}
