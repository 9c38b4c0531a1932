package session

import (
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
)

// Bounds of what counts as the time of a step: shorter ones are a press made late
// or early, and a day that was left lying says nothing (common practice).
const (
	leastTimed = 0.5 // minutes by the library
	mostTimes  = 5.0 // over the library, or under it
)

// Took returns how long the technique's steps took on a day that is over, beats
// and batches of a step together. A step is calculated from the press before it, by the
// hands that did it; what was left out, waits and looks are not.
func (b Bench) Took() []store.StepTime {
	type sum struct{ usual, took float64 }
	sums := map[string]*sum{}
	var order []string
	last := map[bool]time.Time{}
	var any time.Time
	for _, e := range b.Events {
		if e.Undone || (e.What != Met && e.What != Did && e.What != Skip) || e.Step >= len(b.Steps) {
			continue
		}
		s := b.Steps[e.Step]
		track := s.Mixing && len(b.People) > 1 // a mixer beside the work has a time of its own
		from := last[track]
		if from.IsZero() {
			from = any
		}
		last[track], any = e.At, e.At
		if !track {
			last[true] = later(last[true], e.At)
		}
		if e.What != Did || from.IsZero() || s.Of == "" || s.Usual < leastTimed ||
			(s.Kind != plan.StepHands && s.Kind != plan.StepBefore) {
			continue
		}
		if sums[s.Of] == nil {
			sums[s.Of] = &sum{}
			order = append(order, s.Of)
		}
		sums[s.Of].usual += s.Usual
		sums[s.Of].took += e.At.Sub(from).Minutes()
	}
	var out []store.StepTime
	for _, of := range order {
		t := sums[of]
		if t.took > t.usual/mostTimes && t.took < t.usual*mostTimes {
			out = append(out, store.StepTime{Session: b.ID, Piece: b.PieceID, Technique: b.Way, Step: of, Usual: t.usual,
				Took: t.took, At: any})
		}
	}
	return out
}

func later(a, b time.Time) time.Time {
	if a.After(b) {
		return a
	}
	return b
}

// Worked is how long hands were at work on the day: from each press to the next where
// that ended a step of hands. A step that was left lying counts for no more than five
// times its minutes by the library.
func (b Bench) Worked() time.Duration {
	var sum time.Duration
	last := b.At
	for _, e := range b.Events {
		if e.Undone || (e.What != Met && e.What != Did && e.What != Skip) || e.Step >= len(b.Steps) {
			continue
		}
		s := b.Steps[e.Step]
		took := e.At.Sub(last)
		last = later(last, e.At)
		if e.What == Skip || (s.Kind != plan.StepHands && s.Kind != plan.StepBefore && s.Kind != plan.StepMix) {
			continue
		}
		most := time.Duration(mostTimes * max(s.Minutes, leastTimed) * float64(time.Minute))
		sum += max(0, min(took, most))
	}
	return sum
}
