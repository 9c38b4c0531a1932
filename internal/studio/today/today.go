// Package today gathers the front door: what is wet, what to do, what is due,
// what runs low.
package today

import (
	"context"
	"slices"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/journal"
	"jevvo/internal/words"
)

// Today is the day.
type Today struct {
	Agenda *agenda.Agenda
	Wet    []bench.View
	Do     []agenda.Task // of today, in order, looks left out
	Then   *agenda.Task  // the first task after today
	Due    []agenda.Piece
	Low    []LowStock
	Tell   []journal.Due // coats whose result is to be filled in
	Empty  bool          // nothing is planned at all
}

// A LowStock is something the open pieces need more of than there is.
type LowStock struct {
	Name  string
	Need  string
	Have  string
	Share float64 // of the need that is there
}

// dueSoon is how far ahead due days are shown.
const dueSoon = 14 * 24 * time.Hour

// A Service gathers the day.
type Service struct {
	agenda  *agenda.Service
	bench   *bench.Service
	journal *journal.Service
}

// New returns the service.
func New(ag *agenda.Service, b *bench.Service, j *journal.Service) *Service {
	return &Service{ag, b, j}
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
	tomorrow := a.Base.AddDate(0, 0, 1)
	for i, task := range a.Tasks {
		switch {
		case task.Done || task.Kind == plan.TaskLook:
		case task.Start.Before(tomorrow):
			t.Do = append(t.Do, task)
		case t.Then == nil && task.Kind != plan.TaskDeliver:
			t.Then = &a.Tasks[i]
		}
	}
	for _, p := range a.Pieces {
		if !p.Due.IsZero() && (p.Due.Sub(a.Now) < dueSoon || p.Late > 0) {
			t.Due = append(t.Due, p)
		}
	}
	slices.SortStableFunc(t.Due, func(x, y agenda.Piece) int { return x.Due.Compare(y.Due) })
	t.Empty = len(a.Pieces) == 0 && !slices.ContainsFunc(a.Notes, agenda.Note.Out)
	t.Low = low(a)
	t.Tell, err = s.journal.Due(ctx, a, words.Coat)
	return t, err
}

// low compares what the coats still to be made need with the shelf.
func low(a *agenda.Agenda) []LowStock {
	resin := map[int64]units.Volume{}
	paint := map[int64]units.Mass{}
	for _, p := range a.Pieces {
		for _, c := range p.Plan.Coats {
			if c.Made {
				continue
			}
			resin[c.Product.ID] += c.Total
			for _, cup := range c.Cups {
				for _, dose := range cup.Doses() {
					paint[dose.Pigment] += dose.Mass
				}
			}
		}
	}
	sys := a.Book.Settings.Units
	var out []LowStock
	for _, p := range a.Book.Resins {
		if need := resin[p.ID]; need > p.Stock && need > 0 {
			out = append(out, LowStock{p.Name, need.Text(sys), p.Stock.Text(sys), float64(p.Stock / need)})
		}
	}
	for _, p := range a.Book.Paints {
		if need := paint[p.ID]; need > p.Stock && need > 0 {
			out = append(out, LowStock{p.Name, need.Text(sys), p.Stock.Text(sys), float64(p.Stock / need)})
		}
	}
	return out
}
