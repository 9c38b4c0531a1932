package colour

import (
	"math"

	"jevvo/internal/core/refusal"
)

// A Part is an amount of an opaque colour.
type Part struct {
	Reflectance Spectrum
	Amount      float64
}

// Blend returns the reflectance of opaque colours stirred together: K/S of
// the mixture is the sum of the parts' K/S by amount (Kubelka & Munk 1931,
// single constant: all parts are taken to scatter alike).
func Blend(parts []Part) (Spectrum, error) {
	total := 0.0
	for _, p := range parts {
		if !(p.Amount >= 0) || math.IsInf(p.Amount, 0) {
			return Spectrum{}, refusal.New("an amount cannot be negative")
		}
		total += p.Amount
	}
	if !(total > 0) {
		return Spectrum{}, refusal.New("the amounts add up to nothing")
	}
	least := blackest
	for _, p := range parts { // by itself a colour stays as it is
		if p.Amount == total {
			least = 0
		}
	}
	var out Spectrum
	for i := range out {
		q := 0.0
		for _, p := range parts {
			q += p.Amount / total * absorbed(math.Max(least, p.Reflectance[i]))
		}
		out[i] = Infinite(q)
	}
	return out, nil
}

// blackest is the least a black paint reflects (from memory: 0.3 to 0.5 %). Without
// it a hundredth of #000000 would make any colour black.
const blackest = 0.004

// absorbed returns K/S of an opaque reflectance, (1 − R)²/2R.
func absorbed(r float64) float64 {
	const least = 1e-6
	r = math.Max(least, math.Min(1, r))
	return (1 - r) * (1 - r) / (2 * r)
}

// Infinite returns the reflectance of a film that hides completely, from K/S.
func Infinite(q float64) float64 { return 1 / (1 + q + math.Sqrt(q*q+2*q)) }
