package composition

import (
	"math"
	"sort"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

// A Contact is two cups that meet on the board.
type Contact struct {
	A, B   string       // colours, A before B in the order of first drawing
	Border units.Length // of their common edge
	AOnB   units.Area   // where A was laid over B
	BOnA   units.Area
}

// A Cover is the board in small squares, each with what lies on top.
type Cover struct {
	Cell   float64 // mm
	W, H   int
	top    []int16 // region on top, −1 off the board, bare = none
	inside []bool
	names  []string // colour of each region
	over   map[[2]string]int
}

const (
	coverCells = 160 // along the longer side: borders are true to about a hundredth of it
	offBoard   = -1
	bare       = -2
)

// NewCover lays regions in their order on a board.
func NewCover(board surface.Shape, regions []Region) *Cover {
	box := board.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	c := &Cover{Cell: math.Max(w, h) / coverCells, over: map[[2]string]int{}}
	c.W, c.H = max(1, int(math.Ceil(w/c.Cell))), max(1, int(math.Ceil(h/c.Cell)))
	c.top, c.inside = make([]int16, c.W*c.H), make([]bool, c.W*c.H)
	for i := range c.top {
		c.top[i] = offBoard
	}
	c.fill(board.Whole().Loops(), func(i int) { c.top[i], c.inside[i] = bare, true })
	for k, r := range regions {
		c.names = append(c.names, r.Colour)
		if r.Kind == Texture {
			continue
		}
		c.fill(r.Loops, func(i int) {
			if !c.inside[i] {
				return
			}
			if below := c.top[i]; below >= 0 && r.Colour != "" && c.names[below] != "" && c.names[below] != r.Colour {
				c.over[[2]string{r.Colour, c.names[below]}]++
			}
			c.top[i] = int16(k)
		})
	}
	return c
}

// fill runs over the squares whose middles lie inside the loops (even-odd).
func (c *Cover) fill(loops [][]surface.Point, do func(i int)) {
	var xs []float64
	for row := range c.H {
		y := (float64(row) + 0.5) * c.Cell
		xs = xs[:0]
		for _, line := range loops {
			for j, a := range line {
				b := line[(j+1)%len(line)]
				if (a.Y > y) != (b.Y > y) {
					xs = append(xs, a.X+(y-a.Y)/(b.Y-a.Y)*(b.X-a.X))
				}
			}
		}
		sort.Float64s(xs)
		for j := 0; j+1 < len(xs); j += 2 {
			from := max(0, int(math.Ceil(xs[j]/c.Cell-0.5)))
			to := min(c.W-1, int(math.Floor(xs[j+1]/c.Cell-0.5)))
			for col := from; col <= to; col++ {
				do(row*c.W + col)
			}
		}
	}
}

func (c *Cover) colour(i int) (string, bool) {
	if c.top[i] < 0 {
		return "", false
	}
	name := c.names[c.top[i]]
	return name, name != ""
}

// Visible returns what part of the face shows each colour on top.
func (c *Cover) Visible() map[string]float64 {
	out := map[string]float64{}
	n := 0
	for i := range c.top {
		if c.inside[i] {
			n++
			if name, ok := c.colour(i); ok {
				out[name]++
			}
		}
	}
	for k := range out {
		out[k] /= float64(max(1, n))
	}
	return out
}

// Contacts returns the pairs of colours that touch, longest border first.
// Borders are counted along squares and scaled by π/4, the mean over
// directions.
func (c *Cover) Contacts() []Contact {
	steps := map[[2]string]int{}
	meet := func(i, j int) {
		a, okA := c.colour(i)
		b, okB := c.colour(j)
		if okA && okB && a != b {
			if a > b {
				a, b = b, a
			}
			steps[[2]string{a, b}]++
		}
	}
	for row := range c.H {
		for col := range c.W {
			i := row*c.W + col
			if col+1 < c.W {
				meet(i, i+1)
			}
			if row+1 < c.H {
				meet(i, i+c.W)
			}
		}
	}
	for pair := range c.over { // laid over completely they still meet
		a, b := min(pair[0], pair[1]), max(pair[0], pair[1])
		steps[[2]string{a, b}] += 0
	}
	cell := units.Area(c.Cell * c.Cell)
	out := make([]Contact, 0, len(steps))
	for pair, n := range steps {
		out = append(out, Contact{A: pair[0], B: pair[1], Border: units.Length(float64(n) * c.Cell * math.Pi / 4),
			AOnB: units.Area(c.over[pair]) * cell, BOnA: units.Area(c.over[[2]string{pair[1], pair[0]}]) * cell})
	}
	sort.Slice(out, func(i, j int) bool {
		if out[i].Border != out[j].Border {
			return out[i].Border > out[j].Border
		}
		return out[i].A+out[i].B < out[j].A+out[j].B
	})
	return out
}
