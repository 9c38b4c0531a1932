package agenda

import (
	"context"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/schedule"
	"jevvo/internal/store"
)

// An Obstacle is why a task cannot lie at a time: a code with arguments.
type Obstacle struct {
	Code  ObstacleCode
	Until time.Time  // from then on it could, or until then it could have
	Task  *plan.Task // that stands in the way, nil for none
	Plan  *plan.Plan
	Piece string
	Why   plan.Why // of a wait
}

// ObstacleCode names what an obstacle says.
type ObstacleCode string

// The codes.
const (
	InThePast    ObstacleCode = "past"
	StudioClosed ObstacleCode = "closed"
	ClosesBefore ObstacleCode = "closes" // Until: when the studio closes
	WaitsFor     ObstacleCode = "waits"  // Task, Until, Why
	WindowOver   ObstacleCode = "window" // Task, Until, Why
	HandsTaken   ObstacleCode = "hands"  // Task, Plan, Piece, Until
)

// Place says what stands in the way of laying a task at a time, nil when nothing
// does that can be told before all is planned anew. Tasks that may still move are no
// obstacle.
func (s *Service) Place(ctx context.Context, piece int64, key string, at time.Time) (*Obstacle, error) {
	a, err := s.Current(ctx)
	if err != nil {
		return nil, err
	}
	i, planned := a.at[piece]
	if !planned {
		return nil, store.ErrNotFound
	}
	made := a.Pieces[i].Plan
	for k := range made.Tasks {
		if made.Tasks[k].Key == key {
			return a.obstacle(i, k, at, s.now()), nil
		}
	}
	return nil, store.ErrNotFound
}

func (a *Agenda) obstacle(i, k int, at, now time.Time) *Obstacle {
	task := a.Problem.Pieces[i].Tasks[k]
	end := at.Add(time.Duration(task.Hands) * time.Minute)
	hours := a.Book.Calendar
	if at.Before(now) {
		return &Obstacle{Code: InThePast}
	}
	if !hours.Contains(at) {
		return &Obstacle{Code: StudioClosed, Until: hours.Slot(at, time.Minute)}
	}
	if !hours.Whole(at, end) && hours.Slot(at, end.Sub(at)).After(at) {
		for _, o := range hours.On(at) {
			if o.To.After(at) {
				return &Obstacle{Code: ClosesBefore, Until: o.To}
			}
		}
	}
	if o := a.waits(i, k, at); o != nil {
		return o
	}
	return a.hands(i, at, end)
}

// waits says which wait of a task keeps it from a time; of several the longest.
func (a *Agenda) waits(i, k int, at time.Time) *Obstacle {
	piece, made := a.Problem.Pieces[i], a.Pieces[i].Plan
	ends := a.soonest(i)
	var early, over *Obstacle
	for n, w := range piece.Tasks[k].Waits {
		o := &Obstacle{Code: WaitsFor, Task: &made.Tasks[w.After], Plan: made, Why: made.Tasks[k].Waits[n].Why,
			Until: ends[w.After].Add(time.Duration(w.Min) * time.Minute)}
		if at.Before(o.Until) {
			if early == nil || o.Until.After(early.Until) {
				early = o
			}
			continue
		}
		if w.Max == schedule.NoMax || piece.Tasks[w.After].Fixed == nil {
			continue
		}
		if to := ends[w.After].Add(time.Duration(w.Max) * time.Minute); at.After(to) {
			o.Code, o.Until, over = WindowOver, to, o
		}
	}
	if early != nil {
		return early
	}
	return over
}

// soonest is when each task of a piece could have ended at the soonest, if nothing else
// were in hand.
func (a *Agenda) soonest(i int) []time.Time {
	tasks := a.Problem.Pieces[i].Tasks
	ends := make([]time.Time, len(tasks))
	for k, t := range tasks { // a task comes after those it waits for
		start := a.moment(t.NotIn)
		for _, w := range t.Waits {
			if from := ends[w.After].Add(time.Duration(w.Min) * time.Minute); from.After(start) {
				start = from
			}
		}
		hands := time.Duration(t.Hands) * time.Minute
		switch {
		case t.Fixed != nil:
			start = a.moment(*t.Fixed)
		case t.Hands > 0:
			start = a.Book.Calendar.Slot(start, hands)
		}
		ends[k] = start.Add(hands)
	}
	return ends
}

func (a *Agenda) moment(minute int) time.Time {
	return a.Base.Add(time.Duration(minute) * time.Minute)
}

// hands says which task that cannot move has the hands meanwhile.
func (a *Agenda) hands(i int, at, end time.Time) *Obstacle {
	for j, p := range a.Problem.Pieces {
		for k, t := range p.Tasks {
			if j == i || t.Fixed == nil || t.Done || t.Hands == 0 {
				continue
			}
			from := a.moment(*t.Fixed)
			if to := from.Add(time.Duration(t.Hands) * time.Minute); from.Before(end) && at.Before(to) {
				made := a.Pieces[j].Plan
				return &Obstacle{Code: HandsTaken, Task: &made.Tasks[k], Plan: made, Piece: a.Pieces[j].Name, Until: to}
			}
		}
	}
	return nil
}
