package flow

import (
	"context"
	"errors"
	"math"
	"slices"
)

// A Contact says how a film's edge behaves on a board it has not wetted.
type Contact struct {
	// Stands is how thick the edge of a film stands by itself; it runs on only
	// where it is thicker. 0 for a wetted board, on which nothing pins.
	Stands float64 // m
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

// work is what a step needs besides the film, allocated once.
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
	if !(c.Stands >= 0) || c.Stands > 0.1 {
		return nil, errors.New("a film stands between nothing and ten centimetres")
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

// Grid is what the film lies on.
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
			return errors.New("what is poured is between nothing and half a metre deep")
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
		return errors.New("a board is tilted by at most 90°")
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
		return errors.New("a surface's tension over its density is between nothing and that of mercury")
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
		return errors.New("an edge holds no less than nothing")
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

// Steps of the inner clock are as long as their error lets them be. The second stage of a
// step begins where the first one's line comes to: by how much it corrects that is the
// difference of a pair of orders 1 and 2. It may be a small share of what there is to
// level, and the next step follows it by proportion and integral (Gustafsson 1991, the
// exponents for such a pair).
const (
	errorShare   = 0.1
	flat         = 2e-7 // m: what there is to level, when there is no more than that
	integral     = 0.7 / 2
	proportional = 0.4 / 2
	cautious     = 0.9
	growth       = 2.0 // of a step to the next at most
	shrink       = 0.3 // at least
	pileMost     = 1.5 // how much higher the highest may become in a step
	careful      = 2   // how much shorter a step is after something was done
	courant      = 0.5
)

// Advance lets the fluidity time pass, in s²/m².
func (f *Film) Advance(ctx context.Context, fluidity float64) error {
	if !(fluidity >= 0) || math.IsInf(fluidity, 0) {
		return errors.New("time passes forwards")
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

// try makes one step of the part in hand, no longer than left, and returns how long
// it was.
func (f *Film) try(ctx context.Context, left, least float64) (float64, error) {
	for {
		if err := ctx.Err(); err != nil {
			return 0, err
		}
		wanted := f.next(left)
		step := math.Min(left, wanted)
		f.begin()
		f.passes(step)
		off := f.off()
		if (!(off <= 1) || f.overdrawn()) && step > least { // too far at once
			f.back()
			f.step = step / 2 // what a step that fails comes to hangs on its last bits
			continue
		}
		f.commit()
		f.steps++
		f.move.last = f.changed() / step
		f.step = step * f.longer(off)
		if step < wanted { // one that was cut short is no measure
			f.step = math.Max(wanted, f.step)
		}
		return step, nil
	}
}

// passes lets a step pass. What drives the whole film acts before and after it spreads
// (Strang 1968); by how much it does so otherwise the second time is kept.
func (f *Film) passes(step float64) {
	if f.steady() {
		f.spread(step)
		return
	}
	w, nx := &f.w, f.grid.NX
	each := func(do func(i int)) {
		f.byRows(f.at, func(y int, p part) {
			for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
				do(i)
			}
		})
	}
	f.drain(step / 2)
	each(func(i int) { w.unlike[i] = f.h[i] - w.start[i] })
	f.spread(step)
	each(func(i int) { w.unlike[i] += f.h[i] })
	f.drain(step / 2)
	each(func(i int) { w.unlike[i] -= f.h[i] })
	f.settle(step)
}

// longer is how much longer the next step may be by what this one was off and the last.
func (f *Film) longer(off float64) float64 {
	off = math.Max(off, 1e-6)
	by := cautious * math.Pow(off, -integral) * math.Pow(f.lastOff, proportional)
	f.lastOff = off
	return math.Max(shrink, math.Min(growth, by))
}

// begin keeps the film as it is, and begins a step's fluxes.
func (f *Film) begin() {
	s, nx := &f.w.step, f.grid.NX
	near := f.at.grown(1, f.grid)
	f.byRows(f.at.grown(2, f.grid), func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		clear(s.x[from:to])
		clear(s.y[from:to])
		clear(s.out[from:to])
		if y >= near.y0 && y < near.y1 {
			from, to = y*nx+near.x0, y*nx+near.x1
			copy(f.w.start[from:to], f.h[from:to])
		}
	})
}

// back brings the film back to where the step began.
func (f *Film) back() {
	nx := f.grid.NX
	f.byRows(f.at.grown(1, f.grid), func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		copy(f.h[from:to], f.w.start[from:to])
	})
}

// commit counts what a step moved.
func (f *Film) commit() {
	s, m, nx := &f.w.step, &f.moved, f.grid.NX
	near := f.at.grown(1, f.grid)
	f.byRows(near, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		addTo(m.x[from:to], s.x[from:to])
		addTo(m.y[from:to], s.y[from:to])
		f.w.rows[y] = 0
		for _, i := range f.edge.within(y, p, nx) {
			m.out[i] += s.out[i]
			f.w.rows[y] += s.out[i]
		}
	})
	for _, over := range f.w.rows[near.y0:near.y1] {
		f.ran += over * f.grid.Cell * f.grid.Cell
	}
	f.owe()
	if f.goes != nil {
		f.goes(near)
	}
}

func addTo(sum, what []float64) {
	sum = sum[:len(what)]
	for i, v := range what {
		sum[i] += v
	}
}

// next is the step to try: the last one, or at first a part of the time in which
// the steepest place would level.
func (f *Film) next(left float64) float64 {
	if f.step > 0 {
		return f.step
	}
	top := 0.0
	for _, h := range f.h {
		top = math.Max(top, h)
	}
	if top == 0 {
		return left
	}
	return 0.05 * f.grid.Cell * f.grid.Cell * 3 / (Gravity * top * top * top)
}

// level is a difference in height that is none, in m.
const level = 1e-10

// wrong is the error of the last step in a cell, in m: by how much the second stage
// corrected it, less what is as narrow as the cells, which the step damps however long it
// is, and no more than the cell changed: a kink at a standing edge is corrected in every step
// and stays as it is. And by how much what drives the film acted otherwise after it spread
// than before.
func (f *Film) wrong(i, k int, near *[3][]float64, steady bool) float64 {
	west, east := max(0, k-1), min(len(near[0])-1, k+1)
	off := 0.0
	for row, e := range near {
		e = e[:len(near[0])]
		off += float64(1+row&1) * (e[west] + 2*e[k] + e[east])
	}
	off = min(math.Abs(off)/16, math.Abs(f.h[i]-f.w.start[i])*f.per[i])
	if !steady {
		off += math.Abs(f.w.unlike[i])
	}
	return off
}

// corrected are what the second stage corrected in a row of the part and in those beside it.
func (f *Film) corrected(y int, p part) (rows [3][]float64) {
	for k := range rows {
		from := min(max(y-1+k, f.at.y0), f.at.y1-1) * f.grid.NX
		rows[k] = f.w.rhs[from+p.x0 : from+p.x1]
	}
	return rows
}

// off is the error of the last step over what it may be; more than 1 where a place that is
// just being wetted piles up.
func (f *Film) off() float64 {
	nx, steady := f.grid.NX, f.steady()
	f.byRows(f.at, func(y int, p part) {
		most, change, top, low, before := 0.0, 0.0, 0.0, math.Inf(1), 0.0
		near := f.corrected(y, p)
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			h, was := f.h[i]*f.per[i], f.w.start[i]*f.per[i]
			if was > before {
				before = was
			}
			if was >= f.contact.Stands/2 { // what is just being wetted may fill at once
				most = max(most, f.wrong(i, i-y*nx-p.x0, &near, steady)) // NaN stays NaN
				change = max(change, math.Abs(h-was))
			} else if math.IsNaN(h) {
				most = h
			}
			if h > top {
				top = h
			}
			if h < low && f.grid.On(i) {
				low = h
			}
		}
		f.w.rows[y], f.w.changes[y], f.w.tops[y], f.w.lows[y], f.w.were[y] = most, change, top, low, before
	})
	most, change, top, low, before := 0.0, 0.0, 0.0, math.Inf(1), 0.0
	for y := f.at.y0; y < f.at.y1; y++ {
		most, change = max(most, f.w.rows[y]), max(change, f.w.changes[y])
		top, low, before = max(top, f.w.tops[y]), min(low, f.w.lows[y]), max(before, f.w.were[y])
	}
	if math.IsNaN(most) || math.IsNaN(change) {
		return math.Inf(1) // beyond all numbers
	}
	if top > pileMost*before && before > level {
		return math.Inf(1) // not even a place that is just being wetted piles up so
	}
	if f.at == f.grid.whole() {
		f.top, f.low = top, low
	}
	f.most, f.span = change, max(top, f.top)-min(low, f.low)
	return most / (errorShare * math.Max(f.span, flat))
}

// changed is how much the last step changed, of what there is to level.
func (f *Film) changed() float64 {
	if f.span < level {
		return 0
	}
	return f.most / f.span
}
