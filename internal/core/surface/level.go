package surface

import (
	"math"

	"jevvo/internal/core/film"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Tilt is a pair of readings of a level laid on the board. Positive along
// means the east (right) side is high, positive across the north (far) side.
type Tilt struct{ Along, Across units.Angle }

// Lie is the effect of a tilt on a film.
type Lie struct {
	DropAlong   units.Length // east edge above west edge; L·tan θ
	DropAcross  units.Length // north edge above south edge
	DriftMMPerS float64      // mean film speed down the steepest line
	Shims       Shims
}

// Shims are the heights to put under each support, none negative and the
// highest corner with none.
type Shims struct{ NE, NW, SE, SW units.Length }

// maxTilt is where small-board levelling stops making sense.
const maxTilt units.Angle = 45

// Level returns what tilt t does to a film on a board of width w and height
// h: the film's drop over each side, the drift of an undammed film
// ρ·g·sin θ·h²/(3μ) (Nusselt 1916, published) and the shims that cure it.
func Level(w, h units.Length, t Tilt, thick units.Length, mu units.Viscosity, rho units.Density) (Lie, error) {
	switch {
	case !(w > 0) || !(h > 0):
		return Lie{}, refusal.New("the board needs a width and a height")
	case !(thick >= 0), !(mu > 0), !(rho > 0):
		return Lie{}, refusal.New("film, viscosity and density must be positive")
	case !(math.Abs(float64(t.Along)) <= float64(maxTilt)), !(math.Abs(float64(t.Across)) <= float64(maxTilt)):
		return Lie{}, refusal.New("a level reads at most 45°")
	}
	rise := func(x, y float64) float64 { return x*float64(w)*t.Along.Tan() + y*float64(h)*t.Across.Tan() }
	ne, nw, se, sw := rise(1, 1), rise(0, 1), rise(1, 0), rise(0, 0)
	top := math.Max(math.Max(ne, nw), math.Max(se, sw))
	theta := math.Atan(math.Hypot(t.Along.Tan(), t.Across.Tan()))
	hm := thick.Metres()
	return Lie{
		DropAlong:   units.Length(rise(1, 0)),
		DropAcross:  units.Length(rise(0, 1)),
		DriftMMPerS: 1000 * float64(rho) * film.Gravity * math.Sin(theta) * hm * hm / (3 * mu.PascalSeconds()),
		Shims:       Shims{units.Length(top - ne), units.Length(top - nw), units.Length(top - se), units.Length(top - sw)},
	}, nil
}

// Allowed is the share of the film by which its thickness may differ across
// the board before the low side looks darker (common practice).
const Allowed = 0.20

// WorstDrop returns the largest height difference between two corners.
func (l Lie) WorstDrop() units.Length {
	return units.Length(math.Abs(float64(l.DropAlong)) + math.Abs(float64(l.DropAcross)))
}

// LevelEnough reports whether a film on this lie differs by no more than the
// allowed share of its thickness.
func (l Lie) LevelEnough(thick units.Length) bool {
	return float64(l.WorstDrop()) <= Allowed*float64(thick)
}
