package agenda

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// Mark says that a task was done at a time, or takes that back (a zero time).
func (s *Service) Mark(ctx context.Context, piece int64, task string, done time.Time) error {
	made, err := s.has(ctx, piece, task, done.IsZero())
	if err != nil {
		return err
	}
	return s.store.Write(ctx, "keep the mark", func(tx *store.Tx) error {
		if err := tx.SetTaskMark(ctx, store.TaskMark{Piece: piece, Task: task, Kind: store.MarkDone, At: done}); err != nil {
			return err
		}
		coat, ok := plan.Poured(task)
		if !ok {
			return nil
		}
		if made == nil {
			return stock.Settle(ctx, tx, piece, coat, stock.Planned, nil, s.now())
		}
		goods, err := stock.GoodsIn(ctx, tx.Reader)
		if err != nil {
			return err
		}
		return stock.Settle(ctx, tx, piece, coat, stock.Planned, stock.Takes(made, made.Coat(coat), goods), done)
	})
}

// has returns the plan that has a task, store.ErrNotFound when it has none. What is
// taken back need only have its piece: the task may be gone from the plan.
func (s *Service) has(ctx context.Context, piece int64, task string, takenBack bool) (*plan.Plan, error) {
	row, err := s.store.Piece(ctx, piece)
	if err != nil || takenBack {
		return nil, err
	}
	p, err := pieces.Decode(row)
	if err != nil {
		return nil, err
	}
	made, err := s.Alone(ctx, p) // not the agenda, which may be older than the piece
	if err != nil {
		return nil, err
	}
	if made.Task(task) == nil {
		return nil, store.ErrNotFound
	}
	return made, nil
}

// Pin lays a task at a time; a zero time lets it go. A place outside the
// opening hours is refused.
func (s *Service) Pin(ctx context.Context, piece int64, task string, at time.Time) error {
	if _, err := s.has(ctx, piece, task, at.IsZero()); err != nil {
		return err
	}
	if !at.IsZero() {
		b, err := s.materials.Book(ctx)
		if err != nil {
			return err
		}
		at = at.Local().Round(5 * time.Minute)
		switch {
		case at.Before(s.now()):
			return form.Refusef("at", "a task can only be moved to a time that is still to come")
		case !b.Calendar.Contains(at):
			return form.Refusef("at", "the studio is closed at %s", msg.Date(at, "Mon 2 Jan 15:04"))
		}
	}
	return s.store.Write(ctx, "keep the pin", func(tx *store.Tx) error {
		return tx.SetTaskMark(ctx, store.TaskMark{Piece: piece, Task: task, Kind: store.MarkPin, At: at})
	})
}

// A Moved is a task that has moved since an earlier day.
type Moved struct {
	Piece   string
	Task    msg.Stored
	Was, Is time.Time // zero when it was not, or is no longer, there
}

// keptTask is a task as it is remembered from day to day.
type keptTask struct {
	Piece string
	Task  msg.Stored
	Start time.Time
}

// A KeptDay is a plan as it is kept to compare another with, by task.
type KeptDay map[string]keptTask

func (a *Agenda) kept() KeptDay {
	out := KeptDay{}
	for _, t := range a.Tasks {
		if !t.Done && t.Kind != plan.TaskLook {
			out[strconv.FormatInt(t.PieceID, 10)+"/"+t.Key] = keptTask{t.Piece, msg.Store(words.Task(t.Task, t.Plan)), t.Start}
		}
	}
	return out
}

// KeepDay remembers the plan as it stands on this day, once a day.
func (s *Service) KeepDay(ctx context.Context) error {
	today := s.now().Local().Format(time.DateOnly)
	if has, err := s.store.HasPlanDay(ctx, today); err != nil || has {
		return err
	}
	a, err := s.Current(ctx)
	if err != nil {
		return err
	}
	return s.store.Write(ctx, "keep the plan of the day",
		func(tx *store.Tx) error { return tx.KeepPlanDay(ctx, today, a.kept()) })
}

// Since says what has moved since the plan of an earlier day, and of which; ""
// when none was kept.
func (s *Service) Since(ctx context.Context, a *Agenda) ([]Moved, string, error) {
	before := KeptDay{}
	of, err := s.store.PlanBefore(ctx, a.Now.Format(time.DateOnly), &before)
	if err != nil || of == "" {
		return nil, "", err
	}
	now := a.kept()
	var out []Moved
	for key, was := range before {
		is, still := now[key]
		switch {
		case !still && was.Start.After(a.Now):
			out = append(out, Moved{Piece: was.Piece, Task: was.Task, Was: was.Start.Local()})
		case still && !is.Start.Equal(was.Start):
			out = append(out, Moved{Piece: is.Piece, Task: is.Task, Was: was.Start.Local(), Is: is.Start})
		}
	}
	for key, is := range now {
		if _, old := before[key]; !old {
			out = append(out, Moved{Piece: is.Piece, Task: is.Task, Is: is.Start})
		}
	}
	at := func(m Moved) time.Time {
		if m.Is.IsZero() {
			return m.Was
		}
		return m.Is
	}
	slices.SortFunc(out, func(x, y Moved) int {
		if c := at(x).Compare(at(y)); c != 0 {
			return c
		}
		return cmp.Compare(x.Piece+x.Task.String(), y.Piece+y.Task.String())
	})
	return out, of, nil
}
