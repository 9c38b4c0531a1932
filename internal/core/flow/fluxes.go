package flow

import "runtime"

// applyFluxes sets the film from what the step moved, so that both agree to the last
// bit; a cell that would give more than it has gives what it has, and nothing comes back
// over an edge.
func (f *Film) applyFluxes(step float64) {
	for _, i := range f.edge.cells {
		f.w.step.out[i] = max(0, f.w.step.out[i])
	}
	for {
		low := f.apply(f.w.start, f.w.step, 1)
		if f.move.rest {
			f.byRows(f.at, func(y int, p part) { f.feed(f.h, y, p, step) })
			low = true
		}
		if !low || !f.spare(step) {
			return
		}
	}
}

// spare lessens what cells below nothing give away, and reports whether there
// were any. One that was spared gives no more than it had: it is not met again. What the
// part has taken of a cell of the rest, which it has not given yet, is not there to give.
func (f *Film) spare(step float64) bool {
	nx, s, any := f.grid.NX, &f.w.step, false
	for i := f.at.y0*nx + f.at.x0; i < (f.at.y1-1)*nx+f.at.x1; i++ {
		had, has := f.w.start[i], f.h[i]
		if f.move.rest && f.move.owed[i] < 0 {
			had += f.move.owed[i] * f.move.left / f.move.late
			has += f.move.owed[i] * max(0, f.move.left-step) / f.move.late
		}
		if !(has < 0) {
			continue
		}
		out := max(s.x[i], 0) + max(s.y[i], 0) + max(s.out[i], 0)
		if i%nx > 0 {
			out += max(-s.x[i-1], 0)
		}
		if i >= nx {
			out += max(-s.y[i-nx], 0)
		}
		part := max(0, had) / out * (1 - 1e-12)
		if !(part < 1) { // rounding
			f.h[i] = max(0, f.h[i])
			continue
		}
		any = true
		lessen(&s.x[i], part, 1)
		lessen(&s.y[i], part, 1)
		lessen(&s.out[i], part, 1)
		if i%nx > 0 {
			lessen(&s.x[i-1], part, -1)
		}
		if i >= nx {
			lessen(&s.y[i-nx], part, -1)
		}
	}
	return any
}

func lessen(q *float64, part, sign float64) {
	if *q*sign > 0 {
		*q *= part
	}
}

// worthSplitting is from how many cells on the work is split over the cores.
const worthSplitting = 4096

// byRows does the work for the rows of a part, on all cores. No row's result depends
// on how they are split.
func (f *Film) byRows(p part, do func(y int, p part)) {
	split(p.y1-p.y0, p.cells(), func(from, to int) {
		for y := p.y0 + from; y < p.y0+to; y++ {
			do(y, p)
		}
	})
}

// byColumns does it for bundles of its columns.
func (f *Film) byColumns(p part, do func(from, to int)) {
	split(p.x1-p.x0, p.cells(), func(from, to int) { do(p.x0+from, p.x0+to) })
}

func split(lines, cells int, do func(from, to int)) {
	parts := min(runtime.GOMAXPROCS(0), lines)
	if cells < worthSplitting || parts < 2 {
		do(0, lines)
		return
	}
	var with [mostHelpers]*helper
	helpers := claim(with[:min(parts-1, mostHelpers)])
	parts = len(helpers) + 1
	for k, h := range helpers {
		h.begin(do, (k+1)*lines/parts, (k+2)*lines/parts)
	}
	fell := falls(do, 0, lines/parts)
	for _, h := range helpers {
		if r := h.end(); r != nil {
			fell = r
		}
	}
	if fell != nil {
		panic(fell) // where the caller can answer for it
	}
}
