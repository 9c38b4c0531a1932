package bench

import (
	"context"
	"errors"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/session"
)

// A Round is one walk with the torch past all pieces that are wet: their looks for
// bubbles that fall close together are one.
type Round struct {
	At     time.Time
	Due    bool
	Pieces []RoundPiece
}

// A RoundPiece is one of them.
type RoundPiece struct {
	Bench  int64
	Name   string
	Step   int
	Locked bool // no flame there now
}

// together is how far apart looks may lie to be one round (common practice: a
// quarter of an hour between passes).
const together = 8 * time.Minute

// NextRound gathers the next round; false when nothing is to be looked at.
func (s *Service) NextRound(ctx context.Context) (Round, bool, error) {
	open, err := s.log.OpenBenches(ctx)
	if err != nil {
		return Round{}, false, err
	}
	type look struct {
		at    time.Time
		piece RoundPiece
	}
	var looks []look
	for _, b := range open {
		v, err := s.Look(ctx, b)
		if err != nil {
			return Round{}, false, err
		}
		if c := v.Current; c != nil && c.Kind == plan.StepLook && c.State != WindowLate {
			at := v.Now
			if c.State == WindowEarly {
				at = v.Now.Add(plan.Minutes(c.Left))
			}
			looks = append(looks, look{at, RoundPiece{b.ID, b.Piece, c.ID, c.Locked}})
		}
	}
	if len(looks) == 0 {
		return Round{}, false, nil
	}
	first := looks[0].at
	for _, l := range looks[1:] {
		if l.at.Before(first) {
			first = l.at
		}
	}
	r := Round{At: first}
	for _, l := range looks {
		if l.at.Sub(first) <= together {
			r.Pieces = append(r.Pieces, l.piece)
			if l.at.After(r.At) {
				r.At = l.at // the last of them says when
			}
		}
	}
	r.Due = !s.now().Before(r.At)
	return r, true, nil
}

// RoundDone marks the look of every piece of the round that is due. A piece that
// another screen has looked at meanwhile is left alone.
func (s *Service) RoundDone(ctx context.Context) error {
	r, ok, err := s.NextRound(ctx)
	if err != nil || !ok {
		return err
	}
	for _, p := range r.Pieces {
		if p.Locked {
			continue
		}
		_, err := s.log.Press(ctx, p.Bench, 0, false, session.DoneAt(p.Step, session.SaidDone))
		if err != nil && !errors.Is(err, session.ErrStale) {
			return err
		}
	}
	return nil
}
