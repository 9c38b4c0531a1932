package flow

// sweep adds δ with (1 − a·A_x)(1 − a·A_y)δ = mid − h + what flows, along every row, then
// along every column; the last one of a stage adds what moved, times share. The rest of a
// film is fed meanwhile.
func (f *Film) sweep(d drive, last bool, share float64) {
	w, nx, at := &f.w, f.grid.NX, f.at
	stiff := d.now
	if f.tension > 0 { // the matrix takes tension as that much more gravity
		stiff *= 1 + 4*f.tension/(f.grid.Cell*f.grid.Cell)
	}
	f.calmBorder()
	bands := f.bands(d)
	split(len(bands), at.cells(), func(from, to int) {
		for k := from; k < to; k++ {
			bands[k].solve(stiff, last, share)
		}
	})
	if last && at.y0 > 0 { // what goes into the part from the row before it
		for i := (at.y0-1)*nx + at.x0; i < (at.y0-1)*nx+at.x1; i++ {
			w.step.y[i] += share * w.now.y[i]
		}
	}
	f.byColumns(at, func(from, to int) {
		for ; from < to; from += strip {
			f.alongColumns(from, min(from+strip, to), stiff)
		}
	})
	f.byRows(at, func(y int, p part) {
		addTo(f.h[y*nx+p.x0:y*nx+p.x1], w.rhs[y*nx+p.x0:y*nx+p.x1])
		if last {
			f.movedUp(y, share*stiff)
		}
	})
	if last && at.y0 > 0 {
		f.movedUp(at.y0-1, share*stiff)
	}
}

// strip is how many columns are solved side by side: they stay near while they are.
const strip = 64

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

// A line is what solving a row reads and writes, and how far it has come.
type line struct {
	h, mid, x, y, south, out, fed, m, e []float64
	rhs, c                              []float64
	west, below, rest, last             float64
}

// line is a row of the part, before its system is solved.
func (f *Film) line(y int, p part, a float64) line {
	w, nx := &f.w, f.grid.NX
	from, to := y*nx+p.x0, y*nx+p.x1
	n := to - from
	l := line{f.h[from:to], w.mid[from:to], w.now.x[from:to], w.now.y[from:to], f.w.none[:n], w.now.out[from:to], f.w.none[:n], w.mx[from:to], w.edge[from:to],
		w.rhs[from:to], w.c[from:to], 0, 0, 1, 0}
	if y > 0 {
		l.south = w.now.y[from-nx : to-nx]
	}
	if f.move.rest {
		l.fed = f.move.owed[from:to]
	}
	if p.x0 > 0 {
		l.west, l.below = w.now.x[from-1], a*w.mx[from-1]
	}
	return l
}

// alongRow solves the tridiagonal system of a row (Thomas). Each row of the matrix
// adds up to its 1 + e; kept is what is left of that, not the factor itself, so
// that nothing cancels in long steps.
func (f *Film) alongRow(y int, p part, a, fed float64) {
	l := f.line(y, p, a)
	if f.move.rest {
		fed /= f.move.late
	}
	west, below, rest, last := l.west, l.below, l.rest, l.last
	for k := range l.h {
		r := l.mid[k] - l.h[k] - (l.x[k] - west + l.y[k] - l.south[k] + l.out[k]) + fed*l.fed[k]
		west = l.x[k]
		up, own := a*l.m[k], 1+a*l.e[k]/2+below*rest
		inv := 1 / (own + up)
		rest = own * inv
		last = (r + below*last) * inv
		l.c[k], l.rhs[k] = 1-rest, last
		below = up
	}
	l.back()
}

// alongTwo solves two rows side by side: a division waits for the one before it.
func (f *Film) alongTwo(y int, p part, a, fed float64) {
	l, m := f.line(y, p, a), f.line(y+1, p, a)
	if f.move.rest {
		fed /= f.move.late
	}
	n := len(l.h)
	h0, mid0, x0, y0, s0, out0, fed0, m0, e0, rhs0, c0 := l.h[:n], l.mid[:n], l.x[:n], l.y[:n], l.south[:n], l.out[:n], l.fed[:n], l.m[:n], l.e[:n], l.rhs[:n], l.c[:n]
	h1, mid1, x1, y1, out1, fed1, m1, e1, rhs1, c1 := m.h[:n], m.mid[:n], m.x[:n], m.y[:n], m.out[:n], m.fed[:n], m.m[:n], m.e[:n], m.rhs[:n], m.c[:n]
	west0, below0, rest0, last0 := l.west, l.below, l.rest, l.last
	west1, below1, rest1, last1 := m.west, m.below, m.rest, m.last
	for k := range h0 {
		r0 := mid0[k] - h0[k] - (x0[k] - west0 + y0[k] - s0[k] + out0[k]) + fed*fed0[k]
		r1 := mid1[k] - h1[k] - (x1[k] - west1 + y1[k] - y0[k] + out1[k]) + fed*fed1[k]
		west0, west1 = x0[k], x1[k]
		up0, own0 := a*m0[k], 1+a*e0[k]/2+below0*rest0
		up1, own1 := a*m1[k], 1+a*e1[k]/2+below1*rest1
		inv0, inv1 := 1/(own0+up0), 1/(own1+up1)
		rest0, rest1 = own0*inv0, own1*inv1
		last0, last1 = (r0+below0*last0)*inv0, (r1+below1*last1)*inv1
		c0[k], rhs0[k], below0 = 1-rest0, last0, up0
		c1[k], rhs1[k], below1 = 1-rest1, last1, up1
	}
	v0, v1 := 0.0, 0.0
	for k := n - 1; k >= 0; k-- {
		v0, v1 = rhs0[k]+c0[k]*v0, rhs1[k]+c1[k]*v1
		rhs0[k], rhs1[k] = v0, v1
	}
}

// back is the way back along a row.
func (l *line) back() {
	v := 0.0
	for k := len(l.rhs) - 1; k >= 0; k-- {
		v = l.rhs[k] + l.c[k]*v
		l.rhs[k] = v
	}
}

// movedAlong adds what a row's fluxes and its first half of the correction move, and
// what goes into the part from the cell before it.
func (f *Film) movedAlong(y int, p part, stiff, share float64) {
	w, nx := &f.w, f.grid.NX
	from, to := y*nx+p.x0, y*nx+p.x1
	if p.x0 > 0 {
		from--
	}
	by := share * stiff
	end := min(to, (y+1)*nx-1) // the last cell of a row has no neighbour
	q, m, r, s := w.now.x[from:end], w.mx[from:end], w.rhs[from:end+1], w.step.x[from:end]
	for k, v := range q {
		s[k] += share*v + by*m[k]*(r[k]-r[k+1])
	}
	from = y*nx + p.x0
	qy, sy := w.now.y[from:to], w.step.y[from:to]
	for k, v := range qy {
		sy[k] += share * v
	}
	for _, i := range f.edge.within(y, p, nx) {
		w.step.out[i] += share * (w.now.out[i] + stiff*w.edge[i]/2*w.rhs[i])
	}
}

// alongColumns solves those of some columns, side by side. It writes nothing else: what
// another core has last written is slow to come by.
func (f *Film) alongColumns(from, to int, a float64) {
	nx, w, p := f.grid.NX, &f.w, f.at
	row := func(of []float64, y int) []float64 { return of[y*nx+from : y*nx+to] }
	n := to - from
	kept := w.kept[from*f.grid.NY:]
	rest, before := w.none[:n], w.none[:n]
	if p.y0 > 0 {
		rest = w.ones[:n]
	}
	for y := p.y0; y < p.y1; y++ {
		r, c, m, e := row(w.rhs, y), kept[(y-p.y0)*n:(y-p.y0+1)*n], row(w.my, y), row(w.edge, y)
		below := w.none[:n]
		if y > 0 {
			below = row(w.my, y-1)
		}
		r, m, e, below, rest, before = r[:len(c)], m[:len(c)], e[:len(c)], below[:len(c)], rest[:len(c)], before[:len(c)]
		for x := range c {
			b := a * below[x]
			own := 1 + a*e[x]/2 + b*rest[x]
			inv := 1 / (own + a*m[x])
			c[x] = own * inv
			r[x] = (r[x] + b*before[x]) * inv
		}
		rest, before = c, r
	}
	for y := p.y1 - 2; y >= p.y0; y-- {
		r, c, next := row(w.rhs, y), kept[(y-p.y0)*n:(y-p.y0+1)*n], row(w.rhs, y+1)
		c, next = c[:len(r)], next[:len(r)]
		for x := range r {
			r[x] += (1 - c[x]) * next[x]
		}
	}
}

// movedUp adds what the change moves from a row of the part to the next, and over its
// edges.
func (f *Film) movedUp(y int, by float64) {
	w, nx, p := &f.w, f.grid.NX, f.at
	from, to := y*nx+p.x0, y*nx+p.x1
	if y+1 < f.grid.NY {
		s, m, d, next := w.step.y[from:to], w.my[from:to], w.rhs[from:to], w.rhs[from+nx:to+nx]
		m, d, next = m[:len(s)], d[:len(s)], next[:len(s)]
		for x := range s {
			s[x] += by * m[x] * (d[x] - next[x])
		}
	}
	if y < p.y0 {
		return
	}
	for _, i := range f.edge.within(y, p, nx) {
		w.step.out[i] += by * w.edge[i] / 2 * w.rhs[i]
	}
}
