package colour

import (
	"math"

	"jevvo/internal/core/units"
)

// A Surface is the effect of the resin–air interface on light (Saunderson
// 1942, published): of what falls on it First is thrown back, of what comes from
// inside Within stays inside, and the eye meets the share Seen of the first
// reflection. A swatch, a photograph and a film looked at are R; Kubelka and
// Munk's reflectance is inside:
//
//	R = Seen·k₁ + (1 − k₁)(1 − k₂)R_i/(1 − k₂R_i)
//
// The zero Surface does nothing.
type Surface struct{ First, Within, Seen float64 }

// Reflections of resin against air (from memory).
const (
	firstReflection = 0.04
	innerReflection = 0.60
)

// Finish returns the surface of a film by its gloss: a mirror (1) throws the
// first reflection aside, where nobody looks; a dead matt one (0) scatters all of
// it into the eye, and no black is blacker than 4 %.
func Finish(gloss float64) Surface {
	return Surface{firstReflection, innerReflection, 1 - clampUnit(gloss)}
}

func (s Surface) out(inside float64) float64 {
	return s.Seen*s.First + (1-s.First)*(1-s.Within)*inside/(1-s.Within*inside)
}

func (s Surface) in(seen float64) float64 {
	r := math.Max(0, seen-s.Seen*s.First)
	return math.Min(1, r/((1-s.First)*(1-s.Within)+s.Within*r))
}

// Out returns the reflectance that is seen of one inside.
func (s Surface) Out(inside Spectrum) Spectrum {
	for i, r := range inside {
		inside[i] = s.out(r)
	}
	return inside
}

// In returns the reflectance inside of one that is seen.
func (s Surface) In(seen Spectrum) Spectrum {
	for i, r := range seen {
		seen[i] = s.in(r)
	}
	return seen
}

// Contrast returns Y over the chart's black by Y over its white, as they are
// seen; 1 for a film that hides.
func (s Surface) Contrast(o Optics, thick units.Length) float64 {
	over := func(chart float64) float64 { return s.Out(o.Over(Flat(s.in(chart)), thick)).Luminance() }
	return ratio(over(ChartBlack), over(ChartWhite))
}
