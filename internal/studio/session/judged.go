package session

import (
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
)

// The outcomes of what was done against a complaint.
const (
	Better = "better"
	Same   = "same"
	Worse  = "worse"
)

// Outcomes holds them in the order they are offered.
var Outcomes = []string{Better, Same, Worse}

// Mend is the remedy for a complaint at a place: the step that a work is, added
// to the day, or nothing for hands off.
func Mend(complaint string, place technique.Place, work string, step *Step) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		e := event(Disliked, b.Cursor(), now, complaint)
		e.Place, e.Work = place, work
		out := []Event{e}
		if step != nil {
			added := b.added(*step, now)
			added.Joined = true
			out = append(out, added)
		}
		return out, nil
	}
}

// Outcome says what came of the newest work against a complaint.
func Outcome(how string) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		i, ok := b.Asks()
		if !ok {
			return nil, ErrStale
		}
		return []Event{event(Judged, i, now, how)}, nil
	}
}

// Asks returns the step against a complaint whose outcome nobody has said.
func (b Bench) Asks() (int, bool) {
	for i, s := range b.Steps {
		if s.Against == "" || !b.did(i) {
			continue
		}
		if _, said := b.outcome(i); !said {
			return i, true
		}
	}
	return 0, false
}

func (b Bench) outcome(step int) (string, bool) {
	for _, e := range b.Events {
		if e.What == Judged && !e.Undone && e.Step == step {
			return e.Text, true
		}
	}
	return "", false
}

// A Mended is a complaint of the day with what was done and what came of it.
type Mended struct {
	At        time.Time
	Complaint string
	Place     technique.Place
	Work      string
	Outcome   string // "" where nobody said
}

// Mendeds are the complaints of a day.
func (b Bench) Mendeds() []Mended {
	var out []Mended
	for k, e := range b.Events {
		if e.What != Disliked || e.Undone {
			continue
		}
		m := Mended{At: e.At, Complaint: e.Text, Place: e.Place, Work: e.Work}
		if k+1 < len(b.Events) && b.Events[k+1].Joined { // the step it added
			m.Outcome, _ = b.outcome(b.place(b.addedID(k + 1)))
		}
		out = append(out, m)
	}
	return out
}

// addedID is the id of the step that an event added.
func (b Bench) addedID(event int) int {
	id := firstAdded - 1
	for _, e := range b.Events[:event+1] {
		if e.What == Added {
			id++
		}
	}
	return id
}

// Heat notes a pass of heat over a place, "" for all of the board; seconds is how long
// it was pressed, 0 for one quick pass. Over what still burns it is refused.
func Heat(place technique.Place, seconds float64) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		if err := b.flameAllowed(now); err != nil {
			return nil, err
		}
		if len(b.BatchesMixed()) == 0 {
			return nil, refuse("nothing is on the board yet")
		}
		e := event(Heated, b.Cursor(), now, "")
		e.Place, e.Value = place, seconds
		return []Event{e}, nil
	}
}

// LeaveAlone marks a place that nobody touches any more, or frees it again.
func LeaveAlone(place technique.Place) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		e := event(LeftAlone, b.Cursor(), now, "")
		e.Place = place
		return []Event{e}, nil
	}
}

// Alone are the places that are left alone.
func (b Bench) Alone() []technique.Place {
	on := map[technique.Place]bool{}
	for _, e := range b.Events {
		if e.What == LeftAlone && !e.Undone {
			on[e.Place] = !on[e.Place]
		}
	}
	var out []technique.Place
	for _, p := range technique.Spots {
		if on[p] {
			out = append(out, p)
		}
	}
	return out
}

// HappenedSo keeps that something went otherwise, with what it has to be told.
func HappenedSo(id, of string, value float64) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		e := event(Happening, b.Cursor(), now, id)
		e.Work, e.Value = of, value
		return []Event{e}, nil
	}
}

// takesHold lets what happened change the day it happened on.
func (b *Bench) takesHold(e Event) {
	switch e.Text {
	case wet.PouredOther:
		b.Film = units.Length(e.Value)
	case wet.TapeMissed:
		for i := range b.Steps {
			if s := &b.Steps[i]; s.Kind == plan.StepTape {
				s.Window, s.After, s.Name = cure.Hard, 0, msg.Store(msg.ID("Warm the edge and pull the tape"))
				s.Do, s.Safety = msg.Store(msg.ID("Warm the edge with air, then slowly, away from the film.")), []string{"hotair"}
			}
		}
	}
}

// Short is which share of the hardener is missing, 0 for none.
func (b Bench) Short() float64 {
	for i := len(b.Events) - 1; i >= 0; i-- {
		if e := b.Events[i]; e.What == Happening && !e.Undone && e.Text == wet.HardenerShort {
			return e.Value
		}
	}
	return 0
}

// Passes are the passes of heat over a place since a moment: those of the steps, which
// go everywhere, and those that were pressed for it or for all of the board.
func (b Bench) Passes(place technique.Place, since time.Time) []cure.Pass {
	var out []cure.Pass
	for _, e := range b.Events {
		minute := e.At.Sub(since).Minutes()
		if e.Undone || minute < 0 {
			continue
		}
		switch {
		case e.What == Heated && (e.Place == "" || e.Place == place):
			out = append(out, cure.Pass{Minute: minute, Heat: wet.Warmed(e.Value, b.spot(e.Place))})
		case e.What == Did && e.Step < len(b.Steps):
			s := b.Steps[e.Step]
			if s.Heats && s.Zone <= 1 && (s.Place == "" || place == "" || s.Place == place) && !s.watching() {
				out = append(out, cure.Pass{Minute: minute, Heat: wet.PassHeat})
			}
		}
	}
	return out
}

// spot is how large a place of the board is: one of its nine, or all of it.
func (b Bench) spot(p technique.Place) units.Area {
	if p == "" {
		return b.Face
	}
	return b.Face / units.Area(len(technique.Spots))
}

// Newest returns the newest event of a kind that was not taken back.
func (b Bench) Newest(kind EventKind) (Event, bool) {
	for i := len(b.Events) - 1; i >= 0; i-- {
		if e := b.Events[i]; e.What == kind && !e.Undone {
			return e, true
		}
	}
	return Event{}, false
}

// Tells reports whether an event is a line of the day's notes: what was written, not
// liked, or went otherwise.
func (e Event) Tells() bool {
	switch e.What {
	case Note, Photo:
		return true
	case Disliked, Happening, Stopped, LeftAlone:
		return !e.Undone
	}
	return false
}
