package cure

import (
	"math"

	"jevvo/internal/core/refusal"
)

// An Imbalance is the permanent undercure of a wrong ratio.
type Imbalance struct {
	Gels  bool
	Gel   float64 // conversion of the epoxide groups at gel
	Spare float64 // share of the part there is too much of that finds no partner
	// Ties is how much of the network of the right ratio forms; a resin with
	// fewer stays softer, and sticky from about four fifths (common practice).
	Ties float64
}

// OffRatio returns what a relative excess of hardener does, negative for too
// little, to a diepoxide and a tetrafunctional amine (Macosko & Miller 1976,
// published). With r amine hydrogens to an epoxide group it gels at α = 1/√(3r)
// of the epoxide groups, never for r outside ⅓ to 3. Once the scarcer part is
// used up, looking out of an amine along one of its arms ends somewhere with the
// chance x = √(1/p − ¾) − ½, p the product of both conversions; an amine with
// three or four endless arms ties the network.
func OffRatio(excess float64) (Imbalance, error) {
	if !(excess > -1) || math.IsInf(excess, 0) {
		return Imbalance{}, refusal.New("the ratio must be above zero")
	}
	r := 1 + excess
	scarce := math.Min(r, 1/r) // the product of both conversions at the end
	i := Imbalance{Gels: scarce > 1./3, Gel: 1 / math.Sqrt(3*r), Spare: 1 - scarce}
	if !i.Gels {
		return Imbalance{Gel: math.Min(1, r), Spare: i.Spare}, nil
	}
	x := math.Sqrt(1/scarce-0.75) - 0.5
	y := 1 - x
	i.Ties = (3*4*x*y*y*y + 4*y*y*y*y) / 4
	return i, nil
}
