package flow

import (
	"context"
	"errors"
	"math"
	"slices"
)

// MostCups is how many cups a coat is poured from.
const MostCups = 24

// spareLayers is how many layers more than cups a cell keeps: with that many, a
// cup lies in a column twice and its thinner layer can join the other.
const spareLayers = 3

// A Coat is a film that remembers what lies on what: in every cell an ordered
// column of layers, each of one cup, moved by the part of the velocity profile that
// falls into its depth.
type Coat struct {
	film  *Film
	cups  int
	most  int // layers a cell
	now   columns
	next  columns
	fluid []float64 // of each cup against the resin whose fluidity time passes; nil when all are alike
	warm  []float64 // of each cell, by its warmth; nil at one temperature
	ease  []float64 // both together
	windy []float64 // share of a cell's flow that the wind drives; nil in still air
	share []float64 // of what leaves a cell, by layer
	taken fluxes    // what the layers are being moved by
	sides sides
	stir  mixture
}

// columns are the layers of all cells, lowest first.
type columns struct {
	n   []uint8
	cup []uint8
	d   []float64 // m
}

func newColumns(cells, most int) columns {
	return columns{make([]uint8, cells), make([]uint8, cells*most), make([]float64, cells*most)}
}

// A Layer is a part of a column.
type Layer struct {
	Cup  int     // Mixed for what was stirred
	Film float64 // m
}

// Mixed stands for the cup of a layer that was stirred together; Composition
// tells from what.
const Mixed = 255

// NewCoat returns an empty coat to be poured from cups.
func NewCoat(g Grid, c Contact, cups int) (*Coat, error) {
	if cups < 1 || cups > MostCups {
		return nil, errors.New("a coat is poured from 1 to 24 cups")
	}
	f, err := NewFilm(g, c)
	if err != nil {
		return nil, err
	}
	most := cups + spareLayers + 1
	return &Coat{film: f, cups: cups, most: most, now: newColumns(g.Len(), most), next: newColumns(g.Len(), most), share: make([]float64, g.Len()*most), taken: newFluxes(g.Len()), sides: newSides(g, cups)}, nil
}

// Film is the film of the coat, for what concerns it as a whole: tilting it,
// opening an edge, the tension of its surface. Pour and Advance are the coat's.
func (c *Coat) Film() *Film { return c.film }

// Fluid says how much more fluid each cup is than the resin whose fluidity time
// passes: lots that were mixed at other times.
func (c *Coat) Fluid(of []float64) {
	c.fluid = of
	c.eases()
}

// Warm says how much more fluid each cell is for its warmth; nil for none.
func (c *Coat) Warm(of []float64) {
	c.warm = of
	c.eases()
}

// Pour lays film of a cup on top of the cells, in m.
func (c *Coat) Pour(cup int, add func(i int) float64) error {
	if cup < 0 || cup >= c.cups {
		return errors.New("there is no such cup")
	}
	err := c.film.Pour(func(i int) float64 {
		a := add(i)
		if a > 0 && a <= 0.5 {
			c.lay(i, uint8(cup), a)
		}
		return a
	})
	c.eases()
	return err
}

// heap lays a heap of a cup on top, whose bounds were held when it was made.
func (c *Coat) heap(cup uint8, h heap) {
	area := c.film.grid.Cell * c.film.grid.Cell
	for k, i := range h.cells {
		c.film.changedAt(int(i))
		c.lay(int(i), cup, h.film[k])
		c.film.h[i] += h.film[k]
		c.film.poured += h.film[k] * area
	}
	c.film.disturbed()
	c.eases()
}

// lay puts a layer on top of a cell.
func (c *Coat) lay(i int, cup uint8, d float64) {
	var t tower
	t.read(c, i)
	t.add(cup, d)
	t.write(c, &c.now, i)
}

// Column is what lies in a cell, lowest first.
func (c *Coat) Column(i int) []Layer {
	out := make([]Layer, c.now.n[i])
	for k := range out {
		out[k] = Layer{int(c.now.cup[i*c.most+k]), c.now.d[i*c.most+k]}
	}
	return out
}

// OnBoard is how much of every cup lies on the face, in m³.
func (c *Coat) OnBoard() []float64 {
	out := make([]float64, c.cups)
	area := c.film.grid.Cell * c.film.grid.Cell
	for i, n := range c.now.n {
		for k := i * c.most; k < i*c.most+int(n); k++ {
			if cup := c.now.cup[k]; cup == Mixed {
				c.stir.count(i, c.now.d[k]*area, out)
			} else {
				out[cup] += c.now.d[k] * area
			}
		}
	}
	return out
}

// often is how much of a cell may leave it before its layers are moved; quiet is
// what may wait until more has come together.
const (
	often = 0.4
	quiet = 0.05
)

// Advance lets the fluidity time pass, in s²/m², the film as a whole and its
// layers after it.
func (c *Coat) Advance(ctx context.Context, fluidity float64) error {
	if err := c.pass(ctx, fluidity); err != nil {
		return err
	}
	return c.catchUp(ctx)
}

// pass lets the fluidity time pass; what little has moved since the layers were
// last moved may still wait.
func (c *Coat) pass(ctx context.Context, fluidity float64) error {
	if !(fluidity >= 0) || math.IsInf(fluidity, 0) {
		return errors.New("time passes forwards")
	}
	for left := fluidity; left > 0; {
		took, err := c.film.advance(ctx, left, fluidity*1e-12)
		if err != nil {
			return err
		}
		left -= took
		c.sides.waited += took
		if c.restless() >= often {
			c.carry(quiet)
		}
	}
	return nil
}

// catchUp brings the whole film to one time and moves the layers by all that it has
// moved.
func (c *Coat) catchUp(ctx context.Context) error {
	if err := c.film.follow(ctx); err != nil {
		return err
	}
	c.carry(0)
	for i := range c.film.h {
		c.film.h[i] = c.height(i)
	}
	return nil
}

// atOnce does so for what cannot wait and cannot be broken off: a blade that is set
// down.
func (c *Coat) atOnce() { _ = c.catchUp(context.Background()) }

// restless is the largest share of a cell that has left it since its layers were
// moved.
func (c *Coat) restless() float64 {
	f := c.film
	q, nx := &f.moved, f.grid.NX
	f.byRows(f.grid.whole(), func(y int, _ part) {
		most := 0.0
		for i := y * nx; i < (y+1)*nx; i++ {
			out := math.Abs(q.x[i]) + math.Abs(q.y[i]) + q.out[i]
			if i >= nx && q.y[i-nx] < 0 {
				out -= q.y[i-nx]
			}
			if h := f.h[i] + thinnest; out > most*h {
				most = out / h
			}
		}
		f.w.rows[y] = most
	})
	return slices.Max(f.w.rows)
}

// thinnest is a film of which it does not matter what colour it has, in m.
const thinnest = 2e-5

// carry moves the layers by what the film has moved, but for what is less than a
// share of either cell, in parts so small that no cell gives more than half of what
// it has.
func (c *Coat) carry(but float64) {
	parts := math.Max(1, math.Min(math.Ceil(c.restless()/0.5), 16))
	c.take(but)
	for range int(parts) {
		c.carryPart(1 / parts)
	}
	c.sides.drain()
	c.eases()
}

// take takes over what has moved between cells.
func (c *Coat) take(but float64) {
	f := c.film
	nx, h, m, t := f.grid.NX, f.h, &f.moved, &c.taken
	one := func(from, to []float64, i int, least float64) {
		to[i] = 0
		if math.Abs(from[i]) >= least {
			to[i], from[i] = from[i], 0
		}
	}
	f.byRows(f.grid.whole(), func(y int, _ part) {
		for i := y * nx; i < (y+1)*nx; i++ {
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

func (c *Coat) carryPart(part float64) {
	g := c.film.grid
	split(g.NY, g.Len(), func(from, to int) {
		for i := from * g.NX; i < to*g.NX; i++ {
			c.parts(i, part)
		}
	})
	c.spill(part)
	split(g.NY, g.Len(), func(from, to int) {
		var t tower
		for i := from * g.NX; i < to*g.NX; i++ {
			c.gather(&t, i, part)
		}
	})
	split(g.NY, g.Len(), func(from, to int) {
		for i := from * g.NX; i < to*g.NX; i++ {
			c.renew(i)
		}
	})
}

// leaving is what leaves a cell altogether, in m.
func (c *Coat) leaving(i int) float64 {
	q, nx := &c.taken, c.film.grid.NX
	out := max(q.x[i], 0) + max(q.y[i], 0) + max(q.out[i], 0)
	if i%nx > 0 {
		out += max(-q.x[i-1], 0)
	}
	if i >= nx {
		out += max(-q.y[i-nx], 0)
	}
	return out
}

// parts sets which share of what leaves a cell comes from each of its layers, none
// of which gives more than it is.
func (c *Coat) parts(i int, part float64) {
	n := int(c.now.n[i])
	if n == 0 {
		return
	}
	row := i * c.most
	share, d := c.share[row:row+n], c.now.d[row:row+n]
	out := c.leaving(i) * part
	if out == 0 {
		clear(share)
		return
	}
	c.profile(i, share)
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
	}
}

// profile sets each layer's part of the flow of a cell. Driven from within, a film
// moves at u(z) = ∫φ(h − z)dz, φ the fluidity: twice as fast in the upper half; a
// wind that drags at its surface adds ∫φ dz.
func (c *Coat) profile(i int, share []float64) {
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
		return
	}
	for k := range share {
		share[k] /= sum
	}
	if windy == 0 {
		return
	}
	v = 0
	for k := range share {
		d, phi := c.now.d[row+k], c.fluidity(c.now.cup[row+k])
		share[k] = share[k]*(1-windy) + windy*(v*d+phi*d*d/2)/blown
		v += phi * d
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
func (c *Coat) gather(t *tower, i int, part float64) {
	q, nx := &c.taken, c.film.grid.NX
	out := c.leaving(i) * part
	in := [4]float64{}
	if i%nx > 0 {
		in[0] = q.x[i-1]
	}
	if i%nx+1 < nx {
		in[1] = -q.x[i]
	}
	if i >= nx {
		in[2] = q.y[i-nx]
	}
	if i+nx < len(q.y) {
		in[3] = -q.y[i]
	}
	c.next.n[i] = still
	if out == 0 && in[0] <= 0 && in[1] <= 0 && in[2] <= 0 && in[3] <= 0 {
		return
	}
	c.stir.begin(i)
	t.n = 0
	t.stay(c, i, out)
	for k, from := range [4]int{i - 1, i + 1, i - nx, i + nx} {
		if in[k] > 0 {
			t.merge(c, from, in[k]*part, i)
		}
	}
	t.write(c, &c.next, i)
}

// still marks a column in which nothing moves.
const still = math.MaxUint8

// renew takes a cell's new column over.
func (c *Coat) renew(i int) {
	n := c.next.n[i]
	if n == still {
		return
	}
	row := i * c.most
	end := row + int(n)
	c.now.n[i] = n
	copy(c.now.cup[row:end], c.next.cup[row:end])
	copy(c.now.d[row:end], c.next.d[row:end])
	c.stir.renew(i)
}

// eases sets how fluid each cell is altogether: ∫(h − z)²φ dz over h³/3, and its
// warmth.
func (c *Coat) eases() {
	if c.fluid == nil && c.warm == nil {
		c.film.Ease(nil)
		return
	}
	if c.ease == nil {
		c.ease = make([]float64, len(c.film.h))
	}
	for i := range c.ease {
		c.ease[i] = 1
		if h := c.film.h[i]; c.fluid != nil && h > dry {
			s, sum := h, 0.0
			for k := i * c.most; k < i*c.most+int(c.now.n[i]); k++ {
				under := math.Max(s-c.now.d[k], 0)
				sum += c.fluidity(c.now.cup[k]) * (s*s*s - under*under*under)
				s = under
			}
			c.ease[i] = sum / (h * h * h)
		}
		if c.warm != nil {
			c.ease[i] *= c.warm[i]
		}
	}
	c.film.Ease(c.ease)
}
