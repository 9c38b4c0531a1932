package agenda

import (
	"context"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
)

// mostDaysLater bounds how far pieces are moved at once.
const mostDaysLater = 366

// Later plans the next coat of some pieces so many days later than it stands now; the days
// they are due on stay what they are. Pieces that are poured are left alone.
func (s *Service) Later(ctx context.Context, ids []int64, days int) ([]pieces.Made, error) {
	if days < 1 || days > mostDaysLater {
		return nil, &form.Refused{Field: "days", Err: refusal.New("type between 1 and %d days", mostDaysLater)}
	}
	from := map[int64]time.Time{}
	for _, id := range ids {
		row, err := s.store.Piece(ctx, id)
		if err != nil {
			return nil, err
		}
		p, err := pieces.Decode(row)
		if err != nil {
			return nil, err
		}
		v, err := s.Plan(ctx, p)
		if err != nil {
			return nil, err
		}
		for i := range v.Coats {
			if !v.Coats[i].Made {
				from[id] = v.Coats[i].Start
				break
			}
		}
	}
	var made []pieces.Made
	err := s.store.Write(ctx, "keep the changes", func(tx *store.Tx) (err error) {
		made, err = pieces.EachIn(ctx, tx, ids, s.now(), func(id int64, spec *plan.Spec) error {
			if at, ok := from[id]; ok {
				y, m, d := at.Local().Date()
				spec.Start = time.Date(y, m, d+days, 0, 0, 0, 0, time.Local)
			}
			return nil
		})
		return err
	})
	return made, err
}
