package composition

import (
	"math"
	"sort"

	"jevvo/internal/core/geom"
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
	Cell    float64 // mm
	W, H    int
	top     []int16 // region on top, −1 off the board, bare = none
	inside  []bool
	colours []string // of the regions, each once; the first is "" for none
	names   []int    // place in colours of each region
	over    [][]int  // squares where one colour was laid over another
	laid    []int    // squares a colour was laid on, whatever came over it
}

const (
	coverCells = 112 // along the longer side: borders are true to about a hundredth of it
	offBoard   = -1
	bare       = -2
)

// coarseCells are enough for areas, and a quarter of the work.
const coarseCells = 56

// NewCover lays regions in their order on a board.
func NewCover(board surface.Shape, regions []Region) *Cover {
	return newCover(board, regions, coverCells)
}

// Laid returns what part of a board each colour was poured over, whatever was
// laid on it afterwards.
func Laid(board surface.Shape, regions []Region) map[string]float64 {
	c := newCover(board, regions, coarseCells)
	n := 0
	for _, in := range c.inside {
		if in {
			n++
		}
	}
	out := map[string]float64{}
	for i, name := range c.colours {
		if name != "" && c.laid[i] > 0 {
			out[name] = float64(c.laid[i]) / float64(n)
		}
	}
	return out
}

func newCover(board surface.Shape, regions []Region, cells float64) *Cover {
	box := board.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	c := &Cover{Cell: math.Max(w, h) / cells, colours: []string{""}}
	c.W, c.H = max(1, int(math.Ceil(w/c.Cell))), max(1, int(math.Ceil(h/c.Cell)))
	c.top, c.inside = make([]int16, c.W*c.H), make([]bool, c.W*c.H)
	for i := range c.top {
		c.top[i] = offBoard
	}
	c.fill(board.Whole().Loops(), func(i int) { c.top[i], c.inside[i] = bare, true })
	for _, r := range regions {
		c.names = append(c.names, c.place(r.Colour))
	}
	c.over, c.laid = make([][]int, len(c.colours)), make([]int, len(c.colours))
	for i := range c.over {
		c.over[i] = make([]int, len(c.colours))
	}
	for k, r := range regions {
		if r.Kind != Texture {
			c.add(k, r)
		}
	}
	return c
}

// place returns the colour's place among the colours.
func (c *Cover) place(colour string) int {
	for i, known := range c.colours {
		if known == colour {
			return i
		}
	}
	c.colours = append(c.colours, colour)
	return len(c.colours) - 1
}

// add covers the squares of the region at k.
func (c *Cover) add(k int, r Region) {
	own := c.names[k]
	c.fill(r.Loops, func(i int) {
		if !c.inside[i] {
			return
		}
		if below := c.top[i]; below >= 0 && own != 0 && c.names[below] != 0 && c.names[below] != own {
			c.over[own][c.names[below]]++
		}
		if c.colour(i) != own {
			c.laid[own]++
		}
		c.top[i] = int16(k)
	})
}

// fill runs over the squares whose middles lie inside the loops (even-odd).
func (c *Cover) fill(loops [][]geom.Point, do func(i int)) {
	low, high := math.Inf(1), math.Inf(-1)
	for _, line := range loops {
		for _, p := range line {
			low, high = math.Min(low, p.Y), math.Max(high, p.Y)
		}
	}
	if !(low <= high) {
		return
	}
	var xs []float64
	for row := max(0, int(low/c.Cell-0.5)); row < c.H && (float64(row)+0.5)*c.Cell <= high; row++ {
		y := (float64(row) + 0.5) * c.Cell
		xs = geom.Crossings(loops, y, xs[:0])
		for j := 0; j+1 < len(xs); j += 2 {
			from := max(0, int(math.Ceil(xs[j]/c.Cell-0.5)))
			to := min(c.W-1, int(math.Floor(xs[j+1]/c.Cell-0.5)))
			for col := from; col <= to; col++ {
				do(row*c.W + col)
			}
		}
	}
}

// colour returns the place of the colour on top of a square, 0 for none.
func (c *Cover) colour(i int) int {
	if c.top[i] < 0 {
		return 0
	}
	return c.names[c.top[i]]
}

// Visible returns what part of the face shows each colour on top.
func (c *Cover) Visible() map[string]float64 {
	squares := make([]int, len(c.colours))
	n := 0
	for i := range c.top {
		if c.inside[i] {
			n++
			squares[c.colour(i)]++
		}
	}
	out := map[string]float64{}
	for i, name := range c.colours {
		if name != "" && squares[i] > 0 {
			out[name] = float64(squares[i]) / float64(n)
		}
	}
	return out
}

// Contacts returns the pairs of colours that touch, longest border first.
// Borders are counted along squares and scaled by π/4, the mean over
// directions.
func (c *Cover) Contacts() []Contact {
	n := len(c.colours)
	steps := make([]int, n*n)
	meet := func(i, j int) {
		if a, b := c.colour(i), c.colour(j); a != b && a != 0 && b != 0 {
			steps[min(a, b)*n+max(a, b)]++
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
	cell := units.Area(c.Cell * c.Cell)
	var out []Contact
	for a := 1; a < n; a++ {
		for b := a + 1; b < n; b++ {
			border, on, under := steps[a*n+b], c.over[a][b], c.over[b][a]
			if border+on+under == 0 { // laid over completely they still meet
				continue
			}
			out = append(out, Contact{A: c.colours[a], B: c.colours[b],
				Border: units.Length(float64(border) * c.Cell * math.Pi / 4),
				AOnB:   units.Area(on) * cell, BOnA: units.Area(under) * cell})
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Border > out[j].Border })
	return out
}
