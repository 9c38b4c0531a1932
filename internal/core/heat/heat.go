// Package heat knows what a torch or hot-air pass does to the surface of a
// film.
package heat

import (
	"errors"
	"math"

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
		return 0, errors.New("a dwell cannot be negative")
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

func check(flux float64, start units.Temperature) error {
	if !(flux > 0) || math.IsInf(flux, 0) {
		return errors.New("the flux must be positive")
	}
	if !(start >= units.AbsoluteZero) || math.IsInf(float64(start), 0) {
		return errors.New("the start must be a real temperature")
	}
	return nil
}
