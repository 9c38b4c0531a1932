package colour

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// Reflectance returns the smoothest reflectance of that colour: least slope
// squared of z with ρ = (tanh z + 1)/2, so that it stays inside 0..1 (Burns
// 2015, Generating reflectance curves from sRGB triplets, published), by
// Newton's method on the Lagrange conditions. A colour at the very edge of the
// gamut is drawn in by a few parts in ten thousand, less than a screen shows.
func (c RGB) Reflectance() (Spectrum, error) {
	if c.R == c.G && c.G == c.B {
		return Flat(clampUnit(c.R)), nil // a grey is flat
	}
	for _, pull := range []float64{0, 0.002, 0.01, 0.03} {
		grey := (c.R + c.G + c.B) / 3
		target := [3]float64{edge(c.R, grey, pull), edge(c.G, grey, pull), edge(c.B, grey, pull)}
		if s, ok := smoothest(target); ok {
			return s, nil
		}
	}
	return Spectrum{}, errReflectance
}

// edge draws a channel towards grey and off the ends of 0..1.
func edge(v, grey, pull float64) float64 {
	const off = 1e-4
	return math.Max(off, math.Min(1-off, v+(grey-v)*pull))
}

// toLinear maps a reflectance to linear sRGB: rows are the channels.
var toLinear = func() (t [3]Spectrum) {
	for i, w := range weights {
		r, g, b := apply(toRGB, w.X, w.Y, w.Z)
		t[0][i], t[1][i], t[2][i] = r, g, b
	}
	return t
}()

// smoothest solves for 36 values of z and three multipliers.
func smoothest(target [3]float64) (Spectrum, bool) {
	const n = Bands + 3
	x := make([]float64, n)
	start := math.Atanh(2*math.Max(0.01, math.Min(0.99, (target[0]+target[1]+target[2])/3)) - 1)
	for i := range Bands {
		x[i] = start
	}
	f, jac := mat.NewVecDense(n, nil), mat.NewDense(n, n, nil)
	var step mat.VecDense
	for range 60 {
		worst := conditions(x, target, f, jac)
		if worst < 1e-10 {
			var s Spectrum
			for i := range s {
				s[i] = (math.Tanh(x[i]) + 1) / 2
			}
			return s, true
		}
		if err := step.SolveVec(jac, f); err != nil {
			if _, ill := err.(mat.Condition); !ill {
				return Spectrum{}, false
			}
		}
		longest := 0.0
		for i := range Bands {
			longest = math.Max(longest, math.Abs(step.AtVec(i)))
		}
		damp := math.Min(1, 1.5/math.Max(longest, 1e-12))
		for i := range x {
			x[i] -= damp * step.AtVec(i)
			if math.IsNaN(x[i]) {
				return Spectrum{}, false
			}
		}
	}
	return Spectrum{}, false
}

// conditions fills the Lagrange conditions and their Jacobian, and returns
// the largest violation.
func conditions(x []float64, target [3]float64, f *mat.VecDense, jac *mat.Dense) float64 {
	jac.Zero()
	worst := 0.0
	sums := target
	for c := range sums {
		sums[c] = -target[c]
	}
	for i := range Bands {
		tanh := math.Tanh(x[i])
		rho, slope := (tanh+1)/2, (1-tanh*tanh)/2
		pull := 0.0 // Tᵀλ in this band
		for c := range 3 {
			t := toLinear[c][i]
			pull += t * x[Bands+c]
			sums[c] += t * rho
			jac.Set(i, Bands+c, slope*t)
			jac.Set(Bands+c, i, slope*t)
		}
		v, d := 0.0, 0.0
		if i > 0 {
			v += 2 * (x[i] - x[i-1])
			d += 2
			jac.Set(i, i-1, -2)
		}
		if i < Bands-1 {
			v += 2 * (x[i] - x[i+1])
			d += 2
			jac.Set(i, i+1, -2)
		}
		v += slope * pull
		jac.Set(i, i, d-2*slope*tanh*pull)
		f.SetVec(i, v)
		worst = math.Max(worst, math.Abs(v))
	}
	for c, v := range sums {
		f.SetVec(Bands+c, v)
		worst = math.Max(worst, math.Abs(v))
	}
	return worst
}
