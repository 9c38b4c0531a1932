// Package film answers how a poured film behaves: how thick it can stand, how
// far a line or a puddle runs, how fast marks level, what stays on a side,
// what sinks, and whether cells will form.
//
// All formulas are for slow viscous flow. Where a resin thickens, time over
// viscosity t/ν is replaced by the integral ∫dt/ν(t) along the clock; the
// functions here take a constant viscosity.
package film

import (
	"errors"
	"math"

	"jevvo/internal/core/units"
)

// Gravity is the standard acceleration in m/s² (ISO 80000-3, published).
const Gravity = 9.80665

// A Liquid is what the formulas need of a resin. Surface tension is in mN/m.
type Liquid struct {
	Viscosity      units.Viscosity
	Density        units.Density
	SurfaceTension float64
}

// DefaultLiquid holds values typical of a mixed epoxy (from memory).
var DefaultLiquid = Liquid{Viscosity: 1000, Density: 1100, SurfaceTension: 40}

var errLiquid = errors.New("viscosity, density and surface tension must be positive")

// kinematic returns ν in m²/s.
func (l Liquid) kinematic() float64 { return l.Viscosity.PascalSeconds() / float64(l.Density) }

func positive(vs ...float64) bool {
	for _, v := range vs {
		if !(v > 0) || math.IsInf(v, 0) {
			return false
		}
	}
	return true
}

// DefaultContactAngle is that of fresh epoxy on a painted board (from memory).
const DefaultContactAngle units.Angle = 50

// Puddle is how thick a film can stand without rim or dam.
type Puddle struct {
	Capillary units.Length // √(γ/ρg)
	Height    units.Length // at the contact angle
	Pinned    units.Length // at a sharp edge, which pins up to 90°
}

// PuddleHeight returns h = 2·√(γ/ρg)·sin(θ/2) (de Gennes, Brochard-Wyart &
// Quéré, Capillarity and Wetting Phenomena, ch. 2, published).
func PuddleHeight(theta units.Angle, l Liquid) (Puddle, error) {
	if !positive(float64(l.Density), l.SurfaceTension) {
		return Puddle{}, errLiquid
	}
	if !(theta > 0) || theta > 180 {
		return Puddle{}, errors.New("a contact angle lies between 0 and 180°")
	}
	capillary := 1000 * math.Sqrt(l.SurfaceTension/1000/(float64(l.Density)*Gravity))
	height := func(a units.Angle) units.Length { return units.Length(2 * capillary * math.Sin(a.Radians()/2)) }
	return Puddle{Capillary: units.Length(capillary), Height: height(theta), Pinned: height(90)}, nil
}

// Side returns the film left on a vertical side at depth z below the top
// edge after t seconds of draining, h = √(νz/(gt)) (Jeffreys 1930,
// published).
func Side(l Liquid, z units.Length, seconds float64) (units.Length, error) {
	if !positive(float64(l.Viscosity), float64(l.Density)) {
		return 0, errLiquid
	}
	if !(z >= 0) || !positive(seconds) {
		return 0, errors.New("depth and time must be positive")
	}
	return units.Length(1000 * math.Sqrt(l.kinematic()*z.Metres()/(Gravity*seconds))), nil
}

// LineHalfWidth returns how far a poured line of volume v and length has run
// to each side after t seconds: x = 1.411·(g q³/3ν)^⅕·t^⅕, q = v/length
// (Huppert 1982, published).
func LineHalfWidth(v units.Volume, length units.Length, l Liquid, seconds float64) (units.Length, error) {
	if !positive(float64(v), float64(length), float64(l.Viscosity), float64(l.Density)) || !(seconds >= 0) {
		return 0, errors.New("volume, length, viscosity and density must be positive and time not negative")
	}
	q := float64(v) * 1e-6 / length.Metres()
	return units.Length(1000 * 1.411 * math.Pow(Gravity*q*q*q/(3*l.kinematic())*seconds, 0.2)), nil
}

// LineAfter is LineHalfWidth for a resin that thickens, flow = ∫dt/ν.
func LineAfter(v units.Volume, length units.Length, flow float64) (units.Length, error) {
	if !positive(float64(v), float64(length)) || !(flow >= 0) {
		return 0, errors.New("volume and length must be positive and flow not negative")
	}
	q := float64(v) * 1e-6 / length.Metres()
	return units.Length(1000 * 1.411 * math.Pow(Gravity*q*q*q/3*flow, 0.2)), nil
}

// PuddleAfter is PuddleRadius for a resin that thickens, flow = ∫dt/ν.
func PuddleAfter(v units.Volume, flow float64) (units.Length, error) {
	if !positive(float64(v)) || !(flow >= 0) {
		return 0, errors.New("a volume must be positive and flow not negative")
	}
	m3 := float64(v) * 1e-6
	return units.Length(1000 * 0.894 * math.Pow(Gravity*m3*m3*m3/3*flow, 0.125)), nil
}

// PuddleRadius returns how far a puddle of volume v has run after t seconds:
// r = 0.894·(g V³/3ν)^⅛·t^⅛ (Huppert 1982, published).
func PuddleRadius(v units.Volume, l Liquid, seconds float64) (units.Length, error) {
	if !positive(float64(v), float64(l.Viscosity), float64(l.Density)) || !(seconds >= 0) {
		return 0, errors.New("volume, viscosity and density must be positive and time not negative")
	}
	m3 := float64(v) * 1e-6
	return units.Length(1000 * 0.894 * math.Pow(Gravity*m3*m3*m3/(3*l.kinematic())*seconds, 0.125)), nil
}

// LevellingRate returns how fast a ripple of wavelength λ decays on a film of
// thickness h, (h³/3μ)(ρgk² + γk⁴) in 1/s, k = 2π/λ (thin-film limit of
// Orchard 1962, published).
func LevellingRate(wavelength, h units.Length, l Liquid) (float64, error) {
	if !positive(float64(wavelength), float64(h), float64(l.Viscosity), float64(l.Density)) || !(l.SurfaceTension >= 0) {
		return 0, errors.New("wavelength, film, viscosity and density must be positive")
	}
	k := 2 * math.Pi / wavelength.Metres()
	m := h.Metres()
	return m * m * m / (3 * l.Viscosity.PascalSeconds()) * (float64(l.Density)*Gravity*k*k + l.SurfaceTension/1000*k*k*k*k), nil
}

// SettlingSpeed returns the speed of a particle of the given diameter in
// µm/s, positive when it sinks: v = (2/9)Δρ g r²/μ (Stokes 1851, published).
func SettlingSpeed(diameter units.Length, rho units.Density, l Liquid) (float64, error) {
	if !positive(float64(diameter), float64(l.Viscosity), float64(l.Density)) || !(rho >= 0) {
		return 0, errors.New("particle size, viscosity and density must be positive")
	}
	r := diameter.Metres() / 2
	return 1e6 * 2. / 9 * float64(rho-l.Density) * Gravity * r * r / l.Viscosity.PascalSeconds(), nil
}

// SideAfter returns the film left on a side at depth z after draining for
// flow = ∫dt/ν, h = √(z/(g·∫dt/ν)): Jeffreys' law for a liquid that thickens.
func SideAfter(flow float64, z units.Length) (units.Length, error) {
	if !positive(flow) || !(z >= 0) {
		return 0, errors.New("depth and flow must be positive")
	}
	return units.Length(1000 * math.Sqrt(z.Metres()/(Gravity*flow))), nil
}

// MeanSide returns the average of SideAfter over sides of the given depth:
// two thirds of what is left at the bottom.
func MeanSide(flow float64, depth units.Length) (units.Length, error) {
	h, err := SideAfter(flow, depth)
	return h * 2 / 3, err
}

// Travelled returns how far a particle sinks, positive down, while the resin
// flows by flow = ∫dt/ν: Stokes' law integrated, (2/9)(Δρ/ρ)·g·r²·∫dt/ν.
func Travelled(diameter units.Length, particle, rho units.Density, flow float64) (units.Length, error) {
	if !positive(float64(diameter), float64(rho)) || !(particle >= 0) || !(flow >= 0) {
		return 0, errors.New("particle size and density must be positive and flow not negative")
	}
	r := diameter.Metres() / 2
	return units.Length(1000 * 2. / 9 * float64((particle-rho)/rho) * Gravity * r * r * flow), nil
}

// SmallestEscaping returns the diameter of the smallest bubble that rises
// through a film of thickness h while the resin flows by flow = ∫dt/ν: Stokes'
// law for an empty sphere, solved for its size.
func SmallestEscaping(h units.Length, flow float64) (units.Length, error) {
	if !positive(float64(h), flow) {
		return 0, errors.New("film and flow must be positive")
	}
	return units.Length(2000 * math.Sqrt(9*h.Metres()/(2*Gravity*flow))), nil
}

// LeftOf returns what part of a ripple of wavelength λ is left after the resin
// has flowed by flow = ∫dt/ν: e to the minus of the levelling rate integrated.
func LeftOf(wavelength, h units.Length, l Liquid, flow float64) (float64, error) {
	rate, err := LevellingRate(wavelength, h, l)
	if err != nil {
		return 0, err
	}
	return math.Exp(-rate * l.kinematic() * flow), nil
}
