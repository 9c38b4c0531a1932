package flow

// sweep adds δ with (1 − a·A_x)(1 − a·A_y)δ = mid − h + what flows, along every row, then
// along every column; the last one of a stage adds what moved, times share. The rest of a
// film is fed meanwhile.
func (f *Film) sweep(a, fed float64, last bool, share float64) {
	w, nx := &f.w, f.grid.NX
	stiff := a
	if f.tension > 0 { // the matrix takes tension as that much more gravity
		stiff *= 1 + 4*f.tension/(f.grid.Cell*f.grid.Cell)
	}
	f.calmBorder()
	f.byTwoRows(f.at, func(y int, two bool, p part) {
		if two {
			f.alongTwo(y, p, stiff, fed)
		} else {
			f.alongRow(y, p, stiff, fed)
		}
		if !last {
			return
		}
		f.movedAlong(y, p, stiff, share)
		if two {
			f.movedAlong(y+1, p, stiff, share)
		}
	})
	at := f.at
	if last && at.y0 > 0 { // what goes into the part from the row before it
		for i := (at.y0-1)*nx + at.x0; i < (at.y0-1)*nx+at.x1; i++ {
			w.step.y[i] += share * w.now.y[i]
		}
	}
	f.byColumns(at, func(from, to int) {
		f.alongColumns(from, to, at, stiff)
		f.addColumns(from, to, at, stiff, last, share)
	})
}

// addColumns adds the change to some columns, and what it moved along them.
func (f *Film) addColumns(from, to int, at part, stiff float64, last bool, share float64) {
	w, nx := &f.w, f.grid.NX
	for y := max(0, at.y0-1); y < at.y1; y++ {
		row := y * nx
		d := w.rhs[row+from : row+to]
		if y >= at.y0 {
			h := f.h[row+from : row+to][:len(d)]
			for x, v := range d {
				h[x] += v
			}
		}
		if !last || y+1 >= f.grid.NY {
			continue
		}
		next, m, s := w.rhs[row+nx+from : row+nx+to][:len(d)], w.my[row+from : row+to][:len(d)], w.step.y[row+from : row+to][:len(d)]
		by := share * stiff
		for x, v := range d {
			s[x] += by * m[x] * (v - next[x])
		}
	}
	if !last {
		return
	}
	for y := at.y0; y < at.y1; y++ {
		for _, i := range f.edge.within(y, part{from, to, at.y0, at.y1}, nx) {
			w.step.out[i] += share * stiff * w.edge[i] / 2 * w.rhs[i]
		}
	}
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

// alongColumns solves those of some columns, side by side.
func (f *Film) alongColumns(from, to int, p part, a float64) {
	nx, w := f.grid.NX, &f.w
	for y := p.y0; y < p.y1; y++ {
		row := y * nx
		c, r, m, e := w.c[row+from:row+to], w.rhs[row+from:row+to], w.my[row+from:row+to], w.edge[row+from:row+to]
		c, m, e = c[:len(r)], m[:len(r)], e[:len(r)]
		if y == p.y0 {
			for x := range r {
				below := 0.0
				if y > 0 {
					below = a * w.my[row-nx+from+x]
				}
				own := 1 + a*e[x]/2 + below
				inv := 1 / (own + a*m[x])
				c[x] = own * inv
				r[x] *= inv
			}
			continue
		}
		below, rest, last := w.my[row-nx+from : row-nx+to][:len(r)], w.c[row-nx+from : row-nx+to][:len(r)], w.rhs[row-nx+from : row-nx+to][:len(r)]
		for x := range r {
			b := a * below[x]
			own := 1 + a*e[x]/2 + b*rest[x]
			inv := 1 / (own + a*m[x])
			c[x] = own * inv
			r[x] = (r[x] + b*last[x]) * inv
		}
	}
	for y := p.y1 - 2; y >= p.y0; y-- {
		row := y * nx
		r, c, next := w.rhs[row+from:row+to], w.c[row+from:row+to], w.rhs[row+nx+from:row+nx+to]
		c, next = c[:len(r)], next[:len(r)]
		for x := range r {
			r[x] += (1 - c[x]) * next[x]
		}
	}
}
