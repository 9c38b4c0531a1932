package flow

// sweep adds D·δ with (D − a·A_x)D⁻¹(D − a·A_y)δ = mid − h + what flows, D the areas of the
// cells, along every row, then along every column; the last one of a stage adds what moved, times share. The rest of a
// film is fed meanwhile.
func (f *Film) sweep(d drive, last bool, share float64) {
	w, nx, at := &f.w, f.grid.NX, f.at
	stiff := d.now
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
		from, to := y*nx+p.x0, y*nx+p.x1
		h, area, rhs := f.h[from:to], f.area[from:to], w.rhs[from:to]
		area, rhs = area[:len(h)], rhs[:len(h)]
		for i, d := range rhs {
			h[i] += area[i] * d
		}
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

// Tension makes five cells of a row depend on one another. With P the height less what
// its curvature holds up, κ the capillary length over the cell squared, and ω 1 on faces
// that something crosses, a change δ drives over the face behind cell k
//
//	q_k = m_k·(−κω_{k−1}·δ_{k−1} + (s_k + κ)·δ_k − (s_{k+1} + κ)·δ_{k+1} + κω_{k+1}·δ_{k+2})
//
// where s_k = 1 + κ(ω_{k−1} + ω_k). A row of the matrix is 1 + a·e/2 and a times what
// leaves over the next face less what comes over the last.

// crossed is ω of a face.
func crossed(m float64) float64 {
	if m > 0 {
		return 1
	}
	return 0
}

// matrixRow is a row of the matrix, from δ_{k−2} to δ_{k+2}, of a cell between faces of
// mobility m1 and m0 (times a), with w2 to w3 the ω of the four faces about it.
func matrixRow(kappa, m1, m0, own, w2, w1, w0, w3 float64) (first, under, mid, over, end float64) {
	stiff := 1 + kappa
	first, end = m1*kappa*w2, m0*kappa*w3
	under = -m0*kappa*w1 - m1*(stiff+kappa*(w2+w1))
	mid = own + (m0+m1)*(stiff+kappa*(w1+w0))
	over = -m0*(stiff+kappa*(w0+w3)) - m1*kappa*w0
	return first, under, mid, over, end
}

// kappa is the square of the capillary length over a cell.
func (f *Film) kappa() float64 { return f.tension / (f.grid.Cell * f.grid.Cell) }

// alongRow solves the system of a row, from its beginning to its end and back.
func (f *Film) alongRow(y int, p part, a, fed float64) {
	w, nx := &f.w, f.grid.NX
	from, to := y*nx+p.x0, y*nx+p.x1
	h, mid, x, north, out := f.h[from:to], w.mid[from:to], w.now.x[from:to], w.now.y[from:to], w.now.out[from:to]
	area := f.area[from:to][:len(h)]
	m, e, z, u, v := w.mx[from:to], w.edge[from:to], w.rhs[from:to], w.c[from:to], w.d[from:to]
	south, owed := w.none[:len(h)], w.none[:len(h)]
	if y > 0 {
		south = w.now.y[from-nx : to-nx]
	}
	if f.move.rest {
		owed, fed = f.move.owed[from:to], fed/f.move.late
	}
	west, kappa := 0.0, f.kappa()
	var m1, w1, w2, z1, z2, u1, u2, v1, v2 float64
	if p.x0 > 0 {
		west, m1 = w.now.x[from-1], a*w.mx[from-1]
		w1 = crossed(m1)
	}
	m0 := a * m[0]
	w0 := crossed(m0)
	for k := range h {
		r := mid[k] - h[k] - (x[k] - west + north[k] - south[k] + out[k]) + fed*owed[k]
		west = x[k]
		ahead := 0.0
		if k+1 < len(m) {
			ahead = a * m[k+1]
		}
		w3 := crossed(ahead)
		first, under, own, over, end := matrixRow(kappa, m1, m0, area[k]+a*e[k]/2, w2, w1, w0, w3)
		under += first * u2
		inv := 1 / (own + first*v2 + under*u1)
		z[k], u[k], v[k] = (r-first*z2-under*z1)*inv, -(over+under*v1)*inv, -end*inv
		z1, z2, u1, u2, v1, v2 = z[k], z1, u[k], u1, v[k], v1
		m1, m0, w2, w1, w0 = m0, ahead, w1, w0, w3
	}
	d1, d2 := 0.0, 0.0
	for k := len(z) - 1; k >= 0; k-- {
		z[k] += u[k]*d1 + v[k]*d2
		d1, d2 = z[k], d1
	}
}

// bentFlux is the flux that a change drives over the face behind a cell of a line, in its mobility:
// of the cells before the face's two, of these, and after.
func bentFlux(kappa, before, d0, d1, after, w1, w0, w3 float64) float64 {
	return -kappa*w1*before + (1+kappa*(w1+w0)+kappa)*d0 - (1+kappa*(w0+w3)+kappa)*d1 + kappa*w3*after
}

// movedAlong adds what a row's fluxes and its first half of the correction move, and
// what goes into the part from the cell before it.
func (f *Film) movedAlong(y int, p part, stiff, share float64) {
	w, nx := &f.w, f.grid.NX
	from, to := y*nx+p.x0, y*nx+p.x1
	if p.x0 > 0 {
		from--
	}
	by, kappa := share*stiff, f.kappa()
	end := min(to, (y+1)*nx-1) // the last cell of a row has no neighbour
	at := func(of []float64, i int) float64 {
		if i < y*nx || i >= (y+1)*nx {
			return 0
		}
		return of[i]
	}
	before, w1 := 0.0, crossed(at(w.mx, from-1))
	q, sum, m, d := w.now.x[from:to], w.step.x[from:to], w.mx[from:to], w.rhs[from:to]
	for i := range end - from {
		sum[i] += share * q[i]
		v := m[i]
		if v > 0 {
			next, after, w3 := 0.0, 0.0, 0.0 // nothing changes beyond the part
			if i+1 < len(d) {
				next, w3 = d[i+1], crossed(m[i+1])
			}
			if i+2 < len(d) {
				after = d[i+2]
			}
			sum[i] += by * v * bentFlux(kappa, before, d[i], next, after, w1, 1, w3)
		}
		before, w1 = d[i], crossed(v)
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
	nx, w, p, n, kappa := f.grid.NX, &f.w, f.at, to-from, f.kappa()
	row := func(of []float64, y int) []float64 {
		if y < 0 || y >= f.grid.NY {
			return w.none[:n]
		}
		return of[y*nx+from : y*nx+to]
	}
	kept := func(of []float64, y int) []float64 {
		if y < p.y0 {
			return w.none[:n]
		}
		return of[from*f.grid.NY+(y-p.y0)*n:][:n]
	}
	delta := func(y int) []float64 {
		if y < p.y0 || y >= p.y1 {
			return w.none[:n]
		}
		return row(w.rhs, y)
	}
	for y := p.y0; y < p.y1; y++ {
		z, z1, z2, e, area := delta(y), delta(y-1), delta(y-2), row(w.edge, y), row(f.area, y)
		u, u1, u2 := kept(w.kept, y), kept(w.kept, y-1), kept(w.kept, y-2)
		v, v1, v2 := kept(w.kept2, y), kept(w.kept2, y-1), kept(w.kept2, y-2)
		m2, m1, m0, m3 := row(w.my, y-2), row(w.my, y-1), row(w.my, y), row(w.my, y+1)
		if y-2 < p.y0-1 {
			m2 = w.none[:n]
		}
		if y+1 >= p.y1 {
			m3 = w.none[:n]
		}
		area = area[:n]
		e, u, u1, u2, v, v1, v2 = e[:n], u[:n], u1[:n], u2[:n], v[:n], v1[:n], v2[:n]
		z, z1, z2, m0, m1, m2, m3 = z[:n], z1[:n], z2[:n], m0[:n], m1[:n], m2[:n], m3[:n]
		for x, r := range z {
			b1, b0 := a*m1[x], a*m0[x]
			first, under, own, over, end := matrixRow(
				kappa,
				b1,
				b0,
				area[x]+a*e[x]/2,
				crossed(m2[x]),
				crossed(b1),
				crossed(b0),
				crossed(m3[x]),
			)
			under += first * u2[x]
			inv := 1 / (own + first*v2[x] + under*u1[x])
			z[x] = (r*area[x] - first*z2[x] - under*z1[x]) * inv
			u[x], v[x] = -(over+under*v1[x])*inv, -end*inv
		}
	}
	for y := p.y1 - 2; y >= p.y0; y-- {
		z, d1, d2 := delta(y), delta(y+1), delta(y+2)
		u, v := kept(w.kept, y), kept(w.kept2, y)
		for x := range z {
			z[x] += u[x]*d1[x] + v[x]*d2[x]
		}
	}
}

// movedUp adds what the change moves from a row of the part to the next, and over its
// edges.
func (f *Film) movedUp(y int, by float64) {
	w, nx, p := &f.w, f.grid.NX, f.at
	from, to := y*nx+p.x0, y*nx+p.x1
	if y+1 < f.grid.NY {
		row := func(of []float64, y int, no bool) []float64 {
			if no || y < 0 {
				return w.none[:to-from]
			}
			return of[y*nx+p.x0 : y*nx+p.x1]
		}
		sum, m := w.step.y[from:to], w.my[from:to]
		m1, m3 := row(w.my, y-1, y < p.y0), row(w.my, y+1, y+1 >= p.y1)
		before, d, next := row(w.rhs, y-1, y <= p.y0), row(w.rhs, y, y < p.y0), row(w.rhs, y+1, y+1 >= p.y1)
		after, kappa := row(w.rhs, y+2, y+2 >= p.y1), f.kappa()
		for x, v := range m {
			if v > 0 {
				q := bentFlux(kappa, before[x], d[x], next[x], after[x], crossed(m1[x]), 1, crossed(m3[x]))
				sum[x] += by * v * q
			}
		}
	}
	if y < p.y0 {
		return
	}
	for _, i := range f.edge.within(y, p, nx) {
		w.step.out[i] += by * w.edge[i] / 2 * w.rhs[i]
	}
}
