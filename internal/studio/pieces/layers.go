package pieces

import (
	"context"
	"strings"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
)

// A LayerChange is one way to edit the layers of a piece. It returns the layer
// to look at next, "" for none in particular.
type LayerChange func(spec *plan.Spec, b *materials.Book, layer string) (string, error)

// LayerChanges holds them by their names.
var LayerChanges = map[string]LayerChange{
	"up":   move(false),
	"down": move(true),
	"copy": func(spec *plan.Spec, b *materials.Book, layer string) (string, error) {
		return spec.CopyCoat(b.Context, layer)
	},
	"layers": func(spec *plan.Spec, b *materials.Book, layer string) (string, error) {
		return layer, spec.PourInLayers(b.Context, layer)
	},
	"remove": func(spec *plan.Spec, b *materials.Book, layer string) (string, error) {
		return "", spec.RemoveLayer(b.Context, layer)
	},
}

func move(later bool) LayerChange {
	return func(spec *plan.Spec, b *materials.Book, layer string) (string, error) {
		if !spec.MoveLayer(b.Context, layer, later) {
			return "", store.ErrNotFound
		}
		return layer, nil
	}
}

// ChangeLayer edits one layer of a piece.
func (s *Service) ChangeLayer(ctx context.Context, id int64, how, layer string) (Piece, string, error) {
	change, ok := LayerChanges[how]
	if !ok {
		return Piece{}, "", store.ErrNotFound
	}
	return s.withBook(ctx, id, func(spec *plan.Spec, b *materials.Book) (string, error) { return change(spec, b, layer) })
}

// PlaceLayer puts a layer before another, or last where before is "".
func (s *Service) PlaceLayer(ctx context.Context, id int64, layer, before string) (Piece, string, error) {
	return s.withBook(ctx, id, func(spec *plan.Spec, b *materials.Book) (string, error) {
		return layer, spec.PlaceLayer(b.Context, layer, before)
	})
}

// AddLayer puts work or a coat into a piece, where its kind usually stands.
func (s *Service) AddLayer(ctx context.Context, id int64, what string) (Piece, string, error) {
	return s.withBook(ctx, id,
		func(spec *plan.Spec, b *materials.Book) (string, error) { return spec.AddLayer(b.Context, what) })
}

// UsualLayers gives the preparations and the finishing back to the surface.
func (s *Service) UsualLayers(ctx context.Context, id int64) (Piece, error) {
	return s.Change(ctx, id, func(spec *plan.Spec) error {
		spec.UsualLayers()
		return nil
	})
}

func (s *Service) withBook(ctx context.Context, id int64, f func(*plan.Spec, *materials.Book) (string, error)) (Piece,
	string, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, "", err
	}
	next := ""
	p, err := s.Change(ctx, id, func(spec *plan.Spec) error {
		var err error
		next, err = f(spec, b)
		return err
	})
	return p, next, err
}

// withCoat changes one coat of a piece.
func (s *Service) withCoat(ctx context.Context, id int64, coat string, f func(*plan.CoatSpec) error) (Piece, error) {
	return s.Change(ctx, id, func(spec *plan.Spec) error {
		c := spec.Coat(coat)
		if c == nil {
			return store.ErrNotFound
		}
		return f(c)
	})
}

// AddColour gives a coat another accent.
func (s *Service) AddColour(ctx context.Context, id int64, coat string) (Piece, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, err
	}
	return s.withCoat(ctx, id, coat, func(c *plan.CoatSpec) error {
		id, err := c.AddColour()
		if err != nil {
			return err
		}
		last := &c.Colours[len(c.Colours)-1]
		last.Name = msg.F("Colour %s", strings.TrimPrefix(id, "c")).In(b.Settings.Lang())
		return nil
	})
}

// RemoveColour takes a cup away; the last one stays.
func (s *Service) RemoveColour(ctx context.Context, id int64, coat, cup string) (Piece, error) {
	return s.withCoat(ctx, id, coat, func(c *plan.CoatSpec) error {
		if err := c.RemoveColour(cup); err != nil {
			return err
		}
		c.FollowThings()
		return nil
	})
}

// SetCups gives a coat other cups; what lay on its board goes.
func (s *Service) SetCups(ctx context.Context, id int64, coat string, cups []plan.Colour) (Piece, error) {
	return s.withCoat(ctx, id, coat, func(c *plan.CoatSpec) error {
		c.Colours, c.Things = cups, nil
		return nil
	})
}

// ChangeCup changes one cup of a coat.
func (s *Service) ChangeCup(ctx context.Context, id int64, coat, cup string, f func(*plan.Colour) error) (Piece,
	error) {
	return s.withCoat(ctx, id, coat, func(c *plan.CoatSpec) error {
		col := c.Colour(cup)
		if col == nil {
			return store.ErrNotFound
		}
		return f(col)
	})
}

// compose changes the things of a coat and lets shares follow.
func (s *Service) compose(
	ctx context.Context, id int64, coat string, f func(c *plan.CoatSpec, board surface.Shape) error,
) (Piece, error) {
	return s.composeIn(ctx, id, coat, func(_ *plan.Spec, c *plan.CoatSpec, board surface.Shape) error {
		return f(c, board)
	})
}

// composeIn is compose for what looks at the rest of the piece too.
func (s *Service) composeIn(
	ctx context.Context, id int64, coat string,
	f func(spec *plan.Spec, c *plan.CoatSpec, board surface.Shape) error,
) (Piece, error) {
	return s.Change(ctx, id, func(spec *plan.Spec) error {
		board, err := spec.Shape()
		if err != nil {
			return &form.Refused{Field: spec.ShapeField(), Err: err}
		}
		c := spec.Coat(coat)
		if c == nil {
			return store.ErrNotFound
		}
		if err := f(spec, c, board); err != nil {
			return err
		}
		if len(c.Things) > composition.MostThings {
			return form.Refusef("", "a board holds at most %d things", composition.MostThings)
		}
		for _, t := range c.Things {
			if err := t.Check(); err != nil {
				return &form.Refused{Err: err}
			}
		}
		c.Things = composition.Settle(board, c.Things)
		c.FollowThings()
		return nil
	})
}
