package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/store"
)

// A Bench is one coat being made, for real or as a rehearsal. What is kept is
// the list of steps and what was done when; everything on the screen follows
// from the two, so that a reload, a second screen or a restart goes on where
// the hands are.
type Bench struct {
	ID        int64     `json:"-"`
	Rev       int64     `json:"-"`
	PieceID   int64     `json:"-"`
	Coat      string    `json:"-"`
	Done      bool      `json:"-"`
	At        time.Time `json:"-"`
	Rehearsal bool      `json:"-"`

	Piece     string
	Name      string // of the coat
	Technique string
	Kinetics  cure.Kinetics
	Film      units.Length
	Room      units.Temperature // planned
	Taped     bool
	Speed     float64 // of a rehearsal: minutes of resin a minute
	Steps     []BenchStep
	Events    []BenchEvent
}

// A BenchStep is one thing to do at the bench.
type BenchStep struct {
	Name    string
	Do      string
	LookFor string
	Window  cure.Phase
	Minutes float64
	Safety  []string
	Kind    StepKind
	Heats   bool
	// FlashOff is how many minutes what this step lays stays flammable.
	FlashOff    float64
	Zone, Zones int     // of a step worked zone by zone; 0 otherwise
	After       float64 // minutes after the pour ended, of a bubble pass
}

// StepKind is what a step does to the clock.
type StepKind string

// The kinds of steps.
const (
	StepBefore  StepKind = "before"  // before the parts meet
	StepMix     StepKind = "mix"     // starts a lot's clock
	StepHands   StepKind = "hands"   // work
	StepRest    StepKind = "rest"    // wait, hands free
	StepBubbles StepKind = "bubbles" // a look after the pour
	StepTape    StepKind = "tape"
)

// A BenchEvent is something that happened.
type BenchEvent struct {
	At     time.Time
	What   EventKind
	Step   int
	Text   string
	Photo  int64
	Undone bool
}

// EventKind names an event.
type EventKind string

// The events.
const (
	EventMet   EventKind = "met"   // parts met: a lot's clock runs
	EventDone  EventKind = "done"  // a step was done
	EventSkip  EventKind = "skip"  // a step was left out
	EventNote  EventKind = "note"  // words
	EventPhoto EventKind = "photo" // a picture
)

func decodeBench(row store.BenchRow, rehearsal bool) (Bench, error) {
	var b Bench
	if err := json.Unmarshal(row.Doc, &b); err != nil {
		return b, fmt.Errorf("read the bench day: %w", err)
	}
	b.ID, b.Rev, b.PieceID, b.Coat, b.Done, b.At, b.Rehearsal = row.ID, row.Rev, row.PieceID, row.Coat, row.Done, row.At, rehearsal
	return b, nil
}

func book(rehearsal bool) store.BenchBook {
	if rehearsal {
		return store.Rehearsals
	}
	return store.Benches
}

// Bench returns a bench day, or a rehearsal.
func (s *Studio) Bench(ctx context.Context, id int64, rehearsal bool) (Bench, error) {
	row, err := s.store.Bench(ctx, book(rehearsal), id)
	if err != nil {
		return Bench{}, err
	}
	return decodeBench(row, rehearsal)
}

func decodeBenches(rows []store.BenchRow, rehearsal bool) ([]Bench, error) {
	out := make([]Bench, len(rows))
	var err error
	for i, row := range rows {
		if out[i], err = decodeBench(row, rehearsal); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// BenchesOf returns a piece's bench days or rehearsals, newest first.
func (s *Studio) BenchesOf(ctx context.Context, piece int64, rehearsal bool) ([]Bench, error) {
	rows, err := s.store.BenchesOf(ctx, book(rehearsal), piece)
	if err != nil {
		return nil, err
	}
	return decodeBenches(rows, rehearsal)
}

// OpenBenches returns the bench days that go on.
func (s *Studio) OpenBenches(ctx context.Context) ([]Bench, error) {
	rows, err := s.store.OpenBenches(ctx)
	if err != nil {
		return nil, err
	}
	return decodeBenches(rows, false)
}

// Speeds are how fast a rehearsal can run.
var Speeds = []float64{1, 10, 60}

// StartBench begins a bench day for a coat, or a rehearsal when speed is not
// 0. A bench day of the coat that still goes on is returned instead.
func (s *Studio) StartBench(ctx context.Context, piece int64, coat string, speed float64) (Bench, error) {
	plan, err := s.Plan(ctx, piece)
	if err != nil {
		return Bench{}, err
	}
	rehearsal := speed != 0
	if rehearsal && !(speed >= 1 && speed <= 60) {
		return Bench{}, &RefusedError{errors.New("a rehearsal runs between once and sixty times as fast")}
	}
	if !rehearsal {
		open, err := s.BenchesOf(ctx, piece, false)
		if err != nil {
			return Bench{}, err
		}
		for _, b := range open {
			if b.Coat == coat && !b.Done {
				return b, nil
			}
		}
	}
	for i, c := range plan.Coats {
		if c.Key != coat {
			continue
		}
		b := Bench{Piece: plan.Piece.Name, Name: c.Name, Technique: c.Technique.Name, Kinetics: plan.Kinetics, Film: c.Film,
			Room: plan.Piece.Room, Taped: plan.Taped(), Speed: speed, Steps: plan.benchSteps(c, i > 0)}
		id, err := s.store.StartBench(ctx, book(rehearsal), piece, coat, b, s.now())
		if err != nil {
			return b, err
		}
		return s.Bench(ctx, id, rehearsal)
	}
	return Bench{}, store.ErrNotFound
}

// benchSteps lays out a coat's steps: zones beat by beat, then the looks after
// the pour and the tape.
func (p Plan) benchSteps(c CoatPlan, over bool) []BenchStep {
	job := p.job(c.Colours)
	var out []BenchStep
	before := map[string]bool{}
	for _, st := range p.preparation(c.Technique, over) {
		before[st.Name] = true
	}
	flammable := false
	for _, cup := range c.Cups {
		flammable = flammable || cup.Look.Flammable
	}
	for _, st := range c.Technique.Steps {
		if st.BeforeMixing && !before[st.Name] {
			continue
		}
		step := BenchStep{Name: st.Name, Do: st.Do, LookFor: st.LookFor, Window: st.Window, Minutes: st.Minutes(job), Safety: st.Safety,
			Kind: StepHands, Heats: st.Heats, FlashOff: st.FlashOff}
		switch {
		case st.BeforeMixing:
			step.Kind, step.Window = StepBefore, ""
		case st.Name == technique.MixStep:
			step.Kind = StepMix
		case st.Waiting:
			step.Kind = StepRest
		}
		if st.Pours && flammable {
			step.FlashOff = max(step.FlashOff, inkFlashOff)
			step.Safety = append(append([]string(nil), step.Safety...), "ink")
		}
		out = append(out, zoned(step, st, job)...)
	}
	out = append(out, watchSteps(p, c)...)
	return out
}

// inkFlashOff is how long inks and liquid metal in a cup stay flammable once
// they are poured (common practice).
const inkFlashOff = 10

// zoned repeats a step's beats in each of its zones.
func zoned(step BenchStep, st technique.Step, job technique.Job) []BenchStep {
	zones := st.Zones(job)
	if zones == 1 && len(st.Beats) == 0 {
		return []BenchStep{step}
	}
	beats := st.Beats
	if len(beats) == 0 {
		beats = []technique.Beat{{Name: st.Name, Do: st.Do, Part: 1, Heats: st.Heats}}
	}
	var out []BenchStep
	for z := 1; z <= zones; z++ {
		for _, b := range beats {
			one := step
			one.Name, one.Do, one.Heats = b.Name, b.Do, b.Heats
			one.Zone, one.Zones = z, zones
			one.Minutes = step.Minutes / float64(zones) * b.Part
			out = append(out, one)
		}
	}
	return out
}

// watchSteps are the looks after the pour: for bubbles at 15, 30, 45 and 60
// minutes, then the tape (common practice).
func watchSteps(p Plan, c CoatPlan) []BenchStep {
	var out []BenchStep
	stringy := c.Clock.Window(cure.Stringy).From
	for _, m := range bubbleMinutes {
		if c.Fit.Ends+m < stringy {
			out = append(out, BenchStep{Name: fmt.Sprintf("Look for bubbles, %s after the pour", Spoken(m)), Kind: StepBubbles, After: m, Minutes: 2, Heats: true,
				Window: cure.Holding, Safety: []string{"flame", "respirator"},
				Do: "Lift the cover, look along the light, a quick pass only where a bubble stands. Cover again."})
		}
	}
	if p.Taped() {
		out = append(out, BenchStep{Name: "Pull the tape", Kind: StepTape, Window: cure.SoftSet, Minutes: 5,
			Do: "Slowly, away from the film, while it is soft-set.", LookFor: "An edge that rounds over behind the tape."})
	}
	return out
}

// benchChange is one press of a button.
type benchChange func(b *Bench, now time.Time) error

// changeBench does f on the state the screen was showing. When another screen
// was faster nothing is doubled: the newer state comes back with ErrStale.
func (s *Studio) changeBench(ctx context.Context, id, rev int64, rehearsal bool, f benchChange) (Bench, error) {
	b, err := s.Bench(ctx, id, rehearsal)
	if err != nil {
		return b, err
	}
	if b.Rev != rev {
		return b, ErrStale
	}
	if err := f(&b, b.now(s.now())); err != nil {
		return b, err
	}
	err = s.store.SaveBench(ctx, book(rehearsal), id, rev, b, b.finished())
	if errors.Is(err, store.ErrConflict) {
		err = ErrStale
	} else if err != nil {
		return b, err
	}
	fresh, readErr := s.Bench(ctx, id, rehearsal)
	s.benches.publish(benchKey(id, rehearsal))
	return fresh, errors.Join(err, readErr)
}

// benchKey tells rehearsals from bench days where screens are told of changes.
func benchKey(id int64, rehearsal bool) int64 {
	if rehearsal {
		return -id
	}
	return id
}

// WatchBench returns a channel that gets a value whenever the bench day
// changes on any screen, until stop is called.
func (s *Studio) WatchBench(id int64, rehearsal bool) (changes <-chan struct{}, stop func()) {
	return s.benches.subscribe(benchKey(id, rehearsal))
}

// now is the bench's own time: real, or that of a rehearsal, which runs faster.
// It never lies before what happened last, so that a clock that was set back
// or a restart under another clock turns no step round.
func (b Bench) now(t time.Time) time.Time {
	if b.Rehearsal {
		t = b.At.Add(time.Duration(float64(t.Sub(b.At)) * b.Speed))
	}
	for _, e := range b.Events {
		if e.At.After(t) {
			t = e.At
		}
	}
	return t
}

// do appends an event.
func (b *Bench) do(what EventKind, step int, now time.Time, text string) {
	b.Events = append(b.Events, BenchEvent{At: now.Truncate(time.Millisecond), What: what, Step: step, Text: text})
}

// PartsMet starts a lot's clock: of the coat's mix step, or of a further lot.
func (s *Studio) PartsMet(ctx context.Context, id, rev int64, rehearsal bool) (Bench, error) {
	return s.changeBench(ctx, id, rev, rehearsal, func(b *Bench, now time.Time) error {
		if b.finished() {
			return errors.New("this coat is finished")
		}
		b.do(EventMet, b.cursor(), now, fmt.Sprintf("lot %d", len(b.lots())+1))
		return nil
	})
}

// StepDone marks the step in hand as done. With a flame under something that
// still burns it is refused.
func (s *Studio) StepDone(ctx context.Context, id, rev int64, rehearsal bool) (Bench, error) {
	return s.changeBench(ctx, id, rev, rehearsal, func(b *Bench, now time.Time) error {
		i := b.cursor()
		if i >= len(b.Steps) {
			return errors.New("everything is done")
		}
		step := b.Steps[i]
		if step.Kind == StepMix && len(b.lots()) == 0 {
			b.do(EventMet, i, now, "lot 1")
			return nil
		}
		if until := b.flammableUntil(); step.Heats && now.Before(until) {
			return fmt.Errorf("no flame for another %s: something flammable is still wet. Wait, or skip the heat", Spoken(until.Sub(now).Minutes()))
		}
		b.do(EventDone, i, now, "")
		return nil
	})
}

// StepSkipped leaves the step in hand out.
func (s *Studio) StepSkipped(ctx context.Context, id, rev int64, rehearsal bool) (Bench, error) {
	return s.changeBench(ctx, id, rev, rehearsal, func(b *Bench, now time.Time) error {
		if b.cursor() >= len(b.Steps) {
			return errors.New("everything is done")
		}
		b.do(EventSkip, b.cursor(), now, "")
		return nil
	})
}

// UndoBench takes the last press back. Notes and photographs stay.
func (s *Studio) UndoBench(ctx context.Context, id, rev int64, rehearsal bool) (Bench, error) {
	return s.changeBench(ctx, id, rev, rehearsal, func(b *Bench, _ time.Time) error {
		for i := len(b.Events) - 1; i >= 0; i-- {
			if e := &b.Events[i]; !e.Undone && (e.What == EventMet || e.What == EventDone || e.What == EventSkip) {
				e.Undone = true
				return nil
			}
		}
		return errors.New("nothing was done yet")
	})
}

// NoteBench keeps words at the step in hand. A note is never refused for being
// late: it goes on top of what other screens did.
func (s *Studio) NoteBench(ctx context.Context, id int64, rehearsal bool, text string) (Bench, error) {
	text = strings.TrimSpace(text)
	if text == "" || len([]rune(text)) > 2000 {
		return Bench{}, &RefusedError{errors.New("a note has between 1 and 2000 letters")}
	}
	return s.append(ctx, id, rehearsal, BenchEvent{What: EventNote, Text: text})
}

// PhotoBench keeps a photograph of a bench day.
func (s *Studio) PhotoBench(ctx context.Context, id int64, r io.Reader) (Bench, error) {
	if _, err := s.Bench(ctx, id, false); err != nil {
		return Bench{}, err
	}
	pictures.Lock()
	jpeg, err := picture.Reduce(r)
	pictures.Unlock()
	if err != nil {
		return Bench{}, &RefusedError{err}
	}
	photo, err := s.store.AddPhoto(ctx, id, jpeg, s.now())
	if err != nil {
		return Bench{}, err
	}
	return s.append(ctx, id, false, BenchEvent{What: EventPhoto, Photo: photo})
}

// Photo returns a photograph of a bench day as JPEG.
func (s *Studio) Photo(ctx context.Context, bench, id int64) ([]byte, error) {
	return s.store.Photo(ctx, bench, id)
}

// append adds an event on top of whatever other screens do meanwhile.
func (s *Studio) append(ctx context.Context, id int64, rehearsal bool, e BenchEvent) (Bench, error) {
	for range attempts {
		b, err := s.Bench(ctx, id, rehearsal)
		if err != nil {
			return b, err
		}
		b, err = s.changeBench(ctx, id, b.Rev, rehearsal, func(b *Bench, now time.Time) error {
			e.At, e.Step = now, b.cursor()
			b.Events = append(b.Events, e)
			return nil
		})
		if !errors.Is(err, ErrStale) {
			return b, err
		}
	}
	return Bench{}, store.ErrConflict
}

// CloseBench ends a bench day early; what was done stays.
func (s *Studio) CloseBench(ctx context.Context, id, rev int64, rehearsal bool) (Bench, error) {
	return s.changeBench(ctx, id, rev, rehearsal, func(b *Bench, now time.Time) error {
		for i := b.cursor(); i < len(b.Steps); i++ {
			b.do(EventSkip, i, now, "")
		}
		return nil
	})
}

// cursor is the place of the step in hand: the first that is neither done nor
// left out.
func (b Bench) cursor() int {
	over := map[int]bool{}
	for _, e := range b.Events {
		if !e.Undone && (e.What == EventDone || e.What == EventSkip) {
			over[e.Step] = true
		}
	}
	for i := range b.Steps {
		if !over[i] {
			return i
		}
	}
	return len(b.Steps)
}

func (b Bench) finished() bool { return b.cursor() >= len(b.Steps) }

// lots returns when the parts of each lot met, in order.
func (b Bench) lots() []time.Time {
	var out []time.Time
	for _, e := range b.Events {
		if e.What == EventMet && !e.Undone {
			out = append(out, e.At)
		}
	}
	return out
}

// flammableUntil is when the last thing that burns has flashed off.
func (b Bench) flammableUntil() time.Time {
	var until time.Time
	for _, e := range b.Events {
		if e.What == EventDone && !e.Undone && e.Step < len(b.Steps) {
			if f := b.Steps[e.Step].FlashOff; f > 0 {
				if t := e.At.Add(minutes(f)); t.After(until) {
					until = t
				}
			}
		}
	}
	return until
}

// pourEnded is when the last step of work before the looks was done; zero
// while it is not.
func (b Bench) pourEnded() time.Time {
	var at time.Time
	for _, e := range b.Events {
		if e.Undone || (e.What != EventDone && e.What != EventSkip) || e.Step >= len(b.Steps) {
			continue
		}
		if k := b.Steps[e.Step].Kind; k != StepBubbles && k != StepTape && e.At.After(at) {
			at = e.At
		}
	}
	return at
}

// partsMetByWeighing starts the clock of an open bench day of the coat whose
// parts have just met on the scale, once.
func (s *Studio) partsMetByWeighing(ctx context.Context, piece int64, coat string) error {
	open, err := s.BenchesOf(ctx, piece, false)
	if err != nil {
		return err
	}
	for _, b := range open {
		if b.Coat != coat || b.Done || len(b.lots()) > 0 {
			continue
		}
		_, err := s.changeBench(ctx, b.ID, b.Rev, false, func(b *Bench, now time.Time) error {
			mix := b.cursor()
			for i := mix; i < len(b.Steps); i++ { // what was not ticked off before mixing is over
				if b.Steps[i].Kind == StepMix {
					break
				}
				b.do(EventDone, i, now, "")
			}
			b.do(EventMet, b.cursor(), now, "lot 1, from the scale")
			return nil
		})
		if errors.Is(err, ErrStale) {
			return nil // a screen did it at the same moment
		}
		return err
	}
	return nil
}

// A Score is how a rehearsal went.
type Score struct {
	Hit, Windows int     // steps done inside their windows
	Heat, Heats  int     // heat passes done in time, of those there were
	Wasted       float64 // minutes longer than the steps needed
	Points       int     // of 100
	Words        []string
}

// Score judges what was done so far: windows hit, heat passes, minutes wasted.
func (b Bench) Score(room cure.Room) Score {
	var s Score
	lots := b.lots()
	if len(lots) == 0 {
		return s
	}
	clock := cure.NewClock(b.Kinetics, room)
	last := lots[0]
	for _, e := range b.Events {
		if e.Undone || (e.What != EventDone && e.What != EventSkip) || e.Step >= len(b.Steps) || e.At.Before(lots[0]) {
			continue
		}
		step := b.Steps[e.Step]
		took := e.At.Sub(last).Minutes()
		last = e.At
		at := e.At.Sub(lots[0]).Minutes()
		w := clock.Window(step.Window)
		timely := e.What == EventDone && at >= w.From && at <= w.To
		if step.Window != "" {
			s.Windows++
			if timely {
				s.Hit++
			} else if e.What == EventDone {
				s.Words = append(s.Words, fmt.Sprintf("%s: %s", step.Name, missed(at, w)))
			} else {
				s.Words = append(s.Words, step.Name+": left out")
			}
		}
		if step.Heats {
			s.Heats++
			if timely {
				s.Heat++
			}
		}
		if step.Kind == StepHands || step.Kind == StepMix {
			s.Wasted += math.Max(0, took-1.25*step.Minutes-0.5)
		}
	}
	s.Points = int(math.Round(60*part(s.Hit, s.Windows) + 25*part(s.Heat, s.Heats) + 15*math.Max(0, 1-s.Wasted/20)))
	return s
}

func missed(at float64, w cure.Window) string {
	if at < w.From {
		return fmt.Sprintf("%s too early", Spoken(w.From-at))
	}
	return fmt.Sprintf("%s too late", Spoken(at-w.To))
}

func part(n, of int) float64 {
	if of == 0 {
		return 1
	}
	return float64(n) / float64(of)
}
