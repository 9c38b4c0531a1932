package flow

import "math"

// sides keep what runs over the edges for a while: a film that drains down a side
// of depth D is on average m = ⅔·√(D/(g·F)) thick (Jeffreys 1930), so that dm/dF =
// −9g·m³/8D, whatever it began with.
type sides struct {
	grid   Grid
	cups   int
	depth  float64 // m
	edges  []int   // cells with an open edge over a side
	place  []int32 // of a cell among them, or −1
	held   []float64
	came   []float64 // since they drained
	below  []float64 // of every cup, what has dripped off, m³
	waited float64   // fluidity time since they drained
}

func newSides(g Grid, cups int) sides {
	return sides{grid: g, cups: cups, below: make([]float64, cups)}
}

// Sides says how deep the sides of the board are, in m; 0 lets what runs over an
// edge drip off at once. It is to be said before anything runs.
func (c *Coat) Sides(depth float64) {
	s := &c.sides
	s.depth, s.edges, s.place = depth, nil, make([]int32, len(c.film.h))
	for i := range s.place {
		s.place[i] = -1
		if c.film.grid.rim(i) {
			s.place[i] = int32(len(s.edges))
			s.edges = append(s.edges, i)
		}
	}
	s.held, s.came = make([]float64, len(s.edges)*s.cups), make([]float64, len(s.edges)*s.cups)
}

// rim reports whether a cell of the face has a side that is not.
func (g Grid) rim(i int) bool {
	x, y := i%g.NX, i/g.NX
	return g.On(i) &&
		(x == 0 || x == g.NX-1 || y == 0 || y == g.NY-1 || !g.On(i-1) || !g.On(i+1) || !g.On(i-g.NX) || !g.On(i+g.NX))
}

// spill gives the sides what runs over the edge of a cell.
func (c *Coat) spill(i int) {
	out := c.moves.taken.out[i]
	to := c.sides.over(i)
	for k := i * c.most; k < i*c.most+int(c.now.n[i]); k++ {
		amount := out * c.moves.share[k] * c.film.grid.Cell * c.film.grid.Cell
		if cup := c.now.cup[k]; cup == Mixed {
			c.stir.count(i, amount, to)
		} else {
			to[cup] += amount
		}
	}
}

// over is where goes what runs over the edge of a cell, by cup.
func (s *sides) over(i int) []float64 {
	if s.depth == 0 || s.place[i] < 0 {
		return s.below
	}
	p := int(s.place[i])
	return s.came[p*s.cups : (p+1)*s.cups]
}

// drainParts is in how many parts what came is put on the sides while they drain.
const drainParts = 8

// drain lets drip off what does not stay on the sides.
func (s *sides) drain() {
	if s.depth == 0 {
		return
	}
	for p := range s.edges {
		held, came := s.held[p*s.cups:(p+1)*s.cups], s.came[p*s.cups:(p+1)*s.cups]
		for range drainParts {
			s.drip(held, came, s.waited/drainParts)
		}
		clear(came)
	}
	s.waited = 0
}

// drip adds a part of what came to a side, and lets it drain for so long.
func (s *sides) drip(held, came []float64, wait float64) {
	m := 0.0
	for k, v := range came {
		held[k] += v / drainParts
		m += held[k]
	}
	m /= s.grid.Cell * s.depth
	if m == 0 {
		return
	}
	stays := 1 / math.Sqrt(1+9./4*Gravity*wait*m*m/s.depth)
	for k, v := range held {
		s.below[k] += v * (1 - stays)
		held[k] = v * stays
	}
}

// OnSides is how much of every cup is on the sides, Below how much has dripped
// off, in m³.
func (c *Coat) OnSides() []float64 {
	out := make([]float64, c.cups)
	for k, v := range c.sides.held {
		out[k%c.cups] += v + c.sides.came[k]
	}
	return out
}

// Below is how much of every cup has run off the board and its sides, in m³.
func (c *Coat) Below() []float64 { return append([]float64(nil), c.sides.below...) }

// SideFilm is how thick the film on the thinnest and on the mean side is that
// anything ran over, in m.
func (c *Coat) SideFilm() (thinnest, mean float64) {
	face, n := c.film.grid.Cell*c.sides.depth, 0.0
	for p := range c.sides.edges {
		m := 0.0
		for _, v := range c.sides.held[p*c.cups : (p+1)*c.cups] {
			m += v / face
		}
		if m == 0 {
			continue
		}
		if n == 0 || m < thinnest {
			thinnest = m
		}
		mean += m
		n++
	}
	return thinnest, mean / math.Max(1, n)
}
