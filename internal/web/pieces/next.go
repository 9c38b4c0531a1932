package pieces

import (
	"context"
	"strconv"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/verdict"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/journal"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// progress is how far a piece has come, beyond its plan. It is comparable: the page of a
// piece is drawn once for it.
type progress struct {
	Bench     int64          // the bench day that goes on, 0 for none
	Came      words.Sentence // what its newest result says
	Told      bool           // there is a result
	Previewed bool           // the next coat was played as it is planned now
	Tomorrow  time.Time      // when today is over
	Still     string         // address of the picture of its first coat as it was played
	Wet       int64          // newest photograph of it wet, of it cured; 0 for none
	Cured     int64
}

// stand reads how far a piece has come; its plan is nil where it is broken.
func (a *area) stand(ctx context.Context, id int64, p *plan.Plan) (progress, error) {
	s := progress{Tomorrow: endOfDay(a.Studio.Now())}
	days, err := a.Studio.Bench.Log().BenchesOf(ctx, id, false)
	if err != nil {
		return s, err
	}
	for _, b := range days {
		if !b.Finished() {
			s.Bench = b.ID
		}
	}
	glances, err := a.Studio.Journal.Glances(ctx, []int64{id})
	if err != nil {
		return s, err
	}
	s.Came, s.Told = glances[id].Result.Verdict(), glances[id].Result.Filled()
	photos, err := a.Studio.Journal.Photos(ctx, id)
	if err != nil {
		return s, err
	}
	for _, photo := range photos {
		switch photo.Moment {
		case journal.Wet:
			s.Wet = max(s.Wet, photo.ID)
		case journal.Cured:
			s.Cured = max(s.Cured, photo.ID)
		}
	}
	if p == nil || len(p.Coats) == 0 {
		return s, nil
	}
	stills, err := a.Studio.Preview.Stills(ctx, id)
	if err != nil {
		return s, err
	}
	s.Still = stills[id].Address(id, p, &p.Coats[0])
	if c := toPour(p); c != nil {
		s.Previewed = stills[id].Address(id, p, c) != ""
	}
	return s, nil
}

// toPour is the next coat of a plan, nil when all are poured.
func toPour(p *plan.Plan) *plan.Coat {
	if p == nil {
		return nil
	}
	for i := range p.Coats {
		if c := &p.Coats[i]; !c.Made {
			return c
		}
	}
	return nil
}

// Poured reports whether all coats of the piece are.
func (p piecePage) Poured() bool { return p.Coat != nil && toPour(p.Plan) == nil }

// Says is what to say of the piece: once it is poured what came of it, before what its
// plan comes to.
func (p piecePage) Says() words.Sentence {
	if p.Poured() {
		return p.Stands.Came
	}
	return words.Verdict(p.Plan, p.Sys)
}

// Mend is what clears the gravest of what is said of the plan; nil where no one press does, and
// for another coat than the one that is shown.
func (p piecePage) Mend() *relief {
	d, ok := p.Plan.Diagnostics().Gravest()
	if !ok || d.Part != verdict.PartClock || d.Weight != verdict.Trouble || d.Coat != p.CoatID || p.Poured() {
		return nil
	}
	for i, r := range p.Reliefs {
		cooler := r.Kind == plan.ReliefRoom
		if r.Holds && cooler == (d.Code == verdict.ClockCool) && r.Kind != plan.ReliefCups {
			return &p.Reliefs[i]
		}
	}
	return nil
}

// Next is the action that stands out: the bench day that goes on, what came of a piece that
// is poured, else what the next coat still wants, in the order of work. It is "" when there
// is nothing to do but to wait for the day.
func (p piecePage) Next() string {
	c := toPour(p.Plan)
	switch {
	case p.Stands.Bench != 0:
		return "bench"
	case p.Poured() && !p.Stands.Told:
		return "result"
	case c == nil || p.Alone():
		return ""
	case len(c.Cups) > 1 && len(c.Layer.Coat.Things) == 0:
		return "compose"
	case len(c.Cups) > 1 && !p.Stands.Previewed:
		return "preview"
	}
	if t := p.NextTask(); t != nil && t.Kind == plan.TaskPour && t.Start.Before(p.Stands.Tomorrow) {
		return "bench"
	}
	return ""
}

// Pictured reports whether there is a picture of the piece besides its plan.
func (p piecePage) Pictured() bool {
	return p.Stands.Still != "" || p.Stands.Wet != 0 || p.Stands.Cured != 0
}

// BenchAt is the address of the bench day that goes on, else of where one begins.
func (p piecePage) BenchAt() string {
	if p.Stands.Bench != 0 {
		return "/benches/" + strconv.FormatInt(p.Stands.Bench, 10)
	}
	return frame.Piece(p.ID, "/bench")
}

// NextTask is the piece's next task, nil for none.
func (p piecePage) NextTask() *agenda.Task {
	for i := range p.Tasks {
		if t := &p.Tasks[i]; !t.Done {
			return t
		}
	}
	return nil
}

func endOfDay(t time.Time) time.Time {
	y, m, d := t.Local().Date()
	return time.Date(y, m, d+1, 0, 0, 0, 0, time.Local)
}
