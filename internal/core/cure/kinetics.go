// Package cure is the resin clock: how far the cure has come, how thick the
// resin is, and which moves work when.
//
// Two numbers of a product sheet calibrate it: the film working time, when
// the resin has thickened fivefold, and the hard time, when four fifths of
// the cure are done, both at 25 °C.
//
//	k, err := cure.Calibrate(45, 24)          // minutes, hours
//	clock := cure.NewClock(k, cure.Constant(21))
//	tape := clock.Window(cure.SoftSet)        // minutes after mixing began
//
// The kinetics are those of Kamal & Sourour (1973) with k₂ = 0, so that the
// cure depends on temperature only through an equivalent time at 25 °C: along
// any room curve that is one integral, and everything else is closed form.
package cure

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Constants of the model.
const (
	gasConstant = 8.31446261815324 // J/mol·K, exact: k·N_A of the SI (BIPM, published; the digits are the product)
	activation  = 50_000           // E in J/mol, typical of amine-cured epoxy (from memory)
	reference   = 298.15           // T₀ in K
	// GelPoint is α at gel of a stoichiometric diepoxide and tetrafunctional
	// amine, 1/√((2−1)(4−1)) (Flory–Stockmayer, published).
	GelPoint   = 0.5773502691896258
	thickenC1  = 2.5  // Castro & Macosko exponents (from memory)
	thickenC2  = 1.0  //
	flowFactor = 6500 // K, temperature dependence of fresh viscosity (from memory)

	workingThickening = 5.0  // c at the sheet's working time
	HardAlpha         = 0.80 // α at the sheet's hard time
	HeatAlpha         = 0.96 // α at which hot cups leave no ring
)

// Kinetics are the calibrated constants of one product:
// dα/dt = f(T)·K·(1 − α)^N.
type Kinetics struct {
	K float64 // 1/s at 25 °C
	N float64
}

// ErrSheet is returned when no kinetics fit the two times of a data sheet.
var ErrSheet = refusal.New("the hard time must be more than 3.2 times and less than 100 000 times the working time")

// Calibrate fits K and N so that the resin has thickened fivefold at the
// working time and reached α = 0.80 at the hard time, both at 25 °C.
func Calibrate(workingMinutes, hardHours float64) (Kinetics, error) {
	if !(workingMinutes > 0) || !(hardHours > 0) || math.IsInf(workingMinutes, 0) || math.IsInf(hardHours, 0) {
		return Kinetics{}, refusal.New("working and hard time must be positive")
	}
	tw, th := workingMinutes*60, hardHours*3600
	aw := ConversionAt(workingThickening)
	// (n−1)kt = (1−α)^{1−n} − 1: the quotient of both times fixes n.
	quotient := func(m float64) float64 { return grown(m, HardAlpha) / grown(m, aw) }
	const lowest, highest = -1, 8 // N from 0 to 9
	want := th / tw
	if want <= quotient(lowest) || want >= quotient(highest) {
		return Kinetics{}, ErrSheet
	}
	m := numeric.Root(func(m float64) float64 { return quotient(m) - want }, lowest, highest)
	return Kinetics{K: grown(m, aw) / tw, N: m + 1}, nil
}

// grown returns ((1−α)^{−m} − 1)/m, that is k·t, with its limit at m = 0.
func grown(m, alpha float64) float64 {
	l := -math.Log1p(-alpha)
	if math.Abs(m*l) < 1e-9 {
		return l
	}
	return math.Expm1(m*l) / m
}

// Conversion returns α after an equivalent time of s seconds at 25 °C:
// 1 − (1 + (n−1)ks)^{−1/(n−1)}.
func (k Kinetics) Conversion(s float64) float64 {
	m, x := k.N-1, k.K*s
	if math.Abs(m) < 1e-9 {
		return -math.Expm1(-x)
	}
	if 1+m*x <= 0 {
		return 1 // n < 1 finishes in finite time
	}
	return -math.Expm1(-math.Log1p(m*x) / m)
}

// Seconds returns the equivalent time at 25 °C at which α is reached.
func (k Kinetics) Seconds(alpha float64) float64 {
	return grown(k.N-1, alpha) / k.K
}

// Thickening returns c = μ/μ_fresh at conversion α (Castro & Macosko 1982,
// published), +Inf from gel on.
func Thickening(alpha float64) float64 {
	if alpha >= GelPoint {
		return math.Inf(1)
	}
	return math.Pow(GelPoint/(GelPoint-alpha), thickenC1+thickenC2*alpha)
}

// ConversionAt returns the α at which the resin has thickened c-fold.
func ConversionAt(c float64) float64 {
	if c <= 1 {
		return 0
	}
	return numeric.Root(func(a float64) float64 { return Thickening(a) - c }, 0, GelPoint*(1-1e-12))
}

// RateFactor returns how much faster the cure runs at t than at 25 °C.
func RateFactor(t units.Temperature) float64 {
	return math.Exp(-activation / gasConstant * (1/t.Kelvin() - 1/reference))
}

// ViscosityFactor returns fresh viscosity at t over that at 25 °C.
func ViscosityFactor(t units.Temperature) float64 {
	return math.Exp(flowFactor * (1/t.Kelvin() - 1/reference))
}
