package film

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Layer is one of two superposed films.
type Layer struct {
	Film      units.Length
	Viscosity units.Viscosity
	Density   units.Density
}

// A Stack is a lower layer on a rigid board, an upper layer on it and a free
// surface. Tensions are in mN/m.
type Stack struct {
	Lower, Upper                     Layer
	InterfaceTension, SurfaceTension float64
}

// Growth holds the two growth rates of one wavelength in 1/s, larger first.
type Growth struct{ Larger, Smaller float64 }

// Check returns what is wrong with the stack.
func (s Stack) Check() error {
	for _, l := range []Layer{s.Lower, s.Upper} {
		if !positive(float64(l.Film), float64(l.Viscosity), float64(l.Density)) {
			return refusal.New("both layers need a film, a viscosity and a density")
		}
	}
	if !(s.InterfaceTension >= 0) || !(s.SurfaceTension >= 0) {
		return refusal.New("tensions cannot be negative")
	}
	return nil
}

// GrowthAt returns the growth rates of a ripple of the given wavelength by
// linear stability of two viscous layers in Stokes flow.
//
// In each layer w = (A + Bz)e^{kz} + (C + Dz)e^{−kz}, scaled so that no
// exponential exceeds one. No slip at the board; velocity and tangential
// stress are continuous at the interface and the latter vanishes at the
// surface; with p = (μ/k²)(D² − k²)Dw the normal stress jumps by
// ((ρ₁−ρ₂)g + γᵢk²)η₁ at the interface and is (ρ₂g + γk²)η₂ at the surface.
// A unit displacement of each gives a column of the 2×2 growth matrix.
func (s Stack) GrowthAt(wavelength units.Length) (Growth, error) {
	if err := s.Check(); err != nil {
		return Growth{}, err
	}
	if !positive(float64(wavelength)) {
		return Growth{}, refusal.New("a wavelength must be positive")
	}
	return s.growth(2 * math.Pi / wavelength.Metres())
}

// basis holds the four solutions of one layer and their derivatives at one
// depth: columns are the functions, rows the orders of derivative 0 to 3.
type basis [4][4]float64

// basisAt evaluates e^{k(z−h)}, k(z−h)e^{k(z−h)}, e^{−kz}, kz·e^{−kz}, with
// derivatives taken with respect to kz so that everything is of order one.
func basisAt(kz, kh float64) basis {
	var b basis
	up, down := math.Exp(kz-kh), math.Exp(-kz)
	x := kz - kh
	sign := 1.0
	for d := range 4 {
		n := float64(d)
		b[d][0] = up
		b[d][1] = (x + n) * up
		b[d][2] = sign * down
		b[d][3] = sign * (kz - n) * down
		sign = -sign
	}
	return b
}

// growth solves for the interface and surface velocities in units where
// length is 1/k: w in m/s, pressures divided by k.
func (s Stack) growth(k float64) (Growth, error) {
	h1, h2 := k*s.Lower.Film.Metres(), k*s.Upper.Film.Metres()
	mu1, mu2 := s.Lower.Viscosity.PascalSeconds(), s.Upper.Viscosity.PascalSeconds()
	board, under := basisAt(0, h1), basisAt(h1, h1)
	over, top := basisAt(0, h2), basisAt(h2, h2)
	scale := math.Max(mu1, mu2) // keeps the stress rows of order one
	m := mat.NewDense(8, 8, nil)
	for j := range 4 {
		m.Set(0, j, board[0][j])
		m.Set(1, j, board[1][j])
		m.Set(2, j, under[0][j])
		m.Set(2, j+4, -over[0][j])
		m.Set(3, j, under[1][j])
		m.Set(3, j+4, -over[1][j])
		m.Set(4, j, mu1/scale*(under[2][j]+under[0][j]))
		m.Set(4, j+4, -mu2/scale*(over[2][j]+over[0][j]))
		m.Set(5, j+4, mu2/scale*(top[2][j]+top[0][j]))
		m.Set(6, j, mu1/scale*normal(under, j))
		m.Set(6, j+4, -mu2/scale*normal(over, j))
		m.Set(7, j+4, mu2/scale*normal(top, j))
	}
	rhs := mat.NewDense(8, 2, nil)
	rhs.Set(6, 0, (float64(s.Lower.Density-s.Upper.Density)*Gravity+s.InterfaceTension/1000*k*k)/(k*scale))
	rhs.Set(7, 1, (float64(s.Upper.Density)*Gravity+s.SurfaceTension/1000*k*k)/(k*scale))
	var x mat.Dense
	if err := x.Solve(m, rhs); err != nil {
		var ill mat.Condition
		if !errors.As(err, &ill) || math.IsInf(float64(ill), 0) {
			return Growth{}, refusal.New("these layers are too unlike to be calculated")
		}
	}
	var g [2][2]float64
	for c := range 2 {
		for j := range 4 {
			g[0][c] += under[0][j] * x.At(j, c)
			g[1][c] += top[0][j] * x.At(j+4, c)
		}
	}
	half, det := (g[0][0]+g[1][1])/2, g[0][0]*g[1][1]-g[0][1]*g[1][0]
	root := math.Sqrt(math.Max(0, half*half-det))
	if math.IsNaN(half + root) {
		return Growth{}, refusal.New("these layers are too unlike to be calculated")
	}
	return Growth{Larger: half + root, Smaller: half - root}, nil
}

// normal returns (p − 2μDw)/(μk) of basis function j.
func normal(b basis, j int) float64 { return b[3][j] - b[1][j] - 2*b[1][j] }

// Cells is the pattern that grows fastest. Spacing is 0 when nothing grows.
type Cells struct {
	Spacing units.Length
	Growth  float64 // 1/s
}

// Fastest searches the wavelength that grows fastest: a logarithmic scan from
// a twentieth of the thinner film to four hundred films, then golden section.
func (s Stack) Fastest() (Cells, error) {
	if err := s.Check(); err != nil {
		return Cells{}, err
	}
	thin := math.Min(s.Lower.Film.Metres(), s.Upper.Film.Metres())
	all := s.Lower.Film.Metres() + s.Upper.Film.Metres()
	lo, hi := math.Log(thin/20), math.Log(400*all)
	rate := func(x float64) float64 {
		g, err := s.growth(2 * math.Pi / math.Exp(x))
		if err != nil {
			return math.Inf(-1)
		}
		return g.Larger
	}
	const n = 48
	best, at := math.Inf(-1), lo
	for i := range n + 1 {
		x := lo + (hi-lo)*float64(i)/n
		if r := rate(x); r > best {
			best, at = r, x
		}
	}
	step := (hi - lo) / n
	x, r := numeric.Highest(rate, at-step, at+step, 1e-7)
	if r < best {
		x, r = at, best
	}
	if !(r > growthFloor) {
		return Cells{}, nil
	}
	return Cells{Spacing: units.Length(1000 * math.Exp(x)), Growth: r}, nil
}

// growthFloor is below any growth that matters before the resin gels and
// above the rounding of the solver.
const growthFloor = 1e-9

// Dominant returns the growth rate a painter would see: the larger one, save
// that a mode which neither grows nor decays (two equal liquids have no
// interface to speak of) is passed over for the surface mode.
func (g Growth) Dominant() float64 {
	if math.Abs(g.Larger) < growthFloor && g.Smaller < -growthFloor {
		return g.Smaller
	}
	return g.Larger
}
