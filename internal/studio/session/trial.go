package session

import (
	"time"

	"jevvo/internal/core/wet"
)

// An Answered is a trial of a rehearsal with what became of it.
type Answered struct {
	wet.Trial
	At    time.Time // it came
	Took  float64   // minutes until it was answered; those since where it was not
	Work  string    // done against a complaint; "" for a cup, or nothing
	Done  bool
	Right bool // a work that helps, or the cup replaced
}

// Answers are the trials that have come until a moment, as they were answered.
func (b Bench) Answers(now time.Time) []Answered {
	first := b.firstPour()
	if first.IsZero() {
		return nil
	}
	var out []Answered
	for _, t := range b.Trials {
		at := first.Add(time.Duration(t.Minute * float64(time.Minute)))
		if at.After(now) {
			continue
		}
		a := Answered{Trial: t, At: at, Took: now.Sub(at).Minutes()}
		for _, e := range b.Events {
			if e.Undone || e.At.Before(at) {
				continue
			}
			switch {
			case t.Complaint != "" && e.What == Disliked && e.Text == t.Complaint && e.Place == t.Place:
				a.Done, a.Right, a.Work = true, true, e.Work
			case t.Cup != "" && e.What == Added && e.Add != nil && e.Add.Pourings[t.Cup] > 0:
				a.Done, a.Right = true, true
			}
			if a.Done {
				a.Took = e.At.Sub(at).Minutes()
				break
			}
		}
		out = append(out, a)
	}
	return out
}

// Trial is the one that waits for an answer, the oldest first; false for none. What
// nobody answered in thrice its time is past.
func (b Bench) Trial(now time.Time) (Answered, bool) {
	for _, a := range b.Answers(now) {
		if !a.Done && a.Took < 3*wet.TrialTime {
			return a, true
		}
	}
	return Answered{}, false
}

// firstPour is when the first cup was poured out; zero while none is.
func (b Bench) firstPour() time.Time {
	for _, e := range b.Events {
		if e.What == Did && !e.Undone && e.Step < len(b.Steps) && b.Steps[e.Step].Pours {
			return e.At
		}
	}
	return time.Time{}
}
