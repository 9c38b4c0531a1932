package cure

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// DewPoint returns the temperature at which air of a relative humidity (0 to 1)
// gives off water, by Magnus with the constants of the World Meteorological
// Organization (published):
//
//	γ = ln(RH) + 17.62·T/(243.12 + T), T_d = 243.12·γ/(17.62 − γ)
func DewPoint(t units.Temperature, humidity float64) (units.Temperature, error) {
	if !(t > -45 && t <= 60) {
		return 0, refusal.New("the formula holds from −45 to 60 °C")
	}
	if !(humidity > 0 && humidity <= 1) {
		return 0, refusal.New("relative humidity is above 0 and up to 100 %")
	}
	const b, c = 17.62, 243.12
	g := math.Log(humidity) + b*float64(t)/(c+float64(t))
	return units.Temperature(c * g / (b - g)), nil
}

// BlushMargin is how near the dew point a board may come before the hardener
// draws water and the surface goes waxy or milky, in K (common practice).
const BlushMargin = 3.0
