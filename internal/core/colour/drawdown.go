package colour

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Bounds of what a drawdown tells: a difference of reflectance that a
// photograph or a swatch of eight bits does not hold, and a lightness by which
// the dark side cannot be the lighter one (from memory).
const (
	readTo      = 0.004
	mixedUpBy   = 2.0  // L*
	tooBrightBy = 6.0  // L*
	leastFound  = 1e-6 // reflectance over black too small to tell from none
)

// Drawdown solves K and S of one film from how it is seen over black and over a
// white that is seen as such, at a known thickness (Kubelka 1948, inverted band
// by band):
//
//	a = ½[R + (R₀ − R + R_g)/(R₀·R_g)],  S = arcoth((1 − a·R₀)/(b·R₀))/(bX),  K = S(a − 1)
//
// A band in which the film hides tells K/S only, by R∞; its S is that of the
// bands beside it, and at least what hides.
func Drawdown(overBlack, overWhite, white Spectrum, thick units.Length, film Surface) (Optics, error) {
	if !(thick > 0) || math.IsInf(float64(thick), 0) {
		return Optics{}, refusal.New("a drawdown needs its thickness")
	}
	if overBlack.Lab().L > overWhite.Lab().L+mixedUpBy {
		return Optics{}, refusal.New("the drawdown is darker over white than over black; were the two mixed up?")
	}
	r0, r, rg := film.In(overBlack), film.In(overWhite), film.In(white)
	d := drawn{mm: float64(thick)}
	for i := range r0 {
		if !(rg[i] > 0 && r[i] >= 0 && r0[i] >= 0) || r[i] > 1 || r0[i] > 1 {
			return Optics{}, refusal.New("the reflectance of a drawdown must lie between 0 and 100 %")
		}
		d.band(i, r0[i], r[i], rg[i])
	}
	d.fill()
	if overWhite.Lab().L > film.Out(d.optics.Over(rg, thick)).Lab().L+tooBrightBy {
		return Optics{}, refusal.New("the drawdown is brighter over white than any film on that white can be")
	}
	return d.optics, nil
}

// drawn is a drawdown in the solving.
type drawn struct {
	optics Optics
	mm     float64
	hides  [Bands]bool
	deep   Spectrum // K/S of the bands that hide
}

// band solves one band, or notes that it hides.
func (d *drawn) band(i int, r0, r, rg float64) {
	k, s := &d.optics.K[i], &d.optics.S[i]
	if r-r0 < readTo {
		d.hidden(i, (r+r0)/2)
		return
	}
	if r0 < leastFound {
		*k = math.Max(0, -math.Log(r/rg)/(2*d.mm))
		return
	}
	a := (r + (r0-r+rg)/(r0*rg)) / 2
	if a-1 < 1e-9 { // no absorption: R₀ = SX/(1 + SX)
		*s = r0 / ((1 - r0) * d.mm)
		return
	}
	b := math.Sqrt(a*a - 1)
	x := (1 - a*r0) / (b * r0)
	if x <= 1 { // any thicker film looks the same
		d.hidden(i, (r+r0)/2)
		return
	}
	*s = math.Atanh(1/x) / (b * d.mm)
	*k = *s * (a - 1)
}

func (d *drawn) hidden(i int, r float64) {
	d.hides[i], d.deep[i] = true, absorbed(math.Max(r, leastFound))
}

// fill gives the bands that hide the scattering of those beside them.
func (d *drawn) fill() {
	for i := range d.hides {
		if !d.hides[i] {
			continue
		}
		s := math.Max(d.beside(i), d.least(i))
		d.optics.S[i], d.optics.K[i] = s, s*d.deep[i]
	}
}

// beside is the scattering between the nearest bands that tell theirs.
func (d *drawn) beside(i int) float64 {
	left, right := i-1, i+1
	for left >= 0 && d.hides[left] {
		left--
	}
	for right < Bands && d.hides[right] {
		right++
	}
	switch {
	case left < 0 && right >= Bands:
		return 0
	case left < 0:
		return d.optics.S[right]
	case right >= Bands:
		return d.optics.S[left]
	}
	f := float64(i-left) / float64(right-left)
	return d.optics.S[left]*(1-f) + d.optics.S[right]*f
}

// least is the scattering from which the band of its K/S hides.
func (d *drawn) least(i int) float64 {
	q := d.deep[i]
	return numeric.First(0, 1e4, 1e-6, func(s float64) bool {
		return film(s*q, s, d.mm, ChartWhite)-film(s*q, s, d.mm, ChartBlack) < readTo
	})
}

// A DrawdownAdvice is the film and the load at which a pigment tells most of
// itself: neither hiding nor hardly there.
type DrawdownAdvice struct {
	Film     units.Length
	Load     float64
	Contrast float64 // expected
}

// Percent returns the expected contrast in per cent.
func (a DrawdownAdvice) Percent() float64 { return 100 * a.Contrast }

// Films that are drawn with a spiral or a shim and loads that are weighed with a
// kitchen scale (common practice).
var (
	drawFilms = []units.Length{0.2, 0.1, 0.3, 0.5, 1.0}
	drawLoads = []float64{0.01, 0.02, 0.005, 0.04}
)

// tellsMost is the contrast at which both K and S are known best (from memory:
// half way).
const tellsMost = 0.6

// AdviseDrawdown chooses a film and a load for a pigment that is guessed from
// its swatch, at most limit.
func AdviseDrawdown(full Optics, limit float64) DrawdownAdvice {
	best, off := DrawdownAdvice{Film: drawFilms[0], Load: math.Min(drawLoads[0], limit)}, math.Inf(1)
	for _, load := range drawLoads {
		if load > limit {
			continue
		}
		for _, f := range drawFilms {
			c := Cup([]Dose{{full, load}}).Contrast(f)
			if d := math.Abs(c - tellsMost); d < off-0.05 { // the first that is as good: thin and weak
				best, off = DrawdownAdvice{f, load, c}, d
			}
		}
	}
	return best
}
