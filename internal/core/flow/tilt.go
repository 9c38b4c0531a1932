package flow

import "math"

// drain lets the film run down a tilted board and before the wind for a step of
// fluidity time: the flux g_t·h³/3 + τ/ρ·h²/2 by a limited second-order scheme (van
// Leer 1974) and Heun's method, in steps of half a Courant number.
func (f *Film) drain(step float64) {
	if f.pull == [2]float64{} && f.wind[0] == nil {
		return
	}
	for left := step; left > 0; {
		fastest := f.fastest()
		if fastest == 0 {
			return
		}
		s := math.Min(left, courant*f.grid.Cell/fastest)
		f.heun(s)
		left -= s
	}
}

// fastest is the speed of the fastest wave, both directions added.
func (f *Film) fastest() float64 {
	pull := math.Abs(f.pull[0]) + math.Abs(f.pull[1])
	most := 0.0
	for i, h := range f.h {
		v := pull * h * h
		if f.wind[0] != nil {
			v += (math.Abs(f.wind[0][i]) + math.Abs(f.wind[1][i])) * h
		}
		most = math.Max(most, v*f.easeAt(i))
	}
	return most
}

// heun is a step with the mean of the fluxes before and after it.
func (f *Film) heun(s float64) {
	w := &f.w
	copy(w.mid, f.h)
	f.downhill(w.now)
	f.apply(w.now, s)
	f.downhill(w.first)
	for i := range w.now.x {
		w.now.x[i] = s / 2 * (w.now.x[i] + w.first.x[i])
		w.now.y[i] = s / 2 * (w.now.y[i] + w.first.y[i])
		w.now.out[i] = s / 2 * (w.now.out[i] + w.first.out[i])
		w.step.x[i] += w.now.x[i]
		w.step.y[i] += w.now.y[i]
		w.step.out[i] += w.now.out[i]
	}
	copy(f.h, w.mid)
	f.apply(w.now, 1)
	clear(w.first.out) // levelling sets those of open edges only
	clear(w.now.out)
}

// apply moves s times the fluxes, and reports whether any cell gave more than it had.
func (f *Film) apply(q fluxes, s float64) bool {
	nx := f.grid.NX
	f.byRows(f.at, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		h, x, north, out := f.h[from:to], q.x[from:to], q.y[from:to], q.out[from:to]
		south := f.w.none[:len(h)]
		if y > 0 {
			south = q.y[from-nx : to-nx]
		}
		x, north, out, south = x[:len(h)], north[:len(h)], out[:len(h)], south[:len(h)]
		west, least := 0.0, 0.0
		if p.x0 > 0 {
			west = q.x[from-1]
		}
		for i, v := range h {
			v -= s * (x[i] - west + north[i] - south[i] + out[i])
			west = x[i]
			h[i] = v
			if v < least {
				least = v
			}
		}
		f.w.rows[y] = least
	})
	for _, least := range f.w.rows[f.at.y0:f.at.y1] {
		if least < 0 {
			return true
		}
	}
	return false
}

// downhill sets what runs from cell to cell in a unit of fluidity time.
func (f *Film) downhill(q fluxes) {
	nx, ny := f.grid.NX, f.grid.NY
	f.byRows(f.at, func(y int, p part) {
		for x := p.x0; x < p.x1; x++ {
			i := y*nx + x
			q.x[i], q.y[i], q.out[i] = 0, 0, 0
			if f.lx[i] > 0 {
				q.x[i] = f.across(i, 1, x > 0 && f.lx[i-1] > 0, x+2 < nx && f.lx[i+1] > 0, 0)
			}
			if f.ly[i] > 0 {
				q.y[i] = f.across(i, nx, y > 0 && f.ly[i-nx] > 0, y+2 < ny && f.ly[i+nx] > 0, 1)
			}
			if open := f.edge.open[i]; open != 0 {
				q.out[i] = f.outward(i, open)
			}
		}
	})
}

// across is what runs from cell i to the next a stride away: the film there is
// taken from where it comes.
func (f *Film) across(i, stride int, behind, ahead bool, along int) float64 {
	j := i + stride
	h, k := f.h, (f.easeAt(i)+f.easeAt(j))/(2*f.grid.Cell)
	tau := 0.0
	if f.wind[along] != nil {
		tau = (f.wind[along][i] + f.wind[along][j]) / 2
	}
	g := f.pull[along]
	a, b := h[i], h[j]
	from, to, at := a, b, a
	switch mean := (a + b) / 2; {
	case g*mean/3+tau/2 > 0:
		if behind {
			at += limited(a-h[i-stride], b-a) / 2
		}
	case g*mean/3+tau/2 < 0:
		from, to, at = b, a, b
		if ahead {
			at += limited(b-h[j+stride], a-b) / 2
		}
	default:
		return 0
	}
	if f.contact.Stands > 0 && to < dry && from < f.contact.Stands {
		return 0
	}
	return k * (g*cube(at)/3 + tau*at*at/2)
}

// outward is what runs off the open sides of cell i.
func (f *Film) outward(i int, open Side) float64 {
	sum, h := 0.0, f.h[i]
	for k, sign := range [4]float64{1, -1, 1, -1} {
		along := k / 2
		if open&(1<<k) == 0 || h <= f.edge.holds[k][i] {
			continue
		}
		drive := sign * f.pull[along] * cube(h) / 3
		if f.wind[along] != nil {
			drive += sign * f.wind[along][i] * h * h / 2
		}
		if drive > 0 {
			sum += drive
		}
	}
	return sum * f.easeAt(i) / f.grid.Cell
}

func cube(h float64) float64 { return h * h * h }

// limited is van Leer's slope: the harmonic mean of two differences of one sign,
// else none.
func limited(a, b float64) float64 {
	if a*b <= 0 {
		return 0
	}
	return 2 * a * b / (a + b)
}
