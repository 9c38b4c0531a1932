// Package numeric holds the few numerical methods the sums share: one
// bisection, one golden section, one integrator and one even scatter, so that
// no package borrows another's.
package numeric

import "math"

// Root returns the root of a rising f between a and b to the last digit a
// float64 holds; a or b when f does not cross zero between them.
func Root(f func(float64) float64, a, b float64) float64 {
	for range 200 {
		m := (a + b) / 2
		if m == a || m == b {
			return m
		}
		if f(m) < 0 {
			a = m
		} else {
			b = m
		}
	}
	return (a + b) / 2
}

// First returns, to within tol, where between a and b a condition that stays
// true once it is true becomes so; b when it never does.
func First(a, b, tol float64, holds func(float64) bool) float64 {
	for b-a > tol {
		if m := (a + b) / 2; holds(m) {
			b = m
		} else {
			a = m
		}
	}
	return b
}

// invPhi is the golden section, 2/(1+√5).
const invPhi = 0.6180339887498949

// Highest returns the place and value of the maximum of f between a and b by
// golden section (Kiefer 1953); f must rise and then fall.
func Highest(f func(float64) float64, a, b, tol float64) (x, v float64) {
	c, d := b-invPhi*(b-a), a+invPhi*(b-a)
	fc, fd := f(c), f(d)
	for b-a > tol {
		if fc > fd {
			b, d, fd = d, c, fc
			c = b - invPhi*(b-a)
			fc = f(c)
		} else {
			a, c, fc = c, d, fd
			d = a + invPhi*(b-a)
			fd = f(d)
		}
	}
	x = (a + b) / 2
	return x, f(x)
}

// Scatter returns the i-th place of an even scatter over the unit square, by
// the plastic number (Roberts 2018, from memory).
func Scatter(i int) (x, y float64) {
	const a, b = 0.7548776662466927, 0.5698402909980532
	n := float64(i + 1)
	return math.Mod(a*n, 1), math.Mod(b*n, 1)
}
