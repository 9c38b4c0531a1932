package flow

import (
	"context"
	"math"
	"slices"

	"jevvo/internal/core/refusal"
)

// A Contact says how a film's edge behaves on a board it has not wetted.
type Contact struct {
	// EdgeHeight is the thickness a film's edge holds by itself; it runs on only
	// where it is thicker. 0 for a wetted board, on which nothing pins.
	EdgeHeight float64 // m
}

// Wetted is a board on which a film carries its own spreading.
var Wetted = Contact{}

// dry is the film below which a cell counts as not wetted, in m.
const dry = 1e-9

// A Film is a film on a grid. It is not safe for concurrent use.
type Film struct {
	grid    Grid
	contact Contact
	h       []float64 // volume over a whole cell, m
	high    []float64 // its height: the same where no cell is cut
	area    []float64 // part of each cell that is on the face
	per     []float64 // one over it
	pull    [2]float64
	tension float64 // surface tension over ρg: the square of the capillary length, m²
	ease    []float64
	wind    [2][]float64 // surface stress over the density, m²/s²; nil in still air
	ground  []float64    // how high the board itself stands, m; nil for a flat one
	stands  []float64    // of film and ground together, while a step is made
	bars    map[face]int // barriers on a face
	lx, ly  []float64    // 1 where a cell's neighbour to the east, to the north, is on the face
	edge    edges
	ran     float64 // over the edges, m³
	poured  float64 // m³
	step    float64 // next inner step in F
	lastOff float64 // how far off the last one was, of what it may be
	at      part    // that is stepped
	move    moving
	most    float64 // that the last step changed, m
	top     float64 // of the film at the last step of the whole, m
	low     float64
	span    float64 // from the lowest to the highest, m
	steps   int     // so far
	w       work
	moved   fluxes       // since they were last taken
	goes    func(p part) // with what a step has moved in a part; nil for nothing
}

// edges are the open ones: how many sides of a cell are, and up to which height
// they hold the film back, added up.
type edges struct {
	open  []Side
	holds [4][]float64 // east, west, north, south, m
	any   bool
	cells []int32 // that have an open side, in the order of the grid
	rows  []int   // where those of each row begin among them
}

// within are the cells with an open side of a row's part.
func (e *edges) within(y int, p part, nx int) []int32 {
	if !e.any {
		return nil
	}
	row := e.cells[e.rows[y]:e.rows[y+1]]
	from, _ := slices.BinarySearch(row, int32(y*nx+p.x0))
	to, _ := slices.BinarySearch(row, int32(y*nx+p.x1))
	return row[from:to]
}

// list notes the cells that have an open side.
func (e *edges) list(g Grid) {
	e.cells, e.rows = e.cells[:0], append(e.rows[:0], 0)
	for y := range g.NY {
		for x := range g.NX {
			if i := y*g.NX + x; e.open[i] != 0 {
				e.cells = append(e.cells, int32(i))
			}
		}
		e.rows = append(e.rows, len(e.cells))
	}
}

// fluxes is film that goes from a cell to its neighbour in the east, in the
// north, and over its open edges, in m of film (or in m a unit of fluidity time).
type fluxes struct{ x, y, out []float64 }

func newFluxes(n int) fluxes {
	return fluxes{make([]float64, n), make([]float64, n), make([]float64, n)}
}

// work is a step's scratch memory, allocated once.
type work struct {
	mx, my, edge []float64 // mobility of faces over the square of a cell
	p            []float64 // pressure over ρg, where the surface's tension counts
	rhs, mid     []float64
	unlike       []float64
	c, d         []float64 // along rows
	kept, kept2  []float64 // along columns, strip by strip
	start        []float64
	first, now   fluxes
	step         fluxes
	rows         []float64 // of each row, while a step is summed up
	tops, lows   []float64
	changes      []float64
	were         []float64 // tops before the step
	none         []float64 // a row of nothing
	bands        []band
}

// NewFilm returns an empty film on a grid with closed edges.
func NewFilm(g Grid, c Contact) (*Film, error) {
	if err := g.check(); err != nil {
		return nil, err
	}
	if !(c.EdgeHeight >= 0) || c.EdgeHeight > 0.1 {
		return nil, refusal.New("a film must be 0 to 10 cm thick")
	}
	n := g.Len()
	block := make([]float64, 35*n)
	next := func() []float64 { b := block[:n:n]; block = block[n:]; return b }
	three := func() fluxes { return fluxes{next(), next(), next()} }
	f := &Film{grid: g, contact: c, at: g.whole(), h: next(), lx: next(), ly: next(), moved: three(), lastOff: 1}
	f.move.owed = next()
	f.area, f.per, f.high = next(), next(), f.h
	if g.Area != nil {
		f.high = next()
	}
	f.edge.open = make([]Side, n)
	for k := range f.edge.holds {
		f.edge.holds[k] = next()
	}
	f.w = work{
		mx:      next(),
		my:      next(),
		edge:    next(),
		p:       next(),
		rhs:     next(),
		mid:     next(),
		unlike:  next(),
		c:       next(),
		d:       next(),
		kept:    next(),
		kept2:   next(),
		start:   next(),
		first:   three(),
		now:     three(),
		step:    three(),
		rows:    make([]float64, g.NY),
		tops:    make([]float64, g.NY),
		changes: make([]float64, g.NY),
		lows:    make([]float64, g.NY),
		were:    make([]float64, g.NY),
		none:    make([]float64, g.NX),
	}
	for i := range f.h {
		f.area[i], f.per[i] = 1, 1
		if !g.On(i) {
			continue
		}
		f.area[i], f.per[i] = g.Share(i), 1/g.Share(i)
		if i%g.NX+1 < g.NX && g.On(i+1) {
			f.lx[i] = 1
		}
		if i/g.NX+1 < g.NY && g.On(i+g.NX) {
			f.ly[i] = 1
		}
	}
	return f, nil
}

// H is the film in m, cell by cell; outside the face 0.
func (f *Film) H() []float64 {
	f.lift(f.grid.whole())
	return f.high
}

// lift brings the heights of a part to what lies there.
func (f *Film) lift(p part) {
	if f.grid.Area == nil {
		return
	}
	f.byRows(p, func(y int, p part) {
		for i := y*f.grid.NX + p.x0; i < y*f.grid.NX+p.x1; i++ {
			f.high[i] = f.h[i] * f.per[i]
		}
	})
}

// Steps is how many inner steps have been made.
func (f *Film) Steps() int { return f.steps }

// Grid is the board under the film.
func (f *Film) Grid() Grid { return f.grid }

// Pour adds film to the cells, in m.
func (f *Film) Pour(add func(i int) float64) error {
	f.before(f.grid.whole())
	for i := range f.h {
		if !f.grid.On(i) {
			continue
		}
		a := add(i)
		if !(a >= 0) || a > 0.5 {
			return refusal.New("a pour must be 0 to 50 cm deep")
		}
		f.h[i] += a * f.area[i]
		f.poured += a * f.area[i] * f.grid.Cell * f.grid.Cell
	}
	f.move.want = f.grid.whole()
	f.disturbed()
	return nil
}

// disturbed lets the next step be a careful one.
func (f *Film) disturbed() { f.step /= careful }

// Tilt sets the part of gravity along the board, in m/s²: positive x and y drive
// the film that way.
func (f *Film) Tilt(x, y float64) error {
	if !(math.Hypot(x, y) <= Gravity) {
		return refusal.New("a board is tilted by at most 90°")
	}
	f.before(f.grid.whole())
	f.pull = [2]float64{x, y}
	f.disturbed()
	return nil
}

// Tension sets the tension of the surface over the resin's density, in m³/s²:
// 0.04/1100 for a resin. It rounds what is narrower than a few millimetres.
func (f *Film) Tension(overDensity float64) error {
	if !(overDensity >= 0) || overDensity > 1e-3 {
		return refusal.New("surface tension divided by density is out of range: nothing liquid exceeds mercury")
	}
	f.tension = overDensity / Gravity
	return nil
}

// Blow sets what drags at the surface, a stress over the resin's density in m²/s²
// for every cell; nil for still air. The slices are read, not kept up.
func (f *Film) Blow(x, y []float64) {
	f.before(f.grid.whole())
	f.wind = [2][]float64{x, y}
	f.disturbed()
}

// Ease sets how much more fluid each cell is than the resin whose fluidity time
// passes; nil when all are alike. The slice is read, not kept up.
func (f *Film) Ease(of []float64) { f.ease = of }

// Open lets the film run over the edges of the face on the sides, where it is
// thicker than holds, in m.
func (f *Film) Open(holds float64, sides Side) error {
	if !(holds >= 0) {
		return refusal.New("the height of an edge cannot be negative")
	}
	f.before(f.grid.whole())
	nx, ny, on := f.grid.NX, f.grid.NY, f.grid.On
	for i := range f.h {
		if !on(i) {
			continue
		}
		x, y := i%nx, i/nx
		for k, side := range [...]struct {
			side    Side
			outside bool
		}{
			{East, x == nx-1 || !on(i+1)}, {West, x == 0 || !on(i-1)},
			{North, y == ny-1 || !on(i+nx)}, {South, y == 0 || !on(i-nx)},
		} {
			if side.outside && sides&side.side != 0 {
				f.edge.open[i] |= side.side
				f.edge.holds[k][i] = holds
				f.edge.any = true
			}
		}
	}
	f.edge.list(f.grid)
	f.disturbed()
	return nil
}

// A Balance is where everything is that was poured, in m³.
type Balance struct{ Poured, OnBoard, Over float64 }

// Balance sums the film up.
func (f *Film) Balance() Balance {
	return Balance{f.poured, f.sum() * f.grid.Cell * f.grid.Cell, f.ran}
}

func (f *Film) sum() float64 {
	sum := 0.0
	for i, h := range f.h {
		sum += h + f.move.owed[i]
	}
	return sum
}

// Advance lets the fluidity time pass, in s²/m².
func (f *Film) Advance(ctx context.Context, fluidity float64) error {
	if !(fluidity >= 0) || math.IsInf(fluidity, 0) {
		return refusal.New("time cannot run backwards")
	}
	for left := fluidity; left > 0; {
		took, err := f.advance(ctx, left, fluidity*1e-12)
		if err != nil {
			return err
		}
		left -= took
	}
	return f.follow(ctx)
}
