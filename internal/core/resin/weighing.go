package resin

import (
	"math"

	"jevvo/internal/core/units"
)

// Pour is the instruction shown while a component is poured on the scale.
type Pour string

// The verdicts of a pour.
const (
	PourOn   Pour = "pour"   // far from the target
	PourSlow Pour = "almost" // within the last stretch
	PourStop Pour = "stop"   // on target, within the scale's step
	PourOver Pour = "over"   // past it
)

// almostShare and almostLeast bound the last stretch: a tenth of the target,
// but never less than the two grams a stream still carries when the jug is
// set down (common practice).
const (
	almostShare = 0.10
	almostLeast = 2 * units.Gram
)

// JudgePour compares what lies on the scale with the target.
func JudgePour(net, target, step units.Mass) Pour {
	left := target - net
	slack := step / 2
	switch {
	case left < -slack:
		return PourOver
	case left <= slack:
		return PourStop
	case left <= max(units.Mass(almostShare)*target, almostLeast):
		return PourSlow
	}
	return PourOn
}

// Need says which part the scale waits for next and how much of it.
type Need struct {
	Part      PartName
	Target    units.Mass // of this pour alone
	Corrects  bool       // it makes up for an overshoot
	Satisfied bool       // nothing more is needed: within tolerance
}

// PartName is the component poured: A, B, or both once they are mixed.
type PartName string

// What is poured.
const (
	PartA PartName = "A"
	PartB PartName = "B"
	Mixed PartName = "mixed"
)

// Next returns what to pour given what was planned and what lies in the cup:
// A first, then as much B as the A that was really poured asks for, then
// corrections by the least addition until the ratio is within tolerance.
func (p Product) Next(plannedA, a, b units.Mass) (Need, error) {
	if a <= 0 {
		return Need{Part: PartA, Target: plannedA}, nil
	}
	if b <= 0 {
		return Need{Part: PartB, Target: a * units.Mass(p.WeightRatio())}, nil
	}
	c, err := p.Correct(a, b)
	switch {
	case err != nil:
		return Need{}, err
	case c.Within:
		return Need{Satisfied: true}, nil
	case c.AddA > 0:
		return Need{Part: PartA, Target: c.AddA, Corrects: true}, nil
	}
	return Need{Part: PartB, Target: c.AddB, Corrects: true}, nil
}

// OffRatio returns (b per a)/(target) − 1, NaN while either is missing.
func (p Product) OffRatio(a, b units.Mass) float64 {
	if a <= 0 || b <= 0 {
		return math.NaN()
	}
	return float64(b/a)/p.WeightRatio() - 1
}
