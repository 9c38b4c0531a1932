package session

import (
	"time"

	"jevvo/internal/core/units"
)

// AddStep puts a step nobody had planned before the one in hand.
func AddStep(s Step) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		return []Event{b.added(s, now)}, nil
	}
}

// added is the event of a step that is put before what can be done now.
func (b Bench) added(s Step, now time.Time) Event {
	e := event(Added, b.before(), now, "")
	e.Add = &s
	return e
}

// before is the place before which something is added: of what can be done now.
func (b Bench) before() int {
	at := len(b.Steps)
	for _, i := range b.InHand() {
		at = min(at, i)
	}
	return at
}

// A Fresh is a batch that is mixed for a cup that has not enough: its two steps and
// what it is.
type Fresh struct {
	Mix, Pour Step
	Batch     Batch
}

// MoreOf pours more of a cup: what is in it where that is enough and still keeps, else
// of a fresh batch.
func MoreOf(cup string, volume units.Volume, pour Step, fresh Fresh, keeps func(CupLeft) bool) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		if left := b.LeftOf(cup); left.Left >= volume-leastLeft/2 && keeps(left) {
			pour.BatchNo = left.BatchNo
			return []Event{b.added(pour, now)}, nil
		}
		batch := len(b.BatchesMixed()) + 1
		fresh.Mix.BatchNo, fresh.Pour.BatchNo = batch, batch
		mix, then := b.added(fresh.Mix, now), b.added(fresh.Pour, now)
		mix.Batch, mix.BatchNo = &fresh.Batch, batch
		then.BatchNo, then.Joined = batch, true
		return []Event{mix, then}, nil
	}
}

// StopHere ends the work on a coat that is liked: moves that are left are skipped,
// with the batches that are not mixed; bubbles, tape and cover stay.
func StopHere(b Bench, now time.Time) ([]Event, error) {
	if len(b.BatchesMixed()) == 0 {
		return nil, refuse("nothing is on the board yet")
	}
	out := []Event{event(Stopped, b.Cursor(), now, "")}
	for i, s := range b.Steps {
		if _, over := b.Over(i); over || !(s.isMove() || s.Mixing && !b.hasMet(max(1, s.BatchNo))) {
			continue
		}
		e := event(Skip, i, now, "")
		e.Joined = true
		out = append(out, e)
	}
	if len(out) == 1 {
		return nil, refuse("no moves are left; the remaining steps protect the coat")
	}
	return out, nil
}

// isMove reports whether a step changes what is seen: not the cover, the looks for
// bubbles, the tape. Days of before say it by what a step does.
func (s Step) isMove() bool {
	if s.watching() || s.Mixing || s.isMix() {
		return false
	}
	return s.Move != "" || s.Pours || s.Heats || s.Zone > 0 || s.Optional
}

// MovesLeft is how many moves are still to do.
func (b Bench) MovesLeft() int {
	n := 0
	for i, s := range b.Steps {
		if _, over := b.Over(i); !over && s.isMove() {
			n++
		}
	}
	return n
}

// Stop returns when the work was ended because it is liked.
func (b Bench) Stop() (time.Time, bool) {
	for _, e := range b.Events {
		if e.What == Stopped && !e.Undone {
			return e.At, true
		}
	}
	return time.Time{}, false
}

// Made reports whether a step like this was done on the day, and whether the day had
// one at all: the same step of its technique, or a move of the same kind.
func (b Bench) Made(like Step) (did, has bool) {
	for i, s := range b.Steps {
		same := s.Of != "" && s.Of == like.Of || s.Of == "" && like.Of == "" && s.Move != "" && s.Move == like.Move
		if same && !s.Added {
			did, has = did || b.did(i), true
		}
	}
	return did, has
}

// AddedDone are the steps that were added and done, but those against a complaint,
// which stand with it.
func (b Bench) AddedDone() []Step {
	var out []Step
	for i, s := range b.Steps {
		if s.Added && s.Against == "" && !s.isMix() && b.did(i) {
			out = append(out, s)
		}
	}
	return out
}
