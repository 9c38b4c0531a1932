package flow

import (
	"context"
	"math"

	"jevvo/internal/core/refusal"
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
	moves carrier
	sides sides
	stir  mixture
	dry   []bool // of each cup: powder that the surface carries; nil for none
	skin  *skin  // nil where no picture is wanted
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
		return nil, refusal.New("a coat is poured from 1 to 24 cups")
	}
	f, err := NewFilm(g, c)
	if err != nil {
		return nil, err
	}
	most := cups + spareLayers + 1
	return &Coat{
		film:  f,
		cups:  cups,
		most:  most,
		now:   newColumns(g.Len(), most),
		next:  newColumns(g.Len(), most),
		moves: newCarrier(g.Len(), most),
		sides: newSides(g, cups),
	}, nil
}

// Skin lets the coat keep what shows at so many points along a cell.
func (c *Coat) Skin(points int) {
	c.skin = newSkin(c.film.grid, points)
	c.film.goes = func(p part) { c.skin.carry(c.film, p, c.windy) }
}

// Film is the film of the coat, for what concerns it as a whole: tilting it,
// opening an edge, the tension of its surface. Pour and Advance are the coat's.
func (c *Coat) Film() *Film { return c.film }

// Fluid says how much more fluid each cup is than the resin whose fluidity time
// passes: batches that were mixed at other times.
func (c *Coat) Fluid(of []float64) {
	c.fluid = of
	c.eases()
}

// Powder says which cups are dry and stay on the surface that carries them, whatever
// moves below, until something is poured on them.
func (c *Coat) Powder(dry []bool) { c.dry = dry }

// carries reports whether the k-th of n layers is powder on the surface.
func (c *Coat) carries(cup uint8, k, n int) bool {
	return k == n-1 && c.powder(cup)
}

func (c *Coat) powder(cup uint8) bool { return c.dry != nil && cup != Mixed && c.dry[cup] }

// Warm says how much more fluid each cell is for its warmth; nil for none.
func (c *Coat) Warm(of []float64) {
	c.warm = of
	c.eases()
}

// Pour lays film of a cup on top of the cells, in m.
func (c *Coat) Pour(cup int, add func(i int) float64) error {
	if cup < 0 || cup >= c.cups {
		return refusal.New("there is no such cup")
	}
	var on []int32
	err := c.film.Pour(func(i int) float64 {
		a := add(i)
		if a > 0 && a <= 0.5 {
			c.lay(i, uint8(cup), a*c.film.area[i])
			on = append(on, int32(i))
		}
		return a
	})
	if c.skin != nil {
		c.skin.cover(uint8(cup), on, nil)
	}
	c.eases()
	return err
}

// heap lays a heap of a cup on top, whose bounds were held when it was made.
func (c *Coat) heap(cup uint8, h heap) {
	area := c.film.grid.Cell * c.film.grid.Cell
	c.film.before(about(c.film.grid, h.cells))
	for k, i := range h.cells {
		c.film.changedAt(int(i))
		c.lay(int(i), cup, h.film[k])
		c.film.h[i] += h.film[k]
		c.film.poured += h.film[k] * area
	}
	switch {
	case c.skin == nil || c.powder(cup):
	case h.veil:
		c.skin.cover(asColumn, h.cells, nil)
	default:
		c.skin.cover(cup, h.cells, h.within)
	}
	c.film.disturbed()
	c.easesIn(about(c.film.grid, h.cells))
}

// lay puts a layer on top of a cell.
func (c *Coat) lay(i int, cup uint8, d float64) {
	var t tower
	t.read(c, i)
	t.add(cup, d)
	t.write(c, &c.now, i)
}

// Column is a cell's layers, lowest first.
func (c *Coat) Column(i int) []Layer {
	out := make([]Layer, c.now.n[i])
	for k := range out {
		out[k] = Layer{int(c.now.cup[i*c.most+k]), c.thick(i, k)}
	}
	return out
}

// thick is how thick the k-th layer of a cell is, in m.
func (c *Coat) thick(i, k int) float64 { return c.now.d[i*c.most+k] * c.film.per[i] }

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
		return refusal.New("time cannot run backwards")
	}
	for left := fluidity; left > 0; {
		took, err := c.film.advance(ctx, left, fluidity*1e-12)
		if err != nil {
			return err
		}
		left -= took
		c.sides.waited += took
		if c.restless() >= often {
			c.carryWhereItMoved(quiet)
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
	c.moves.over = part{}
	c.carryAll(c.film.grid.whole())
	c.agree(c.film.grid.whole())
	return nil
}

// atOnce does so for a part in which something is about to be done.
func (c *Coat) atOnce(p part) {
	c.film.before(p)
	c.carryAll(p.grown(1, c.film.grid))
	c.agree(p)
}

// agree makes the film what its layers are.
func (c *Coat) agree(p part) {
	c.film.byRows(p, func(y int, p part) {
		for i := y*c.film.grid.NX + p.x0; i < y*c.film.grid.NX+p.x1; i++ {
			c.film.h[i] = c.height(i)
		}
	})
}

// eases sets how fluid each cell is altogether: ∫(h − z)²φ dz over h³/3, and its
// warmth.
func (c *Coat) eases() { c.easesIn(c.film.grid.whole()) }

// easesIn does it where layers have changed.
func (c *Coat) easesIn(p part) {
	if c.fluid == nil && c.warm == nil {
		c.film.Ease(nil)
		return
	}
	if c.ease == nil {
		c.ease, p = make([]float64, len(c.film.h)), c.film.grid.whole()
	}
	c.film.byRows(p, func(y int, p part) {
		for i := y*c.film.grid.NX + p.x0; i < y*c.film.grid.NX+p.x1; i++ {
			c.ease[i] = c.easeOf(i)
		}
	})
	c.film.Ease(c.ease)
}

func (c *Coat) easeOf(i int) float64 {
	ease := 1.0
	if h := c.film.h[i]; c.fluid != nil && h > dry {
		s, sum := h, 0.0
		for k := i * c.most; k < i*c.most+int(c.now.n[i]); k++ {
			under := math.Max(s-c.now.d[k], 0)
			sum += c.fluidity(c.now.cup[k]) * (s*s*s - under*under*under)
			s = under
		}
		ease = sum / (h * h * h)
	}
	if c.warm != nil {
		ease *= c.warm[i]
	}
	return ease
}
