// Package heat knows what a torch or hot-air pass does to the surface of a
// film.
package heat

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Thermal properties of cured and curing epoxy (from memory): conductivity in
// W/m·K, density in kg/m³ and heat capacity in J/kg·K.
const (
	conductivity = 0.20
	density      = 1100
	capacity     = 1800
)

// Scorch is the surface temperature at which resin discolours, bubbles and
// must be stripped (common practice).
const Scorch units.Temperature = 150

// effusivity is √(kρc) in W·√s/m²K.
var effusivity = math.Sqrt(conductivity * density * capacity)

// Surface returns the surface temperature after a constant flux in kW/m² for
// the dwell in seconds, a rise of 2q√(t/π)/√(kρc) (Carslaw & Jaeger,
// Conduction of Heat in Solids, published).
func Surface(fluxKWPerM2, dwellS float64, start units.Temperature) (units.Temperature, error) {
	if err := check(fluxKWPerM2, start); err != nil {
		return 0, err
	}
	if !(dwellS >= 0) {
		return 0, refusal.New("a dwell cannot be negative")
	}
	return start + units.Temperature(2*fluxKWPerM2*1000*math.Sqrt(dwellS/math.Pi)/effusivity), nil
}

// MaxDwell returns how many seconds one spot may stay under the flux before
// it scorches; 0 when it starts that hot.
func MaxDwell(fluxKWPerM2 float64, start units.Temperature) (float64, error) {
	if err := check(fluxKWPerM2, start); err != nil {
		return 0, err
	}
	rise := math.Max(0, float64(Scorch-start))
	root := rise * effusivity / (2 * fluxKWPerM2 * 1000)
	return math.Pi * root * root, nil
}

// diffusivity is k/(ρc) in m²/s.
const diffusivity = conductivity / (density * capacity)

// InFilm is Surface for a film of thickness h on a ground that takes no heat,
// which is the worst a slow pass can meet: the same law with the heat thrown
// back from the ground, 2q√(at)/k·(ierfc 0 + 2·Σ ierfc(nh/√(at))) (Carslaw &
// Jaeger, ch. III, published). A quick pass never feels the ground.
func InFilm(fluxKWPerM2, dwellS float64, h units.Length, start units.Temperature) (units.Temperature, error) {
	top, err := Surface(fluxKWPerM2, dwellS, start)
	if err != nil || dwellS == 0 {
		return top, err
	}
	if !(h > 0) {
		return 0, refusal.New("the film must be thicker than 0")
	}
	reach := math.Sqrt(diffusivity * dwellS)
	echo := 0.0
	for n := 1.0; ; n++ {
		one := ierfc(n * h.Metres() / reach)
		echo += 2 * one
		if one < 1e-12*(1+echo) {
			break
		}
	}
	rise := float64(top - start)
	return start + units.Temperature(rise*(1+math.Sqrt(math.Pi)*echo)), nil
}

// ierfc is the integral of the complementary error function from x on.
func ierfc(x float64) float64 {
	return math.Exp(-x*x)/math.Sqrt(math.Pi) - x*math.Erfc(x)
}

func check(flux float64, start units.Temperature) error {
	if !(flux > 0) || math.IsInf(flux, 0) {
		return refusal.New("the flux must be positive")
	}
	if !(start >= units.AbsoluteZero) || math.IsInf(float64(start), 0) {
		return refusal.New("the start must be a real temperature")
	}
	return nil
}

// A Pass is one go over a whole board with a flame or hot air.
type Pass struct {
	Dwell   float64 // s over one spot
	Surface units.Temperature
	Slowest units.Length // travel a second at which a spot just does not scorch
	Time    float64      // s for the board at the travel that gives Dwell
	Pause   float64      // s until the surface is back within restRise
}

// restRise is how near the surface must be to the room before it is passed
// over again (common practice: warm to the hand, no more).
const restRise = 10.0

// PassOver calculates a pass over a face whose film lies h thick, with a spot of
// the given width, each place under it for dwell seconds. After the flame has
// gone the surface cools by the same law, superposed (Carslaw & Jaeger):
//
//	ΔT(t) = 2q/(√(kρc)·√π)·(√t − √(t − dwell))
func PassOver(fluxKWPerM2, dwellS float64, spot, h units.Length, face units.Area, start units.Temperature) (Pass,
	error) {
	surface, err := InFilm(fluxKWPerM2, dwellS, h, start)
	if err != nil {
		return Pass{}, err
	}
	most := mostDwell(fluxKWPerM2, h, start)
	if !(spot > 0) || !(face >= 0) || !(dwellS > 0) {
		return Pass{}, refusal.New("a pass needs a spot, a face and a time over each place")
	}
	p := Pass{Dwell: dwellS, Surface: surface}
	if most > 0 {
		p.Slowest = spot / units.Length(most)
	}
	p.Time = float64(face) / float64(spot) / (float64(spot) / dwellS)
	p.Pause = pause(fluxKWPerM2, dwellS)
	return p, nil
}

// mostDwell is how long one spot of a film may stay under the flux; 0 when it
// starts too hot.
func mostDwell(flux float64, h units.Length, start units.Temperature) float64 {
	open, err := MaxDwell(flux, start) // of a ground that takes all heat: the longest
	if err != nil || open == 0 {
		return 0
	}
	return numeric.First(0, open, 1e-6*open, func(s float64) bool {
		t, err := InFilm(flux, s, h, start)
		return err != nil || t >= Scorch
	})
}

func pause(flux, dwell float64) float64 {
	left := func(after float64) float64 {
		return 2 * flux * 1000 / (effusivity * math.Sqrt(math.Pi)) * (math.Sqrt(dwell+after) - math.Sqrt(after))
	}
	lo, hi := 0.0, 1.0
	for left(hi) > restRise && hi < 1e6 {
		hi *= 2
	}
	return numeric.First(lo, hi, 1e-9, func(after float64) bool { return left(after) <= restRise })
}
