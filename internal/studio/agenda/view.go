package agenda

import (
	"context"
	"errors"
	"slices"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/studio/pieces"
)

// A View is one piece with the plan it has among all others.
type View struct {
	pieces.Piece
	*plan.Plan
	Agenda *Agenda
	Slot   *Piece // its place in the agenda, nil when it has none
	Broken error  // why it could not be calculated, of one in a list
}

// Plan calculates a piece that was just read or edited and lays it where the
// agenda has it. A piece that is not planned, or was changed since a stale
// agenda, is laid where it was, or alone.
func (s *Service) Plan(ctx context.Context, p pieces.Piece) (View, error) {
	a, err := s.Current(ctx)
	if err != nil {
		return View{Piece: p}, err
	}
	st, err := s.stand(ctx)
	if err != nil {
		return View{Piece: p}, err
	}
	return s.view(ctx, p, a, st)
}

// Coat does the same and returns one of its coats, the first where it has none of that
// id.
func (s *Service) Coat(ctx context.Context, p pieces.Piece, id string) (View, *plan.Coat, error) {
	v, err := s.Plan(ctx, p)
	if err != nil {
		return v, nil, err
	}
	if c := v.Plan.Coat(id); c != nil {
		return v, c, nil
	}
	return v, &v.Plan.Coats[0], nil
}

// Views does the same for a list of pieces; one that cannot be calculated says
// why.
func (s *Service) Views(ctx context.Context, list []pieces.Piece) ([]View, error) {
	a, err := s.Current(ctx)
	if err != nil {
		return nil, err
	}
	st, err := s.stand(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]View, len(list))
	for i, p := range list {
		var refused *form.Refused
		if out[i], err = s.view(ctx, p, a, st); errors.As(err, &refused) {
			out[i].Broken = refused
		} else if err != nil {
			return nil, err
		}
	}
	return out, nil
}

func (s *Service) view(ctx context.Context, p pieces.Piece, a *Agenda, st inputs) (View, error) {
	v := View{Piece: p, Agenda: a, Slot: a.Of(p.ID)}
	if v.Slot != nil && v.Slot.Rev == p.Rev && !a.Stale {
		v.Plan = v.Slot.Plan
		return v, nil
	}
	var err error
	if v.Plan, err = s.alone(ctx, p, st); err != nil {
		return v, err
	}
	switch {
	case v.Slot != nil: // the agenda is older than the piece
		v.Plan = v.Plan.At(v.Slot.Plan.Timing)
	case p.State == plan.Open && slices.ContainsFunc(a.Notes, func(n Note) bool { return n.Piece == p.ID && n.Out() }):
		t := v.Plan.Timing
		t.LeftOut = true
		v.Plan = v.Plan.At(t)
	}
	return v, nil
}
