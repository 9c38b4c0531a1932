package film

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Side returns the film left on a vertical side at depth z below the top
// edge after t seconds of draining, h = √(νz/(gt)) (Jeffreys 1930,
// published).
func Side(l Liquid, z units.Length, seconds float64) (units.Length, error) {
	if !positive(float64(l.Viscosity), float64(l.Density)) {
		return 0, errLiquid
	}
	if !(z >= 0) || !positive(seconds) {
		return 0, refusal.New("depth and time must be positive")
	}
	return units.Length(1000 * math.Sqrt(l.kinematic()*z.Metres()/(Gravity*seconds))), nil
}

// SideAfter returns the film left on a side at depth z after draining for
// flow = ∫dt/ν, h = √(z/(g·∫dt/ν)): Jeffreys' law for a liquid that thickens.
func SideAfter(flow float64, z units.Length) (units.Length, error) {
	if !positive(flow) || !(z >= 0) {
		return 0, refusal.New("depth and flow must be positive")
	}
	return units.Length(1000 * math.Sqrt(z.Metres()/(Gravity*flow))), nil
}

// MeanSide returns the average of SideAfter over sides of the given depth:
// two thirds of what is left at the bottom.
func MeanSide(flow float64, depth units.Length) (units.Length, error) {
	h, err := SideAfter(flow, depth)
	return h * 2 / 3, err
}

// Tilted returns the mean film that stays on a face of the given length down
// the slope after a film h has drained at an angle for flow = ∫dt/ν: below the
// upper edge h(x) = √(x/(g·sin θ·flow)) (Jeffreys 1930, published), further
// down the film it had, for what has not yet thinned moves on as it is.
func Tilted(h, length units.Length, theta units.Angle, flow float64) (units.Length, error) {
	if !positive(float64(h), float64(length)) || !(theta > 0 && theta <= 90) || !(flow >= 0) {
		return 0, refusal.New("film and length must be positive, the tilt within 90° and the time not negative")
	}
	fall := Gravity * math.Sin(theta.Radians()) * flow
	thinned := h.Metres() * h.Metres() * fall // from the upper edge, in m
	if l := length.Metres(); thinned >= l {
		return units.Length(1000 * 2. / 3 * math.Sqrt(l/fall)), nil
	}
	return h * units.Length(1-thinned/length.Metres()/3), nil
}

// BeforeTilting returns the film to pour so that a mean film h stays after
// tilting; an error when no film however thick leaves so much.
func BeforeTilting(h, length units.Length, theta units.Angle, flow float64) (units.Length, error) {
	if _, err := Tilted(h, length, theta, flow); err != nil {
		return 0, err
	}
	most := units.Length(1e3) // a metre: far beyond any film
	if kept, _ := Tilted(most, length, theta, flow); kept <= h {
		return kept, ErrTiltTooLong
	}
	lo, hi := h, most
	for range 100 {
		mid := (lo + hi) / 2
		if kept, _ := Tilted(mid, length, theta, flow); kept < h {
			lo = mid
		} else {
			hi = mid
		}
	}
	return hi, nil
}

// ErrTiltTooLong says that no film survives a tilt; what comes with it is the
// most that stays.
var ErrTiltTooLong = refusal.New("this tilt leaves less than that, however much is poured")

// Drift returns how far the surface of a film, and the pattern on it, moves
// down a board that is off level by an angle while the resin flows by
// flow = ∫dt/ν: g·sin θ·h²/2 a unit of flow, one and a half times the mean
// (Nusselt 1916, published).
func Drift(h units.Length, theta units.Angle, flow float64) (units.Length, error) {
	if !positive(float64(h)) || !(theta >= 0 && theta <= 90) || !(flow >= 0) {
		return 0, refusal.New("the film must be positive, the tilt within 90° and the time not negative")
	}
	m := h.Metres()
	return units.Length(1000 * Gravity * math.Sin(theta.Radians()) * m * m / 2 * flow), nil
}

// An EdgeRun is the run of a film over an edge once its tape is removed.
type EdgeRun struct {
	Drift units.Length // of a drawing at the edge, towards it
	Reach units.Length // how far inside it is felt
	Runs  units.Length // volume over the edge for each length of it, divided by the film
}

// OverEdge returns how a film h runs over one edge at which it stands no higher
// than stands, in flow = ∫dt/ν from when the edge is let go until it gels. The film
// thins by ∂h/∂t = ∂/∂x(g·h³/3ν·∂h/∂x); with the diffusivity of a body that gives
// off (Crank 1975, The Mathematics of Diffusion, ch. 9, from memory),
//
//	D = 1.85·∫(1 − u)^0.85·g·(h_e + (h − h_e)u)³/3 du·∫dt/ν,
//
// it is the error function: V = 2·(h − h_e)·√(D/π) runs over each length of edge,
// felt 2·√D far inside. A drawing floats on the surface, which moves 1.5 times as
// fast as the film on average.
func OverEdge(h, stands units.Length, flow float64) (EdgeRun, error) {
	if !positive(float64(h), float64(stands)) || !(flow >= 0) {
		return EdgeRun{}, refusal.New("film, edge and flow must be positive")
	}
	if h <= stands || flow == 0 {
		return EdgeRun{}, nil
	}
	e, over := stands.Metres(), h.Metres()-stands.Metres()
	// ∫(1 − u)^0.85·uᵏ du·1.85 is k!/(2.85·…·(1.85 + k)).
	cube := e*e*e + 3*e*e*over/2.85 + 3*e*over*over*2/(2.85*3.85) + over*over*over*6/(2.85*3.85*4.85)
	d := Gravity * cube / 3 * flow
	runs := 2 * over * math.Sqrt(d/math.Pi) / h.Metres()
	return EdgeRun{Drift: units.Length(1000 * 1.5 * runs), Reach: units.Length(1000 * 2 * math.Sqrt(d)),
		Runs: units.Length(1000 * runs)}, nil
}
