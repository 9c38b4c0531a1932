package studio

import (
	"context"
	"errors"

	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// Learned is this studio's own ratio of used to planned for a technique.
type Learned struct {
	Planned, Used units.Volume
	Pours         int
}

// The ratio is held within these bounds: a typing slip must not double every
// later lot.
const (
	leastRatio = 0.5
	mostRatio  = 2.0
)

// Ratio returns used over planned, 1 while nothing was recorded.
func (l Learned) Ratio() float64 {
	if l.Pours == 0 || l.Planned <= 0 {
		return 1
	}
	return min(max(float64(l.Used/l.Planned), leastRatio), mostRatio)
}

// Learned returns what the recorded coats of each technique teach.
func (s *Studio) Learned(ctx context.Context) (map[string]Learned, error) {
	rows, err := s.store.Learned(ctx)
	if err != nil {
		return nil, err
	}
	out := make(map[string]Learned, len(rows))
	for id, r := range rows {
		out[id] = Learned{units.Volume(r.Planned), units.Volume(r.Used), r.Pours}
	}
	return out, nil
}

// RecordUse keeps what a coat really took, typed as a volume. The planned
// side is the plan before learning, so that the ratio does not feed on
// itself; cup loss is left out of both.
func (s *Studio) RecordUse(ctx context.Context, plan Plan, coat, typed string) (note string, err error) {
	for _, c := range plan.Coats {
		if c.Key != coat {
			continue
		}
		r, err := units.ParseVolume(typed, bareVolume(plan.Settings.Units))
		if err != nil {
			return "", err
		}
		used := r.Value - c.Amount.CupLoss
		if used <= 0 {
			return "", errors.New("a coat takes more than what stays in its cups")
		}
		if r.Value > 20*c.Total {
			return "", errors.New("that is more than twenty times the plan; check the unit")
		}
		return r.Note, s.store.RecordUse(ctx, store.Use{PieceID: plan.Piece.ID, Coat: coat, Technique: c.Technique.ID,
			Planned: float64(c.Amount.Poured()), Used: float64(used), At: s.now()})
	}
	return "", store.ErrNotFound
}

// A Use is what one coat took, cup loss left out.
type Use struct {
	Coat          string
	Planned, Used units.Volume
}

// Uses returns what the coats of a piece took, by coat.
func (s *Studio) Uses(ctx context.Context, piece int64) (map[string]Use, error) {
	rows, err := s.store.UsesOf(ctx, piece)
	if err != nil {
		return nil, err
	}
	out := make(map[string]Use, len(rows))
	for _, r := range rows {
		out[r.Coat] = Use{r.Coat, units.Volume(r.Planned), units.Volume(r.Used)}
	}
	return out, nil
}

// ResetLearning forgets a technique's pours.
func (s *Studio) ResetLearning(ctx context.Context, id string) error {
	book, err := s.Techniques(ctx)
	if err != nil {
		return err
	}
	if _, ok := book.Find(id); !ok {
		return store.ErrNotFound
	}
	return s.store.ResetLearning(ctx, id, s.now())
}
