package studio

import (
	"context"
	"fmt"
	"math"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A BenchView is a bench day at a moment: what the screen says.
type BenchView struct {
	Bench
	Now     time.Time // the bench's own
	RoomAt  RoomState
	Current *StepView
	Next    []StepView // the following ones
	Past    int
	Lots    []LotView
	Flame   FlameLock
	Notes   []BenchEvent
	Score   *Score
	Windows []BenchWindow // of the newest lot, for the strip
	Strip   float64       // minutes the strip is long
	Jumped  time.Duration // the computer's clock was set by so much
}

// A StepView is a step with how its window stands.
type StepView struct {
	BenchStep
	Index   int
	Verdict string
	State   WindowState
	// Left is minutes until the window opens, closes or the rest is over,
	// counted down on the screen; 0 for none.
	Left     float64
	LeftWhat string
	Locked   bool // no flame now
	Caution  []technique.Safety
	Button   string
	Since    float64 // minutes since the step before it was over
}

// WindowState is how a step stands to its window.
type WindowState string

// The states.
const (
	WindowNone  WindowState = ""
	WindowEarly WindowState = "early"
	WindowOpen  WindowState = "open"
	WindowTight WindowState = "tight" // closes before the step can be done
	WindowLate  WindowState = "late"
)

// A LotView is one lot's clock.
type LotView struct {
	Name    string
	Met     time.Time
	Minutes float64
	Phase   cure.Phase
	Closes  float64 // minutes until the phase ends; 0 when it does not
	Thick   float64 // c; +Inf from gel
}

// A FlameLock is a flame forbidden while something flammable is wet.
type FlameLock struct {
	On   bool
	Left float64 // minutes
}

// A BenchWindow is one window on the strip under the clock, in minutes after
// the parts met.
type BenchWindow struct {
	Name     string
	From, To float64
}

// LookAtBench returns what a bench screen says now.
func (s *Studio) LookAtBench(ctx context.Context, b Bench) (BenchView, error) {
	real := s.now()
	v := BenchView{Bench: b, Now: b.now(real), Past: b.cursor()}
	var err error
	if v.RoomAt, err = s.RoomNow(ctx); err != nil {
		return v, err
	}
	if b.Rehearsal {
		v.RoomAt = RoomState{Temperature: b.Room, At: real}
	}
	clocks, err := s.lotClocks(ctx, b)
	if err != nil {
		return v, err
	}
	lots := b.lots()
	for i, met := range lots {
		v.Lots = append(v.Lots, lotView(i, met, v.Now, clocks[i]))
	}
	if until := b.flammableUntil(); v.Now.Before(until) {
		v.Flame = FlameLock{true, until.Sub(v.Now).Minutes()}
	}
	for i := v.Past; i < len(b.Steps); i++ {
		var clock *cure.Clock
		var met time.Time
		if n := len(lots); n > 0 {
			clock, met = clocks[n-1], lots[n-1]
		}
		step := v.view(i, clock, met)
		if v.Current == nil {
			v.Current = &step
		} else {
			v.Next = append(v.Next, step)
		}
	}
	for _, e := range b.Events {
		if e.What == EventNote || e.What == EventPhoto {
			v.Notes = append(v.Notes, e)
		}
	}
	if n := len(lots); n > 0 {
		v.strip(clocks[n-1])
	}
	if b.Rehearsal && v.Current == nil {
		score := b.Score(cure.Constant(b.Room))
		v.Score = &score
	}
	return v, nil
}

// lotClocks follows each lot along the room as it was read; a rehearsal along
// the planned room.
func (s *Studio) lotClocks(ctx context.Context, b Bench) ([]*cure.Clock, error) {
	var out []*cure.Clock
	for _, met := range b.lots() {
		room := cure.Constant(b.Room)
		if !b.Rehearsal {
			var err error
			if room, err = s.roomCurve(ctx, met, b.Room); err != nil {
				return nil, err
			}
		}
		out = append(out, cure.NewClock(b.Kinetics, room))
	}
	return out, nil
}

func lotView(i int, met, now time.Time, clock *cure.Clock) LotView {
	m := now.Sub(met).Minutes()
	l := LotView{Name: fmt.Sprintf("Lot %d", i+1), Met: met, Minutes: m, Thick: cure.Thickening(clock.Conversion(m))}
	for _, w := range clock.Windows() { // the last one open names the phase
		if w.Contains(m) {
			l.Phase, l.Closes = w.Phase, 0
			if !math.IsInf(w.To, 1) {
				l.Closes = w.To - m
			}
		}
	}
	return l
}

// view judges a step against the newest lot's clock.
func (v BenchView) view(i int, clock *cure.Clock, met time.Time) StepView {
	step := v.Steps[i]
	s := StepView{BenchStep: step, Index: i, Caution: technique.SafetyNotes(step.Safety...), Button: "Done"}
	s.Locked = step.Heats && v.Flame.On
	if at := v.lastOver(); !at.IsZero() {
		s.Since = v.Now.Sub(at).Minutes()
	}
	if step.Kind == StepMix && len(v.lots()) == 0 {
		s.Button = "The parts meet now"
		s.Verdict = "Press the moment B touches A: the clock starts."
		return s
	}
	if clock == nil || step.Window == "" {
		return s
	}
	now := v.Now.Sub(met).Minutes()
	w := clock.Window(step.Window)
	opens := w.From
	if step.Kind == StepBubbles {
		if ended := v.pourEnded(); !ended.IsZero() {
			opens = math.Max(opens, ended.Sub(met).Minutes()+step.After)
		}
	}
	s.judge(now, opens, w)
	return s
}

// judge puts the window in words, the verdict first, then the number.
func (s *StepView) judge(now, opens float64, w cure.Window) {
	verb := lower(s.Name)
	switch {
	case now < opens:
		s.State, s.Left, s.LeftWhat = WindowEarly, opens-now, "until it is time"
		s.Verdict = fmt.Sprintf("Wait %s: %s", Spoken(opens-now), opening(s.BenchStep))
	case now >= w.To:
		s.State = WindowLate
		s.Verdict = fmt.Sprintf("Too late by %s for this: the resin no longer allows it. Skip it, or do it on a fresh lot.", Spoken(now-w.To))
	case now+s.Minutes > w.To:
		s.State, s.Left, s.LeftWhat = WindowTight, w.To-now, "until the window closes"
		s.Verdict = fmt.Sprintf("Tight: %s left, and this takes %s.", Spoken(w.To-now), Spoken(s.Minutes))
	default:
		s.State, s.Left, s.LeftWhat = WindowOpen, w.To-now, "until the window closes"
		s.Verdict = fmt.Sprintf("Now is the time; the window is open for another %s.", Spoken(w.To-now))
		if math.IsInf(w.To, 1) {
			s.Left, s.Verdict = 0, "Now is the time to "+verb+"."
		}
	}
	if s.Kind == StepRest && s.State != WindowEarly {
		if rest := s.Minutes - s.Since; rest > 0 {
			s.Left, s.LeftWhat = rest, "of rest left"
			s.Verdict = fmt.Sprintf("Hands off for another %s.", Spoken(rest))
		}
	}
}

// opening says what the wait is for.
func opening(s BenchStep) string {
	switch {
	case s.Kind == StepTape:
		return "then the film is soft-set and the tape comes away clean."
	case s.Kind == StepBubbles:
		return "then look for bubbles again."
	case s.Window == cure.Holding:
		return "then lines will hold."
	case s.Window == cure.Lacing:
		return "then it laces."
	}
	return "then its window opens."
}

// lastOver is when the last step was done or left out.
func (b Bench) lastOver() time.Time {
	var at time.Time
	for _, e := range b.Events {
		if !e.Undone && (e.What == EventDone || e.What == EventSkip || e.What == EventMet) && e.At.After(at) {
			at = e.At
		}
	}
	return at
}

// strip lays the windows of the day on a strip that ends after the tape.
func (v *BenchView) strip(clock *cure.Clock) {
	v.Strip = clock.Window(cure.Stringy).To
	for _, w := range clock.Windows() {
		if w.From < v.Strip {
			v.Windows = append(v.Windows, BenchWindow{string(w.Phase), w.From, math.Min(w.To, v.Strip)})
		}
	}
}

// RoomCurve is the room a rehearsal is judged by: the planned one.
func (v BenchView) RoomCurve() cure.Room { return cure.Constant(v.Room) }

// Temperature prints the room.
func (v BenchView) Temperature(sys units.System) string { return v.RoomAt.Temperature.Text(sys) }
