// Package today gathers the front door: what is wet, what to do, what is due,
// what runs low.
package today

import (
	"context"
	"slices"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/reorder"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// Today is the day.
type Today struct {
	Agenda *agenda.Agenda
	Stock  *stock.Ledger
	Wet    []bench.View
	Curing []Curing
	Do     []agenda.Task // of today, in order, looks left out
	Did    []agenda.Task // of today, what can be taken back
	Hands  float64       // minutes of work that are left today
	Free   time.Time     // the next evening with nothing to do; zero for none soon
	Then   *agenda.Task  // the first task after today
	Week   []Day         // the days after today that have work, of the next seven
	Due    []agenda.Piece
	Low    []reorder.Line    // what runs short
	Old    []reorder.Line    // what is past its day or long open, and will be used
	Tell   []journal.Due     // coats whose result is to be filled in
	Judge  []journal.ToJudge // coats that may be looked at dry
	Money  []billing.Deal    // commissions whose next step presses
	Empty  bool              // nothing is planned at all
}

// A Day is a day of the week ahead.
type Day struct {
	Date  time.Time
	Hands float64       // minutes of work
	Pours []agenda.Task // in order
	Other int           // tasks besides
}

// weekAhead gathers the days after today that have work.
func weekAhead(a *agenda.Agenda) []Day {
	var out []Day
	for d := 1; d <= 7; d++ {
		day := Day{Date: a.Base.AddDate(0, 0, d)}
		for _, t := range a.Tasks {
			switch {
			case t.Done || t.Hands <= 0 || t.Start.Before(day.Date) || !t.Start.Before(day.Date.AddDate(0, 0, 1)):
				continue
			case t.Kind == plan.TaskPour:
				day.Pours = append(day.Pours, t)
			default:
				day.Other++
			}
			day.Hands += float64(t.Hands)
		}
		if day.Hands > 0 {
			out = append(out, day)
		}
	}
	return out
}

// dueSoon is how far ahead due days are shown.
const dueSoon = 14 * 24 * time.Hour

// Evenings begin at five; an evening that is free is looked for so many days ahead.
const (
	evening  = 17
	farthest = 60
)

// freeEvening is the day whose evening is the next with nothing to do in it.
func freeEvening(a *agenda.Agenda) time.Time {
	for d := range farthest {
		day := a.Base.AddDate(0, 0, d)
		y, m, on := day.Date()
		from, to := time.Date(y, m, on, evening, 0, 0, 0, day.Location()), day.AddDate(0, 0, 1)
		busy := slices.ContainsFunc(a.Tasks, func(t agenda.Task) bool {
			return !t.Done && t.Hands > 0 && t.Start.Before(to) && t.End.After(from)
		})
		if !busy && a.Now.Before(to) {
			return day
		}
	}
	return time.Time{}
}

// A Service gathers the day.
type Service struct {
	agenda  *agenda.Service
	bench   *bench.Service
	journal *journal.Service
	supply  *reorder.Service
	trade   *billing.Service
}

// New returns the service.
func New(ag *agenda.Service, b *bench.Service, j *journal.Service, sp *reorder.Service, tr *billing.Service) *Service {
	return &Service{ag, b, j, sp, tr}
}

// Today gathers the day.
func (s *Service) Today(ctx context.Context) (Today, error) {
	a, err := s.agenda.Current(ctx)
	if err != nil {
		return Today{}, err
	}
	t := Today{Agenda: a}
	open, err := s.bench.Log().OpenBenches(ctx)
	if err != nil {
		return t, err
	}
	for _, b := range open {
		v, err := s.bench.Look(ctx, b)
		if err != nil {
			return t, err
		}
		t.Wet = append(t.Wet, v)
	}
	t.Curing = curing(a, func(piece int64) bool {
		return slices.ContainsFunc(t.Wet, func(v bench.View) bool { return v.PieceID == piece })
	})
	tomorrow := a.Base.AddDate(0, 0, 1)
	for i, task := range a.Tasks {
		switch {
		case task.Done && !task.Start.Before(a.Base) && task.Hands > 0:
			t.Did = append(t.Did, task)
		case task.Done || task.Kind == plan.TaskLook:
		case task.Start.Before(tomorrow):
			t.Do = append(t.Do, task)
			t.Hands += float64(task.Hands)
		case t.Then == nil && task.Kind != plan.TaskDeliver:
			t.Then = &a.Tasks[i]
		}
	}
	t.Free, t.Week = freeEvening(a), weekAhead(a)
	for _, p := range a.Pieces {
		if !p.Due.IsZero() && (p.Due.Sub(a.Now) < dueSoon || p.Late > 0) {
			t.Due = append(t.Due, p)
		}
	}
	slices.SortStableFunc(t.Due, func(x, y agenda.Piece) int { return x.Due.Compare(y.Due) })
	t.Empty = len(a.Pieces) == 0 && !slices.ContainsFunc(a.Notes, agenda.Note.Out)
	if t.Stock, err = s.supply.Ledger(ctx); err != nil {
		return t, err
	}
	lines, err := s.supply.Lines(ctx)
	if err != nil {
		return t, err
	}
	t.Low = reorder.Short(lines)
	for _, l := range lines {
		if len(l.Old) > 0 && len(l.Needs) > 0 {
			t.Old = append(t.Old, l)
		}
	}
	if t.Money, err = s.trade.Pressing(ctx); err != nil {
		return t, err
	}
	if t.Judge, err = s.journal.ToJudge(ctx, a, words.Coat); err != nil {
		return t, err
	}
	if t.Tell, err = s.journal.Due(ctx, a, words.Coat); err != nil {
		return t, err
	}
	t.Tell = slices.DeleteFunc(t.Tell, func(d journal.Due) bool { // looked at first, told afterwards
		return slices.ContainsFunc(t.Judge, func(j journal.ToJudge) bool { return j.Piece == d.Piece && j.Coat == d.Coat })
	})
	return t, nil
}
