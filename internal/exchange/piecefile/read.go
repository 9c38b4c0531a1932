package piecefile

import (
	"errors"
	"fmt"
	"maps"
	"slices"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Refs are the resins and pigments a document names, by those names.
type Refs struct {
	Resins, Pigments map[string]int64
}

// supports are the document's names of supports.
var supports = map[string]surface.Support{
	"panel":   surface.Panel,
	"cradled": surface.Cradled,
	"canvas":  surface.Canvas,
	"tray":    surface.Tray,
	"table":   surface.TableTop,
	"tile":    surface.Tile,
	"slab":    surface.MouldSlab,
	"other":   surface.Panel,
}

// reading is the state of a document being read.
type reading struct {
	ctx   *plan.Context
	refs  Refs
	taken []Taken
}

func (r *reading) take(field string, value any) { r.taken = append(r.taken, Taken{field, value}) }

func refused(field string, format msg.ID, args ...any) error {
	return &Error{field, refusal.New(format, args...)}
}

// Spec returns the piece of a document on top of a new one, with what was taken
// for values that are left out. An error is an [*Error].
func (d Document) Spec(ctx *plan.Context, refs Refs) (plan.Spec, []Taken, error) {
	r := &reading{ctx: ctx, refs: refs}
	resin, err := r.usualResin()
	if err != nil {
		return plan.Spec{}, nil, err
	}
	s := plan.NewSpec(ctx, resin, ctx.Calendar.Slot(timeZero, 0))
	s.Name, s.Layers = d.Name, nil
	if err := r.board(&s, d); err != nil {
		return s, nil, err
	}
	for i, l := range d.Layers {
		if err := r.layer(&s, l, fmt.Sprintf("layers[%d]", i), resin); err != nil {
			return s, nil, err
		}
	}
	if s.First() == nil {
		return s, nil, refused("layers", "the plan has no coat of resin")
	}
	r.mould(&s, d)
	return s, r.taken, nil
}

// usualResin is the resin of a layer that names none: the first by name.
func (r *reading) usualResin() (int64, error) {
	names := slices.Sorted(maps.Keys(r.refs.Resins))
	if len(names) == 0 {
		return 0, refused("resins", "name at least one resin")
	}
	return r.refs.Resins[names[0]], nil
}

func (r *reading) board(s *plan.Spec, d Document) error {
	support := d.Support
	if support == "" {
		support = "panel"
		r.take("support", support)
	}
	s.Stand(supports[support])
	s.Depth, s.Count = units.Length(d.Board.Side), max(1, d.Count)
	if err := d.Board.outline(&s.Board); err != nil {
		return err
	}
	if d.Edge != "" {
		s.Edge = surface.Edge(d.Edge)
	} else {
		r.take("edge", string(s.Edge))
	}
	if d.EdgeHeight > 0 {
		s.EdgeHeight = units.Length(d.EdgeHeight)
	} else if s.Edge.Rule().Holds {
		r.take("edge_height_mm", float64(s.EdgeHeight))
	}
	if d.Sides != "" {
		s.Sides = surface.Sides(d.Sides)
	}
	if d.Ground != "" {
		s.Ground = d.Ground
	}
	if d.Sealed != nil {
		s.Sealed, s.Asked = *d.Sealed, true
	} else {
		s.Asked = true
		r.take("sealed", s.Sealed)
	}
	if _, err := s.Boards(); err != nil {
		return &Error{"board", err}
	}
	return nil
}

// outline is the board's shape as a piece has it.
func (b Board) outline(to *plan.Board) error {
	need := func(v *float64, field string) (units.Length, error) {
		if v == nil {
			return 0, refused("board."+field, "is missing for a %s", b.Shape)
		}
		return units.Length(*v), nil
	}
	var err error
	switch b.Shape {
	case "circle":
		to.Outline = plan.Round
		to.Width, err = need(b.Diameter, "diameter_mm")
		to.Height = to.Width
		return err
	case "polygon":
		to.Outline = plan.Polygon
		if len(b.Points) == 0 {
			return refused("board.points_mm", "is missing for a %s", b.Shape)
		}
		for i, p := range b.Points {
			if len(p) != 2 {
				return refused(fmt.Sprintf("board.points_mm[%d]", i), "is a corner of two numbers, [x, y]")
			}
			to.Points = append(to.Points, geom.At(p[0], p[1]))
		}
		return nil
	case "outline":
		if b.Path == nil {
			return refused("board.svg_path", "is missing for a %s", b.Shape)
		}
		shape, err := surface.Outline(*b.Path)
		if err != nil {
			return &Error{"board.svg_path", err}
		}
		box := shape.Bounds()
		to.Outline, to.Path, to.Width, to.Height = plan.Drawn, *b.Path, box.Width(), box.Height()
		return nil
	case "ellipse":
		to.Outline = plan.Oval
	}
	if to.Width, err = need(b.Width, "width_mm"); err != nil {
		return err
	}
	to.Height, err = need(b.Height, "height_mm")
	return err
}

// mould is as deep as what is poured into it, where that is said.
func (r *reading) mould(s *plan.Spec, d Document) {
	if !s.Support.Rule().Cast {
		return
	}
	boards, err := s.Boards()
	if err != nil {
		return
	}
	area := 0.0
	for _, b := range boards {
		area += float64(b.Area())
	}
	deep := units.Length(0)
	for _, l := range s.Layers {
		if l.Coat == nil {
			continue
		}
		deep += l.Coat.Amount.Film + units.Length(float64(l.Coat.Amount.Volume)*1000/area)
	}
	switch {
	case d.EdgeHeight > 0:
		s.MouldDepth = units.Length(d.EdgeHeight)
	case deep > 0:
		s.MouldDepth = deep
	}
}

func (r *reading) layer(s *plan.Spec, l Layer, field string, resin int64) error {
	if l.ID != "" && s.Layer(l.ID) != nil {
		return refused(field+".id", "there are two layers %q", l.ID)
	}
	if l.Kind == "work" {
		return r.work(s, l, field)
	}
	name := l.Technique
	if name == "" {
		name = "swipe"
		r.take(field+".technique", name)
	}
	t, ok := r.ctx.Book.Find(name)
	if !ok || t.Between {
		return refused(field+".technique", "there is no technique %q that pours", name)
	}
	id := l.ID
	if id == "" {
		id = s.NextLayerID(t.ID)
	}
	if l.Resin != "" {
		if resin, ok = r.refs.Resins[l.Resin]; !ok {
			return refused(field+".resin", "there is no resin %q", l.Resin)
		}
	} else {
		r.take(field+".resin", r.nameOf(resin))
	}
	out := plan.NewCoat(r.ctx, id, t, resin, 1.6)
	out.Keeps = l.Keeps
	c := out.Coat
	if err := r.amount(c, l, t, field); err != nil {
		return err
	}
	c.Mixing, c.Reserve, c.Options = l.Mixing, units.Volume(l.Reserve), l.Options
	if l.Warm != nil {
		c.Warm = units.Temperature(*l.Warm)
	}
	if l.Drops != nil {
		c.Silicone, c.Drops = *l.Drops > 0, *l.Drops
	}
	if err := r.cups(c, l, field); err != nil {
		return err
	}
	r.cupsOnly(c, l, field)
	if err := r.rounds(c, l, t, field); err != nil {
		return err
	}
	if l.Rest != nil {
		r.rest(c, t, *l.Rest)
	}
	s.Layers = append(s.Layers, out)
	return nil
}

func (r *reading) nameOf(resin int64) string {
	for name, id := range r.refs.Resins {
		if id == resin {
			return name
		}
	}
	return ""
}

func (r *reading) work(s *plan.Spec, l Layer, field string) error {
	id := l.ID
	if l.What == "own" || l.What == plan.OwnStepID {
		if id == "" {
			id = s.NextLayerID(plan.OwnStepID)
		}
		s.Layers = append(
			s.Layers,
			plan.Layer{
				ID:    id,
				Kind:  plan.Between,
				What:  plan.OwnStepID,
				Times: 1,
				Step:  &plan.OwnStep{Name: "Own work", Minutes: 15},
			},
		)
		return nil
	}
	t, ok := r.ctx.Book.Find(l.What)
	if !ok || !t.Between {
		return refused(field+".what", "there is no work between coats called %q", l.What)
	}
	if id == "" {
		id = s.NextLayerID(l.What)
	}
	s.Layers = append(s.Layers, plan.Layer{ID: id, Kind: plan.Between, What: t.ID, Times: 1})
	return nil
}

// AsError returns the document's own error in err, nil when there is none.
func AsError(err error) *Error {
	var e *Error
	if errors.As(err, &e) {
		return e
	}
	return nil
}
