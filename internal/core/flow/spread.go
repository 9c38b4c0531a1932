package flow

import "math"

// The step of TR-BDF2 (Bank et al. 1985): the trapezoidal rule to γ of the step,
// then the second backward difference, second order and strongly damped. γ makes
// both stages need the same matrix.
const (
	gammaStage = 2 - math.Sqrt2
	implicit   = gammaStage / 2 // of the step, in both stages
	bdfGamma   = 1 / (gammaStage * (2 - gammaStage))
	bdfStart   = (1 - gammaStage) * (1 - gammaStage) / (gammaStage * (2 - gammaStage))
	beyond     = (1 - gammaStage) / gammaStage // how far the end lies beyond the first stage
)

// sweeps of alternating directions in each stage: the first leaves an error of
// second order in the step, the second of third. The second stage begins where the
// first has come to, on a line with the start.
const (
	sweepsFirst  = 2
	sweepsSecond = 1
)

// spread lets gravity and the surface's tension level the film for a step of
// fluidity time. What moves is kept as fluxes between cells, the corrections of
// the alternating directions too: with (1 − aA_x)(1 − aA_y)δ = r and v the first
// half, δ = r + aA_x·v + aA_y·δ.
func (f *Film) spread(step float64) {
	w, nx := &f.w, f.grid.NX
	a := implicit * step
	f.byRows(f.at, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		copy(w.mid[from:to], f.h[from:to])
	})
	// h_γ = h + γ/2·s·(f(h) + f(h_γ))
	for k := range sweepsFirst {
		f.sweep(drive{a, a, k == 0}, k == sweepsFirst-1, bdfGamma)
	}
	// h' = (h_γ/γ − (1−γ)²/γ·h)/(2−γ) + (1−γ)/(2−γ)·s·f(h')
	f.byRows(f.at, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		mid, now := w.mid[from:to], f.h[from:to]
		for i, h := range mid {
			mid[i] = bdfGamma*now[i] - bdfStart*h
			if sweepsSecond == 1 {
				now[i] += beyond * (now[i] - h)
			}
		}
	})
	for k := range sweepsSecond {
		f.sweep(drive{a, 0, false}, k == sweepsSecond-1, 1)
	}
	f.applyFluxes(step)
}

// A drive is the starting state of a sweep: now times what flows, and first times what flowed
// at the beginning of the step, which is kept when the step begins.
type drive struct {
	now, first float64
	begins     bool
}

// faces sets g·h³/3 of every face of a row, over the square of a cell: (a² + b²)(a +
// b)/4 for h³ of two neighbours. A film does not wet a dry cell while it stands by
// itself.
func (f *Film) faces(y int) {
	scale := Gravity / (12 * f.grid.Cell * f.grid.Cell)
	nx, p := f.grid.NX, f.at.grown(2, f.grid)
	f.facesOf(f.w.mx, f.lx, 1, y*nx+p.x0, y*nx+p.x1, scale)
	f.facesOf(f.w.my, f.ly, nx, y*nx+p.x0, y*nx+p.x1, scale)
	f.overEdges(y, p, scale)
	if f.move.rest {
		f.freeze(y)
	}
}

// overEdges sets the mobility over the open edges of a row.
func (f *Film) overEdges(y int, p part, scale float64) {
	for _, i := range f.edge.within(y, p, f.grid.NX) {
		f.w.edge[i] = 0
		if f.high[i] <= 0 {
			continue
		}
		n := 0.0
		for k := range f.edge.holds {
			if f.edge.open[i]&(1<<k) != 0 && f.high[i] > f.edge.holds[k][i] {
				n++
			}
		}
		if n > 0 { // half a cell to the edge
			f.w.edge[i] = 8 * n * scale * f.easeAt(int(i)) * cube(f.high[i])
		}
	}
}

func (f *Film) easeAt(i int) float64 {
	if f.ease == nil {
		return 1
	}
	return f.ease[i]
}

// rush is how many times as high as it stands a film runs onto a dry cell whatever is
// beside it.
const rush = 1.5

// wets reports whether of two cells, one of them dry, the other wets it: where the film is
// higher than it stands, and those beside it along the front, so far to either side, are wet
// too: a cell by itself does not go ahead, the line's own tension holds it, and a drop that
// has come to rest stays as it is. A bay is filled.
func (f *Film) wets(i, j, side int) bool {
	if f.high[i] < dry {
		i, j = j, i
	}
	stands := f.contact.EdgeHeight
	if f.high[i] < stands || stands == 0 || f.high[i] >= rush*stands {
		return f.high[i] >= stands
	}
	whole, bay := true, false
	for _, by := range [2]int{-side, side} {
		whole = whole && !(f.beside(i, by) && f.high[i+by] < dry)
		bay = bay || f.beside(j, by) && f.high[j+by] >= dry
	}
	return bay || whole
}

// beside reports whether there is a cell of the face one further in a row or column.
func (f *Film) beside(i, by int) bool {
	x, nx := i%f.grid.NX, f.grid.NX
	if by == 1 && x+1 == nx || by == -1 && x == 0 || i+by < 0 || i+by >= len(f.h) {
		return false
	}
	return f.grid.On(i + by)
}

// facesOf sets the mobility of the faces a stride away.
func (f *Film) facesOf(m, link []float64, stride, from, to int, scale float64) {
	to = min(to, len(f.h)-stride)
	if from >= to {
		return
	}
	near, far := f.high[from:to], f.high[from+stride:to+stride]
	m, link = m[from:to], link[from:to]
	far, m, link = far[:len(near)], m[:len(near)], link[:len(near)]
	for i, a := range near {
		b := far[i]
		if a < 0 {
			a = 0
		}
		if b < 0 {
			b = 0
		}
		v := link[i] * scale * (a*a + b*b) * (a + b)
		if v > 0 && (a < dry || b < dry) && !f.wets(from+i, from+i+stride, f.grid.NX+1-stride) {
			v = 0
		}
		m[i] = v
	}
	if f.ease != nil {
		for i := range m {
			m[i] *= (f.ease[from+i] + f.ease[from+i+stride]) / 2
		}
	}
}

// flow sets what a sweep begins with in a row: what goes from cell to cell, driven by the
// height of the film less what its curvature holds up.
func (f *Film) flow(d drive, h []float64, y int) {
	w, nx, p := &f.w, f.grid.NX, f.at.grown(1, f.grid)
	from, to := y*nx+p.x0, y*nx+p.x1
	d.between(w.now.x, w.first.x, w.mx, h, 1, from, to)
	d.between(w.now.y, w.first.y, w.my, h, nx, from, to)
	for _, i := range f.edge.within(y, p, nx) {
		q := 0.0
		if e := w.edge[i]; e > 0 {
			q = e * (f.high[i] - f.held(int(i)))
		}
		if d.begins {
			w.first.out[i] = q
		}
		w.now.out[i] = d.now*q + d.first*w.first.out[i]
	}
}

// between does it for the faces a stride away.
func (d drive) between(to, first, m, p []float64, stride, from, end int) {
	end = min(end, len(p)-stride)
	if from >= end {
		return
	}
	near, far := p[from:end], p[from+stride:end+stride]
	far, to, first, m = far[:len(near)], to[from:end][:len(near)], first[from:end][:len(near)], m[from:end][:len(near)]
	switch {
	case d.begins:
		for i, h := range near {
			q := m[i] * (h - far[i])
			first[i], to[i] = q, (d.now+d.first)*q
		}
	case d.first == 0:
		for i, h := range near {
			to[i] = d.now * m[i] * (h - far[i])
		}
	default:
		for i, h := range near {
			to[i] = d.now*m[i]*(h-far[i]) + d.first*first[i]
		}
	}
}

// bend sets the pressure over ρg in a row, in metres of resin, of a surface h. A face
// that nothing crosses counts as flat.
func (f *Film) bend(h []float64, y int, p part) {
	nx, n, w := f.grid.NX, len(f.h), &f.w
	k := f.tension / (f.grid.Cell * f.grid.Cell)
	from, to := y*nx+p.x0, y*nx+p.x1
	east := h[from+1 : min(to+1, n)] // one less in the last row: nothing crosses the last face
	here, mx, my, out := h[from:to], w.mx[from:to], w.my[from:to], w.p[from:to]
	north, south, under := here, here, w.none[:len(here)]
	if y+1 < f.grid.NY {
		north = h[from+nx : to+nx]
	}
	if y > 0 {
		south, under = h[from-nx:to-nx], w.my[from-nx:to-nx]
	}
	mx, my, out = mx[:len(here)], my[:len(here)], out[:len(here)]
	north, south, under = north[:len(here)], south[:len(here)], under[:len(here)]
	west := 0.0
	if from > 0 && w.mx[from-1] > 0 {
		west = h[from] - h[from-1]
	}
	for i, at := range here {
		bend := -west
		west = 0
		if mx[i] > 0 {
			west = east[i] - at
			bend += west
		}
		if my[i] > 0 {
			bend += north[i] - at
		}
		if under[i] > 0 {
			bend += south[i] - at
		}
		out[i] = at - k*bend
	}
}

// held is up to which height the open edges of a cell that let go hold the film,
// on average.
func (f *Film) held(i int) float64 {
	sum, n := 0.0, 0.0
	for k := range f.edge.holds {
		if hold := f.edge.holds[k][i]; f.edge.open[i]&(1<<k) != 0 && f.high[i] > hold {
			sum += hold
			n++
		}
	}
	return sum / n
}
