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
	f.faces()
	f.flow(w.first)
	// h_γ = h + γ/2·s·(f(h) + f(h_γ))
	for k := range sweepsFirst {
		if k > 0 {
			f.faces()
		}
		f.flow(w.now)
		f.sweep(a, a, k == sweepsFirst-1, bdfGamma)
	}
	// h' = (h_γ/γ − (1−γ)²/γ·h)/(2−γ) + (1−γ)/(2−γ)·s·f(h')
	f.byRows(f.at, func(y int, p part) {
		for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
			h := w.mid[i]
			w.mid[i] = bdfGamma*f.h[i] - bdfStart*h
			if sweepsSecond == 1 {
				f.h[i] += beyond * (f.h[i] - h)
			}
		}
	})
	for k := range sweepsSecond {
		f.faces()
		f.flow(w.now)
		f.sweep(a, 0, k == sweepsSecond-1, 1)
	}
	f.settle(step)
}

// faces sets g·h³/3 of every face, over the square of a cell: (a² + b²)(a +
// b)/4 for h³ of two neighbours. A film does not wet a dry cell while it stands by
// itself.
func (f *Film) faces() {
	scale := Gravity / (12 * f.grid.Cell * f.grid.Cell)
	nx := f.grid.NX
	f.byRows(f.at.grown(2, f.grid), func(y int, p part) {
		f.facesOf(f.w.mx, f.lx, 1, y*nx+p.x0, y*nx+p.x1, scale)
		f.facesOf(f.w.my, f.ly, nx, y*nx+p.x0, y*nx+p.x1, scale)
		if f.edge.any {
			f.overEdges(y, p, scale)
		}
	})
	if f.move.rest {
		f.freeze()
	}
}

// overEdges sets the mobility over the open edges of a row.
func (f *Film) overEdges(y int, p part, scale float64) {
	nx := f.grid.NX
	for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
		open := f.edge.open[i]
		f.w.edge[i] = 0
		if open == 0 || f.h[i] <= 0 {
			continue
		}
		n := 0.0
		for k := range f.edge.holds {
			if open&(1<<k) != 0 && f.h[i] > f.edge.holds[k][i] {
				n++
			}
		}
		if n > 0 { // half a cell to the edge
			f.w.edge[i] = 8 * n * scale * f.easeAt(i) * cube(f.h[i])
		}
	}
}

func (f *Film) easeAt(i int) float64 {
	if f.ease == nil {
		return 1
	}
	return f.ease[i]
}

// facesOf sets the mobility of the faces a stride away.
func (f *Film) facesOf(m, link []float64, stride, from, to int, scale float64) {
	to = min(to, len(f.h)-stride)
	if from >= to {
		return
	}
	stands := f.contact.Stands
	near, far := f.h[from:to], f.h[from+stride:to+stride]
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
		if (a < dry && b < stands) || (b < dry && a < stands) {
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

// flow sets what goes from cell to cell in a unit of fluidity time, driven by the
// film's height less what its curvature holds up.
func (f *Film) flow(q fluxes) {
	w, nx := &f.w, f.grid.NX
	near := f.at.grown(1, f.grid)
	h := f.surface()
	if f.tension > 0 {
		stands := h
		h = w.p
		f.byRows(near, func(y int, p part) { f.bend(stands, y, p) })
	}
	f.byRows(near, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		between(q.x, w.mx, h, 1, from, to)
		between(q.y, w.my, h, nx, from, to)
		if !f.edge.any {
			return
		}
		for i := from; i < to; i++ {
			q.out[i] = 0
			if e := w.edge[i]; e > 0 {
				q.out[i] = e * (f.h[i] - f.held(i))
			}
		}
	})
}

func between(q, m, p []float64, stride, from, to int) {
	to = min(to, len(p)-stride)
	if from >= to {
		return
	}
	near, far := p[from:to], p[from+stride:to+stride]
	q, m = q[from:to], m[from:to]
	for i := range q {
		q[i] = m[i] * (near[i] - far[i])
	}
}

// bend sets the pressure over ρg in a row, in metres of resin, of a surface h. A face
// that nothing crosses counts as flat.
func (f *Film) bend(h []float64, y int, p part) {
	nx, n, w := f.grid.NX, len(f.h), &f.w
	k := f.tension / (f.grid.Cell * f.grid.Cell)
	for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
		at, bend := h[i], 0.0
		if w.mx[i] > 0 {
			bend += h[i+1] - at
		}
		if i > 0 && w.mx[i-1] > 0 {
			bend += h[i-1] - at
		}
		if i+nx < n && w.my[i] > 0 {
			bend += h[i+nx] - at
		}
		if i >= nx && w.my[i-nx] > 0 {
			bend += h[i-nx] - at
		}
		w.p[i] = at - k*bend
	}
}

// held is up to which height the open edges of a cell that let go hold the film,
// on average.
func (f *Film) held(i int) float64 {
	sum, n := 0.0, 0.0
	for k := range f.edge.holds {
		if hold := f.edge.holds[k][i]; f.edge.open[i]&(1<<k) != 0 && f.h[i] > hold {
			sum += hold
			n++
		}
	}
	return sum / n
}

// sweep adds δ with (1 − a·A_x)(1 − a·A_y)δ = mid − h + b·f(h₀) + a·f(h), along
// every row, then along every column; the last one of a stage adds what moved,
// times share.
func (f *Film) sweep(a, b float64, last bool, share float64) {
	w, nx := &f.w, f.grid.NX
	stiff := a
	if f.tension > 0 { // the matrix takes tension as that much more gravity
		stiff *= 1 + 4*f.tension/(f.grid.Cell*f.grid.Cell)
	}
	f.calmBorder()
	f.byRows(f.at, func(y int, p part) {
		f.residual(y, p, a, b)
		f.alongRow(y, p, stiff)
		if last {
			f.movedAlong(y, p, a, b, stiff, share)
		}
	})
	at := f.at
	if last && at.y0 > 0 { // what goes into the part from the row before it
		for i := (at.y0-1)*nx + at.x0; i < (at.y0-1)*nx+at.x1; i++ {
			w.step.y[i] += share * (a*w.now.y[i] + b*w.first.y[i])
		}
	}
	f.byColumns(at, func(from, to int) {
		f.alongColumns(from, to, at, stiff)
		for y := max(0, at.y0-1); y < at.y1; y++ {
			for i := y*nx + from; i < y*nx+to; i++ {
				d := w.rhs[i]
				if y >= at.y0 {
					f.h[i] += d
				}
				if !last {
					continue
				}
				if y+1 < f.grid.NY {
					w.step.y[i] += share * stiff * w.my[i] * (d - w.rhs[i+nx])
				}
				if y >= at.y0 {
					w.step.out[i] += share * stiff * w.edge[i] / 2 * d
				}
			}
		}
	})
}

// calmBorder lets nothing change in the cells round the part.
func (f *Film) calmBorder() {
	at, nx := f.at, f.grid.NX
	near := at.grown(1, f.grid)
	for y := near.y0; y < near.y1; y++ {
		row := f.w.rhs[y*nx : (y+1)*nx]
		if y < at.y0 || y >= at.y1 {
			clear(row[near.x0:near.x1])
			continue
		}
		clear(row[near.x0:at.x0])
		clear(row[at.x1:near.x1])
	}
}

// residual sets the right side of a row.
func (f *Film) residual(y int, p part, a, b float64) {
	w, nx := &f.w, f.grid.NX
	for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
		r := w.mid[i] - f.h[i]
		g := a*w.now.x[i] + b*w.first.x[i] + a*w.now.y[i] + b*w.first.y[i] + a*w.now.out[i] + b*w.first.out[i]
		if i > y*nx {
			g -= a*w.now.x[i-1] + b*w.first.x[i-1]
		}
		if y > 0 {
			g -= a*w.now.y[i-nx] + b*w.first.y[i-nx]
		}
		w.rhs[i] = r - g
	}
	if f.move.rest {
		f.feed(f.w.rhs, y, p, a+b)
	}
}

// movedAlong adds what a row's fluxes and its first half of the correction move, and
// what goes into the part from the cell before it.
func (f *Film) movedAlong(y int, p part, a, b, stiff, share float64) {
	w, nx := &f.w, f.grid.NX
	along := func(i int) {
		x := a*w.now.x[i] + b*w.first.x[i]
		if i+1 < (y+1)*nx {
			x += stiff * w.mx[i] * (w.rhs[i] - w.rhs[i+1])
		}
		w.step.x[i] += share * x
	}
	if p.x0 > 0 {
		along(y*nx + p.x0 - 1)
	}
	for i := y*nx + p.x0; i < y*nx+p.x1; i++ {
		along(i)
		w.step.y[i] += share * (a*w.now.y[i] + b*w.first.y[i])
		w.step.out[i] += share * (a*w.now.out[i] + b*w.first.out[i] + stiff*w.edge[i]/2*w.rhs[i])
	}
}

// alongRow solves the tridiagonal system of a row (Thomas). Each row of the matrix
// adds up to its 1 + e; kept is what is left of that, not the factor itself, so
// that nothing cancels in long steps.
func (f *Film) alongRow(y int, p part, a float64) {
	w := &f.w
	from, to := y*f.grid.NX+p.x0, y*f.grid.NX+p.x1
	m, r, c, e := w.mx[from:to], w.rhs[from:to], w.c[from:to], w.edge[from:to]
	below, rest, last := 0.0, 1.0, 0.0
	if p.x0 > 0 {
		below = a * w.mx[from-1]
	}
	for x := range m {
		up, own := a*m[x], 1+a*e[x]/2+below*rest
		inv := 1 / (own + up)
		rest = own * inv
		last = (r[x] + below*last) * inv
		c[x], r[x] = 1-rest, last
		below = up
	}
	for x := len(m) - 2; x >= 0; x-- {
		r[x] += c[x] * r[x+1]
	}
}

// alongColumns solves those of some columns, side by side.
func (f *Film) alongColumns(from, to int, p part, a float64) {
	nx, w := f.grid.NX, &f.w
	for y := p.y0; y < p.y1; y++ {
		row := y * nx
		for i := row + from; i < row+to; i++ {
			below, rest, last := 0.0, 1.0, 0.0
			if y > 0 {
				below = a * w.my[i-nx]
			}
			if y > p.y0 {
				rest, last = w.c[i-nx], w.rhs[i-nx]
			}
			own := 1 + a*w.edge[i]/2 + below*rest
			inv := 1 / (own + a*w.my[i])
			w.c[i] = own * inv
			w.rhs[i] = (w.rhs[i] + below*last) * inv
		}
	}
	for y := p.y1 - 2; y >= p.y0; y-- {
		row := y * nx
		for i := row + from; i < row+to; i++ {
			w.rhs[i] += (1 - w.c[i]) * w.rhs[i+nx]
		}
	}
}
