package flow

import (
	"math"
	"slices"

	"jevvo/internal/core/geom"
)

// A skin is which cup is uppermost at each point of the surface, finer than the cells.
// What is laid has its own outline and goes with the surface: kept is from where what is
// at a place has come, so that an edge stays an edge however far it goes.
type skin struct {
	grid   Grid
	points int     // along a cell
	cup    []uint8 // of each point
	next   []uint8
	back   drift // since the skin was last drawn
	home   drift // since cells opened there
	way    drift // of the step in hand
	then   drift
	opened bool // whether cells are open anywhere
}

// What a point shows besides a cup: nothing was laid there; what its column says, as
// behind a blade.
const (
	bareSkin = 254
	asColumn = 253
)

// A drift is, for the middle of each cell, the way back to where what is there was, in
// cells.
type drift struct{ x, y []float64 }

func (d drift) clone() drift { return drift{slices.Clone(d.x), slices.Clone(d.y)} }

func newDrift(n int) drift { return drift{make([]float64, n), make([]float64, n)} }

// newSkin is one of so many points along a cell, on which nothing lies.
func newSkin(g Grid, points int) *skin {
	n := g.Len() * points * points
	s := &skin{
		grid:   g,
		points: points,
		cup:    make([]uint8, n),
		next:   make([]uint8, n),
		back:   newDrift(g.Len()),
		home:   newDrift(g.Len()),
		way:    newDrift(g.Len()),
		then:   newDrift(g.Len()),
	}
	for i := range s.cup {
		s.cup[i] = bareSkin
	}
	return s
}

// clone is a copy to be carried on by itself.
func (s *skin) clone() *skin {
	if s == nil {
		return nil
	}
	out := *s
	out.cup = slices.Clone(s.cup)
	out.back, out.home = s.back.clone(), s.home.clone()
	return &out
}

// The surface of a film driven from within goes 1.5 times as fast as the film, that of
// one dragged along twice as fast.
const (
	surfaceDriven  = 1.5
	surfaceDragged = 2.0
)

// carry takes the surface along with what a step of the film has moved in a part.
func (s *skin) carry(f *Film, p part, windy []float64) {
	s.shift(p, func(x, y int) (dx, dy float64) {
		i := y*s.grid.NX + x
		dx, dy = s.moved(f, i, x, y)
		faster := surfaceDriven
		if windy != nil {
			faster += windy[i] * (surfaceDragged - surfaceDriven)
		}
		return clamp(faster * dx), clamp(faster * dy)
	})
}

// shift takes the surface of a part along by so many cells: what is at a place now was
// that much before, and there it had come its way already.
func (s *skin) shift(p part, by func(x, y int) (dx, dy float64)) {
	nx := s.grid.NX
	split(p.y1-p.y0, p.cells(), func(from, to int) {
		for y := p.y0 + from; y < p.y0+to; y++ {
			for x := p.x0; x < p.x1; x++ {
				s.way.x[y*nx+x], s.way.y[y*nx+x] = by(x, y)
			}
		}
	})
	s.back.along(s, p)
	if s.opened {
		s.home.along(s, p)
	}
}

// along brings a drift on by the way of a step.
func (d drift) along(s *skin, p part) {
	nx := s.grid.NX
	split(p.y1-p.y0, p.cells(), func(from, to int) {
		for y := p.y0 + from; y < p.y0+to; y++ {
			for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
				dx, dy := s.way.x[i], s.way.y[i]
				bx, by := d.smooth(s.grid, float64(i-y*nx)-dx, float64(y)-dy)
				s.then.x[i], s.then.y[i] = bx-dx, by-dy
			}
		}
	})
	for y := p.y0; y < p.y1; y++ {
		from, to := y*nx+p.x0, y*nx+p.x1
		copy(d.x[from:to], s.then.x[from:to])
		copy(d.y[from:to], s.then.y[from:to])
	}
}

// opens notes that cells open at a place: what moves from now on takes them along.
func (s *skin) opens(i int) {
	s.home.x[i], s.home.y[i], s.opened = 0, 0, true
}

// farthest is how many cells the surface goes in a step at most: what a film that is all
// but dry is said to do beyond that is rounding.
const farthest = 16

func clamp(v float64) float64 { return math.Max(-farthest, math.Min(farthest, v)) }

// moved is how far the film of a cell went in a step, in cells: over its faces, and over
// open edges beside it.
func (s *skin) moved(f *Film, i, x, y int) (dx, dy float64) {
	q, nx := &f.w.step, s.grid.NX
	h := func(i int) float64 { return f.h[i] * f.per[i] }
	if h(i) < thinnest {
		return 0, 0
	}
	over := func(flux float64, a, b int) float64 { return flux / math.Max((h(a)+h(b))/2, thinnest) }
	if x+1 < nx {
		dx += over(q.x[i], i, i+1)
	}
	if x > 0 {
		dx += over(q.x[i-1], i-1, i)
	}
	if y+1 < s.grid.NY {
		dy += over(q.y[i], i, i+nx)
	}
	if y > 0 {
		dy += over(q.y[i-nx], i-nx, i)
	}
	if out, open := q.out[i], f.edge.open[i]; out > 0 {
		n := 0.0
		for k := range 4 {
			n += float64(open >> k & 1)
		}
		each := out / n / h(i)
		dx += each * (float64(open&East) - float64(open&West)/2)
		dy += each * (float64(open&North)/4 - float64(open&South)/8)
	}
	return dx / 2, dy / 2
}

// at is a drift between the middles of cells, in cells from the first.
func (d drift) at(g Grid, x, y float64) (float64, float64) {
	x, y = min(max(x, 0), float64(g.NX-1)), min(max(y, 0), float64(g.NY-1))
	i, j := min(int(x), max(0, g.NX-2)), min(int(y), max(0, g.NY-2))
	u, v := x-float64(i), y-float64(j)
	a := j*g.NX + i
	b, c := a+min(1, g.NX-1), a+g.NX*min(1, g.NY-1)
	e := c + b - a
	wa, wb, wc, we := (1-u)*(1-v), u*(1-v), (1-u)*v, u*v
	return wa*d.x[a] + wb*d.x[b] + wc*d.x[c] + we*d.x[e], wa*d.y[a] + wb*d.y[b] + wc*d.y[c] + we*d.y[e]
}

// smooth is a drift between the middles of cells by cubics through four of them (Catmull and
// Rom 1974): what is read once a step must not be worn down by it.
func (d drift) smooth(g Grid, x, y float64) (float64, float64) {
	i, j := int(math.Floor(x)), int(math.Floor(y))
	if i < 1 || j < 1 || i+2 >= g.NX || j+2 >= g.NY {
		return d.at(g, x, y)
	}
	wx, wy := cubic(x-float64(i)), cubic(y-float64(j))
	sx, sy := 0.0, 0.0
	for v, b := range wy {
		row := (j-1+v)*g.NX + i - 1
		px, py := d.x[row:row+4], d.y[row:row+4]
		sx += b * (wx[0]*px[0] + wx[1]*px[1] + wx[2]*px[2] + wx[3]*px[3])
		sy += b * (wx[0]*py[0] + wx[1]*py[1] + wx[2]*py[2] + wx[3]*py[3])
	}
	return sx, sy
}

// cubic are the weights of four neighbours for a place a share t beyond the second.
func cubic(t float64) [4]float64 {
	return [4]float64{
		t * (-0.5 + t*(1-0.5*t)),
		1 + t*t*(-2.5+1.5*t),
		t * (0.5 + t*(2-1.5*t)),
		t * t * (-0.5 + 0.5*t),
	}
}

// fresh is how far, in points, the surface may have gone before it is drawn anew when
// something is to be laid on it.
const fresh = 0.5

// draw brings the skin to where the surface has gone to.
func (s *skin) draw() {
	least := fresh / float64(s.points)
	var p part
	for i := range s.back.x {
		if math.Abs(s.back.x[i]) > least || math.Abs(s.back.y[i]) > least {
			p = p.with(s.grid.cell(i))
		}
	}
	if p.empty() {
		return
	}
	p = p.grown(1, s.grid)
	wide, per := s.grid.NX*s.points, 1/float64(s.points)
	split((p.y1-p.y0)*s.points, p.cells()*s.points, func(from, to int) {
		for row := p.y0*s.points + from; row < p.y0*s.points+to; row++ {
			for col := p.x0 * s.points; col < p.x1*s.points; col++ {
				s.next[row*wide+col] = s.cup[s.origin((float64(col)+0.5)*per, (float64(row)+0.5)*per)]
			}
		}
	})
	for row := p.y0 * s.points; row < p.y1*s.points; row++ {
		from, to := row*wide+p.x0*s.points, row*wide+p.x1*s.points
		copy(s.cup[from:to], s.next[from:to])
	}
	for y := p.y0; y < p.y1; y++ {
		clear(s.back.x[y*s.grid.NX+p.x0 : y*s.grid.NX+p.x1])
		clear(s.back.y[y*s.grid.NX+p.x0 : y*s.grid.NX+p.x1])
	}
}

// origin is the point of the skin as it was drawn that has come to a place, in cells from
// the corner.
func (s *skin) origin(x, y float64) int {
	bx, by := s.back.at(s.grid, x-0.5, y-0.5)
	n := float64(s.points)
	c := min(max(int((x+bx)*n), 0), s.grid.NX*s.points-1)
	r := min(max(int((y+by)*n), 0), s.grid.NY*s.points-1)
	return r*s.grid.NX*s.points + c
}

// cover puts a cup on the points of some cells that lie within an outline, in mm; nil for
// all of them.
func (s *skin) cover(cup uint8, cells []int32, within func(geom.Point) bool) {
	s.draw()
	size := 1000 * s.grid.Cell / float64(s.points)
	for _, i := range cells {
		s.each(int(i), func(k, col, row int) {
			if within == nil || within(geom.At((float64(col)+0.5)*size, (float64(row)+0.5)*size)) {
				s.cup[k] = cup
			}
		})
	}
}

// seesInto is how deep one sees into a film that is read, in m: a layer so thick hides
// two thirds.
const seesInto = 1.5e-4

// seenOf says how much of each layer of a cell is seen from above.
func (c *Coat) seenOf(i int, tell func(cup uint8, much float64)) {
	left := 1.0
	for k := int(c.now.n[i]) - 1; k >= 0 && left > 1e-3; k-- {
		hid := left * -math.Expm1(-c.thick(i, k)/seesInto)
		tell(c.now.cup[i*c.most+k], hid)
		left -= hid
	}
}

// read lets the points of some cells show what is seen most of there, between the middles
// of the cells: outlines are smooth, though columns are of cells.
func (s *skin) read(c *Coat, cells []int32) {
	kinds := c.cups
	seen := map[int][]float64{}
	of := func(i int) []float64 {
		w := seen[i]
		if w == nil {
			w = make([]float64, kinds)
			c.seenOf(i, func(cup uint8, much float64) {
				if int(cup) < kinds {
					w[cup] += much
				}
			})
			seen[i] = w
		}
		return w
	}
	nx, per := s.grid.NX, 1/float64(s.points)
	for _, i := range cells {
		s.each(int(i), func(k, col, row int) {
			x, y := (float64(col)+0.5)*per-0.5, (float64(row)+0.5)*per-0.5
			x, y = math.Max(0, math.Min(float64(nx-1), x)), math.Max(0, math.Min(float64(s.grid.NY-1), y))
			a, b := min(int(x), max(0, nx-2)), min(int(y), max(0, s.grid.NY-2))
			u, v := x-float64(a), y-float64(b)
			j := b*nx + a
			right, up := min(1, nx-1), nx*min(1, s.grid.NY-1)
			w00, w10, w01, w11 := of(j), of(j+right), of(j+up), of(j+up+right)
			best, most := uint8(asColumn), 0.0
			for cup := range kinds {
				w := (1-v)*((1-u)*w00[cup]+u*w10[cup]) + v*((1-u)*w01[cup]+u*w11[cup])
				if w > most {
					best, most = uint8(cup), w
				}
			}
			s.cup[k] = best
		})
	}
}

// each visits the points of a cell.
func (s *skin) each(i int, do func(k, col, row int)) {
	wide := s.grid.NX * s.points
	x, y := i%s.grid.NX*s.points, i/s.grid.NX*s.points
	for row := y; row < y+s.points; row++ {
		for col := x; col < x+s.points; col++ {
			do(row*wide+col, col, row)
		}
	}
}
