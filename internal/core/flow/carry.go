package flow

import (
	"math"
	"math/bits"
	"slices"
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
	share []float64 // of what leaves a cell, by layer
	from  []float32 // the height it leaves from on average, of the cell's film, by layer
	of    []uint8   // haste of each cell
	top   []uint8   // of its hastiest face
	over  part      // what was stepped since layers were last moved
	short []float64 // of what should leave a cell, the share that is not there yet
	late  float64   // the most that was put off over a face, m
}

// haste is how hastily flows what flows over the faces.
type haste struct{ x, y, out []uint8 }

func newCarrier(cells, most int) carrier {
	return carrier{
		taken: newFluxes(cells),
		haste: haste{make([]uint8, cells), make([]uint8, cells), make([]uint8, cells)},
		share: make([]float64, cells*most),
		from:  make([]float32, cells*most),
		of:    make([]uint8, cells),
		top:   make([]uint8, cells),
		short: make([]float64, cells),
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

// leaving is the volume that leaves a cell.
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

// settled is what may still be on its way over a face when layers are said to be the film,
// in m; tries is how often what was put off is moved on at most.
const (
	settled = 1e-13
	tries   = 64
)

// carryAll moves the layers of a part by all that has moved.
func (c *Coat) carryAll(p part) {
	for range tries {
		c.moves.late = 0
		c.carryIn(p, 0)
		if c.moves.late < settled {
			return
		}
	}
}

// carryWhereItMoved does it where the film has been stepped since it was last done.
func (c *Coat) carryWhereItMoved(but float64) {
	p := c.moves.over
	c.moves.over = part{}
	c.carryIn(p, but)
}

// carryIn moves the layers of a part by what the film has moved there, but for what is less
// than a share of either cell, in parts so small that no cell gives more than half of what
// it has.
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

// coming is the flow into a cell in the part in hand from the west, east, south and
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
