package flow

import (
	"math"
	"math/bits"
	"slices"
	"sync/atomic"
)

// mostHaste bounds in how many parts, as a power of two, a cell's layers are moved.
const mostHaste = 4

// A carrier moves the layers by what the film has moved. Cells that give much of
// what they have do so in 2, 4, 8 or 16 parts, the others at once.
type carrier struct {
	taken fluxes // of each part, m
	haste haste  // of the faces: in 2^haste parts
	now   int    // faces of less haste rest
	// cells beside a face with a flux of at least so much haste
	cells [mostHaste + 1][]int32
	share []float32 // of what leaves a cell, by layer
	from  []float32 // the height it leaves from on average, of the cell's film, by layer
	of    []uint8   // haste of each cell
	top   []uint8   // of its hastiest face
	over  part      // what was stepped since layers were last moved
}

// haste is how hastily flows what flows over the faces.
type haste struct{ x, y, out []uint8 }

func newCarrier(cells, most int) carrier {
	return carrier{
		taken: newFluxes(cells), haste: haste{make([]uint8, cells), make([]uint8, cells), make([]uint8, cells)},
		share: make([]float32, cells*most), from: make([]float32, cells*most), of: make([]uint8, cells), top: make([]uint8, cells),
	}
}

// restless is the largest share of a cell of the part just stepped that has left it since
// its layers were moved; elsewhere it was less when that was stepped.
func (c *Coat) restless() float64 {
	f := c.film
	near := f.at.grown(1, f.grid)
	c.moves.over = c.moves.over.with(near)
	f.byRows(near, func(y int, p part) {
		most := 0.0
		for i := y*f.grid.NX + p.x0; i < y*f.grid.NX+p.x1; i++ {
			if out, h := f.moved.leaving(i, f.grid.NX), f.h[i]+thinnest; out > most*h {
				most = out / h
			}
		}
		f.w.rows[y] = most
	})
	return slices.Max(f.w.rows[near.y0:near.y1])
}

// leaving is what leaves a cell altogether.
func (q *fluxes) leaving(i, nx int) float64 {
	out := 0.0
	if v := q.x[i]; v > 0 {
		out = v
	}
	if v := q.y[i]; v > 0 {
		out += v
	}
	if v := q.out[i]; v > 0 {
		out += v
	}
	if i > 0 { // what leaves the last cell of a row eastwards is nothing
		if v := q.x[i-1]; v < 0 {
			out -= v
		}
	}
	if i >= nx {
		if v := q.y[i-nx]; v < 0 {
			out -= v
		}
	}
	return out
}

// thinnest is a film of which it does not matter what colour it has, in m.
const thinnest = 2e-5

// carry moves the layers of all cells by what the film has moved, but for what is less
// than a share of either cell, in parts so small that no cell gives more than half of
// what it has.
func (c *Coat) carry(but float64) {
	c.moves.over = part{}
	c.carryIn(c.film.grid.whole(), but)
}

// carryWhereItMoved does it where the film has been stepped since it was last done.
func (c *Coat) carryWhereItMoved(but float64) {
	p := c.moves.over
	c.moves.over = part{}
	c.carryIn(p, but)
}

func (c *Coat) carryIn(p part, but float64) {
	if p.empty() {
		return
	}
	c.take(p, but)
	p = p.grown(1, c.film.grid)
	most := c.hurry(p)
	for k := range 1 << most {
		// the k-th part is one of those faces whose parts are as long apart
		c.moves.now = max(0, most-bits.TrailingZeros(uint(k)|1<<most))
		c.carryPart(c.moves.cells[c.moves.now])
	}
	c.moves.given(c.film, p)
	c.sides.drain()
	c.easesIn(p)
}

// take takes over what has moved between the cells of a part and to those beside it.
func (c *Coat) take(p part, but float64) {
	f := c.film
	nx, h, m, t := f.grid.NX, f.h, &f.moved, &c.moves.taken
	one := func(from, to []float64, i int, least float64) {
		if v := from[i]; v != 0 && math.Abs(v) >= least {
			to[i], from[i] = v, 0
		}
	}
	f.byRows(p, func(y int, p part) {
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			least := but * h[i]
			one(m.out, t.out, i, least)
			if i+1 < len(h) {
				one(m.x, t.x, i, min(least, but*h[i+1]))
			}
			if i+nx < len(h) {
				one(m.y, t.y, i, min(least, but*h[i+nx]))
			}
		}
	})
}

// given forgets what was taken over.
func (m *carrier) given(f *Film, p part) {
	f.byRows(p, func(y int, p part) {
		from, to := y*f.grid.NX+p.x0, y*f.grid.NX+p.x1
		clear(m.taken.x[from:to])
		clear(m.taken.y[from:to])
		clear(m.taken.out[from:to])
	})
}

// still is the haste of a cell that nothing crosses.
const still = 255

// hurry divides what was taken over into parts and returns the greatest haste.
func (c *Coat) hurry(p part) int {
	f, m, nx := c.film, &c.moves, c.film.grid.NX
	f.byRows(p, func(y int, p part) {
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			m.of[i] = 0
			for out := m.taken.leaving(i, nx); out > 0.5*(f.h[i]+thinnest) && m.of[i] < mostHaste; out /= 2 {
				m.of[i]++
			}
		}
	})
	f.byRows(p, func(y int, p part) {
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			m.divide(m.taken.out, m.haste.out, i, i)
			if i+1 < len(m.of) {
				m.divide(m.taken.x, m.haste.x, i, i+1)
			}
			if i+nx < len(m.of) {
				m.divide(m.taken.y, m.haste.y, i, i+nx)
			}
		}
	})
	f.byRows(p, func(y int, p part) {
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			m.top[i] = m.hastiest(i, nx)
		}
	})
	for k := range m.cells {
		m.cells[k] = m.cells[k][:0]
	}
	most := uint8(0)
	for y := p.y0; y < p.y1; y++ {
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			top := m.top[i]
			if top == still {
				continue
			}
			most = max(most, top)
			for k := range top + 1 {
				m.cells[k] = append(m.cells[k], int32(i))
			}
		}
	}
	return int(most)
}

// divide makes parts of what flows over the face between two cells.
func (m *carrier) divide(q []float64, of []uint8, i, j int) {
	if q[i] == 0 {
		return
	}
	of[i] = max(m.of[i], m.of[j])
	q[i] /= float64(int(1) << of[i])
}

// hastiest is the haste of a cell's hastiest face, still if nothing flows over one.
func (m *carrier) hastiest(i, nx int) uint8 {
	most := -1
	if m.taken.out[i] != 0 {
		most = max(most, int(m.haste.out[i]))
	}
	if m.taken.x[i] != 0 {
		most = max(most, int(m.haste.x[i]))
	}
	if m.taken.y[i] != 0 {
		most = max(most, int(m.haste.y[i]))
	}
	if i > 0 && m.taken.x[i-1] != 0 {
		most = max(most, int(m.haste.x[i-1]))
	}
	if i >= nx && m.taken.y[i-nx] != 0 {
		most = max(most, int(m.haste.y[i-nx]))
	}
	if most < 0 {
		return still
	}
	return uint8(most)
}

// coming is what flows into a cell in the part in hand from the west, east, south and
// north; nothing where it flows out.
func (m *carrier) coming(i, nx int) (in [4]float64) {
	now := uint8(m.now)
	if i > 0 {
		if v := m.taken.x[i-1]; v > 0 && m.haste.x[i-1] >= now {
			in[0] = v
		}
	}
	if v := m.taken.x[i]; v < 0 && m.haste.x[i] >= now {
		in[1] = -v
	}
	if i >= nx {
		if v := m.taken.y[i-nx]; v > 0 && m.haste.y[i-nx] >= now {
			in[2] = v
		}
	}
	if v := m.taken.y[i]; v < 0 && m.haste.y[i] >= now {
		in[3] = -v
	}
	return in
}

// away is all that leaves a cell in the part in hand.
func (m *carrier) away(i, nx int) float64 {
	now, out := uint8(m.now), 0.0
	if v := m.taken.x[i]; v > 0 && m.haste.x[i] >= now {
		out = v
	}
	if v := m.taken.y[i]; v > 0 && m.haste.y[i] >= now {
		out += v
	}
	if v := m.taken.out[i]; v > 0 && m.haste.out[i] >= now {
		out += v
	}
	if i > 0 {
		if v := m.taken.x[i-1]; v < 0 && m.haste.x[i-1] >= now {
			out -= v
		}
	}
	if i >= nx {
		if v := m.taken.y[i-nx]; v < 0 && m.haste.y[i-nx] >= now {
			out -= v
		}
	}
	return out
}

// columnWork is how many times a film's cell a column takes to move, and bite how many
// are taken at once: some are much higher than others.
const (
	columnWork = 16
	bite       = 256
)

// carryPart moves a part of what is taken over between some cells.
func (c *Coat) carryPart(cells []int32) {
	each := func(do func(t *tower, i int)) {
		var taken atomic.Int64
		split(len(cells), columnWork*len(cells), func(int, int) {
			var t tower
			for from := int(taken.Add(bite)) - bite; from < len(cells); from = int(taken.Add(bite)) - bite {
				for _, i := range cells[from:min(from+bite, len(cells))] {
					do(&t, int(i))
				}
			}
		})
	}
	each(func(_ *tower, i int) { c.parts(i) })
	for _, i := range cells {
		if c.moves.taken.out[i] > 0 && int(c.moves.haste.out[i]) >= c.moves.now {
			c.spill(int(i))
		}
	}
	each(c.gather)
	each(func(_ *tower, i int) { c.renew(i) })
}

// parts sets which share of what leaves a cell comes from each of its layers, none
// of which gives more than it is, and from which height.
func (c *Coat) parts(i int) {
	n := int(c.now.n[i])
	if n == 0 {
		return
	}
	row := i * c.most
	kept, d := c.moves.share[row:row+n], c.now.d[row:row+n]
	out := c.moves.away(i, c.film.grid.NX)
	if out == 0 {
		clear(kept)
		return
	}
	var room [MostCups + spareLayers + 1]float64
	share := room[:n]
	h := c.profile(i, share)
	c.leavingFrom(h, d, c.moves.from[row:row+n])
	left, open := 1.0, 1.0
	for range n { // what a thin layer cannot give, the others do
		full := false
		rest := 0.0
		for k := range share {
			if share[k] < 0 {
				continue
			}
			if s := share[k] / open * left; s*out > d[k] {
				share[k] = -d[k] / out // settled
				full = true
			} else {
				rest += share[k]
			}
		}
		if !full {
			break
		}
		left, open = 1, rest
		for k := range share {
			if share[k] < 0 {
				left += share[k]
			}
		}
	}
	for k := range share {
		if share[k] < 0 {
			share[k] = -share[k]
		} else if open > 0 {
			share[k] *= left / open
		}
		kept[k] = float32(share[k])
	}
}

// profile sets each layer's part of the flow of a cell, and returns its film. Driven
// from within, a film moves at u(z) = ∫φ(h − z)dz, φ the fluidity: twice as fast in
// the upper half; a wind that drags at its surface adds ∫φ dz.
func (c *Coat) profile(i int, share []float64) float64 {
	row := i * c.most
	h := 0.0
	for k := range share {
		h += c.now.d[row+k]
	}
	windy := 0.0
	if c.windy != nil {
		windy = c.windy[i]
	}
	s, u, v, sum, blown := h, 0.0, 0.0, 0.0, 0.0
	for k := range share {
		d, phi := c.now.d[row+k], c.fluidity(c.now.cup[row+k])
		under := s - d
		inner := (u+phi*s*s/2)*d - phi*(s*s*s-under*under*under)/6
		drag := v*d + phi*d*d/2
		u += phi * (s*s - under*under) / 2
		v += phi * d
		s = under
		sum += inner
		blown += drag
		share[k] = inner
	}
	if sum <= 0 {
		return h
	}
	for k := range share {
		share[k] /= sum
	}
	if windy == 0 {
		return h
	}
	v = 0
	for k := range share {
		d, phi := c.now.d[row+k], c.fluidity(c.now.cup[row+k])
		share[k] = share[k]*(1-windy) + windy*(v*d+phi*d*d/2)/blown
		v += phi * d
	}
	return h
}

// leavingFrom sets at which height, over the film, what leaves each layer does so on
// average when the film is driven from within: the mean of z over u = hz − z²/2.
func (c *Coat) leavingFrom(h float64, d []float64, from []float32) {
	z := 0.0
	for k, v := range d {
		a, b := z, z+v
		at := (z + v/2) / h
		aa, bb := a*a, b*b
		if sum := h*(bb-aa)/2 - (bb*b-aa*a)/6; sum > 0 {
			at = (h*(bb*b-aa*a)/3 - (bb*bb-aa*aa)/8) / (sum * h)
		}
		from[k] = float32(at)
		z = b
	}
}

func (c *Coat) fluidity(cup uint8) float64 {
	if c.fluid == nil || int(cup) >= len(c.fluid) {
		return 1
	}
	return c.fluid[cup]
}

// gather makes a cell's new column from what stays and from what its neighbours
// give, each at the height it had.
func (c *Coat) gather(t *tower, i int) {
	nx := c.film.grid.NX
	in := c.moves.coming(i, nx)
	c.stir.begin(i)
	t.n = 0
	t.stay(c, i, c.moves.away(i, nx))
	for k, from := range [4]int{i - 1, i + 1, i - nx, i + nx} {
		if in[k] > 0 {
			t.merge(c, from, in[k], i)
		}
	}
	t.write(c, &c.next, i)
}

// renew takes a cell's new column over.
func (c *Coat) renew(i int) {
	n := c.next.n[i]
	row := i * c.most
	end := row + int(n)
	c.now.n[i] = n
	cup, d := c.now.cup[row:end], c.now.d[row:end]
	for k, v := range c.next.cup[row:end] {
		cup[k], d[k] = v, c.next.d[row+k]
	}
	c.stir.renew(i)
}
