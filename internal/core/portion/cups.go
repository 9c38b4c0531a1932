package portion

import (
	"math"
	"sort"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
)

// A Share is one colour's part of a coat; shares are relative to their sum.
type Share struct {
	Name  string
	Share float64
}

// A Cup is the amount of one colour, weighed to the scale's step.
type Cup struct {
	Name     string
	Volume   units.Volume // planned, before rounding
	A, B     units.Mass
	OffRatio bool // the step is too coarse for this cup's tolerance
}

// A Mix is the cups of one coat. A and B are the rounded totals, and the cups
// add up to them exactly in steps of the scale.
type Mix struct {
	Cups []Cup
	A, B units.Mass
}

// maxCups is more than any table holds.
const maxCups = 200

// Cups divides the coat among the shares: cup = share × coat + loss. Each part
// is rounded to the scale's step so that nothing is lost or invented: by largest
// remainder, save where another rounding inside one step keeps a cup in its
// ratio.
func Cups(p resin.Product, coat, loss units.Volume, step units.Mass, shares []Share) (Mix, error) {
	if err := checkShares(coat, loss, step, shares); err != nil {
		return Mix{}, err
	}
	sum := 0.0
	for _, s := range shares {
		sum += s.Share
	}
	mix := Mix{Cups: make([]Cup, len(shares))}
	exactA, exactB := make([]float64, len(shares)), make([]float64, len(shares))
	for i, s := range shares {
		v := coat*units.Volume(s.Share/sum) + loss
		batch, err := p.Volume(v)
		if err != nil {
			return Mix{}, err
		}
		mix.Cups[i] = Cup{Name: s.Name, Volume: v}
		exactA[i], exactB[i] = float64(batch.A.Mass/step), float64(batch.B.Mass/step)
	}
	r := rounding{ratio: p.WeightRatio(), tolerance: p.Tolerance}
	stepsA, stepsB := r.both(exactA, exactB)
	totalA, totalB := 0, 0
	for i := range mix.Cups {
		c := &mix.Cups[i]
		c.A, c.B = units.Mass(stepsA[i])*step, units.Mass(stepsB[i])*step
		c.OffRatio = r.off(stepsA[i], stepsB[i])
		totalA, totalB = totalA+stepsA[i], totalB+stepsB[i]
	}
	mix.A, mix.B = units.Mass(totalA)*step, units.Mass(totalB)*step
	return mix, nil
}

func checkShares(coat, loss units.Volume, step units.Mass, shares []Share) error {
	switch {
	case !(coat > 0) || coat > 1e9:
		return refusal.New("the coat must have a volume")
	case !(loss >= 0) || loss > 1e6:
		return refusal.New("the cup loss cannot be negative")
	case !(step > 0) || step > 1e6:
		return refusal.New("the scale's step must be positive")
	case len(shares) == 0:
		return refusal.New("there are no cups to fill")
	case len(shares) > maxCups:
		return refusal.New("more than %d cups", maxCups)
	}
	sum := 0.0
	for _, s := range shares {
		if !(s.Share >= 0) || s.Share > 1e9 {
			return refusal.New("the share of %s must be positive", s.Name)
		}
		sum += s.Share
	}
	if !(sum > 0) {
		return refusal.New("the shares add up to nothing; give at least one cup a share")
	}
	return nil
}

// LargestRemainder rounds each value down and hands the missing units, up to
// the rounded sum, to those with the largest remainders, earlier ones first
// on a tie.
func LargestRemainder(exact []float64) (whole []int, total int) {
	sum := 0.0
	whole = make([]int, len(exact))
	order := make([]int, len(exact))
	given := 0
	for i, v := range exact {
		sum += v
		whole[i] = int(math.Floor(v))
		given += whole[i]
		order[i] = i
	}
	total = int(math.Round(sum))
	rest := func(i int) float64 { return exact[i] - math.Floor(exact[i]) }
	sort.SliceStable(order, func(a, b int) bool { return rest(order[a]) > rest(order[b]) })
	for k := 0; given < total && k < len(order); k++ {
		whole[order[k]]++
		given++
	}
	return whole, total
}
