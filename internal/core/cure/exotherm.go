package cure

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Constants of resin that heats itself (from memory).
const (
	reactionHeat = 250_000.0 // ΔH in J/kg
	heatCapacity = 1900.0    // c_p in J/kg·K
	heatLoss     = 9.0       // U in W/m²K
	bulkDensity  = 1100.0    // kg/m³
)

// exotherm is resin that warms by its own cure and sheds heat to the room:
//
//	dT/dt = warms·dα/dt − cools·(T − T_room)
type exotherm struct {
	kinetics Kinetics
	warms    float64 // K from nothing to fully cured, if no heat were lost
	cools    float64 // 1/s
	start    units.Temperature
	room     func(seconds float64) units.Temperature
}

// longest ends a forecast that goes nowhere (a cold room), in seconds.
const longest = 400 * 24 * 3600

// follow integrates conversion (component 0) and temperature (1) until watch
// has seen enough.
func (e exotherm) follow(watch func(numeric.Step) bool) error {
	flow := func(s float64, y, dy []float64) {
		alpha, temp := math.Min(y[0], 1), units.Temperature(y[1])
		dy[0] = RateFactor(temp) * e.kinetics.K * math.Pow(1-alpha, e.kinetics.N)
		dy[1] = e.warms*dy[0] - e.cools*float64(temp-e.room(s))
	}
	return numeric.Integrate(flow, 0, []float64{0, float64(e.start)}, longest, 1e-8, watch)
}

// within refuses a temperature at which nobody pours.
func within(ts ...units.Temperature) error {
	for _, t := range ts {
		if !(t >= coldestRoom && t <= 100) {
			return refusal.New("resin and room are between −20 and 100 °C")
		}
	}
	return nil
}

// crest follows how warm resin gets and when.
type crest struct {
	top units.Temperature
	at  float64 // minutes
}

func (c *crest) observe(s numeric.Step) {
	if at, top := s.Summit(1); top > float64(c.top) {
		c.top, c.at = units.Temperature(top), at/60
	}
}
