package film

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// The similarity constants of spreading on a dry, level board (Huppert 1982,
// published), from the volume under the profile h ∝ (1 − (x/X)²)^⅓. A poured
// line runs both ways with half its volume; Huppert's 1.411 is for a current
// that runs one way with all of it.
var lineConstant = math.Pow(10./3, 0.2) / math.Pow(beta(0.5, 4./3), 0.6) // 0.931

const puddleConstant = 0.894

// beta is the complete beta function.
func beta(a, b float64) float64 { return math.Gamma(a) * math.Gamma(b) / math.Gamma(a+b) }

// LineHalfWidth returns how far a poured line of volume v and length has run
// to each side after t seconds: x = 0.931·(g q³/3ν)^⅕·t^⅕, q = v/length.
func LineHalfWidth(v units.Volume, length units.Length, l Liquid, seconds float64) (units.Length, error) {
	if !positive(float64(l.Viscosity), float64(l.Density)) {
		return 0, errLiquid
	}
	return LineAfter(v, length, seconds/l.kinematic())
}

// LineAfter is LineHalfWidth for a resin that thickens, flow = ∫dt/ν.
func LineAfter(v units.Volume, length units.Length, flow float64) (units.Length, error) {
	if !positive(float64(v), float64(length)) || !(flow >= 0) {
		return 0, refusal.New("volume and length must be positive and time not negative")
	}
	q := float64(v) * 1e-6 / length.Metres()
	return units.Length(1000 * lineConstant * math.Pow(Gravity*q*q*q/3*flow, 0.2)), nil
}

// PuddleRadius returns how far a puddle of volume v has run after t seconds:
// r = 0.894·(g V³/3ν)^⅛·t^⅛.
func PuddleRadius(v units.Volume, l Liquid, seconds float64) (units.Length, error) {
	if !positive(float64(l.Viscosity), float64(l.Density)) {
		return 0, errLiquid
	}
	return PuddleAfter(v, seconds/l.kinematic())
}

// PuddleAfter is PuddleRadius for a resin that thickens, flow = ∫dt/ν.
func PuddleAfter(v units.Volume, flow float64) (units.Length, error) {
	if !positive(float64(v)) || !(flow >= 0) {
		return 0, refusal.New("a volume must be positive and time not negative")
	}
	m3 := float64(v) * 1e-6
	return units.Length(1000 * puddleConstant * math.Pow(Gravity*m3*m3*m3/3*flow, 0.125)), nil
}
