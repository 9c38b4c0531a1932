package learn

import (
	"context"
	"math"

	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
)

// A change of a plan that keeps a cause away: what it says, and what it does to a
// coat of a spec.
type prevention struct {
	words msg.ID
	do    func(s *plan.Spec, b *materials.Book, c *plan.Coat) error
}

// How far a prevention goes (common practice).
const (
	warmRoom  = 23.0 // °C
	lessFilm  = 0.8
	moreFilm  = 1.15 // of what stands by itself
	safeShare = 0.9  // of a pigment's limit
	hideMore  = 1.3
)

// preventions are the changes that are made by one press.
var preventions = map[diagnose.Change]prevention{
	diagnose.ChangeRoom: {"Plan the room at 23 °C", func(s *plan.Spec, _ *materials.Book, _ *plan.Coat) error {
		s.Room = units.Temperature(math.Max(float64(s.Room), warmRoom))
		return nil
	}},
	diagnose.ChangePrime: {"Plan to seal and prime it", func(s *plan.Spec, b *materials.Book, _ *plan.Coat) error {
		_, err := s.AddLayer(b.Context, technique.Usual(technique.ForFace).ID)
		return err
	}},
	diagnose.ChangeSides: {"Plan to paint the sides", func(s *plan.Spec, b *materials.Book, _ *plan.Coat) error {
		_, err := s.AddLayer(b.Context, technique.Usual(technique.ForSides).ID)
		return err
	}},
	diagnose.ChangeLess: {"Plan a fifth less film", func(s *plan.Spec, _ *materials.Book, c *plan.Coat) error {
		return film(s, c, lessFilm*c.Film)
	}},
	diagnose.ChangeMore: {"Plan a film that stands by itself", func(s *plan.Spec, _ *materials.Book, c *plan.Coat) error {
		return film(s, c, max(c.Film, moreFilm*c.Puddle.Height))
	}},
	diagnose.ChangeDoses: {"Plan every cup within its limit", func(s *plan.Spec, b *materials.Book, c *plan.Coat) error {
		return doses(s, c, func(k *plan.Colour) {
			if p, ok := b.Pigments[k.Pigment]; ok && p.LoadLimit > 0 {
				k.Load = math.Min(k.Load, safeShare*p.LoadLimit)
				k.Mass = 0
			}
		})
	}},
	diagnose.ChangeStrong: {"Plan a third more pigment, within limits",
		func(s *plan.Spec, b *materials.Book, c *plan.Coat) error {
			return doses(s, c, func(k *plan.Colour) {
				if p, ok := b.Pigments[k.Pigment]; ok && p.LoadLimit > 0 {
					k.Load = math.Min(hideMore*k.Load, safeShare*p.LoadLimit)
					k.Mass = 0
				}
			})
		}},
}

func film(s *plan.Spec, c *plan.Coat, to units.Length) error {
	spec := s.Coat(c.ID)
	if spec == nil {
		return store.ErrNotFound
	}
	spec.Amount = plan.Amount{Film: units.Length(math.Round(10*float64(to)) / 10)}
	return nil
}

func doses(s *plan.Spec, c *plan.Coat, change func(*plan.Colour)) error {
	spec := s.Coat(c.ID)
	if spec == nil {
		return store.ErrNotFound
	}
	for k := range spec.Colours {
		change(&spec.Colours[k])
	}
	return nil
}

// Prevention is the change to the plan, made by one press, that avoids a cause; "" where it is the hand
// that has to.
func Prevention(c diagnose.Cause) msg.ID { return preventions[c.Change].words }

// Prevent changes the plan so that a cause stays away next time: of this piece while
// the coat is not made, else of a copy of it, whose id is returned.
func (s *Service) Prevent(ctx context.Context, piece int64, coat, cause string) (int64, error) {
	found, ok := diagnose.FindCause(cause)
	prevent, has := preventions[found.Change]
	if !ok || !has {
		return 0, form.Refusef("cause", "no change of the plan prevents that; it depends on how you work")
	}
	p, err := s.pieces.Piece(ctx, piece)
	if err != nil {
		return 0, err
	}
	v, err := s.agenda.Plan(ctx, p)
	if err != nil {
		return 0, err
	}
	c := v.Plan.Coat(coat)
	if c == nil {
		return 0, store.ErrNotFound
	}
	if c.Made || c.Begun {
		if p, err = s.pieces.Copy(ctx, piece); err != nil {
			return 0, err
		}
	}
	book := v.Agenda.Book
	_, err = s.pieces.Change(ctx, p.ID, func(spec *plan.Spec) error { return prevent.do(spec, book, c) })
	return p.ID, err
}
