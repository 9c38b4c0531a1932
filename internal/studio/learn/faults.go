package learn

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/weighing"
)

// Bench is the bench log of a piece.
type Bench interface {
	BenchesOf(ctx context.Context, piece int64, rehearsal bool) ([]session.Bench, error)
	WeighingsOf(ctx context.Context, piece int64) ([]weighing.Weighing, error)
}

// A Case is a coat with what is seen on it, and what that comes of.
type Case struct {
	agenda.View
	Coat      *plan.Coat
	Seen      []string
	Answers   map[string]bool
	Diagnosis diagnose.Diagnosis
	Asked     []diagnose.Question // answered already
}

// A Confirmed is a cause that the painter confirmed.
type Confirmed struct {
	Seen  []string
	Cause string
	Words string // its name, for the journal
}

// Diagnose weighs what is seen on a coat with all its record says.
func (s *Service) Diagnose(ctx context.Context, piece int64, coat string, seen []string, answers map[string]bool) (Case,
	error) {
	p, err := s.pieces.Piece(ctx, piece)
	if err != nil {
		return Case{}, err
	}
	out := Case{Seen: seen, Answers: answers}
	if out.View, out.Coat, err = s.agenda.Coat(ctx, p, coat); err != nil {
		return Case{}, err
	}
	record, err := s.record(ctx, out.View, out.Coat)
	if err != nil {
		return out, err
	}
	return out, s.weigh(ctx, &out, record)
}

// Ask weighs what is seen on a coat of which nothing is known.
func (s *Service) Ask(ctx context.Context, seen []string, answers map[string]bool) (Case, error) {
	out := Case{Seen: seen, Answers: answers}
	return out, s.weigh(ctx, &out, diagnose.Record{})
}

func (s *Service) weigh(ctx context.Context, c *Case, record diagnose.Record) error {
	for _, q := range diagnose.Questions {
		if _, ok := c.Answers[q.ID]; ok {
			c.Asked = append(c.Asked, q)
		}
	}
	if len(c.Seen) == 0 {
		return nil
	}
	learned, err := s.learned(ctx)
	if err != nil {
		return err
	}
	c.Diagnosis, err = diagnose.Of(diagnose.Case{Seen: c.Seen, Record: record, Answers: c.Answers, Learned: learned})
	if err != nil {
		return &form.Refused{Field: "seen", Err: err}
	}
	return nil
}

// learned is how often each cause was confirmed, of the cases in which it was
// possible.
func (s *Service) learned(ctx context.Context) (map[string]diagnose.Tally, error) {
	rows, err := s.store.Faults(ctx, 0)
	if err != nil {
		return nil, err
	}
	out := map[string]diagnose.Tally{}
	for _, r := range rows {
		var c Confirmed
		if err := json.Unmarshal(r.Doc, &c); err != nil {
			return nil, fmt.Errorf("read a confirmed fault: %w", err)
		}
		for _, seen := range c.Seen {
			for _, cause := range diagnose.CausesOf(seen) {
				t := out[cause.ID]
				t.Of++
				if cause.ID == c.Cause {
					t.Yes++
				}
				out[cause.ID] = t
			}
		}
	}
	return out, nil
}

// Confirm keeps a cause that the painter confirmed: it is thought of sooner next
// time.
func (s *Service) Confirm(ctx context.Context, piece int64, coat string, seen []string, cause string) error {
	c, ok := diagnose.FindCause(cause)
	if !ok {
		return form.Refusef("cause", "there is no cause %q", cause)
	}
	if len(seen) == 0 {
		return &form.Refused{Field: "seen", Err: diagnose.ErrNothingSeen}
	}
	why := msg.Text(c.Name)
	for _, id := range seen {
		f, ok := diagnose.FindFault(id)
		if !ok {
			return form.Refusef("seen", "there is no fault %q", id)
		}
		why = msg.F("%s: %s", f.Name, why)
	}
	book, err := s.materials.Book(ctx)
	if err != nil {
		return err
	}
	said := why.In(book.Settings.Lang())
	return s.store.Write(ctx, "keep the cause", func(tx *store.Tx) error {
		return tx.KeepFault(ctx, store.FaultRow{Piece: piece, Coat: coat, At: s.now()}, Confirmed{seen, cause, said})
	})
}

// ConfirmedOf are the causes confirmed on a piece.
func (s *Service) ConfirmedOf(ctx context.Context, piece int64) ([]Confirmed, error) {
	rows, err := s.store.Faults(ctx, piece)
	out := make([]Confirmed, len(rows))
	for k, r := range rows {
		if err := json.Unmarshal(r.Doc, &out[k]); err != nil {
			return nil, fmt.Errorf("read a confirmed fault: %w", err)
		}
	}
	return out, err
}

// Remedy puts a remedy's work into the plan of a piece, behind the coat.
func (s *Service) Remedy(ctx context.Context, piece int64, coat, id string) error {
	r, ok := diagnose.FindRemedy(id)
	if !ok {
		return form.Refusef("remedy", "there is no remedy %q", id)
	}
	book, err := s.materials.Book(ctx)
	if err != nil {
		return err
	}
	l := book.Settings.Lang()
	step := plan.OwnStep{Name: r.Name.In(l), Note: r.Do.In(l), Dry: 60 * r.DryH, Caution: msg.Say(cautions(r.Safety), l)}
	_, err = s.pieces.Change(ctx, piece, func(spec *plan.Spec) error {
		made, err := plan.Evaluate(*spec, book.Context, plan.Timing{Alone: true})
		if err != nil {
			return err
		}
		step.Minutes = math.Max(5, math.Round(r.Fixed+r.PerM2*made.Face.SquareMetres()))
		_, err = spec.AddRepair(book.Context, coat, step, r.Coat)
		return err
	})
	return err
}

// record is the record of how a coat was made.
func (s *Service) record(ctx context.Context, v agenda.View, c *plan.Coat) (diagnose.Record, error) {
	r := planned(v.Plan, c)
	if err := s.weighed(ctx, v.ID, c, &r); err != nil {
		return r, err
	}
	benches, err := s.bench.BenchesOf(ctx, v.ID, false)
	if err != nil {
		return r, err
	}
	k := slices.IndexFunc(benches, func(b session.Bench) bool { return b.Coat == c.ID })
	if k < 0 || len(benches[k].BatchesMixed()) == 0 {
		return r, nil
	}
	b := benches[k]
	room, damp, err := s.air(ctx, b.BatchesMixed()[0], c.Room)
	if err != nil {
		return r, err
	}
	kinetics := b.Kinetics
	hours := s.now().Sub(b.BatchesMixed()[0]).Hours()
	r.Kinetics, r.Room, r.HoursSince, r.Damp = &kinetics, &room, &hours, damp
	happened(b, cure.NewClock(kinetics, room), &r)
	return r, s.levelled(ctx, v.ID, v.Boards[0], &r)
}

// planned is the record from the plan alone.
func planned(p *plan.Plan, c *plan.Coat) diagnose.Record {
	film, puddle, wood := c.Film, c.Puddle.Height, p.Spec.Support.Rule().Breathes
	scuffed, sealed := p.Prepared(c)
	r := diagnose.Record{Film: &film, Puddle: &puddle, Wood: &wood, Primed: &sealed, ProductMin: &c.Product.MixMinutes,
		Tolerance: &c.Product.Tolerance}
	load, shows := 0.0, 1.0
	for _, cup := range c.Cups {
		if cup.Look.Known {
			load = math.Max(load, cup.Look.Used)
			if cup.Share > 0.1 {
				shows = math.Min(shows, cup.Look.Contrast)
			}
		}
	}
	r.LoadShare, r.Hiding = &load, &shows
	if c.Place == 0 {
		none := false
		r.Silicone = &none
		return r
	}
	below := &p.Coats[c.Place-1]
	silicone := below.Silicone()
	r.Silicone, r.Scuffed = &silicone, &scuffed
	if silicone {
		r.Degreased = &scuffed // it is wiped where it is scuffed
	}
	if below.Clock != nil && below.Made && (c.Made || c.Begun) && !c.Met.IsZero() && !below.Met.IsZero() {
		alpha := below.Clock.Conversion(c.Met.Sub(below.Met).Minutes())
		r.RecoatAt = &alpha
	}
	return r
}

// weighed is the coat's newest weigh-out: its ratio and its batches.
func (s *Service) weighed(ctx context.Context, piece int64, c *plan.Coat, r *diagnose.Record) error {
	list, err := s.bench.WeighingsOf(ctx, piece)
	if err != nil {
		return err
	}
	k := slices.IndexFunc(list, func(w weighing.Weighing) bool { return w.Coat == c.ID && w.Done })
	if k < 0 {
		return nil
	}
	w, most := list[k], 0.0
	known := false
	batches := map[int]units.Mass{}
	for _, cup := range w.Cups {
		if cup.A > 0 && cup.B > 0 {
			if off := w.Product.OffRatio(cup.A, cup.B); !math.IsNaN(off) && math.Abs(off) >= math.Abs(most) {
				most, known = off, true
			}
			batches[cup.BatchNo] += cup.A + cup.B
		}
	}
	if known {
		r.OffRatio = &most
	}
	largest := units.Mass(0)
	for _, m := range batches {
		largest = max(largest, m)
	}
	if kinetics, err := cure.Calibrate(w.Product.WorkingMinutes, w.Product.HardHours); err == nil && largest > 0 {
		if f, err := kinetics.InCup(largest, c.Room, c.Room); err == nil {
			r.Cup = &diagnose.CupHeat{Mass: largest, Peak: f.Peak}
		}
	}
	return nil
}

// air is the room since mixing began, as it was read; as it was planned where it was
// not.
func (s *Service) air(ctx context.Context, met time.Time, planned units.Temperature) (cure.Room, *bool, error) {
	rows, err := s.store.RoomSince(ctx, met)
	if err != nil {
		return cure.Constant(planned), nil, err
	}
	var readings []cure.Reading
	wettest := 0.0
	for _, row := range rows {
		minute := math.Max(0, row.At.Sub(met).Minutes())
		if n := len(readings); n > 0 && minute <= readings[n-1].Minute {
			readings = readings[:n-1]
		}
		readings = append(readings, cure.Reading{Minute: minute, Temperature: units.Temperature(row.Temp)})
		wettest = math.Max(wettest, row.Humidity)
	}
	var damp *bool
	if wettest > 0 {
		const dampAir = 0.7 // common practice
		is := wettest > dampAir
		damp = &is
	}
	if room, err := cure.NewRoom(readings); err == nil && len(readings) > 0 {
		return room, damp, nil
	}
	return cure.Constant(planned), damp, nil
}

// happened is the record from the bench day.
func happened(b session.Bench, clock *cure.Clock, r *diagnose.Record) {
	met := b.BatchesMixed()[0]
	passes, last := 0, time.Time{}
	mixed := time.Time{}
	for _, e := range b.Events {
		if e.Undone || e.Step < 0 || e.Step >= len(b.Steps) {
			continue
		}
		step := b.Steps[e.Step]
		if step.Of == technique.Scuff.ID && (e.What == session.Did || e.What == session.Skip) {
			scuffed(e.What == session.Did, r)
		}
		switch {
		case e.What == session.Heated:
			passes++
		case e.What == session.Met:
			mixed = e.At
		case e.What != session.Did:
		case step.Mixing && !mixed.IsZero():
			took := e.At.Sub(mixed).Minutes()
			r.MixMin = &took
		case step.Kind == plan.StepTape:
			alpha := clock.Conversion(e.At.Sub(met).Minutes())
			r.TapePulled = &alpha
		case step.Kind == plan.StepHands:
			if step.Heats {
				passes++
			} else {
				last = e.At
			}
		}
	}
	r.HeatPasses = &passes
	if short := b.Short(); short > 0 {
		off := -short
		r.OffRatio = &off
	}
	if b.Film > 0 {
		film := b.Film // as it was really poured
		r.Film = &film
	}
	if !last.IsZero() {
		if c := cure.Thickening(clock.Conversion(last.Sub(met).Minutes())); !math.IsInf(c, 0) && !math.IsNaN(c) {
			r.MovedAfter = &c
		}
	}
}

// scuffed puts what was done with the coat below in the place of what was planned: it
// is wiped where it is scuffed.
func scuffed(did bool, r *diagnose.Record) {
	r.Scuffed = &did
	if yes := r.Silicone; yes != nil && *yes {
		r.Degreased = &did
	}
}

// levelled is how far the board falls by its newest reading.
func (s *Service) levelled(ctx context.Context, piece int64, board surface.Shape, r *diagnose.Record) error {
	rows, err := s.store.Levels(ctx, piece)
	if err != nil || len(rows) == 0 {
		return err
	}
	box := board.Bounds()
	falls := func(over units.Length, degrees float64) units.Length {
		return units.Length(math.Abs(float64(over) * math.Sin(degrees*math.Pi/180)))
	}
	drop := falls(box.Width(), rows[0].Along) + falls(box.Height(), rows[0].Across)
	r.LevelDrop = &drop
	return nil
}

// cautions are the texts of safety notes, in one.
func cautions(keys []string) msg.Text {
	notes := technique.SafetyNotes(keys...)
	texts := make([]msg.Text, len(notes))
	for k, n := range notes {
		texts[k] = n.Text
	}
	return msg.Sentences(texts...)
}
