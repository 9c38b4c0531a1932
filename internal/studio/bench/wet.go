package bench

import (
	"context"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/session"
)

// FilmAt is the film at a place of the board now, "" for all of it; false before
// anything lies there. What is worked is its surface: the youngest resin that was
// poured.
func (v View) FilmAt(place technique.Place) (wet.Film, bool) {
	at := -1
	for i, l := range v.Mixed {
		if v.onBoard(i+1) || at < 0 && l.Minutes >= 0 {
			at = i
		}
	}
	if at < 0 {
		return wet.Film{}, false
	}
	l := v.Mixed[at]
	f := wet.Film{Depth: v.Film, EdgeHeight: v.EdgeHeight, Faces: max(1, v.Faces), Clock: l.clock,
		Room: l.room, Minute: l.Minutes, Passes: v.Passes(place, l.Met)}
	if v.Flame.On {
		f.Flash = v.Flame.Left
	}
	return f, true
}

// onBoard reports whether some of a batch was poured.
func (v View) onBoard(batch int) bool {
	for i, s := range v.Steps {
		if _, over := v.Over(i); over && s.Pours && s.BatchNo == batch {
			return true
		}
	}
	return false
}

// A Warmth is the heat account of a place.
type Warmth struct {
	Place   technique.Place
	Passes  int
	Left    int // more of them
	Small   bool
	Off     float64 // minutes until no flame may come near it
	Longest float64 // seconds a close flame may stay over one spot
	Film    units.Temperature
	Alone   bool // it is left alone
}

// Warmths are the heat accounts of the places of the board; none before it is poured.
func (v View) Warmths() []Warmth {
	var out []Warmth
	alone := v.Alone()
	for _, p := range technique.Spots {
		f, ok := v.FilmAt(p)
		if !ok {
			return nil
		}
		out = append(
			out,
			Warmth{
				p,
				len(f.Passes),
				f.PassesLeft(),
				f.Small(),
				f.FlameOff(),
				f.Longest(),
				f.Temperature(),
				slices.Contains(alone, p),
			},
		)
	}
	return out
}

// hurried is by how many minutes heat over all of the board has aged a batch, or over
// the place of a step.
func (v View) hurried(l MixedBatch, place technique.Place) float64 {
	passes := v.Passes(place, l.Met)
	if len(passes) == 0 || l.Minutes < 0 {
		return 0
	}
	return cure.Hurried(passes, v.Film, max(1, v.Faces), l.room, l.Minutes)
}

// A Checkpoint stands before a move that is decided at the bench: what goes on by
// itself, and what the move brought so far.
type Checkpoint struct {
	Courses []wet.Course
	Record  Tally
	Photo   bool // none was taken since the last pour
}

// A Tally is the studio's own record of a move: how its coats were rated,
// of five, with it and without.
type Tally struct {
	With, Without   int
	Rated, RatedOff float64
}

// Says reports whether there is enough on both sides to say anything (common practice:
// three of each).
func (t Tally) Says() bool { return t.With >= saysFrom && t.Without >= saysFrom }

// Knows reports whether there is enough with it.
func (t Tally) Knows() bool { return t.With >= saysFrom }

const saysFrom = 3

// newestRated is how many bench days a move is judged by: hands change.
const newestRated = 40

// checkpoint is the question before an optional step.
func (s *Service) checkpoint(ctx context.Context, v *View) error {
	c := v.Current
	if c == nil || !c.Optional || v.Rehearsal {
		return nil
	}
	f, ok := v.FilmAt(c.Place)
	if !ok {
		return nil
	}
	cp := Checkpoint{Courses: f.Courses(), Photo: v.unseen()}
	var err error
	if cp.Record, err = s.tally(ctx, v.Bench, c.Step); err != nil {
		return err
	}
	v.Check = &cp
	return nil
}

// unseen reports whether no photograph was taken since the last pour.
func (v View) unseen() bool {
	seen, poured := time.Time{}, time.Time{}
	for _, e := range v.Events {
		switch {
		case e.Undone:
		case e.What == session.Photo:
			seen = e.At
		case e.What == session.Did && e.Step < len(v.Steps) && v.Steps[e.Step].Pours:
			poured = e.At
		}
	}
	return !seen.After(poured)
}

// tally counts the bench days on which a move like this was done, and left out, with
// how their coats were rated.
func (s *Service) tally(ctx context.Context, b session.Bench, step session.Step) (Tally, error) {
	var t Tally
	rows, err := s.store.RatedBenches(ctx, b.Way, b.ID, newestRated)
	if err != nil {
		return t, err
	}
	sum, off := 0.0, 0.0
	for _, row := range rows {
		day, err := session.DecodeBench(row.Session, false)
		if err != nil {
			return t, err
		}
		switch did, has := day.Made(step); {
		case !has:
		case did:
			t.With, sum = t.With+1, sum+row.Mark
		default:
			t.Without, off = t.Without+1, off+row.Mark
		}
	}
	t.Rated, t.RatedOff = sum/math.Max(1, float64(t.With)), off/math.Max(1, float64(t.Without))
	return t, nil
}

// Advice answers a complaint about a place of the board now.
func (s *Service) Advice(
	ctx context.Context,
	id int64,
	rehearsal bool,
	complaint string,
	place technique.Place,
) (wet.Advice, session.Bench, error) {
	c, ok := wet.FindComplaint(complaint)
	if !ok {
		return wet.Advice{}, session.Bench{}, form.Refusef("complaint", "choose what you don't like")
	}
	if err := onBoard(place); err != nil {
		return wet.Advice{}, session.Bench{}, err
	}
	v, err := s.current(ctx, id, rehearsal)
	if err != nil {
		return wet.Advice{}, session.Bench{}, err
	}
	f, ok := v.FilmAt(place)
	if !ok {
		return wet.Advice{}, session.Bench{}, form.Refusef("complaint", "nothing is on the board yet")
	}
	a := wet.Advise(c, f)
	if slices.Contains(v.Alone(), place) {
		a.Now = slices.DeleteFunc(a.Now, func(o wet.Option) bool { return o.Move != "" })
	}
	return a, v.Bench, nil
}

// onBoard refuses a place that is none of the board's.
func onBoard(place technique.Place) error {
	if place != "" && !slices.Contains(technique.Spots, place) {
		return form.Refusef("place", "that is off the board: touch one of its nine areas")
	}
	return nil
}

// current is a bench day as its screen shows it now.
func (s *Service) current(ctx context.Context, id int64, rehearsal bool) (View, error) {
	b, err := s.log.Bench(ctx, id, rehearsal)
	if err != nil {
		return View{}, err
	}
	return s.Look(ctx, b)
}

// Mend does a work against a complaint: it stands on the day as a step of its own.
func (s *Service) Mend(
	ctx context.Context,
	id int64,
	rehearsal bool,
	complaint string,
	place technique.Place,
	work string,
) (session.Bench, error) {
	a, b, err := s.Advice(ctx, id, rehearsal, complaint, place)
	if err != nil {
		return b, err
	}
	at := slices.IndexFunc(a.Now, func(o wet.Option) bool { return o.ID == work })
	if at < 0 {
		return b, form.Refusef("work", "the film there no longer allows it")
	}
	o := a.Now[at]
	var step *session.Step
	if o.Move != "" {
		step = &session.Step{
			Name:    msg.Store(o.Name),
			Do:      msg.Store(o.Do),
			Kind:    plan.StepHands,
			Minutes: o.Minutes,
			Usual:   o.Minutes,
			Window:  o.To,
			AtOnce:  true,
			Heats:   o.Heats,
			Safety:  o.Safety,
			Move:    o.Move,
			Place:   place,
			Against: complaint,
			With:    where(place),
		}
		if m, ok := technique.FindMaterial(o.Material); ok {
			step.FlashOff = m.FlashOff
		}
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.Mend(complaint, place, work, step))
}

func where(place technique.Place) []msg.Stored {
	if place == "" {
		return nil
	}
	return takes(place.Name())
}

// Outcome keeps what came of a work against a complaint.
func (s *Service) Outcome(ctx context.Context, id int64, rehearsal bool, how string) (session.Bench, error) {
	if !slices.Contains(session.Outcomes, how) {
		return session.Bench{}, form.Refusef("outcome", "choose better, the same or worse")
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.Outcome(how))
}

// longestHeat bounds a press, in seconds.
const longestHeat = 600

// Heat notes a pass of heat over a place.
func (s *Service) Heat(
	ctx context.Context,
	id int64,
	rehearsal bool,
	place technique.Place,
	seconds float64,
) (session.Bench, error) {
	if err := onBoard(place); err != nil {
		return session.Bench{}, err
	}
	if !(seconds >= 0 && seconds <= longestHeat) {
		return session.Bench{}, form.Refusef("seconds", "a pass takes up to ten minutes")
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.Heat(place, seconds))
}

// LeaveAlone marks a place that nobody touches any more, or frees it.
func (s *Service) LeaveAlone(
	ctx context.Context,
	id int64,
	rehearsal bool,
	place technique.Place,
) (session.Bench, error) {
	if err := onBoard(place); err != nil || place == "" {
		return session.Bench{}, form.Refusef("place", "that is off the board: touch one of its nine areas")
	}
	return s.log.Press(ctx, id, 0, rehearsal, session.LeaveAlone(place))
}

// AddMove puts a move nobody had planned before the step in hand.
func (s *Service) AddMove(
	ctx context.Context,
	id int64,
	rehearsal bool,
	kind technique.MoveKind,
	place technique.Place,
) (session.Bench, error) {
	rule, ok := kind.Rule()
	if !ok {
		return session.Bench{}, form.Refusef("move", "there is no such move")
	}
	if err := onBoard(place); err != nil {
		return session.Bench{}, err
	}
	b, err := s.log.Bench(ctx, id, rehearsal)
	if err != nil {
		return b, err
	}
	if len(b.BatchesMixed()) == 0 {
		return b, form.Refusef("move", "nothing is on the board yet")
	}
	step := session.Step{
		Name:    msg.Store(rule.Name),
		Do:      msg.Store(rule.Do),
		LookFor: msg.Store(rule.LookFor),
		Kind:    plan.StepHands,
		Window:  rule.Window,
		AtOnce:  true,
		Minutes: rule.Minutes(
			technique.Job{Face: b.Face, Cups: 1},
		),
		Heats:  rule.Heats,
		Safety: rule.Safety,
		Move:   kind,
		Place:  place,
		With:   where(place),
	}
	if rule.Waiting {
		step.Kind = plan.StepRest
	}
	if m, ok := technique.FindMaterial(rule.Material); ok {
		step.FlashOff = m.FlashOff
		step.With = append(step.With, msg.Store(m.Name))
	}
	step.Usual = step.Minutes
	return s.log.Press(ctx, id, 0, rehearsal, session.AddStep(step))
}

// Happened keeps that something went otherwise, changes what hangs on it, and returns
// what is to be done.
func (s *Service) Happened(ctx context.Context, id int64, rehearsal bool, mishap, typed string) (session.Bench, error) {
	m, ok := wet.FindMishap(mishap)
	if !ok {
		return session.Bench{}, form.Refusef("what", "choose what happened")
	}
	b, err := s.log.Bench(ctx, id, rehearsal)
	if err != nil {
		return b, err
	}
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return b, err
	}
	value, of, err := told(m, b, strings.TrimSpace(typed), set.Units)
	if err != nil {
		return b, err
	}
	if m.ID == wet.RoomChanged && !rehearsal {
		if _, err := s.TypeRoom(ctx, typed, ""); err != nil {
			return b, err
		}
	}
	if b, err = s.log.Press(
		ctx,
		id,
		0,
		rehearsal,
		session.HappenedSo(m.ID, of, value),
	); err != nil || rehearsal ||
		m.ID != wet.TapeMissed {
		return b, err
	}
	_, err = s.pieces.Change(ctx, b.PieceID, func(spec *plan.Spec) error {
		if c := spec.Coat(b.Coat); c != nil {
			c.Tape = school.TapeNext
		}
		return nil
	})
	return b, err
}

// told reads what a mishap asks for.
func told(m wet.Mishap, b session.Bench, typed string, sys units.System) (value float64, of string, err error) {
	switch m.Asks {
	case wet.AsksFilm:
		r, err := units.ParseLength(typed, form.BareFilm(typed, sys))
		if err != nil || r.Value < 0.1 || r.Value > 50 {
			return 0, "", form.Refusef("value", "enter how thick it is, from 0.1 to 50 mm")
		}
		return float64(r.Value), "", nil
	case wet.AsksShare:
		share, err := units.ParseShare(typed)
		if err != nil || share <= 0 || share >= 1 {
			return 0, "", form.Refusef("value", "enter what share of the hardener is missing, such as 10 %%")
		}
		return share, "", nil
	case wet.AsksCup:
		if _, ok := b.Cup(typed); !ok {
			return 0, "", form.Refusef("value", "choose which cup fell over")
		}
		return 0, typed, nil
	case wet.AsksMinutes:
		if typed == "" {
			return 0, "", nil
		}
		r, err := units.ParseMinutes(typed, "min")
		if err != nil || r.Value < 0 || r.Value > 24*60 {
			return 0, "", form.Refusef("value", "enter for how many minutes")
		}
		return r.Value, "", nil
	case wet.AsksRoom:
		r, err := units.ParseTemperature(typed, form.BareTemperature(sys))
		if err != nil {
			return 0, "", &form.Refused{Field: "value", Err: err}
		}
		return float64(r.Value), "", nil
	}
	return 0, "", nil
}
