package cure

import (
	"math"

	"jevvo/internal/core/units"
)

// A Pass is heat brought to a film from above, by a flame or by hot air.
type Pass struct {
	Minute float64 // after mixing began
	Heat   float64 // kJ/m² that the film takes up
}

// Excess is how much warmer a film is than its room after passes, in K: each warms it
// by q/(ρ·c_p·h), which leaves by its faces as in [Kinetics.InSlab],
//
//	ΔT(t) = Σ q/(ρ·c_p·h)·exp(−(t − t_i)/τ),  τ = ρ·c_p·h/(n·U).
func Excess(passes []Pass, depth units.Length, faces int, minute float64) units.Temperature {
	sum, tau := 0.0, cooling(depth, faces)
	for _, p := range passes {
		if since := minute - p.Minute; since >= 0 {
			sum += rise(p.Heat, depth) * math.Exp(-since/tau)
		}
	}
	return units.Temperature(sum)
}

// Hurried is by how many minutes of its room passes, in the order of their minutes,
// have aged a film until a minute: ∫(r(T + ΔT)/r(T) − 1)dt, r the rate by its
// temperature. From one pass to the next it is integrated by the midpoint rule at
// steps of no more than a tenth of the time in which the film cools.
func Hurried(passes []Pass, depth units.Length, faces int, room Room, minute float64) float64 {
	sum, longest := 0.0, cooling(depth, faces)/10
	for i, p := range passes {
		until := minute
		if i+1 < len(passes) {
			until = math.Min(minute, passes[i+1].Minute)
		}
		n := math.Ceil((until - p.Minute) / longest)
		for k := 0.0; k < n; k++ {
			wide := (until - p.Minute) / n
			at := p.Minute + (k+0.5)*wide
			r := room.At(at)
			sum += wide * (RateFactor(r+Excess(passes, depth, faces, at))/RateFactor(r) - 1)
		}
	}
	return sum
}

// rise is by how many kelvins heat in kJ/m² warms a film.
func rise(heat float64, depth units.Length) float64 {
	return 1000 * heat / (bulkDensity * heatCapacity * depth.Metres())
}

// cooling is in how many minutes a film loses all but a third of its warmth.
func cooling(depth units.Length, faces int) float64 {
	return bulkDensity * heatCapacity * depth.Metres() / (float64(faces) * heatLoss) / 60
}
