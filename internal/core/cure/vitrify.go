package cure

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Glass is how a resin's glass transition rises with its cure (DiBenedetto
// 1987, published):
//
//	T_g = T_g0 + (T_g∞ − T_g0)·λα/(1 − (1 − λ)α)
type Glass struct {
	Fresh, Full units.Temperature // T_g0 and T_g∞
	Lambda      float64
}

// DefaultGlass is that of a usual amine-cured epoxy (from memory).
var DefaultGlass = Glass{Fresh: -45, Full: 70, Lambda: 0.45}

// Above is how far its glass transition rises over the temperature it cures at
// before the cure stops, in K (from memory: 10 to 30). At 15 K a resin of
// [DefaultGlass] would never be cured in the 25 °C of its own sheet, and at 25 K
// it just is in the 20 °C of most studios.
const Above = 25.0

// Check returns what is wrong with the glass.
func (g Glass) Check() error {
	if !(g.Lambda > 0 && g.Lambda <= 1) || !(g.Full > g.Fresh) || !(g.Fresh > units.AbsoluteZero) || g.Full > 300 {
		return refusal.New("the factor of the glass transition must lie between 0 and 1")
	}
	return nil
}

// At returns the glass transition at a conversion.
func (g Glass) At(alpha float64) units.Temperature {
	return g.Fresh + (g.Full-g.Fresh)*units.Temperature(g.Lambda*alpha/(1-(1-g.Lambda)*alpha))
}

// Stops returns the conversion at which the cure stops at a temperature, 1 for
// one that goes to its end.
func (g Glass) Stops(t units.Temperature) float64 {
	part := (float64(t) + Above - float64(g.Fresh)) / float64(g.Full-g.Fresh)
	if part >= 1 {
		return 1
	}
	if part <= 0 {
		return 0
	}
	return part / (g.Lambda + part*(1-g.Lambda))
}

// Warm returns the least temperature at which a conversion is reached.
func (g Glass) Warm(alpha float64) units.Temperature { return g.At(alpha) - Above }

// Reach is whether a room lets the cure come so far, and what warming does.
type Reach struct {
	Comes bool
	Stops float64           // conversion the room allows
	Warm  units.Temperature // needed for it
	Hours float64           // at Warm, from where the room leaves it
}

// Reaches says whether a resin comes to a conversion in a room that is never
// warmer than the temperature, and what it takes where it does not.
func (k Kinetics) Reaches(alpha float64, g Glass, room units.Temperature) Reach {
	r := Reach{Stops: g.Stops(room)}
	if r.Stops >= alpha {
		r.Comes = true
		return r
	}
	r.Warm = units.Temperature(math.Ceil(float64(g.Warm(alpha)) - 1e-9))
	r.Hours = (k.Seconds(alpha) - k.Seconds(r.Stops)) / RateFactor(r.Warm) / 3600
	return r
}
