package session

import (
	"errors"
	"fmt"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/words"
)

// A Press is one button: the events it adds to the day as it stands, or why
// not.
type Press func(b Bench, now time.Time) ([]Event, error)

func event(what EventKind, step int, now time.Time, text string) Event {
	return Event{At: now.Truncate(time.Millisecond), What: what, Step: step, Text: text}
}

// refuse is a press that cannot be.
func refuse(format string, args ...any) error {
	return &form.Refused{Err: fmt.Errorf(format, args...)}
}

// ErrStale means another screen was faster; the newer state is returned.
var ErrStale = errors.New("another screen has just done this step")

func met(b Bench, now time.Time, from string) Event {
	lot := len(b.LotsMet()) + 1
	e := event(Met, b.Cursor(), now, fmt.Sprintf("lot %d%s", lot, from))
	e.Lot = lot
	return e
}

// PartsMeet starts a lot's clock: that of the mix step in hand, or of a further
// lot.
func PartsMeet(b Bench, now time.Time) ([]Event, error) {
	if b.Finished() {
		return nil, refuse("this coat is finished")
	}
	return []Event{met(b, now, "")}, nil
}

// waitsForParts reports whether the step in hand mixes a lot whose parts have
// not met.
func (b Bench) waitsForParts(i int) bool {
	return b.Steps[i].Kind == plan.StepMix && len(b.LotsMet()) < max(1, b.Steps[i].Lot)
}

// StepDone marks the step in hand as done; where it mixes, the first press is
// the moment the parts meet. With a flame over something that still burns it is
// refused.
func StepDone(b Bench, now time.Time) ([]Event, error) {
	i := b.Cursor()
	if i >= len(b.Steps) {
		return nil, refuse("everything is done")
	}
	if b.waitsForParts(i) {
		return []Event{met(b, now, "")}, nil
	}
	if until := b.FlammableUntil(); b.Steps[i].Heats && now.Before(until) {
		return nil, refuse("no flame for another %s: something flammable is still wet. Wait, or skip the heat", words.Spoken(until.Sub(now).Minutes()))
	}
	return []Event{event(Did, i, now, "")}, nil
}

// StepSkipped leaves the step in hand out.
func StepSkipped(b Bench, now time.Time) ([]Event, error) {
	i := b.Cursor()
	if i >= len(b.Steps) {
		return nil, refuse("everything is done")
	}
	return []Event{event(Skip, i, now, "")}, nil
}

// TakeBack takes the last press back. Notes and photographs stay.
func TakeBack(b Bench, now time.Time) ([]Event, error) {
	if b.lastPress() < 0 {
		return nil, refuse("nothing was done yet")
	}
	return []Event{event(Undo, 0, now, "")}, nil
}

// Close ends a bench day early; what was done stays.
func Close(b Bench, now time.Time) ([]Event, error) {
	var out []Event
	for i := b.Cursor(); i < len(b.Steps); i++ {
		if _, over := b.Over(i); !over {
			out = append(out, event(Skip, i, now, ""))
		}
	}
	if len(out) == 0 {
		return nil, refuse("it is closed already")
	}
	return out, nil
}

// MetOnScale starts the clock of a lot whose parts have just met on the scale,
// once; what was not ticked off before its mix step is over. Nothing when that
// lot runs already.
func MetOnScale(lot int) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		if b.Done || len(b.LotsMet()) >= lot {
			return nil, nil
		}
		var out []Event
		for i := b.Cursor(); i < len(b.Steps) && b.Steps[i].Kind != plan.StepMix; i++ {
			if _, over := b.Over(i); !over {
				out = append(out, event(Did, i, now, ""))
			}
		}
		trial := b
		trial.Events = append(append([]Event(nil), b.Events...), out...)
		return append(out, met(trial, now, ", from the scale")), nil
	}
}

// Noted keeps words, or a photograph, at the step in hand.
func Noted(what EventKind, text string, photo int64) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		e := event(what, b.Cursor(), now, text)
		e.Photo = photo
		return []Event{e}, nil
	}
}
