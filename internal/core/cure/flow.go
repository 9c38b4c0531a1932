package cure

import (
	"math"

	"gonum.org/v1/gonum/integrate/quad"

	"jevvo/internal/core/units"
)

// Flow returns ∫dt/ν between two minutes in s²/m²: what stands for t/ν in the
// spreading and draining laws of a resin that thickens. Nothing flows after
// gel.
func (c *Clock) Flow(from, to float64, mu25 units.Viscosity, rho units.Density) float64 {
	to = math.Min(to, c.Gel())
	if !(to > from) {
		return 0
	}
	f := func(minute float64) float64 {
		mu := c.Viscosity(minute, mu25).PascalSeconds()
		if math.IsInf(mu, 0) {
			return 0
		}
		return float64(rho) / mu
	}
	// Smooth and falling: pieces of a quarter of the way to gel are ample.
	sum, pieces := 0.0, 4
	step := (to - from) / float64(pieces)
	for i := range pieces {
		a := from + float64(i)*step
		sum += quad.Fixed(f, a, a+step, 12, nil, 0)
	}
	return sum * 60
}
