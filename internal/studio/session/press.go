package session

import (
	"fmt"
	"slices"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// A Press is one button: the events it adds to the day as it stands, or why
// not.
type Press func(b Bench, now time.Time) ([]Event, error)

func event(what EventKind, step int, now time.Time, text string) Event {
	return Event{At: now.Truncate(time.Millisecond), What: what, Step: step, Text: text}
}

// refuse is a press that cannot be.
func refuse(format msg.ID, args ...any) error {
	return &form.Refused{Err: refusal.New(format, args...)}
}

// ErrStale means another screen was faster; the newer state is returned.
var ErrStale = refusal.New("another screen has just done this step")

func met(b Bench, batch int, now time.Time, from string) Event {
	e := event(Met, b.mixStep(batch), now, fmt.Sprintf("lot %d%s", batch, from))
	e.BatchNo = batch
	return e
}

// mixStep is the place of the step that mixes a batch, the step in hand for one
// beyond those planned.
func (b Bench) mixStep(batch int) int {
	for i, s := range b.Steps {
		if s.Kind == plan.StepMix && max(1, s.BatchNo) == batch {
			return i
		}
	}
	return b.Cursor()
}

// PartsMeet starts a batch's clock: that of the mix step in hand, or of a further
// batch.
func PartsMeet(b Bench, now time.Time) ([]Event, error) {
	if b.Finished() {
		return nil, refuse("this coat is finished")
	}
	batch := len(b.BatchesMixed()) + 1
	for _, i := range b.InHand() {
		if b.WaitsForParts(i) {
			batch = max(1, b.Steps[i].BatchNo)
		}
	}
	return []Event{met(b, batch, now, "")}, nil
}

// WaitsForParts reports whether the step in hand mixes a batch whose parts have
// not met.
func (b Bench) WaitsForParts(i int) bool {
	return b.Steps[i].isMix() && !b.hasMet(max(1, b.Steps[i].BatchNo))
}

// StepDone marks the step in hand as done, see [DoneAt].
func StepDone(b Bench, now time.Time) ([]Event, error) { return DoneAt(-1, "")(b, now) }

// StepSkipped leaves the step in hand out.
func StepSkipped(b Bench, now time.Time) ([]Event, error) { return SkippedAt(-1)(b, now) }

// What a button said when it was pressed.
const (
	SaidMet  = "met"
	SaidDone = "done"
)

// DoneAt marks a step as done; where it mixes, the first press is the moment the
// mixing begins. With a flame over something that still burns it is refused. A step
// that another screen has done meanwhile is not done twice. A step is named by its
// id, −1 is the one in hand; said is what its button said.
func DoneAt(step int, said string) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		i, err := b.take(step)
		if err != nil {
			return nil, err
		}
		waits := b.WaitsForParts(i)
		if (said == SaidMet && !waits) || (said == SaidDone && waits) {
			return nil, ErrStale
		}
		if waits {
			return []Event{met(b, max(1, b.Steps[i].BatchNo), now, "")}, nil
		}
		if b.Steps[i].Heats {
			if err := b.flameAllowed(now); err != nil {
				return nil, err
			}
		}
		return []Event{event(Did, i, now, "")}, nil
	}
}

// flameAllowed refuses a flame over what still burns.
func (b Bench) flameAllowed(now time.Time) error {
	if until := b.FlammableUntil(); now.Before(until) {
		return refuse("no flame for another %s: something flammable is still wet. Wait, or skip the heat",
			words.Spoken(until.Sub(now).Minutes()))
	}
	return nil
}

// SkippedAt leaves a step out; −1 is the step in hand.
func SkippedAt(step int) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		i, err := b.take(step)
		if err != nil {
			return nil, err
		}
		return []Event{event(Skip, i, now, "")}, nil
	}
}

// take returns the place of the step a press is about, by its id, when it can be
// done now.
func (b Bench) take(id int) (int, error) {
	hand := b.InHand()
	if id < 0 {
		if len(hand) == 0 {
			return 0, refuse("everything is done")
		}
		return hand[0], nil
	}
	switch step := b.place(id); {
	case step >= len(b.Steps):
		return 0, refuse("there is no such step")
	case !slices.Contains(hand, step):
		return 0, ErrStale
	default:
		return step, nil
	}
}

// TakeBack takes the last press back. Notes and photographs stay.
func TakeBack(b Bench, now time.Time) ([]Event, error) {
	if b.lastPress() < 0 {
		return nil, refuse("nothing has been done yet")
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

// MetOnScale starts the clock of a batch whose parts have just met on the scale,
// once; what was not ticked off before its mix step is over. Nothing when that
// batch runs already.
func MetOnScale(batch int) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		follows := b.batchNow(batch) == 1 || len(b.People) < 2
		return b.metOnScale(batch, now, follows)
	}
}

// MetBefore is the same of a day that is only begun: what comes before its first mix is over, what is
// poured is still to be.
func MetBefore(batch int) Press {
	return func(b Bench, now time.Time) ([]Event, error) { return b.metOnScale(batch, now, batch == 1) }
}

func (b Bench) metOnScale(batch int, now time.Time, follows bool) ([]Event, error) {
	batch = b.batchNow(batch)
	if b.Done || b.hasMet(batch) {
		return nil, nil
	}
	var out []Event
	for i := b.Cursor(); follows && i < b.mixStep(batch) && i < len(b.Steps); i++ {
		if _, over := b.Over(i); !over {
			out = append(out, event(Did, i, now, ""))
		}
	}
	trial := b
	trial.Events = append(append([]Event(nil), b.Events...), out...)
	return append(out, met(trial, batch, now, ", from the scale")), nil
}

// ReadyFor reports whether what comes before a batch is mixed is over.
func (b Bench) ReadyFor(batch int) bool { return b.Cursor() >= b.mixStep(batch) }

// Noted keeps words, or a photograph, at the step in hand.
func Noted(what EventKind, text string, photo int64) Press {
	return func(b Bench, now time.Time) ([]Event, error) {
		e := event(what, b.Cursor(), now, text)
		e.Photo = photo
		return []Event{e}, nil
	}
}
