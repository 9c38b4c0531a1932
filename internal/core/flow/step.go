package flow

import (
	"context"
	"math"
)

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
	f.applyFluxes(step)
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

// corrected are the second stage's corrections in a row of the part and in those beside it.
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
			if was >= f.contact.EdgeHeight/2 { // what is just being wetted may fill at once
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
