package numeric

import (
	"math"

	"jevvo/internal/core/refusal"
)

// A Step is one accepted step of the integrator, from At for H, with slopes at
// both ends so that anything inside it can be found by cubic Hermite
// interpolation.
type Step struct {
	At, H             float64
	From, To, df, dto []float64
}

// Integrate solves dy/dt = f(t, y) from t0 by the embedded Runge–Kutta pair
// of Dormand & Prince (1980, published), order 5 with a fourth-order error
// estimate held below tol (relative, with a floor of tol). It stops at end or
// when watch returns false.
func Integrate(f func(t float64, y, dy []float64), t0 float64, y0 []float64, end, tol float64,
	watch func(Step) bool) error {
	n := len(y0)
	y := append([]float64(nil), y0...)
	var k [7][]float64
	for i := range k {
		k[i] = make([]float64, n)
	}
	trial := make([]float64, n)
	f(t0, y, k[0])
	t, h := t0, 1.0
	for range 1_000_000 {
		if t >= end {
			return nil
		}
		h = math.Min(h, end-t)
		for s := 1; s < 7; s++ {
			for i := range y {
				trial[i] = y[i]
				for j := range s {
					trial[i] += h * dopriA[s][j] * k[j][i]
				}
			}
			f(t+dopriC[s]*h, trial, k[s])
		}
		worst := 0.0 // trial now holds the fifth-order result
		for i := range y {
			e := 0.0
			for j := range k {
				e += h * dopriE[j] * k[j][i]
			}
			worst = math.Max(worst, math.Abs(e)/(tol*math.Max(1, math.Max(math.Abs(y[i]), math.Abs(trial[i])))))
		}
		if math.IsNaN(worst) {
			return refusal.New("the equation cannot be followed with these values")
		}
		if worst <= 1 {
			s := Step{At: t, H: h, From: y, To: trial, df: k[0], dto: k[6]}
			if !watch(s) {
				return nil
			}
			t += h
			y, trial = trial, y
			k[0], k[6] = k[6], k[0]
		}
		h *= math.Min(5, math.Max(0.2, 0.9*math.Pow(math.Max(worst, 1e-10), -0.2)))
	}
	return refusal.New("the equation cannot be followed with these values")
}

// Value interpolates component i at fraction u of the step.
func (s Step) Value(i int, u float64) float64 {
	m := 1 - u
	return m*m*(1+2*u)*s.From[i] + u*u*(3-2*u)*s.To[i] + s.H*(u*m*m*s.df[i]-u*u*m*s.dto[i])
}

// Crossing returns when component i, rising, reaches v; +Inf if not in this step.
func (s Step) Crossing(i int, v float64) float64 {
	if s.To[i] < v || s.From[i] > v {
		return math.Inf(1)
	}
	return s.At + s.H*Root(func(u float64) float64 { return s.Value(i, u) - v }, 0, 1)
}

// Summit returns the highest value of component i in the step and its time.
func (s Step) Summit(i int) (at, v float64) {
	if s.df[i] > 0 && s.dto[i] < 0 {
		const tiny = 1e-6
		u := Root(func(u float64) float64 { return s.Value(i, u) - s.Value(i, u+tiny) }, 0, 1-tiny)
		return s.At + u*s.H, s.Value(i, u)
	}
	if s.To[i] > s.From[i] {
		return s.At + s.H, s.To[i]
	}
	return s.At, s.From[i]
}

// The Dormand–Prince coefficients.
var (
	dopriC = [7]float64{0, 1. / 5, 3. / 10, 4. / 5, 8. / 9, 1, 1}
	dopriA = [7][6]float64{
		{},
		{1. / 5},
		{3. / 40, 9. / 40},
		{44. / 45, -56. / 15, 32. / 9},
		{19372. / 6561, -25360. / 2187, 64448. / 6561, -212. / 729},
		{9017. / 3168, -355. / 33, 46732. / 5247, 49. / 176, -5103. / 18656},
		{35. / 384, 0, 500. / 1113, 125. / 192, -2187. / 6784, 11. / 84},
	}
	dopriE = [7]float64{71. / 57600, 0, -71. / 16695, 71. / 1920, -17253. / 339200, 22. / 525, -1. / 40}
)
