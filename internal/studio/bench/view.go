package bench

import (
	"context"
	"math"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/words"
)

// A View is a bench day at a moment: what the screen says.
type View struct {
	session.Bench
	Now     time.Time // the bench's own
	RoomAt  Room
	Air     Air // of the day so far
	Current *StepView
	Beside  *StepView  // what another pair of hands does meanwhile
	Next    []StepView // the following ones
	Past    int
	Mixed   []MixedBatch
	Flame   FlameLock
	Notes   []session.Event
	Score   *Score
	Windows []Window           // of the newest batch, for the strip
	Strip   float64            // minutes the strip is long
	Trial   *session.Answered  // of a rehearsal, that waits for an answer
	Check   *Checkpoint        // before an optional step
	Weighed *weighing.Weighing // the newest weigh-out of it, until the hands are done
}

// A StepView is a step with how its window stands.
type StepView struct {
	session.Step
	Index   int
	Verdict msg.Text
	State   WindowState
	// Left is minutes until the window opens, closes or the rest is over,
	// counted down on the screen; 0 for none.
	Left     float64
	LeftWhat msg.ID
	Locked   bool // no flame now
	Caution  []technique.Safety
	Button   msg.ID
	Since    float64 // minutes since the step before it was over
	Who      string  // of a crew
	Says     string  // what its button stands for: session.SaidMet or SaidDone
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

// A MixedBatch is one batch's clock.
type MixedBatch struct {
	Name    msg.Text
	Cups    []string // it feeds
	Met     time.Time
	Minutes float64
	Phase   cure.Phase
	Closes  float64 // minutes until the phase ends; 0 when it does not
	Thick   float64 // c; +Inf from gel
	Poured  bool    // nothing of it is left in its jug
	Keeps   float64 // minutes it still keeps there; negative when it is too old
	clock   *cure.Clock
	room    cure.Room
}

// agesSoon is how many minutes before it is too old a batch is called old (common
// practice).
const agesSoon = 4

// Old reports a batch that stands in its jug and is nearly past using.
func (l MixedBatch) Old() bool { return !l.Poured && l.Keeps < agesSoon }

// A FlameLock is a flame forbidden while something flammable is wet.
type FlameLock struct {
	On   bool
	Left float64 // minutes
}

// A Window is one window on the strip under the clock, in minutes after
// mixing began.
type Window struct {
	Name     msg.ID
	From, To float64
}

// Look returns what a bench screen says now, or said when what is kept late was
// pressed.
func (s *Service) Look(ctx context.Context, b session.Bench) (View, error) {
	real := s.log.When(ctx)
	v := View{Bench: b, Now: b.Now(real), Past: b.Cursor(), RoomAt: Room{Temperature: b.Room, At: real}}
	if !b.Rehearsal {
		var err error
		if v.RoomAt, err = s.RoomNow(ctx); err != nil {
			return v, err
		}
		if v.RoomAt.Source == "" {
			v.RoomAt.Temperature, v.RoomAt.Source = b.Room, FromPlan
		}
		if v.Air, err = s.air(ctx, b, v.Now); err != nil {
			return v, err
		}
		if v.Weighed, err = s.weighedFor(ctx, b); err != nil {
			return v, err
		}
	}
	for i, met := range b.BatchesMixed() {
		room := cure.Constant(b.Room)
		if !b.Rehearsal {
			var err error
			if room, err = s.curve(ctx, met, b.Room); err != nil {
				return v, err
			}
		}
		v.Mixed = append(v.Mixed, v.mixed(i, met, room))
	}
	if until := b.FlammableUntil(); v.Now.Before(until) {
		v.Flame = FlameLock{true, until.Sub(v.Now).Minutes()}
	}
	v.lookAtSteps()
	for _, e := range b.Events {
		if e.Tells() {
			v.Notes = append(v.Notes, e)
		}
	}
	if t, ok := b.Trial(v.Now); ok && !b.Finished() {
		v.Trial = &t
	}
	if err := s.checkpoint(ctx, &v); err != nil {
		return v, err
	}
	if n := len(v.Mixed); n > 0 {
		v.strip(v.Mixed[n-1].clock)
	}
	if b.Rehearsal && v.Current == nil {
		score := ScoreOf(b)
		v.Score = &score
	}
	return v, nil
}

// weighedFor is the newest weigh-out of a bench day; nil when there is none, or the
// hands are past it.
func (s *Service) weighedFor(ctx context.Context, b session.Bench) (*weighing.Weighing, error) {
	if b.PastHands() {
		return nil, nil
	}
	list, err := s.log.WeighingsOf(ctx, b.PieceID)
	if i := slices.IndexFunc(list, func(w weighing.Weighing) bool { return b.WeighedBy(w) && w.Begun() }); i >= 0 {
		return &list[i], err
	}
	return nil, err
}

// air sums up the room from when mixing began until the day was over.
func (s *Service) air(ctx context.Context, b session.Bench, now time.Time) (Air, error) {
	met := b.BatchesMixed()
	if len(met) == 0 {
		return Air{}, nil
	}
	rows, err := s.store.RoomSince(ctx, met[0])
	if b.Done {
		now = b.LastOver()
	}
	return airOf(rows, now), err
}

// lookAtSteps sorts the open steps into those in hand and those that follow.
func (v *View) lookAtSteps() {
	hand := v.InHand()
	for i := v.Past; i < len(v.Steps); i++ {
		if _, over := v.Over(i); over {
			continue
		}
		step := v.view(i)
		switch {
		case len(hand) > 0 && hand[0] == i:
			v.Current = &step
		case v.Bench.Beside(i):
			v.Beside = &step
		default:
			v.Next = append(v.Next, step)
		}
	}
}

func (v View) mixed(i int, met time.Time, room cure.Room) MixedBatch {
	clock := v.Clock(room)
	m := v.Now.Sub(met).Minutes()
	l := MixedBatch{Name: msg.F("Batch %d", i+1), Met: met, Minutes: m, Thick: cure.Thickening(clock.Conversion(m)),
		clock: clock, room: room, Poured: v.Bench.Poured(i + 1)}
	if i < len(v.Batches) {
		l.Cups, l.Keeps = v.Batches[i].Cups, v.Batches[i].UseBy-m
	} else {
		l.Poured = true // nothing is known of a batch beyond the plan
	}
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

// wanted is in how many minutes the hands come to a batch, from 1: what is left of
// the steps before the first pour it feeds.
func (v View) wanted(batch int) float64 {
	sum := 0.0
	if at := v.LastOver(); !at.IsZero() {
		sum = -v.Now.Sub(at).Minutes()
	}
	for i, s := range v.Steps {
		if s.Pours && s.BatchNo == batch {
			break
		}
		if _, over := v.Over(i); !over && !s.Mixing {
			sum += s.Minutes
		}
	}
	return math.Max(0, sum)
}

// makes is how long a batch takes to be mixed and coloured.
func (v View) makes(batch int) float64 {
	sum := 0.0
	for _, s := range v.Steps {
		if s.Mixing && s.BatchNo == batch {
			sum += s.Minutes
		}
	}
	return sum
}

// worksOn returns the batches a step works on: its own, or all that are poured.
func (v View) worksOn(step session.Step) []MixedBatch {
	if step.BatchNo >= 1 && step.BatchNo <= len(v.Mixed) {
		return v.Mixed[step.BatchNo-1 : step.BatchNo]
	}
	return v.Mixed
}

// view judges a step against the clocks of the batches it works on.
func (v View) view(i int) StepView {
	step := v.Steps[i]
	s := StepView{Step: step, Index: i, Caution: technique.SafetyNotes(step.Safety...), Button: "Done",
		Says: session.SaidDone}
	if step.Hands < len(v.People) {
		s.Who = v.People[step.Hands]
	}
	s.Locked = step.Heats && v.Flame.On
	if at := v.LastOver(); !at.IsZero() {
		s.Since = v.Now.Sub(at).Minutes()
	}
	if v.WaitsForParts(i) {
		s.Button, s.Says = "Start mixing", session.SaidMet
		s.Verdict = msg.ID("Press as B goes into A: that starts the clock.")
		s.inTime(v)
		return s
	}
	batches := v.worksOn(step)
	if len(batches) == 0 || step.Window == "" {
		if step.Kind == plan.StepTape && step.After > 0 {
			s.after(v, step)
		}
		return s
	}
	opens, closes := math.Inf(-1), math.Inf(1) // minutes from now
	for _, l := range batches {
		w := l.clock.Window(step.Window)
		age := l.Minutes + v.hurried(l, step.Place)
		opens, closes = math.Max(opens, w.From-age), math.Min(closes, w.To-age)
	}
	if step.AtOnce {
		opens = math.Inf(-1)
	}
	if step.Kind == plan.StepLook {
		if ended := v.PourEnded(); !ended.IsZero() {
			opens = math.Max(opens, ended.Sub(v.Now).Minutes()+step.After)
		}
	}
	s.judge(opens, closes)
	if s.Pours && (s.State == WindowOpen || s.State == WindowTight) {
		s.keepsFor(batches, closes)
	}
	return s
}

// keepsFor judges a pour by its batch where that is too old in its jug before the window
// closes.
func (s *StepView) keepsFor(batches []MixedBatch, closes float64) {
	for _, l := range batches {
		if l.Poured || l.Keeps >= closes {
			continue
		}
		closes = l.Keeps
		s.Left, s.LeftWhat = math.Max(0, l.Keeps), "until the batch is too old to pour"
		switch {
		case l.Keeps <= 0:
			s.State = WindowLate
			s.Verdict = msg.F("%s has been too old to pour for %s: mix it again, do not stretch it.", l.Name,
				words.Spoken(-l.Keeps))
		case s.Minutes > l.Keeps:
			s.State = WindowTight
			s.Verdict = msg.F("Tight: %s keeps for another %s in its jug, and this takes %s.",
				msg.Lower(l.Name),
				words.Spoken(l.Keeps), words.Spoken(s.Minutes))
		default:
			s.State = WindowOpen
			s.Verdict = msg.F("Now is the time; %s keeps for another %s in its jug.", msg.Lower(l.Name),
				words.Spoken(l.Keeps))
		}
	}
}

// inTime says when a further batch is to be mixed, so that it is ready when the
// hands come to it and does not age before.
func (s *StepView) inTime(v View) {
	if s.BatchNo < 2 {
		return
	}
	wanted := v.wanted(s.BatchNo)
	if wait := wanted - v.makes(s.BatchNo); wait > 0.5 {
		s.State, s.Left, s.LeftWhat = WindowEarly, wait, "until it is time to mix"
		s.Verdict = msg.F("Mix it in %s: any sooner and it ages in its jug.", words.Spoken(wait))
		return
	}
	s.State = WindowOpen
	s.Verdict = msg.ID("Mix the next batch now.")
	if wanted > 0.5 {
		s.Verdict = msg.F("Mix the next batch now: it is needed in %s.", words.Spoken(wanted))
	}
}

// after says how long to wait for a step that goes by minutes after the pour.
func (s *StepView) after(v View, step session.Step) {
	if ended := v.PourEnded(); !ended.IsZero() {
		s.judge(ended.Sub(v.Now).Minutes()+step.After, math.Inf(1))
	}
}

// judge puts the window in words, the verdict first, then the number. opens and
// closes are minutes from now.
func (s *StepView) judge(opens, closes float64) {
	switch {
	case opens > 0:
		s.State, s.Left, s.LeftWhat = WindowEarly, opens, "until it is time"
		s.Verdict = msg.F("Wait %s: %s", words.Spoken(opens), opening(s.Step))
	case closes <= 0:
		s.State = WindowLate
		s.Verdict = msg.F("Too late by %s for this: the resin no longer allows it. Skip it, or do it on a fresh batch.",
			words.Spoken(-closes))
	case s.Minutes > closes:
		s.State, s.Left, s.LeftWhat = WindowTight, closes, "until the window closes"
		s.Verdict = msg.F("Tight: %s left, and this takes %s.", words.Spoken(closes), words.Spoken(s.Minutes))
	default:
		s.State, s.Left, s.LeftWhat = WindowOpen, closes, "until the window closes"
		s.Verdict = msg.F("Now is the time; the window is open for another %s.", words.Spoken(closes))
		if math.IsInf(closes, 1) {
			s.Left, s.Verdict = 0, msg.F("Now is the time to %s.", msg.Lower(s.Name))
		}
	}
	if s.Kind == plan.StepRest && s.State != WindowEarly {
		if rest := s.Minutes - s.Since; rest > 0 {
			s.Left, s.LeftWhat = rest, "of rest left"
			s.Verdict = msg.F("Hands off for another %s.", words.Spoken(rest))
		}
	}
}

// opening says what the wait is for.
func opening(s session.Step) msg.ID {
	switch {
	case s.Kind == plan.StepTape:
		return "then the tape comes away clean."
	case s.Kind == plan.StepLook:
		return "then look for bubbles again."
	case s.Window == cure.Holding:
		return "then lines will hold."
	case s.Window == cure.Lacing:
		return "then it laces."
	}
	return "then its window opens."
}

// strip lays the windows of the day on a strip that ends after the tape.
func (v *View) strip(clock *cure.Clock) {
	v.Strip = clock.Window(cure.Stringy).To
	for _, w := range clock.Windows() {
		if w.From < v.Strip {
			v.Windows = append(v.Windows, Window{msg.ID(w.Phase), w.From, math.Min(w.To, v.Strip)})
		}
	}
}

// Temperature prints the room.
func (v View) Temperature(sys units.System) msg.Text { return v.RoomAt.Temperature.Text(sys) }
