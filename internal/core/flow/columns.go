package flow

import (
	"math"
	"sync/atomic"
)

// columnWork is how many times a film's cell a column takes to move, and bite how many
// are taken at once: some are much higher than others.
const (
	columnWork = 16
	bite       = 256
)

// A builder assembles new columns.
type builder struct {
	tower  tower
	inflow inflow
}

// carryPart moves a part of what is taken over between some cells.
func (c *Coat) carryPart(cells []int32) {
	each := func(do func(b *builder, i int)) {
		var taken atomic.Int64
		split(len(cells), columnWork*len(cells), func(int, int) {
			var b builder
			for from := int(taken.Add(bite)) - bite; from < len(cells); from = int(taken.Add(bite)) - bite {
				for _, i := range cells[from:min(from+bite, len(cells))] {
					do(&b, int(i))
				}
			}
		})
	}
	each(func(_ *builder, i int) { c.parts(i) })
	for _, i := range cells {
		if c.moves.taken.out[i] > 0 && int(c.moves.haste.out[i]) >= c.moves.now {
			c.spill(int(i))
		}
	}
	each(c.gather)
	each(func(_ *builder, i int) { c.renew(i) })
	for _, i := range cells {
		c.putOff(int(i))
	}
}

// putOff leaves for later what should have gone from a cell in the part in hand and was not
// there yet: what came through it in the same step.
func (c *Coat) putOff(i int) {
	short := c.moves.short[i]
	if short == 0 {
		return
	}
	m, t, nx, now := &c.film.moved, &c.moves.taken, c.film.grid.NX, uint8(c.moves.now)
	back := func(from, to []float64, haste []uint8, k int, sign float64) {
		if v := from[k]; sign*v > 0 && haste[k] >= now {
			to[k] += short * v
			c.moves.late = max(c.moves.late, math.Abs(short*v))
		}
	}
	back(t.x, m.x, c.moves.haste.x, i, 1)
	back(t.y, m.y, c.moves.haste.y, i, 1)
	back(t.out, m.out, c.moves.haste.out, i, 1)
	if i > 0 {
		back(t.x, m.x, c.moves.haste.x, i-1, -1)
	}
	if i >= nx {
		back(t.y, m.y, c.moves.haste.y, i-nx, -1)
	}
}

// parts sets which share of what leaves a cell comes from each of its layers, none
// of which gives more than it is, and from which height.
func (c *Coat) parts(i int) {
	n := int(c.now.n[i])
	out := c.moves.away(i, c.film.grid.NX)
	c.moves.short[i] = 0
	if n == 0 {
		if out > 0 {
			c.moves.short[i] = 1
		}
		return
	}
	row := i * c.most
	kept, d := c.moves.share[row:row+n], c.now.d[row:row+n]
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
	given := 0.0
	for k := range share {
		if share[k] < 0 {
			share[k] = -share[k]
		} else if open > 0 {
			share[k] *= left / open
		}
		kept[k] = share[k]
		given += share[k]
	}
	if given < 1-1e-12 {
		c.moves.short[i] = 1 - given
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
func (c *Coat) gather(b *builder, i int) {
	nx, t := c.film.grid.NX, &b.tower
	in := c.moves.coming(i, nx)
	c.stir.begin(i)
	t.n = 0
	t.stay(c, i, c.moves.away(i, nx))
	b.inflow.n = 0
	for k, from := range [4]int{i - 1, i + 1, i - nx, i + nx} {
		if in[k] > 0 {
			b.inflow.from(c, from, in[k], i)
		}
	}
	t.merge(&b.inflow)
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
