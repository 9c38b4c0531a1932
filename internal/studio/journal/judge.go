package journal

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/propose"
	"jevvo/internal/core/technique"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
)

// A Judgement is what was said of a coat when it was dry, and what was taken of what
// was proposed.
type Judgement struct {
	Marks []propose.Mark
	Taken []Taken
}

// A Taken is a proposal that became layers of its piece: the last of them, by its id.
type Taken struct {
	Proposal string
	Layer    string
	At       time.Time
}

// A Judging is a coat with its judgement and what could come next.
type Judging struct {
	View
	Judgement
	Proposals []propose.Proposal
}

// Judging returns a coat as it is judged.
func (s *Service) Judging(ctx context.Context, piece int64, coat string) (Judging, error) {
	v, err := s.View(ctx, piece, coat)
	if err != nil {
		return Judging{}, err
	}
	j := Judging{View: v}
	if j.Judgement, err = s.judgement(ctx, s.store.Reader, piece, v.Coat.ID); err != nil {
		return j, err
	}
	j.Proposals = propose.Of(v.Plan, v.Coat, j.Marks)
	return j, nil
}

func (s *Service) judgement(ctx context.Context, r store.Reader, piece int64, coat string) (Judgement, error) {
	var j Judgement
	row, err := r.Judgement(ctx, piece, coat)
	if err != nil || row.Doc == nil {
		return j, err
	}
	if err := json.Unmarshal(row.Doc, &j); err != nil {
		return j, fmt.Errorf("read a judgement: %w", err)
	}
	return j, nil
}

// fates gives a result that nobody has filled in the cups that were said to have taken
// over, or got lost.
func (j Judgement) fates(c *plan.Coat, r *Result) {
	for _, m := range j.Marks {
		col := c.Layer.Coat.Colour(m.Cup)
		if col == nil {
			continue
		}
		switch m.Sort {
		case propose.TookOver:
			r.Took = append(r.Took, col.Name)
		case propose.Lost:
			r.Lost = append(r.Lost, col.Name)
		}
	}
	slices.Sort(r.Took)
	slices.Sort(r.Lost)
	r.Took, r.Lost = slices.Compact(r.Took), slices.Compact(r.Lost)
}

// Mark says something of a place of a coat, or takes it back where it was said.
func (s *Service) Mark(ctx context.Context, piece int64, coat string, m propose.Mark) error {
	v, err := s.View(ctx, piece, coat)
	if err != nil {
		return err
	}
	if !v.Poured() {
		return form.Refusef("", "this coat has not been poured yet: there is nothing to look at")
	}
	ofCup, ok := propose.Known(m.Sort)
	switch {
	case !ok:
		return form.Refusef("sort", "choose what to do with it")
	case !slices.Contains(technique.Spots, m.Place):
		return form.Refusef("place", "that is off the board: touch one of its nine areas")
	case !ofCup:
		m.Cup = ""
	case !slices.ContainsFunc(v.Coat.Layer.Coat.Colours, func(c plan.Colour) bool { return c.ID == m.Cup }):
		return form.Refusef("cup", "choose which cup")
	}
	return s.store.Write(ctx, "keep what was seen", func(tx *store.Tx) error {
		j, err := s.judgement(ctx, tx.Reader, piece, v.Coat.ID)
		if err != nil {
			return err
		}
		if at := slices.Index(j.Marks, m); at >= 0 {
			j.Marks = slices.Delete(j.Marks, at, at+1)
		} else {
			j.Marks = append(j.Marks, m)
		}
		return tx.KeepJudgement(ctx, piece, v.Coat.ID, j, s.now())
	})
}

// Take makes a proposal a part of its piece, behind the coat it follows from, and
// returns the id of the coat it became.
func (s *Service) Take(ctx context.Context, piece int64, coat, proposal string) (pieces.Piece, string, error) {
	j, err := s.Judging(ctx, piece, coat)
	if err != nil {
		return pieces.Piece{}, "", err
	}
	at := slices.IndexFunc(j.Proposals, func(p propose.Proposal) bool { return p.ID == proposal && !p.Mends })
	if at < 0 {
		return pieces.Piece{}, "", form.Refusef("proposal", "that suggestion no longer applies: what you marked has changed")
	}
	layer := ""
	p, err := s.pieces.Change(ctx, piece, func(spec *plan.Spec) error {
		var err error
		if layer, err = propose.Apply(spec, j.Plan.Context, j.Coat.ID, j.Proposals[at]); err != nil {
			return &form.Refused{Field: "proposal", Err: err}
		}
		return nil
	})
	if err != nil {
		return p, "", err
	}
	j.Taken = append(j.Taken, Taken{proposal, layer, s.now()})
	err = s.store.Write(ctx, "keep what was taken", func(tx *store.Tx) error {
		return tx.KeepJudgement(ctx, piece, j.Coat.ID, j.Judgement, s.now())
	})
	return p, layer, err
}

// A ToJudge is a coat that may be looked at: dry, before the next one closes it.
type ToJudge struct {
	Piece int64
	Name  string
	Coat  string
	Title msg.Text
	From  time.Time
	Until time.Time // the next coat is poured; zero for none
}

// foreseen is how long before a coat is dry it is said that it will be looked at.
const foreseen = 12 * time.Hour

// ToJudge are the coats of the pieces in the making that may be looked at, and were
// not.
func (s *Service) ToJudge(ctx context.Context, a *agenda.Agenda, title func(*plan.Coat) msg.Text) ([]ToJudge, error) {
	rows, err := s.store.Judgements(ctx)
	if err != nil {
		return nil, err
	}
	results, err := s.store.Results(ctx)
	if err != nil {
		return nil, err
	}
	done := map[string]bool{}
	for _, r := range rows {
		done[fmt.Sprint(r.Piece, " ", r.Coat)] = true
	}
	for _, r := range results {
		done[fmt.Sprint(r.Piece, " ", r.Coat)] = true
	}
	var out []ToJudge
	for _, p := range a.Pieces {
		for i := range p.Plan.Coats {
			c := &p.Plan.Coats[i]
			next := (*plan.Coat)(nil)
			if i+1 < len(p.Plan.Coats) {
				next = &p.Plan.Coats[i+1]
			}
			from := c.Windows[cure.Firm].From
			if !c.Made || done[fmt.Sprint(p.ID, " ", c.ID)] || next != nil && next.Begun || a.Now.Add(foreseen).Before(from) ||
				a.Now.Sub(from) > dueFor {
				continue
			}
			t := ToJudge{Piece: p.ID, Name: p.Name, Coat: c.ID, Title: title(c), From: from}
			if next != nil {
				t.Until = next.Start
			}
			out = append(out, t)
		}
	}
	slices.SortFunc(out, func(x, y ToJudge) int { return x.From.Compare(y.From) })
	return out, nil
}
