package colour

import (
	"errors"
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/units"
)

// Bounds of a strength that is taken from one colour: beyond them something else is
// wrong.
const (
	weakest   = 0.3
	strongest = 3.0
)

// ErrNoStrength says that a colour does not tell how strong a pigment is.
var ErrNoStrength = errors.New(
	"this colour does not show the strength: it covers at any strength, or no other comes closer")

// Strength is by how much stronger a pigment is than its optics say, by one cured
// colour of a film over a backing inside the resin: the factor on K and S with which
// the film, seen through its surface, comes nearest to it (CIEDE2000, golden section
// on the logarithm). It returns the differences with the optics as they are and with
// the factor.
func Strength(o Optics, thick units.Length, backing Spectrum, s Surface, want Lab) (factor, before, after float64,
	err error) {
	apart := func(log float64) float64 {
		return Difference(s.Out((Optics{}).Add(o, math.Exp(log)).Over(backing, thick)).Lab(), want)
	}
	before = apart(0)
	best, _ := numeric.Highest(func(log float64) float64 { return -apart(log) }, math.Log(weakest), math.Log(strongest),
		1e-4)
	factor, after = math.Exp(best), apart(best)
	const nearer, flat = 0.3, 0.05
	if after > before-nearer || math.Abs(apart(best+0.2)-after) < flat || factor < weakest*1.02 ||
		factor > strongest*0.98 {
		return 1, before, before, ErrNoStrength
	}
	return factor, before, after, nil
}
