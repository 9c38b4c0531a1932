package pieces

import (
	"context"
	"slices"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/words"
)

// StartComposition replaces a coat's things by a beginning.
func (s *Service) StartComposition(ctx context.Context, id int64, coat, start string) (Piece, error) {
	st, ok := composition.FindStart(start)
	if !ok {
		return Piece{}, store.ErrNotFound
	}
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, err
	}
	return s.composeIn(ctx, id, coat, func(spec *plan.Spec, c *plan.CoatSpec, board surface.Shape) error {
		c.Things = st.Lay(board, spec.Sketched(b.Context, coat))
		return nil
	})
}

// ClearComposition takes all things of a coat away; the sketch stands in again.
func (s *Service) ClearComposition(ctx context.Context, id int64, coat string) (Piece, error) {
	return s.compose(ctx, id, coat, func(c *plan.CoatSpec, _ surface.Shape) error {
		c.Things = nil
		return nil
	})
}

// Placing says how a thing is put on the board by hand.
type Placing struct {
	Snap bool
	Grid float64 // mm; 0 for none
}

func (pl Placing) points(points []geom.Point, board surface.Shape, things []composition.Thing,
	skip string) []geom.Point {
	if !pl.Snap {
		return points
	}
	box := board.Bounds()
	reach := float64(max(box.Width(), box.Height())) / 60
	out := make([]geom.Point, len(points))
	for i, p := range points {
		out[i] = composition.Snap(p, board, things, skip, reach, pl.Grid)
	}
	return out
}

// usualDots is how many drops a new row of dots has.
const usualDots = 7

// AddThing puts a new thing on the board, in the middle when it names no
// points. It returns its id.
func (s *Service) AddThing(ctx context.Context, id int64, coat string, t composition.Thing, pl Placing) (Piece, string,
	error) {
	rule, ok := composition.RuleOf(t.Kind)
	if !ok {
		return Piece{}, "", form.Refusef("kind", "there is no %q on a board", t.Kind)
	}
	fresh := ""
	p, err := s.compose(ctx, id, coat, func(c *plan.CoatSpec, board surface.Shape) error {
		if rule.Pours && c.Colour(t.Cup) == nil {
			return form.Refusef("cup", "choose a cup for it first")
		}
		thing := t
		if !rule.Pours {
			thing.Cup = ""
		}
		thing.ID, thing.Share = composition.NextID(c.Things), rule.Share
		switch {
		case rule.Points == 0:
			thing.Points = nil
		case len(thing.Points) == 0:
			thing.Points = inTheMiddle(rule, board)
		}
		thing.Points = pl.points(thing.Points, board, c.Things, "")
		if thing.Kind == composition.Dots {
			thing.Count = usualDots
		}
		fresh = thing.ID
		c.Things = append(c.Things, thing)
		return nil
	})
	return p, fresh, err
}

// A Rearrangement is another order of what is poured on a coat's bed.
type Rearrangement struct {
	Moves  func([]technique.Move)
	Things func([]composition.Thing)
}

// PlaceThings puts things on the board that take what they say of their cups, beside what is
// there; on a board with a sketch only, beside the technique's own layout. In another order,
// where one is given.
func (s *Service) PlaceThings(
	ctx context.Context, id int64, coat string, things []composition.Thing, layout technique.Layout,
	order *Rearrangement,
) (Piece, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, err
	}
	return s.composeIn(ctx, id, coat, func(spec *plan.Spec, c *plan.CoatSpec, board surface.Shape) error {
		if order != nil {
			spec.Rearrange(b.Context, coat, order.Moves)
		}
		if starts := composition.StartsFor(layout); len(things) > 0 && len(c.Things) == 0 && len(starts) > 0 {
			c.Things = starts[0].Lay(board, spec.Sketched(b.Context, coat))
		}
		if order != nil {
			order.Things(c.Things)
		}
		for _, t := range things {
			if c.Colour(t.Cup) == nil {
				return form.Refusef("cup", "one of the moves pours a cup that is no longer there")
			}
			t.ID = composition.NextID(c.Things)
			c.Things = append(c.Things, t)
		}
		return nil
	})
}

// inTheMiddle is where a thing goes that is placed without a pointer.
func inTheMiddle(rule composition.KindRule, board surface.Shape) []geom.Point {
	w, h := float64(board.Bounds().Width()), float64(board.Bounds().Height())
	if rule.Points == 1 {
		return []geom.Point{geom.At(w/2, h/2)}
	}
	return []geom.Point{geom.At(w*0.15, h/2), geom.At(w*0.85, h/2)}
}

// withThing changes one thing. A thing another page has removed is not found.
func (s *Service) withThing(ctx context.Context, id int64, coat, thing string,
	f func(c *plan.CoatSpec, board surface.Shape, i int) error) (Piece, error) {
	return s.compose(ctx, id, coat, func(c *plan.CoatSpec, board surface.Shape) error {
		i := slices.IndexFunc(c.Things, func(t composition.Thing) bool { return t.ID == thing })
		if i < 0 {
			return store.ErrNotFound
		}
		return f(c, board, i)
	})
}

// MoveThing shifts a thing, or only its point at when that is not negative.
func (s *Service) MoveThing(ctx context.Context, id int64, coat, thing string, at int, dx, dy float64,
	pl Placing) (Piece, error) {
	return s.withThing(ctx, id, coat, thing, func(c *plan.CoatSpec, board surface.Shape, i int) error {
		t := &c.Things[i]
		if at >= len(t.Points) || len(t.Points) == 0 {
			return store.ErrNotFound
		}
		if at >= 0 {
			p := t.Points[at].Add(geom.At(dx, dy))
			t.Points[at] = pl.points([]geom.Point{p}, board, c.Things, t.ID)[0]
			return nil
		}
		moved := t.Moved(dx, dy)
		if pl.Snap { // the first point snaps, the others come along
			to := pl.points(moved.Points[:1], board, c.Things, t.ID)[0].Sub(moved.Points[0])
			moved = moved.Moved(to.X, to.Y)
		}
		*t = moved
		return nil
	})
}

// RemoveThing takes a thing off the board.
func (s *Service) RemoveThing(ctx context.Context, id int64, coat, thing string) (Piece, error) {
	return s.withThing(ctx, id, coat, thing, func(c *plan.CoatSpec, _ surface.Shape, i int) error {
		c.Things = slices.Delete(c.Things, i, i+1)
		return nil
	})
}

// CopyThing lays a thing again a little beside itself. It returns the new id.
func (s *Service) CopyThing(ctx context.Context, id int64, coat, thing string) (Piece, string, error) {
	fresh := ""
	p, err := s.withThing(ctx, id, coat, thing, func(c *plan.CoatSpec, board surface.Shape, i int) error {
		d := float64(board.Bounds().Width()) / 25
		t := composition.Clone(c.Things[i : i+1])[0].Moved(d, d)
		t.ID = composition.NextID(c.Things)
		fresh = t.ID
		c.Things = append(c.Things, t)
		return nil
	})
	return p, fresh, err
}

// A thingEdit is a thing with what its typed values depend on.
type thingEdit struct {
	composition.Thing
	board  surface.Shape
	poured units.Volume // onto one board
	cups   []plan.Colour
}

var thingFields = form.Fields[thingEdit]{
	{Key: "cup", Label: msg.ID("Cup"), Kind: form.Choose, Of: "cups",
		Get: func(t *thingEdit, _ units.System) string { return t.Cup },
		Set: func(t *thingEdit, text string, _ units.System) (msg.Text, error) {
			if !slices.ContainsFunc(t.cups, func(c plan.Colour) bool { return c.ID == text }) {
				return nil, refusal.New("choose one of the cups")
			}
			t.Cup = text
			return nil, nil
		}},
	{Key: "points", Label: msg.ID("Points, mm from the upper left"), Kind: form.Line, Wide: true,
		Get: func(t *thingEdit, _ units.System) string { return PointsText(t.Points, 1) },
		Set: func(t *thingEdit, text string, _ units.System) (msg.Text, error) {
			points, err := ParsePoints(text)
			if err == nil {
				trial := t.Thing
				trial.Points = points
				err = trial.Check()
			}
			if err != nil {
				return nil, err
			}
			t.Points = points
			return nil, nil
		}},
	{Key: "width", Label: msg.ID("Width once level"), Kind: form.Line, Say: form.Figures,
		Get: func(t *thingEdit, sys units.System) string { return string(t.Width(t.board).Text(sys)) },
		Set: func(t *thingEdit, text string, sys units.System) (msg.Text, error) {
			r, err := units.ParseLength(text, "mm")
			if err == nil {
				err = form.Between(r.Value, 0.1, 5000, func(l units.Length) msg.Figure { return l.Text(sys) })
			}
			if err != nil {
				return nil, err
			}
			t.Thing = t.WithWidth(t.board, r.Value)
			return r.Note, nil
		}},
	{Key: "share", Label: msg.ID("Part of the coat"), Kind: form.Line, Say: form.Figures,
		Get: func(t *thingEdit, _ units.System) string { return form.ShareText(t.Share) },
		Set: func(t *thingEdit, text string, _ units.System) (msg.Text, error) {
			v, err := units.ParseShare(text)
			if err == nil {
				err = form.Between(v, 0, 1, form.ShareText)
			}
			if err != nil {
				return nil, err
			}
			t.Thing = t.Given(v)
			return nil, nil
		}},
	{Key: "volume", Label: msg.ID("Volume"), Kind: form.Line, Say: form.Figures,
		Get: func(t *thingEdit, sys units.System) string {
			return form.VolumeText(t.poured*units.Volume(t.Share), sys)
		},
		Set: func(t *thingEdit, text string, sys units.System) (msg.Text, error) {
			r, err := units.ParseVolume(text, form.BareVolume(sys))
			if err == nil {
				err = form.Between(r.Value, 0, t.poured, func(v units.Volume) string { return form.VolumeText(v, sys) })
			}
			if err != nil {
				return nil, err
			}
			t.Share, t.Pour = float64(r.Value/t.poured), r.Value
			return r.Note, nil
		}},
	form.Count("repeat", "Times", func(t *thingEdit) *int { return &t.Count }, 1, 60),
	form.Length("gap", "Apart", func(t *thingEdit) *units.Length { return &t.Gap }, -190, 190),
	form.Choice("mirror", "Mirror", func(t *thingEdit) *composition.Mirror { return &t.Mirror },
		form.Option{Value: "", Label: msg.ID("no")}, form.Option{Value: "left-right", Label: msg.ID("left to right")},
		form.Option{Value: "top-bottom", Label: msg.ID("top to bottom")},
		form.Option{Value: "both", Label: msg.ID("both ways")}),
	form.Volume("hollows", "Hollows hold", func(t *thingEdit) *units.Volume { return &t.Volume }, 0, 20_000),
}

// ofPlan joins a thing with what its typed values depend on.
func ofPlan(p *plan.Plan, c *plan.Coat, t composition.Thing) thingEdit {
	return thingEdit{Thing: t, board: p.Boards[0], cups: c.Layer.Coat.Colours,
		poured: c.Poured * units.Volume(p.Boards[0].Area()/p.Face)}
}

// ThingViews returns a planned thing as typed text, with what is said beside it.
func ThingViews(p *plan.Plan, c *plan.Coat, t composition.Thing, style form.Style, typed map[string]string,
	n form.Notices) map[string]form.View {
	e := ofPlan(p, c, t)
	cups := make([]form.Option, len(e.cups))
	for i, cup := range e.cups {
		cups[i] = form.Option{Value: cup.ID, Label: words.Filled(cup.Name)}
	}
	return thingFields.Views(&e, style, typed, n, map[string][]form.Option{"cups": cups})
}

// EditThing lays typed values on a thing; what was typed last stays, everything
// else follows from it.
func (s *Service) EditThing(ctx context.Context, id int64, coat, thing string, typed map[string]string) (Piece,
	form.Notices, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, form.Notices{}, err
	}
	n := form.NewNotices()
	p, err := s.Change(ctx, id, func(spec *plan.Spec) error {
		calculated, err := plan.Evaluate(*spec, b.Context, plan.Timing{})
		if err != nil {
			return err
		}
		c, planned := spec.Coat(coat), calculated.Coat(coat)
		if c == nil || planned == nil {
			return store.ErrNotFound
		}
		i := slices.IndexFunc(c.Things, func(t composition.Thing) bool { return t.ID == thing })
		j := slices.IndexFunc(planned.Things, func(t composition.Thing) bool { return t.ID == thing })
		if i < 0 || j < 0 {
			return store.ErrNotFound
		}
		e := ofPlan(calculated, planned, planned.Things[j])
		slid := e.Share
		n = thingFields.Apply(&e, typed, b.Settings.Style())
		c.Things[i] = e.Thing
		if e.Kind == composition.Zone && e.Share != slid {
			if moved, ok := composition.Reshare(calculated.Boards[0], c.Things, e.Cup, e.Share); ok {
				c.Things = moved
			}
		}
		c.Things = composition.Settle(calculated.Boards[0], c.Things)
		c.FollowThings()
		return nil
	})
	return p, n, err
}
