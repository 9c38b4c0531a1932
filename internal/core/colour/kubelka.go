package colour

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// film returns the reflectance of one band over a backing. It is Kubelka's
// (1948, published)
//
//	R = [1 − R_g(a − b·coth bSX)]/[a − R_g + b·coth bSX]
//
// with both sides multiplied by S, so that it also holds without scattering
// (R_g·e^{−2KX}) and without absorption.
func film(k, s, mm, backing float64) float64 {
	sum, root := k+s, math.Sqrt(k*k+2*k*s)
	c := rootCoth(root, mm)
	if math.IsInf(c, 1) { // a film of no thickness shows its backing
		return backing
	}
	return (s - backing*(sum-c)) / (sum - backing*s + c)
}

// rootCoth returns b·coth(bX), with its limit 1/X for small b.
func rootCoth(b, x float64) float64 {
	if b*x < 1e-6 {
		return 1/x + b*b*x/3
	}
	return b / math.Tanh(b*x)
}

// Film returns the reflectance of a film with absorption k and scattering s in
// 1/mm over a backing, band by band. The slices must be of one length; any
// number of bands will do.
func Film(k, s, backing []float64, thick units.Length) ([]float64, error) {
	if len(k) == 0 || len(k) != len(s) || len(k) != len(backing) {
		return nil, refusal.New("absorption, scattering and backing need the same number of bands")
	}
	if !(thick >= 0) || math.IsInf(float64(thick), 0) {
		return nil, refusal.New("a film's thickness cannot be negative")
	}
	out := make([]float64, len(k))
	for i := range k {
		if !(k[i] >= 0) || !(s[i] >= 0) || math.IsInf(k[i]+s[i], 0) {
			return nil, refusal.New("absorption and scattering cannot be negative")
		}
		if !(backing[i] >= 0 && backing[i] <= 1) {
			return nil, refusal.New("a backing reflects between 0 and 1")
		}
		out[i] = film(k[i], s[i], float64(thick), backing[i])
	}
	return out, nil
}

// An Optics holds the optical constants of a pigmented resin: K and S in 1/mm.
type Optics struct{ K, S Spectrum }

// Add returns the optics with c parts of another's K and S added: in a
// mixture both are sums over the pigments (Duncan 1940, published).
func (o Optics) Add(p Optics, c float64) Optics {
	return Optics{o.K.Plus(p.K, c), o.S.Plus(p.S, c)}
}

// Over returns the reflectance of a film of these optics over a backing.
func (o Optics) Over(backing Spectrum, thick units.Length) Spectrum {
	var out Spectrum
	for i := range out {
		out[i] = film(o.K[i], o.S[i], float64(thick), backing[i])
	}
	return out
}

// The backings of a hiding chart: black, and white of Y = 80 % (ISO 6504-3,
// ASTM D2805, published).
const (
	ChartBlack = 0.0
	ChartWhite = 0.80
)

// Contrast returns Y over black by Y over white inside a film, 1 for one that
// hides; [Surface.Contrast] is what is seen.
func (o Optics) Contrast(thick units.Length) float64 {
	return Surface{}.Contrast(o, thick)
}

// ratio is the contrast ratio; a film that reflects nothing hides all.
func ratio(black, white float64) float64 {
	if white <= 0 {
		return 1
	}
	return black / white
}

// Opacity returns a film's reflectance over the chart's black and white and
// its contrast ratio: by Y when there are 36 bands, by the plain mean
// otherwise.
func Opacity(k, s []float64, thick units.Length) (black, white []float64, contrast float64, err error) {
	chart := func(v float64) []float64 {
		b := make([]float64, len(k))
		for i := range b {
			b[i] = v
		}
		return b
	}
	if black, err = Film(k, s, chart(ChartBlack), thick); err != nil {
		return nil, nil, 0, err
	}
	if white, err = Film(k, s, chart(ChartWhite), thick); err != nil {
		return nil, nil, 0, err
	}
	return black, white, ratio(bright(black), bright(white)), nil
}

func bright(r []float64) float64 {
	if len(r) == Bands {
		return Spectrum(r).Luminance()
	}
	sum := 0.0
	for _, v := range r {
		sum += v
	}
	return sum / float64(len(r))
}

// Hiding is a contrast ratio in words.
type Hiding string

// The words and where they begin (common practice; complete hiding from 0.98 by
// ISO 6504-3).
const (
	Transparent  Hiding = "transparent"
	Translucent  Hiding = "translucent"   // from 0.50
	NearlyOpaque Hiding = "nearly opaque" // from 0.90
	Opaque       Hiding = "opaque"        // from 0.98
)

// HidingOf names a contrast ratio.
func HidingOf(contrast float64) Hiding {
	switch {
	case contrast >= 0.98:
		return Opaque
	case contrast >= 0.90:
		return NearlyOpaque
	case contrast >= 0.50:
		return Translucent
	}
	return Transparent
}
