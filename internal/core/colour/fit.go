package colour

import (
	"context"
	"math"
	"slices"
)

// A fit is a set of candidates with the parts of their limits that are used.
type fit struct {
	n          int
	set        [3]int
	u          [3]float64 // load over limit
	difference float64    // from the target: CIE 1976 while screening, CIEDE2000 after
}

func (s fit) parts(candidates []Candidate) []RecipePart {
	out := make([]RecipePart, s.n)
	for i := range out {
		c := s.set[i]
		out[i] = RecipePart{c, s.u[i] * candidates[c].Limit}
	}
	return out
}

// Scatter of the screening: how much of the limits is used, and how it is
// divided among one, two or three pigments.
var (
	scatterUsed  = []float64{0.9, 0.3, 0.08}
	scatterOne   = [][3]float64{{1}}
	scatterTwo   = [][3]float64{{0.5, 0.5}, {0.85, 0.15}, {0.15, 0.85}, {0.97, 0.03}, {0.03, 0.97}}
	scatterThree = [][3]float64{{0.34, 0.33, 0.33}, {0.7, 0.2, 0.1}, {0.7, 0.1, 0.2}, {0.2, 0.7, 0.1}, {0.1, 0.7, 0.2},
		{0.2, 0.1, 0.7}, {0.1, 0.2, 0.7}}
)

// promising is how many sets are refined.
const promising = 1000

// coarse is every third band, which is enough to tell the promising.
const coarseStep = 3

// screener looks at sets of candidates in a third of the bands.
type screener struct {
	q      Query
	k, s   [][]float64 // of each candidate at its limit
	weight []XYZ
	under  []float64
	lab    Lab
	out    []fit
}

// screen returns the sets whose best point of the scatter comes nearest.
func screen(ctx context.Context, q Query, candidates []Candidate) ([]fit, error) {
	m := &screener{q: q, lab: q.Target}
	m.prepare(candidates)
	n := len(candidates)
	for i := range n {
		m.look([3]int{i, i, i}, 1, scatterOne)
		for j := i + 1; j < n; j++ {
			if err := ctx.Err(); err != nil {
				return nil, err
			}
			m.look([3]int{i, j, j}, 2, scatterTwo)
			for k := j + 1; k < n; k++ {
				m.look([3]int{i, j, k}, 3, scatterThree)
			}
		}
	}
	slices.SortStableFunc(m.out, func(a, b fit) int { return compare(a.difference, b.difference) })
	return m.out[:min(len(m.out), promising)], nil
}

// prepare gathers the bands that are looked at.
func (m *screener) prepare(candidates []Candidate) {
	for b := 1; b < Bands; b += coarseStep {
		var w XYZ
		for _, i := range []int{b - 1, b, b + 1} {
			w.X, w.Y, w.Z = w.X+weights[i].X, w.Y+weights[i].Y, w.Z+weights[i].Z
		}
		m.weight, m.under = append(m.weight, w), append(m.under, m.q.Backing[b])
	}
	for _, c := range candidates {
		var k, s []float64
		for b := 1; b < Bands; b += coarseStep {
			k, s = append(k, c.Optics.K[b]*c.Limit), append(s, c.Optics.S[b]*c.Limit)
		}
		m.k, m.s = append(m.k, k), append(m.s, s)
	}
}

// look keeps the best point of a set.
func (m *screener) look(set [3]int, n int, scatter [][3]float64) {
	best := fit{n: n, set: set, difference: math.Inf(1)}
	for _, all := range scatterUsed {
		for _, part := range scatter {
			u := [3]float64{all * part[0], all * part[1], all * part[2]}
			if d := m.far(set, u); d < best.difference {
				best.u, best.difference = u, d
			}
		}
	}
	m.out = append(m.out, best)
}

// far is how far, in squares of CIELAB, a mixture lies from the target.
func (m *screener) far(set [3]int, u [3]float64) float64 {
	a, b, c := set[0], set[1], set[2]
	ka, kb, kc, sa, sb, sc := m.k[a], m.k[b], m.k[c], m.s[a], m.s[b], m.s[c]
	var x XYZ
	mm := float64(m.q.Film)
	for i, w := range m.weight {
		k := clearResin + u[0]*ka[i] + u[1]*kb[i] + u[2]*kc[i]
		s := u[0]*sa[i] + u[1]*sb[i] + u[2]*sc[i]
		r := m.q.Surface.out(tinted(k, s, mm, m.under[i]))
		x.X += w.X * r
		x.Y += w.Y * r
		x.Z += w.Z * r
	}
	lab := x.Lab()
	l, p, q := lab.L-m.lab.L, lab.A-m.lab.A, lab.B-m.lab.B
	return l*l + p*p + q*q
}

// fitter refines sets in all bands.
type fitter struct {
	q    Query
	k, s []Spectrum // of each candidate at its limit
	low  []float64  // least part of its limit
}

func newFitter(q Query, candidates []Candidate) *fitter {
	f := &fitter{q: q}
	for _, c := range candidates {
		var k, s Spectrum
		f.k, f.s = append(f.k, k.Plus(c.Optics.K, c.Limit)), append(f.s, s.Plus(c.Optics.S, c.Limit))
		f.low = append(f.low, leastLoad/c.Limit)
	}
	return f
}

// lab is the colour of a set with the logarithms of its parts.
func (f *fitter) lab(s *fit, x *[3]float64) Lab {
	var u [3]float64
	for i := range s.n {
		u[i] = math.Exp(x[i])
	}
	a, b, c := s.set[0], s.set[1], s.set[2]
	var t XYZ
	mm := float64(f.q.Film)
	for i, w := range weights {
		k := clearResin + u[0]*f.k[a][i] + u[1]*f.k[b][i] + u[2]*f.k[c][i]
		sc := u[0]*f.s[a][i] + u[1]*f.s[b][i] + u[2]*f.s[c][i]
		r := f.q.Surface.out(tinted(k, sc, mm, f.q.Backing[i]))
		t.X += w.X * r
		t.Y += w.Y * r
		t.Z += w.Z * r
	}
	return t.Lab()
}

// rounds of Levenberg and Marquardt; few sets gain from more.
const rounds = 14

// fit brings a set as near as it can; false when it does without one of its several
// pigments.
func (f *fitter) fit(s fit) (fit, bool) {
	var x [3]float64
	for i := range s.n {
		x[i] = math.Log(math.Max(s.u[i], f.low[s.set[i]]))
	}
	now := f.lab(&s, &x)
	far := gap(now, f.q.Target)
	damp := 0.1
	for range rounds {
		next := f.step(&s, x, now, damp)
		lab := f.lab(&s, &next)
		d := gap(lab, f.q.Target)
		if d >= far {
			if damp *= 8; damp > 1e6 {
				break
			}
			continue
		}
		gained := far - d
		x, now, far, damp = next, lab, d, damp/5
		if gained < 1e-6*far || far < 1e-8 {
			break
		}
	}
	for i := range s.n {
		if s.u[i] = math.Exp(x[i]); s.n > 1 && s.u[i] <= f.low[s.set[i]]*1.001 {
			return s, false
		}
	}
	s.difference = Difference(f.q.Target, now)
	return s, true
}

// gap is the square of the CIE 1976 difference.
func gap(a, b Lab) float64 {
	return (a.L-b.L)*(a.L-b.L) + (a.A-b.A)*(a.A-b.A) + (a.B-b.B)*(a.B-b.B)
}

// step is one move of Levenberg and Marquardt, held inside the limits.
func (f *fitter) step(s *fit, x [3]float64, now Lab, damp float64) [3]float64 {
	const h = 1e-4
	var j [3][3]float64 // j[i] is how the colour goes with part i
	for i := range s.n {
		moved := x
		moved[i] += h
		l := f.lab(s, &moved)
		j[i] = [3]float64{(l.L - now.L) / h, (l.A - now.A) / h, (l.B - now.B) / h}
	}
	r := [3]float64{f.q.Target.L - now.L, f.q.Target.A - now.A, f.q.Target.B - now.B}
	var a [3][4]float64
	for i := range s.n {
		for k := range s.n {
			a[i][k] = dot(j[i], j[k])
		}
		a[i][i] += damp * (a[i][i] + 1e-9)
		a[i][3] = dot(j[i], r)
	}
	d := solve3(a, s.n)
	sum := 0.0
	for i := range s.n {
		x[i] = math.Min(0, math.Max(math.Log(f.low[s.set[i]]), x[i]+math.Max(-1.5, math.Min(1.5, d[i]))))
		sum += math.Exp(x[i])
	}
	if sum > 1 {
		for i := range s.n {
			x[i] -= math.Log(sum)
		}
	}
	return x
}

func dot(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }

// solve3 solves up to three equations, the right side in the last column, by
// elimination; the damped matrix is positive definite and needs no pivots.
func solve3(a [3][4]float64, n int) (x [3]float64) {
	for i := range n {
		for k := i + 1; k < n; k++ {
			m := a[k][i] / a[i][i]
			for c := i; c < 4; c++ {
				a[k][c] -= m * a[i][c]
			}
		}
	}
	for i := n - 1; i >= 0; i-- {
		v := a[i][3]
		for k := i + 1; k < n; k++ {
			v -= a[i][k] * x[k]
		}
		x[i] = v / a[i][i]
	}
	return x
}

// tinted is film for a resin that absorbs at least a little, the hyperbolic
// cotangent written out so that one exponential is all it costs.
func tinted(k, s, mm, backing float64) float64 {
	sum, root := k+s, math.Sqrt(k*(k+2*s))
	e := fading(2 * root * mm)
	less, more := 1-e, root*(1+e)
	return ((s-backing*sum)*less + backing*more) / ((sum-backing*s)*less + more)
}

// fading is e^{−x} for x ≥ 0, to 1 part in 10¹³: a table and four terms of the
// series, four times as fast as the general function.
func fading(x float64) float64 {
	if x >= fadingEnd {
		return 0
	}
	i := int(x * fadingParts)
	d := x - float64(i)*(1./fadingParts)
	return fadingTable[i] * (1 - d*(1-d*(1./2)*(1-d*(1./3)*(1-d*(1./4)))))
}

const (
	fadingEnd   = 40 // beyond it nothing is left: e^{−40} < 10^{−17}
	fadingParts = 256
)

var fadingTable = func() (t [fadingEnd * fadingParts]float64) {
	for i := range t {
		t[i] = math.Exp(-float64(i) / fadingParts)
	}
	return t
}()
