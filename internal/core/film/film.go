// Package film answers how a poured film behaves: how thick it can stand, how
// far a line or a puddle runs, how fast marks level, what stays on a side,
// what sinks, and whether cells will form.
//
// All formulas are for slow viscous flow. Where a resin thickens, time over
// viscosity t/ν is replaced by the integral ∫dt/ν(t) along the clock; the
// functions here take a constant viscosity.
package film

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Gravity is the standard acceleration in m/s² (ISO 80000-3, published).
const Gravity = 9.80665

// A Liquid holds the properties of a resin that the formulas need. Surface tension is in mN/m.
type Liquid struct {
	Viscosity      units.Viscosity
	Density        units.Density
	SurfaceTension float64
}

// DefaultLiquid holds values typical of a mixed epoxy (from memory).
var DefaultLiquid = Liquid{Viscosity: 1000, Density: 1100, SurfaceTension: 40}

var errLiquid = refusal.New("viscosity, density and surface tension must be positive")

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
		return Puddle{}, refusal.New("a contact angle lies between 0 and 180°")
	}
	capillary := 1000 * math.Sqrt(l.SurfaceTension/1000/(float64(l.Density)*Gravity))
	height := func(a units.Angle) units.Length { return units.Length(2 * capillary * math.Sin(a.Radians()/2)) }
	return Puddle{Capillary: units.Length(capillary), Height: height(theta), Pinned: height(90)}, nil
}

// Meniscus is the resin a wall draws up along its foot.
type Meniscus struct {
	Climbs units.Length // above the film
	Volume units.Volume // for each metre of wall
}

// AgainstWall returns the meniscus at an upright wall that the liquid meets at
// a contact angle below 90°: it climbs √2·l_c·√(1 − sin θ) (de Gennes et al.,
// ch. 2, published), and holds l_c²·cos θ a unit of length, which is the
// balance of γ·cos θ against its weight.
func AgainstWall(theta units.Angle, l Liquid) (Meniscus, error) {
	p, err := PuddleHeight(theta, l)
	if err != nil {
		return Meniscus{}, err
	}
	if theta > 90 {
		return Meniscus{}, refusal.New("a wall the resin shrinks from has no meniscus")
	}
	lc := float64(p.Capillary)
	return Meniscus{
		Climbs: units.Length(math.Sqrt2 * lc * math.Sqrt(1-math.Sin(theta.Radians()))),
		Volume: units.Volume(lc * lc * math.Cos(theta.Radians())),
	}, nil
}

// SettlingSpeed returns the speed of a particle of the given diameter in
// µm/s, positive when it sinks: v = (2/9)Δρ g r²/μ (Stokes 1851, published).
func SettlingSpeed(diameter units.Length, rho units.Density, l Liquid) (float64, error) {
	if !positive(float64(diameter), float64(l.Viscosity), float64(l.Density)) || !(rho >= 0) {
		return 0, refusal.New("particle size, viscosity and density must be positive")
	}
	r := diameter.Metres() / 2
	return 1e6 * 2. / 9 * float64(rho-l.Density) * Gravity * r * r / l.Viscosity.PascalSeconds(), nil
}

// Travelled returns how far a particle sinks, positive down, while the resin
// flows by flow = ∫dt/ν: Stokes' law integrated, (2/9)(Δρ/ρ)·g·r²·∫dt/ν.
func Travelled(diameter units.Length, particle, rho units.Density, flow float64) (units.Length, error) {
	if !positive(float64(diameter), float64(rho)) || !(particle >= 0) || !(flow >= 0) {
		return 0, refusal.New("particle size and density must be positive and flow not negative")
	}
	r := diameter.Metres() / 2
	return units.Length(1000 * 2. / 9 * float64((particle-rho)/rho) * Gravity * r * r * flow), nil
}

// SmallestEscaping returns the diameter of the smallest bubble that rises
// through a film of thickness h while the resin flows by flow = ∫dt/ν: Stokes'
// law for an empty sphere, solved for its size.
func SmallestEscaping(h units.Length, flow float64) (units.Length, error) {
	if !positive(float64(h), flow) {
		return 0, refusal.New("film and flow must be positive")
	}
	return units.Length(2000 * math.Sqrt(9*h.Metres()/(2*Gravity*flow))), nil
}
