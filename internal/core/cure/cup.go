package cure

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A batch in its cup is used by whichever comes first (common practice).
const (
	useByThickening                    = 3.0
	useByTemperature units.Temperature = 50
)

// CupForecast is the forecast of a batch left in its cup, in minutes after
// mixing began.
type CupForecast struct {
	UseBy  float64 // thickened threefold or 50 °C, whichever comes first
	Gel    float64
	Peak   units.Temperature
	PeakAt float64
}

// InCup follows a batch of mass m in a cup as high as its radius (A = 4πr²):
//
//	m·c_p·dT/dt = m·ΔH·dα/dt − U·A·(T − T_room)
func (k Kinetics) InCup(m units.Mass, start, room units.Temperature) (CupForecast, error) {
	if !(m > 0) || m > 1e6 {
		return CupForecast{}, refusal.New("a batch must weigh more than 0 and at most 1000 kg")
	}
	if err := within(start, room); err != nil {
		return CupForecast{}, err
	}
	kg := float64(m) / 1000
	radius := math.Cbrt(kg / bulkDensity / math.Pi)
	cup := exotherm{kinetics: k, warms: reactionHeat / heatCapacity,
		cools: heatLoss * 4 * math.Pi * radius * radius / (kg * heatCapacity),
		start: start, room: func(float64) units.Temperature { return room }}
	useAlpha := ConversionAt(useByThickening)
	f := CupForecast{UseBy: math.NaN(), Gel: math.NaN()}
	if start >= useByTemperature {
		f.UseBy = 0
	}
	peak := crest{top: start}
	err := cup.follow(func(s numeric.Step) bool {
		if math.IsNaN(f.UseBy) && (s.To[0] >= useAlpha || s.To[1] >= float64(useByTemperature)) {
			f.UseBy = math.Min(s.Crossing(0, useAlpha), s.Crossing(1, float64(useByTemperature))) / 60
		}
		if math.IsNaN(f.Gel) && s.To[0] >= GelPoint {
			f.Gel = s.Crossing(0, GelPoint) / 60
		}
		peak.observe(s)
		cooled := s.To[1] < float64(peak.top)-0.5 || s.To[0] > 0.95
		return math.IsNaN(f.Gel) || math.IsNaN(f.UseBy) || !cooled
	})
	if err != nil {
		return CupForecast{}, err
	}
	if math.IsNaN(f.UseBy) || math.IsNaN(f.Gel) {
		return CupForecast{}, refusal.New("this batch does not gel within a year")
	}
	f.Peak, f.PeakAt = peak.top, peak.at
	return f, nil
}
