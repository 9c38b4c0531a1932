package cure

import (
	"errors"
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/units"
)

// Constants of a lot that heats itself in the cup (from memory).
const (
	reactionHeat = 250_000.0 // ΔH in J/kg
	heatCapacity = 1900.0    // J/kg·K
	heatLoss     = 9.0       // U in W/m²K
	cupDensity   = 1100.0    // kg/m³

	useByThickening                    = 3.0
	useByTemperature units.Temperature = 50
)

// CupForecast is what a lot left in its cup will do, in minutes after the
// parts met.
type CupForecast struct {
	UseBy  float64 // thickened threefold or 50 °C, whichever comes first
	Gel    float64
	Peak   units.Temperature
	PeakAt float64
}

// maxCupSeconds ends a forecast that goes nowhere (a cold room).
const maxCupSeconds = 400 * 24 * 3600

// InCup follows a lot of mass m in a cup as high as its radius (A = 4πr²):
//
//	m·c_p·dT/dt = m·ΔH·dα/dt − U·A·(T − T_room)
func (k Kinetics) InCup(m units.Mass, start, room units.Temperature) (CupForecast, error) {
	if !(m > 0) || m > 1e6 {
		return CupForecast{}, errors.New("a lot weighs between nothing and a tonne")
	}
	for _, t := range []units.Temperature{start, room} {
		if !(t >= coldestRoom && t <= 100) {
			return CupForecast{}, errors.New("cup and room are between −20 and 100 °C")
		}
	}
	kg := float64(m) / 1000
	radius := math.Cbrt(kg / cupDensity / math.Pi)
	cooling := heatLoss * 4 * math.Pi * radius * radius / (kg * heatCapacity)
	flow := func(_ float64, y, dy []float64) {
		alpha, temp := math.Min(y[0], 1), units.Temperature(y[1])
		dy[0] = RateFactor(temp) * k.K * math.Pow(1-alpha, k.N)
		dy[1] = reactionHeat/heatCapacity*dy[0] - cooling*float64(temp-room)
	}
	useAlpha := ConversionAt(useByThickening)
	f := CupForecast{UseBy: math.NaN(), Gel: math.NaN(), Peak: start}
	if start >= useByTemperature {
		f.UseBy = 0
	}
	watch := func(s numeric.Step) bool {
		if math.IsNaN(f.UseBy) && (s.To[0] >= useAlpha || s.To[1] >= float64(useByTemperature)) {
			f.UseBy = math.Min(s.Crossing(0, useAlpha), s.Crossing(1, float64(useByTemperature))) / 60
		}
		if math.IsNaN(f.Gel) && s.To[0] >= GelPoint {
			f.Gel = s.Crossing(0, GelPoint) / 60
		}
		if at, top := s.Summit(1); top > float64(f.Peak) {
			f.Peak, f.PeakAt = units.Temperature(top), at/60
		}
		cooled := s.To[1] < float64(f.Peak)-0.5 || s.To[0] > 0.95
		return math.IsNaN(f.Gel) || math.IsNaN(f.UseBy) || !cooled
	}
	if err := numeric.Integrate(flow, 0, []float64{0, float64(start)}, maxCupSeconds, 1e-8, watch); err != nil {
		return CupForecast{}, err
	}
	if math.IsNaN(f.UseBy) || math.IsNaN(f.Gel) {
		return CupForecast{}, errors.New("this lot does not gel within a year")
	}
	return f, nil
}
