package colour

import (
	"errors"
	"math"
	"sort"

	"jevvo/internal/core/units"
)

// A Candidate is a pigment that may go into a recipe.
type Candidate struct {
	Optics Optics  // at full strength
	Limit  float64 // most of it by mass of mixed resin
}

// A Query asks which cup comes nearest to a colour. The zero values of Load
// and Steps are replaced by usual ones.
type Query struct {
	Target  Lab
	Backing Spectrum     // what lies under the film
	Film    units.Length // its thickness
	Load    float64      // pigment by mass of resin, all together; 4 % when 0
	Steps   int          // the load is divided into so many equal steps; 8 when 0
	Best    int          // how many recipes to return; 3 when 0
}

// A Recipe is pigments with their loads and what they come to.
type Recipe struct {
	Parts      []RecipePart
	Lab        Lab
	Film       Spectrum
	Difference float64 // CIEDE2000 from the target
}

// A RecipePart is one pigment of a recipe, by its place among the candidates.
type RecipePart struct {
	Candidate int
	Load      float64
}

// usualRecipeLoad is a dose that most pigments bear (common practice).
const usualRecipeLoad = 0.04

func (q Query) withDefaults() (Query, error) {
	if q.Load == 0 {
		q.Load = usualRecipeLoad
	}
	if q.Steps == 0 {
		q.Steps = 8
	}
	if q.Best == 0 {
		q.Best = 3
	}
	if !(q.Film > 0) || !(q.Load > 0 && q.Load <= 0.5) || q.Steps < 1 || q.Steps > 100 {
		return q, errors.New("a match needs a film, a load of at most 50 % and between 1 and 100 steps")
	}
	return q, nil
}

// Match returns the recipes of up to three candidates that come nearest to
// the target, best first, one for each set of pigments. It tries every set
// and every division of the load into steps; what it leaves out it has proved
// to be no better:
//
//   - a film's reflectance falls with K and rises with S, so all mixtures of a
//     set lie between two films, and so do their lightnesses;
//   - CIEDE2000 is at least |ΔL|/S_L, because the form of its chroma and hue
//     terms is never negative (|R_T| < 2).
func Match(q Query, candidates []Candidate) ([]Recipe, error) {
	q, err := q.withDefaults()
	if err != nil {
		return nil, err
	}
	if len(candidates) == 0 {
		return nil, errors.New("there is no pigment to mix from")
	}
	m := newMatcher(q, candidates)
	n := len(candidates)
	for i := range n { // small sets first: they set a high bar for the large ones
		m.one(i)
	}
	for i := range n {
		for j := i + 1; j < n; j++ {
			m.two(i, j)
		}
	}
	for i := range n {
		for j := i + 1; j < n; j++ {
			for k := j + 1; k < n; k++ {
				m.three(i, j, k)
			}
		}
	}
	return m.recipes(candidates), nil
}

// A matcher holds one step's worth of every candidate and the best so far.
type matcher struct {
	q      Query
	ticks  []tick
	best   []found // ascending
	spread float64 // lightness beyond which nothing can be better
	// darkest and lightest are the same as bounds of Y.
	darkest, lightest float64
}

type tick struct {
	k, s  Spectrum
	limit int // most steps the candidate bears
}

type found struct {
	set        [3]int // candidates, −1 for none
	steps      [3]int
	difference float64
}

func newMatcher(q Query, candidates []Candidate) *matcher {
	m := &matcher{q: q, ticks: make([]tick, len(candidates)), spread: math.Inf(1), lightest: math.Inf(1)}
	each := q.Load / float64(q.Steps)
	for i, c := range candidates {
		t := &m.ticks[i]
		for b := range Bands {
			t.k[b], t.s[b] = c.Optics.K[b]*each, c.Optics.S[b]*each
		}
		t.limit = int(math.Floor(c.Limit/each + 1e-9))
	}
	return m
}

func (m *matcher) one(i int) {
	if m.q.Steps <= m.ticks[i].limit {
		m.try([3]int{i, -1, -1}, [3]int{m.q.Steps, 0, 0})
	}
}

func (m *matcher) two(i, j int) {
	if m.hopeless(&m.ticks[i], &m.ticks[j], &m.ticks[j]) {
		return
	}
	for a := 1; a < m.q.Steps; a++ {
		b := m.q.Steps - a
		if a <= m.ticks[i].limit && b <= m.ticks[j].limit {
			m.try([3]int{i, j, -1}, [3]int{a, b, 0})
		}
	}
}

func (m *matcher) three(i, j, k int) {
	if m.hopeless(&m.ticks[i], &m.ticks[j], &m.ticks[k]) {
		return
	}
	for a := 1; a < m.q.Steps-1 && a <= m.ticks[i].limit; a++ {
		for b := 1; b < m.q.Steps-a && b <= m.ticks[j].limit; b++ {
			if c := m.q.Steps - a - b; c <= m.ticks[k].limit {
				m.try([3]int{i, j, k}, [3]int{a, b, c})
			}
		}
	}
}

// hopeless reports whether every mixture of a set is too light or too dark.
func (m *matcher) hopeless(a, b, c *tick) bool {
	if math.IsInf(m.spread, 1) {
		return false
	}
	n, mm := float64(m.q.Steps), float64(m.q.Film)
	light, dark := restAfter[brightBands], 0.0
	for _, i := range brightFirst[:brightBands] {
		kLow, kHigh := min(a.k[i], b.k[i], c.k[i])*n+clearResin, max(a.k[i], b.k[i], c.k[i])*n+clearResin
		sLow, sHigh := min(a.s[i], b.s[i], c.s[i])*n, max(a.s[i], b.s[i], c.s[i])*n
		light += weights[i].Y * tinted(kLow, sHigh, mm, m.q.Backing[i])
		dark += weights[i].Y * tinted(kHigh, sLow, mm, m.q.Backing[i])
	}
	return light < m.darkest || dark > m.lightest
}

// brightness is the Y of a CIELAB L*, 0 below black.
func brightness(l float64) float64 {
	if l <= 0 {
		return 0
	}
	if f := (l + 16) / 116; f > 6./29 {
		return f * f * f
	}
	return l * 27 / 24389
}

// steepest is the largest S_L of CIEDE2000, at L = 0 or 100.
const steepest = 1.7471

// try reckons one mixture and keeps it if it is among the best.
func (m *matcher) try(set, steps [3]int) {
	xyz, ok := m.mixture(set, steps)
	if !ok {
		return
	}
	lab := xyz.Lab()
	if math.Abs(lab.L-m.q.Target.L) > m.spread {
		return
	}
	d := Difference(m.q.Target, lab)
	if len(m.best) == m.q.Best && d >= m.best[len(m.best)-1].difference {
		return
	}
	for i, f := range m.best { // one recipe a set
		if f.set == set {
			if d < f.difference {
				m.best[i].steps, m.best[i].difference = steps, d
				m.settle()
			}
			return
		}
	}
	m.best = append(m.best, found{set, steps, d})
	m.settle()
}

func (m *matcher) settle() {
	sort.SliceStable(m.best, func(i, j int) bool { return m.best[i].difference < m.best[j].difference })
	if len(m.best) > m.q.Best {
		m.best = m.best[:m.q.Best]
	}
	if len(m.best) == m.q.Best {
		m.spread = m.best[m.q.Best-1].difference * steepest
		m.darkest, m.lightest = brightness(m.q.Target.L-m.spread), brightness(m.q.Target.L+m.spread)
	}
}

// brightFirst are the bands in order of their part in Y; restAfter is what the
// bands from a place on can still add.
var (
	brightFirst = func() (order [Bands]int) {
		for i := range order {
			order[i] = i
		}
		sort.Slice(order[:], func(a, b int) bool { return weights[order[a]].Y > weights[order[b]].Y })
		return order
	}()
	restAfter = func() (rest [Bands + 1]float64) {
		for i := Bands - 1; i >= 0; i-- {
			rest[i] = rest[i+1] + weights[brightFirst[i]].Y
		}
		return rest
	}()
)

// brightBands carry more than nine tenths of Y.
const brightBands = 11

// mixture returns the colour of a film of the steps given, and false as soon
// as its lightness is seen to lie too far from the target's.
func (m *matcher) mixture(set, steps [3]int) (XYZ, bool) {
	var c XYZ
	ticks := [3]*tick{}
	var f [3]float64
	n := 0
	for i, candidate := range set {
		if candidate >= 0 {
			ticks[n], f[n] = &m.ticks[candidate], float64(steps[i])
			n++
		}
	}
	for ; n < 3; n++ {
		ticks[n] = ticks[0] // taken zero times
	}
	mm := float64(m.q.Film)
	for done, i := range brightFirst {
		if done%4 == 3 && (c.Y > m.lightest || c.Y+restAfter[done] < m.darkest) {
			return c, false
		}
		k := clearResin + f[0]*ticks[0].k[i] + f[1]*ticks[1].k[i] + f[2]*ticks[2].k[i]
		s := f[0]*ticks[0].s[i] + f[1]*ticks[1].s[i] + f[2]*ticks[2].s[i]
		r := tinted(k, s, mm, m.q.Backing[i])
		w := &weights[i]
		c.X += w.X * r
		c.Y += w.Y * r
		c.Z += w.Z * r
	}
	return c, true
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

func (m *matcher) recipes(candidates []Candidate) []Recipe {
	out := make([]Recipe, 0, len(m.best))
	for _, f := range m.best {
		var parts []RecipePart
		for i, c := range f.set {
			if c >= 0 {
				parts = append(parts, RecipePart{c, m.q.Load * float64(f.steps[i]) / float64(m.q.Steps)})
			}
		}
		out = append(out, m.q.judge(parts, candidates))
	}
	return out
}

// judge reckons what a recipe comes to.
func (q Query) judge(parts []RecipePart, candidates []Candidate) Recipe {
	doses := make([]Dose, len(parts))
	for i, p := range parts {
		doses[i] = Dose{candidates[p.Candidate].Optics, p.Load}
	}
	film := Cup(doses).Over(q.Backing, q.Film)
	lab := film.Lab()
	return Recipe{Parts: parts, Lab: lab, Film: film, Difference: Difference(q.Target, lab)}
}

// Refine improves a recipe between the steps of the search: the loads move
// freely, within each pigment's limit and at most most altogether, and each of
// extra (a white, a black) is added where it helps.
func Refine(q Query, r Recipe, candidates []Candidate, extra []int, most float64) (Recipe, error) {
	q, err := q.withDefaults()
	if err != nil {
		return r, err
	}
	best := q.descend(r, candidates, most)
	for _, e := range extra {
		if !best.has(e) {
			trial := best
			trial.Parts = append(append([]RecipePart(nil), best.Parts...), RecipePart{e, q.Load / 50})
			trial = q.descend(trial, candidates, most)
			if trial.Difference < best.Difference-worthwhile {
				best = trial
			}
		}
	}
	return best, nil
}

// worthwhile is the least gain in CIEDE2000 that justifies another bottle.
const worthwhile = 0.3

func (r Recipe) has(candidate int) bool {
	for _, p := range r.Parts {
		if p.Candidate == candidate {
			return true
		}
	}
	return false
}

// descend is a pattern search: each load in turn goes up or down by a factor,
// which shrinks when no move helps.
func (q Query) descend(r Recipe, candidates []Candidate, most float64) Recipe {
	best := q.judge(r.Parts, candidates)
	for step := 1.3; step > 1.005; {
		moved := false
		for i := range best.Parts {
			for _, f := range []float64{step, 1 / step} {
				parts := append([]RecipePart(nil), best.Parts...)
				parts[i].Load *= f
				if parts[i].Load > candidates[parts[i].Candidate].Limit || total(parts) > most {
					continue
				}
				if trial := q.judge(parts, candidates); trial.Difference < best.Difference-1e-6 {
					best, moved = trial, true
				}
			}
		}
		if !moved {
			step = math.Sqrt(step)
		}
	}
	return best
}

func total(parts []RecipePart) float64 {
	sum := 0.0
	for _, p := range parts {
		sum += p.Load
	}
	return sum
}
