package today

import (
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/studio/agenda"
)

// A Curing is a coat that was poured and is not hard yet.
type Curing struct {
	Piece int64
	Name  string
	Coat  *plan.Coat
	Phase cure.Phase
	Until time.Time    // the phase ends; zero where no other follows
	Today bool         // and that is today
	Hard  time.Time    // zero where that is not forecast
	Next  *agenda.Task // pours the next coat; nil for none
}

// curing are the newest coats of the pieces in hand that are not hard, but those that a bench day is about.
func curing(a *agenda.Agenda, benched func(piece int64) bool) []Curing {
	var out []Curing
	for _, p := range a.Pieces {
		c := newest(p.Plan)
		if c == nil || benched(p.ID) {
			continue
		}
		hard := c.Windows[cure.Hard].From
		if hard.IsZero() || !a.Now.Before(hard) {
			continue
		}
		phase, until := c.PhaseAt(a.Now)
		today := until.Before(a.Base.AddDate(0, 0, 1))
		out = append(out, Curing{p.ID, p.Name, c, phase, until, today, hard, nextPour(a, p.ID)})
	}
	return out
}

// newest is the coat of a plan that was poured last, nil where none was.
func newest(p *plan.Plan) *plan.Coat {
	if p == nil {
		return nil
	}
	for i := len(p.Coats) - 1; i >= 0; i-- {
		if p.Coats[i].Made {
			return &p.Coats[i]
		}
	}
	return nil
}

func nextPour(a *agenda.Agenda, piece int64) *agenda.Task {
	for i := range a.Tasks {
		if t := &a.Tasks[i]; t.PieceID == piece && t.Kind == plan.TaskPour && !t.Done {
			return t
		}
	}
	return nil
}
