package flow

import (
	"math"
	"slices"
)

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
	f.lift(f.at)
	pull := math.Abs(f.pull[0]) + math.Abs(f.pull[1])
	f.byRows(f.at, func(y int, p part) {
		most := 0.0
		for i := y*f.grid.NX + p.x0; i < y*f.grid.NX+p.x1; i++ {
			h := f.high[i]
			v := pull * h * h
			if f.wind[0] != nil {
				v += (math.Abs(f.wind[0][i]) + math.Abs(f.wind[1][i])) * h
			}
			most = max(most, v*f.easeAt(i)*f.per[i])
		}
		f.w.rows[y] = most
	})
	return slices.Max(f.w.rows[f.at.y0:f.at.y1])
}

// heun is a step with the mean of the fluxes before and after it.
func (f *Film) heun(s float64) {
	w, nx := &f.w, f.grid.NX
	f.byRows(f.at, func(y int, p part) { copy(w.mid[y*nx+p.x0:y*nx+p.x1], f.h[y*nx+p.x0:y*nx+p.x1]) })
	f.downhill(w.now)
	f.apply(w.mid, w.now, s)
	f.downhill(w.first)
	f.byRows(f.at, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		meanOf(w.now.x[from:to], w.first.x[from:to], w.step.x[from:to], s)
		meanOf(w.now.y[from:to], w.first.y[from:to], w.step.y[from:to], s)
		for _, i := range f.edge.within(y, p, nx) {
			meanOf(w.now.out[i:i+1], w.first.out[i:i+1], w.step.out[i:i+1], s)
		}
	})
	f.apply(w.mid, w.now, 1)
}

// meanOf sets what goes in a step by the fluxes before and after it, and adds it up.
func meanOf(now, then, sum []float64, s float64) {
	then, sum = then[:len(now)], sum[:len(now)]
	for i, v := range now {
		v = s / 2 * (v + then[i])
		now[i] = v
		sum[i] += v
	}
}

// apply sets the film from what it was and s times the fluxes, and reports whether any cell
// gave more than it had.
func (f *Film) apply(was []float64, q fluxes, s float64) bool {
	nx := f.grid.NX
	f.byRows(f.at, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		h, base, x, north, out := f.h[from:to], was[from:to], q.x[from:to], q.y[from:to], q.out[from:to]
		south := f.w.none[:len(h)]
		if y > 0 {
			south = q.y[from-nx : to-nx]
		}
		base, x, north, out, south = base[:len(h)], x[:len(h)], north[:len(h)], out[:len(h)], south[:len(h)]
		west, least := 0.0, 0.0
		if p.x0 > 0 {
			west = q.x[from-1]
		}
		for i := range h {
			v := base[i] - s*(x[i]-west+north[i]-south[i]+out[i])
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
	f.lift(f.at)
	nx := f.grid.NX
	f.byRows(f.at, func(y int, p part) {
		from, to := y*nx+p.x0, y*nx+p.x1
		f.across(q.x, f.lx, 1, from, min(to, (y+1)*nx-1), 0)
		if p.x1 == nx {
			q.x[to-1] = 0
		}
		if y+1 < f.grid.NY {
			f.across(q.y, f.ly, nx, from, to, 1)
		} else {
			clear(q.y[from:to])
		}
		for _, i := range f.edge.within(y, p, nx) {
			q.out[i] = f.outward(int(i), f.edge.open[i])
		}
	})
}

// across sets what runs from cells to the next a stride away: the film there is taken
// from where it comes.
func (f *Film) across(q, link []float64, stride, from, to, along int) {
	g, tau := f.pull[along], 0.0
	wind := f.wind[along]
	if g == 0 && wind == nil {
		clear(q[from:to])
		return
	}
	h, last, scale := f.high, len(f.h)-1, 1/f.grid.Cell
	for i := from; i < to; i++ {
		q[i] = 0
		if link[i] == 0 {
			continue
		}
		j := i + stride
		if wind != nil {
			tau = (wind[i] + wind[j]) / 2
		}
		a, b := h[i], h[j]
		at := a
		switch drive := g*(a+b)/6 + tau/2; {
		case drive > 0:
			if i >= stride && link[i-stride] > 0 {
				at += limited(a-h[i-stride], b-a) / 2
			}
		case drive < 0:
			at = b
			if j+stride <= last && link[j] > 0 {
				at += limited(b-h[j+stride], a-b) / 2
			}
		default:
			continue
		}
		if (a < dry || b < dry) && !f.wets(i, j, f.grid.NX+1-stride) {
			continue
		}
		ease := 1.0
		if f.ease != nil {
			ease = (f.ease[i] + f.ease[j]) / 2
		}
		q[i] = ease * scale * (g*cube(at)/3 + tau*at*at/2)
	}
}

// outward is the volume that runs off the open sides of cell i.
func (f *Film) outward(i int, open Side) float64 {
	sum, h := 0.0, f.high[i]
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
