package cure

import (
	"math"

	"jevvo/internal/core/units"
)

// standStep is the step in seconds along which a standing batch is followed,
// and longestStand where that ends: a batch that keeps for half a day is no
// worry of a painter's.
const (
	standStep    = 30.0
	longestStand = 12 * 3600.0
)

// A Standing is the mass that stands together until a minute after mixing began.
type Standing struct {
	Mass  units.Mass
	Until float64
}

// Keeps returns for how many minutes after its mixing began resin can be poured that
// stands in one vessel after another, in a jug until it is divided, in a cup, as the
// rest of it when some was poured: until it has thickened threefold or is 50 °C warm,
// whichever comes first. It is the balance of [Kinetics.InCup], the conversion and the
// warmth carried on from one to the next; the last holds for good.
//
// It is integrated by the midpoint rule at steps of half a minute, within 1 % of
// InCup.
func (k Kinetics) Keeps(start, room units.Temperature, stands ...Standing) float64 {
	if start >= useByTemperature {
		return 0
	}
	alpha, temp := 0.0, float64(start)
	limit := useByConversion
	rate := func(a, t float64) float64 {
		return RateFactor(units.Temperature(t)) * k.K * math.Pow(1-math.Min(a, 1), k.N)
	}
	in := 0
	cools := shed(stands[in].Mass)
	for s := 0.0; s < longestStand; s += standStep {
		for in < len(stands)-1 && s >= stands[in].Until*60 {
			in++
			cools = shed(stands[in].Mass)
		}
		grow := func(a, t float64) (da, dt float64) {
			da = rate(a, t)
			return da, reactionHeat/heatCapacity*da - cools*(t-float64(room))
		}
		da, dt := grow(alpha, temp)
		da, dt = grow(alpha+da*standStep/2, temp+dt*standStep/2)
		next, warm := alpha+da*standStep, temp+dt*standStep
		if next >= limit || warm >= float64(useByTemperature) {
			part := math.Min((limit-alpha)/(next-alpha), 1)
			if warm >= float64(useByTemperature) && warm > temp {
				part = math.Min(part, (float64(useByTemperature)-temp)/(warm-temp))
			}
			return (s + math.Max(0, part)*standStep) / 60
		}
		alpha, temp = next, warm
	}
	return longestStand / 60
}

var useByConversion = ConversionAt(useByThickening)

// shed is how fast a batch of a mass in a cup as high as its radius loses its
// warmth, in 1/s.
func shed(m units.Mass) float64 {
	kg := math.Max(float64(m), 1) / 1000
	radius := math.Cbrt(kg / bulkDensity / math.Pi)
	return heatLoss * 4 * math.Pi * radius * radius / (kg * heatCapacity)
}
