package technique

import "slices"

// A Pace is how long a studio takes for a step, over what the library says.
type Pace struct {
	Ratio float64 // median of its days
	Days  int
}

// Days a pace stands on before it counts, and the bounds it is held within: one
// slow afternoon, or a day that was closed at midnight, must not stretch every
// later plan (common practice).
const (
	PaceDays  = 3
	leastPace = 0.4
	mostPace  = 3.0
)

// PaceOf returns the pace of the ratios of so many days, their median.
func PaceOf(ratios []float64) Pace {
	if len(ratios) == 0 {
		return Pace{Ratio: 1}
	}
	sorted := slices.Sorted(slices.Values(ratios))
	n := len(sorted)
	median := (sorted[(n-1)/2] + sorted[n/2]) / 2
	return Pace{Ratio: min(max(median, leastPace), mostPace), Days: n}
}

// Counts reports whether the pace stands on enough days.
func (p Pace) Counts() bool { return p.Days >= PaceDays }

// Paced returns the technique as fast as a studio works, by the ids of its
// steps. Waits and the product's mix time are nobody's pace.
func (t Technique) Paced(paces map[string]Pace) Technique {
	if len(paces) == 0 {
		return t
	}
	t.Steps = slices.Clone(t.Steps)
	for i := range t.Steps {
		s := &t.Steps[i]
		if p, ok := paces[s.ID]; ok && p.Counts() && !s.Waiting && !s.Mixes {
			s.Pace = p.Ratio
		}
	}
	return t
}
