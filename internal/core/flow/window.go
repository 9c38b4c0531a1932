package flow

import (
	"context"
	"math"
)

// A part is some of a grid: cells from x0 to x1 and from y0 to y1, the latter not
// among them.
type part struct{ x0, x1, y0, y1 int }

func (g Grid) whole() part { return part{0, g.NX, 0, g.NY} }

// about is the part of a grid that holds some cells.
func about[I int | int32](g Grid, cells []I) part {
	var p part
	for _, i := range cells {
		p = p.with(g.cell(int(i)))
	}
	return p
}

func (g Grid) cell(i int) part {
	x, y := i%g.NX, i/g.NX
	return part{x, x + 1, y, y + 1}
}

func (p part) empty() bool { return p.x1 <= p.x0 || p.y1 <= p.y0 }

func (p part) cells() int { return (p.x1 - p.x0) * (p.y1 - p.y0) }

// grown is the part with so many cells more on each side that has them.
func (p part) grown(by int, g Grid) part {
	return part{max(0, p.x0-by), min(g.NX, p.x1+by), max(0, p.y0-by), min(g.NY, p.y1+by)}
}

func (p part) with(q part) part {
	if p.empty() {
		return q
	}
	return part{min(p.x0, q.x0), max(p.x1, q.x1), min(p.y0, q.y0), max(p.y1, q.y1)}
}

func (p part) holds(q part) bool {
	return p.x0 <= q.x0 && q.x1 <= p.x1 && p.y0 <= q.y0 && q.y1 <= p.y1
}

// Where little of a film moves, only that part is stepped, and the rest follows in
// one step before it would have changed by much: a part around all that changes by a
// twentieth of the most, with a margin, as long as it is well smaller than the whole.
const (
	restless  = 0.05 // of the most that changes
	margin    = 12   // cells
	worthIt   = 0.45 // of the grid
	busy      = 0.06 // of what there is to level: what less changes in a step needs no part
	restMoves = 0.04 // what the rest may change meanwhile, of what there is to level
	mostOwed  = 0.5  // of a cell's film
)

// moving is the part that is stepped while the rest waits.
type moving struct {
	part
	late float64 // fluidity time the rest is behind
	left float64 // of that, while the rest is stepped
	rate float64 // how fast the rest changes, of what there is to level
	last float64 // how fast what was stepped last did
	want part    // where something was just changed from outside
	rest bool    // the rest is being stepped: the part stands still
	// owed is what the part has given the cells round it meanwhile, or taken, in m: they
	// stay as they are, as what the part flows against, and get it while the rest is
	// stepped.
	owed []float64
	off  bool // the whole is always stepped
}

// steady reports whether nothing drives the film that reaches all of it.
func (f *Film) steady() bool { return f.pull == [2]float64{} && f.wind[0] == nil }

// before has the whole at one time where something is about to change outside the part
// that moves.
func (f *Film) before(p part) {
	if f.move.late > 0 && !f.move.holds(p.grown(margin, f.grid)) {
		_ = f.follow(context.Background()) // what cannot be broken off
	}
}

// changedAt notes that a cell was changed from outside.
func (f *Film) changedAt(i int) {
	f.move.want = f.move.want.with(f.grid.cell(i))
}

// advance makes one step, no longer than left, and returns how long it was.
func (f *Film) advance(ctx context.Context, left, least float64) (float64, error) {
	if !f.steady() {
		if err := f.follow(ctx); err != nil {
			return 0, err
		}
		f.move.part = part{}
	}
	if err := f.widen(ctx); err != nil {
		return 0, err
	}
	m := &f.move
	if !m.empty() {
		if room := restMoves/m.rate - m.late; room > f.step/4 && room > least {
			f.at = m.part
			took, err := f.try(ctx, math.Min(left, room), least)
			if err != nil {
				return 0, err
			}
			m.late += took
			if f.spills() || f.deep() {
				err = f.follow(ctx)
				m.part = part{}
			}
			return took, err
		}
		if err := f.follow(ctx); err != nil {
			return 0, err
		}
		m.part = part{}
	}
	f.at = f.grid.whole()
	took, err := f.try(ctx, left, least)
	if err == nil && took < left && f.steady() {
		f.look(took)
	}
	return took, err
}

func (f *Film) small(p part) bool { return float64(p.cells()) <= worthIt*float64(f.grid.Len()) }

// widen takes what was changed into the part that moves.
func (f *Film) widen(ctx context.Context) error {
	m := &f.move
	want := m.want
	m.want = part{}
	if want.empty() || m.off || !f.steady() {
		return nil
	}
	want = want.grown(margin, f.grid)
	if !m.empty() && m.holds(want) {
		return nil
	}
	if err := f.follow(ctx); err != nil {
		return err
	}
	if both := m.with(want); !m.empty() && f.small(both) {
		m.part = both
		return nil
	}
	m.rate = math.Max(m.last, m.rate) // the part that moved so far is of the rest now
	m.part = part{}
	if f.small(want) && m.last > 0 {
		m.part = want
	}
	return nil
}

// follow brings the rest to where the part that moves is.
func (f *Film) follow(ctx context.Context) error {
	m := &f.move
	if m.late == 0 {
		return nil
	}
	step, last := f.step, m.last
	f.at, m.rest = f.grid.whole(), true
	defer func() { f.step, m.last, m.rest = step, last, false }()
	for m.left = m.late; m.left > 0; {
		f.step = m.left
		took, err := f.try(ctx, m.left, m.late*1e-9)
		if err != nil {
			m.pay()
			return err
		}
		m.left -= took
	}
	m.late = 0
	clear(m.owed)
	return nil
}

// pay takes off what is owed what was fed of it, when the rest has come half of its way.
func (m *moving) pay() {
	for i := range m.owed {
		m.owed[i] *= m.left / m.late
	}
	m.late = m.left
}

// overdrawn reports whether a step of a part takes more of a cell beside it than that has.
func (f *Film) overdrawn() bool {
	p, s, nx := f.at, &f.w.step, f.grid.NX
	over := func(take float64, i int) bool { return take > f.h[i]+f.move.owed[i] }
	for x := p.x0; x < p.x1; x++ {
		if p.y0 > 0 && over(s.y[(p.y0-1)*nx+x], (p.y0-1)*nx+x) || p.y1 < f.grid.NY && over(-s.y[(p.y1-1)*nx+x], p.y1*nx+x) {
			return true
		}
	}
	for y := p.y0; y < p.y1; y++ {
		if p.x0 > 0 && over(s.x[y*nx+p.x0-1], y*nx+p.x0-1) || p.x1 < nx && over(-s.x[y*nx+p.x1-1], y*nx+p.x1) {
			return true
		}
	}
	return false
}

// owe keeps what a step of a part moved over its border.
func (f *Film) owe() {
	p, s, owed, nx := f.at, &f.w.step, f.move.owed, f.grid.NX
	for x := p.x0; x < p.x1; x++ {
		if p.y0 > 0 {
			owed[(p.y0-1)*nx+x] -= s.y[(p.y0-1)*nx+x]
		}
		if p.y1 < f.grid.NY {
			owed[p.y1*nx+x] += s.y[(p.y1-1)*nx+x]
		}
	}
	for y := p.y0; y < p.y1; y++ {
		if p.x0 > 0 {
			owed[y*nx+p.x0-1] -= s.x[y*nx+p.x0-1]
		}
		if p.x1 < nx {
			owed[y*nx+p.x1] += s.x[y*nx+p.x1-1]
		}
	}
}

// feed adds to a row what is owed to it for so much fluidity time.
func (f *Film) feed(to []float64, y int, p part, time float64) {
	share := time / f.move.late
	for i := y*f.grid.NX + p.x0; i < y*f.grid.NX+p.x1; i++ {
		to[i] += share * f.move.owed[i]
	}
}

// deep reports whether the part owes a cell so much that the rest cannot wait.
func (f *Film) deep() bool {
	p, nx := f.at.grown(1, f.grid), f.grid.NX
	for y := p.y0; y < p.y1; y++ {
		for x := p.x0; x < p.x1; x++ {
			if i := y*nx + x; math.Abs(f.move.owed[i]) > mostOwed*f.h[i] {
				return true
			}
			if y > p.y0 && y < p.y1-1 && x == p.x0 {
				x = max(x, p.x1-2)
			}
		}
	}
	return false
}

// freeze lets nothing in a row into or out of the part that stands still.
func (f *Film) freeze(y int) {
	p, row := f.move.part, y*f.grid.NX
	if y < p.y0-1 || y >= p.y1 {
		return
	}
	clear(f.w.my[row+p.x0 : row+p.x1])
	if y >= p.y0 {
		clear(f.w.mx[row+max(0, p.x0-1) : row+p.x1])
		clear(f.w.edge[row+p.x0 : row+p.x1])
	}
}

// look finds the part that moves after a step of the whole.
func (f *Film) look(took float64) {
	f.move.part = part{}
	most, span := f.most, f.top-f.low
	if f.move.off || !(most > busy*span) || span < level {
		return
	}
	found := f.beyond(f.grid.whole(), restless*most)
	if found.empty() {
		return
	}
	p := found.grown(margin, f.grid)
	if !f.small(p) {
		return
	}
	f.move.part = p
	f.move.rate = math.Max(f.outside(p)/span/took, 1e-12/took)
}

// beyond is the part around all cells that the last step changed by more than so
// much.
func (f *Film) beyond(in part, much float64) part {
	nx, out := f.grid.NX, part{}
	for y := in.y0; y < in.y1; y++ {
		for i := y*nx + in.x0; i < y*nx+in.x1; i++ {
			if d := f.h[i] - f.w.start[i]; d > much || d < -much {
				out = out.with(f.grid.cell(i))
			}
		}
	}
	return out
}

// outside is the most that the last step changed beside a part.
func (f *Film) outside(p part) float64 {
	most, nx := 0.0, f.grid.NX
	for y := range f.grid.NY {
		for x := 0; x < nx; x++ {
			if x == p.x0 && y >= p.y0 && y < p.y1 {
				x = p.x1 - 1
				continue
			}
			most = max(most, math.Abs(f.h[y*nx+x]-f.w.start[y*nx+x]))
		}
	}
	return most
}

// spills reports whether the last step moved something near the border of the part
// that moves, where there is a rest beyond.
func (f *Film) spills() bool {
	p, g := f.move.part, f.grid
	found := f.beyond(p, restless*f.most)
	if found.empty() {
		return false
	}
	const near = 3
	return p.x0 > 0 && found.x0 < p.x0+near || p.x1 < g.NX && found.x1 > p.x1-near || p.y0 > 0 && found.y0 < p.y0+near ||
		p.y1 < g.NY && found.y1 > p.y1-near
}
