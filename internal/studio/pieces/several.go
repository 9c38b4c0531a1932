package pieces

import (
	"context"
	"errors"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
)

// A Made is a change of one piece among several: the revision it made.
type Made struct{ Piece, Rev int64 }

// EachIn changes several pieces within a larger change and returns what was made.
func EachIn(ctx context.Context, tx *store.Tx, ids []int64, now time.Time,
	f func(id int64, spec *plan.Spec) error) ([]Made, error) {
	var made []Made
	for _, id := range ids {
		row, err := tx.Piece(ctx, id)
		if err != nil {
			return nil, err
		}
		p, err := ChangeIn(ctx, tx, id, now, func(spec *plan.Spec) error { return f(id, spec) })
		if err != nil {
			return nil, err
		}
		if p.Rev != row.Rev {
			made = append(made, Made{id, p.Rev})
		}
	}
	return made, nil
}

// Finish says that several pieces are done, all or none of them, so that they leave the plan
// and the pieces in hand.
func (s *Service) Finish(ctx context.Context, ids []int64) ([]Made, error) {
	var made []Made
	err := s.store.Write(ctx, "keep the changes", func(tx *store.Tx) (err error) {
		made, err = EachIn(ctx, tx, ids, s.now(), func(_ int64, spec *plan.Spec) error {
			spec.State = plan.Done
			return nil
		})
		return err
	})
	return made, refused(err)
}

// TakeBack takes changes of several pieces back; a piece that was changed since stays and is counted.
func (s *Service) TakeBack(ctx context.Context, made []Made) (stay int, err error) {
	err = s.store.Write(ctx, "take the changes back", func(tx *store.Tx) error {
		stay = 0
		for _, m := range made {
			row, err := tx.Piece(ctx, m.Piece)
			if errors.Is(err, store.ErrNotFound) || err == nil && row.Rev != m.Rev {
				stay++
				continue
			}
			if err != nil {
				return err
			}
			if err := tx.MoveHead(ctx, m.Piece, true); err != nil {
				return err
			}
		}
		return nil
	})
	return stay, err
}
