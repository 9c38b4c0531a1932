package resin

import (
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// maxBatches bounds a plan: more batches than this is a typing slip.
const maxBatches = 10_000

// Stages cuts a total into the fewest batches none of which exceeds largest,
// each a multiple of step, as equal as possible, larger first. Their sum is
// at least the total and less than a step above it.
func Stages(total, largest, step units.Volume) ([]units.Volume, error) {
	switch {
	case !(total > 0) || total > 1e9:
		return nil, refusal.New("the total must be positive")
	case !(step > 0):
		return nil, refusal.New("the jug's step must be positive")
	case !(largest >= step):
		return nil, refusal.New("the largest batch must hold at least one step of the jug")
	}
	// Counted in whole steps; the slack forgives 0.1 + 0.2 arithmetic.
	const slack = 1e-9
	need := int(math.Ceil(float64(total/step) - slack))
	most := int(math.Floor(float64(largest/step) + slack))
	need = max(need, 1)
	n := (need + most - 1) / most
	if n > maxBatches {
		return nil, refusal.New("that would be more than ten thousand batches")
	}
	batches := make([]units.Volume, n)
	for i := range batches {
		steps := need / n
		if i < need%n {
			steps++
		}
		batches[i] = units.Volume(steps) * step
	}
	return batches, nil
}
