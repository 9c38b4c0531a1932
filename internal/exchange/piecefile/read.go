package piecefile

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
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

func refused(field, format string, args ...any) error {
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
	if d.Stands > 0 {
		s.EdgeHeight = units.Length(d.Stands)
	} else if s.Edge != surface.Open {
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
	case d.Stands > 0:
		s.MouldDepth = units.Length(d.Stands)
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

func (r *reading) amount(c *plan.CoatSpec, l Layer, t technique.Technique, field string) error {
	said := 0
	for _, v := range []float64{l.Film, l.Volume, l.Mass} {
		if v > 0 {
			said++
		}
	}
	switch {
	case said > 1:
		return refused(field, "say one of film_mm, volume_ml and mass_g")
	case l.Volume > 0:
		c.Amount = plan.Amount{Film: c.Amount.Film, Volume: units.Volume(l.Volume)}
	case l.Mass > 0:
		c.Amount = plan.Amount{Film: c.Amount.Film, Mass: units.Mass(l.Mass)}
	case l.Film > 0:
		c.Amount = plan.Amount{Film: units.Length(l.Film)}
	case !t.Cast:
		r.take(field+".film_mm", float64(c.Amount.Film))
	}
	return nil
}

// cupsOnly takes what the cups hold for the coat, where each says its volume and
// the coat says nothing.
func (r *reading) cupsOnly(c *plan.CoatSpec, l Layer, field string) {
	if l.Film+l.Volume+l.Mass > 0 || len(l.Cups) == 0 {
		return
	}
	sum := units.Volume(0)
	for _, col := range c.Colours {
		if col.Volume <= 0 {
			return
		}
		sum += col.Volume + r.ctx.CupLoss
	}
	c.Amount.Volume = sum
	r.taken = slices.DeleteFunc(r.taken, func(t Taken) bool { return t.Field == field+".film_mm" })
	r.take(field+".volume_ml", float64(sum))
}

func (r *reading) cups(c *plan.CoatSpec, l Layer, field string) error {
	if len(l.Cups) == 0 {
		r.take(field+".cups", len(c.Colours))
		return nil
	}
	c.Colours = nil
	typed, shares := false, 0.0
	for i, cup := range l.Cups {
		at := fmt.Sprintf("%s.cups[%d]", field, i)
		col, err := r.cup(cup, at, i)
		if err != nil {
			return err
		}
		if c.Colour(col.ID) != nil {
			return refused(at+".id", "there are two cups %q", col.ID)
		}
		typed, shares = typed || col.Volume > 0, shares+col.Share
		c.Colours = append(c.Colours, col)
	}
	if !typed && math.Abs(shares-1) > 0.001 {
		return refused(field+".cups", "the shares add up to %s, they must add up to 1", units.Fixed(shares, 3))
	}
	return nil
}

func (r *reading) cup(cup Cup, field string, i int) (plan.Colour, error) {
	col := plan.Colour{ID: cup.ID, Name: cup.Name, Role: technique.Role(cup.Role), Swatch: cup.Swatch, Named: true}
	if col.ID == "" {
		col.ID = fmt.Sprintf("c%d", i+1)
	}
	if col.Name == "" {
		col.Name = col.ID
	}
	if col.Role == "" {
		col.Role = technique.Accent
		r.take(field+".role", string(col.Role))
	}
	if col.Swatch == "" {
		col.Swatch = swatches[col.Role]
	} else {
		col.Picked = true
	}
	switch {
	case cup.Share != nil && cup.Volume != nil:
		return col, refused(field, "say a share or a volume, not both")
	case cup.Volume != nil:
		col.Volume = units.Volume(*cup.Volume)
	case cup.Share != nil:
		col.Share = *cup.Share
	default:
		return col, refused(field+".share", "is missing")
	}
	if cup.Pigment == nil || *cup.Pigment == "" {
		if cup.Load != nil && *cup.Load > 0 && col.Role.Rule().Tints {
			col.Load = *cup.Load
		}
		return col, nil
	}
	id, ok := r.refs.Pigments[*cup.Pigment]
	switch {
	case !ok:
		return col, refused(field+".pigment", "there is no pigment %q", *cup.Pigment)
	case !col.Role.Rule().Tints:
		return col, refused(field+".pigment", "a clear cup has no pigment")
	}
	col.Pigment = id
	if cup.Load != nil {
		col.Load = *cup.Load
	} else {
		col.Load = plan.UsualLoad(r.ctx.Pigments[id])
		r.take(field+".load_share", col.Load)
	}
	return col, nil
}

// swatches are how cups are drawn whose colour nobody says.
var swatches = map[technique.Role]string{
	technique.Clear:  technique.ClearSwatch,
	technique.White:  "#f4f3ee",
	technique.Base:   "#5d6b73",
	technique.Accent: "#17455c",
}

func (r *reading) rounds(c *plan.CoatSpec, l Layer, t technique.Technique, field string) error {
	if len(l.Rounds) == 0 {
		return nil
	}
	parts, n := map[string]float64{}, 0
	for i, round := range l.Rounds {
		var out technique.Round
		for k, m := range round.Moves {
			n++
			move, err := r.move(c, m, t, fmt.Sprintf("%s.rounds[%d].moves[%d]", field, i, k))
			if err != nil {
				return err
			}
			move.ID = fmt.Sprintf("m%d", n)
			if move.Cup != "" {
				parts[move.Cup] += move.Share()
			}
			out.Moves = append(out.Moves, move)
		}
		c.Rounds = append(c.Rounds, out)
	}
	for i, col := range c.Colours {
		at := fmt.Sprintf("%s.cups[%d]", field, i)
		switch sum := parts[col.ID]; {
		case sum == 0 && col.Share+float64(col.Volume) > 0:
			return refused(at, "no move of the rounds pours it")
		case sum > 0 && math.Abs(sum-1) > 0.001:
			return refused(at, "its parts add up to %s, they must add up to 1", units.Fixed(sum, 3))
		}
	}
	return nil
}

func (r *reading) move(c *plan.CoatSpec, m Move, t technique.Technique, field string) (technique.Move, error) {
	kind := technique.MoveKind(m.Move)
	rule, ok := kind.Rule()
	if !ok {
		return technique.Move{}, refused(field+".move", "there is no move %q", m.Move)
	}
	out := technique.Move{Kind: kind, Where: m.Where, Optional: m.Optional}
	out.Technique, out.Step, _ = strings.Cut(m.Like, "/")
	if m.Cup != nil && *m.Cup != "" {
		if c.Colour(*m.Cup) == nil {
			return out, refused(field+".cup", "there is no cup %q", *m.Cup)
		}
		out.Cup = *m.Cup
	}
	if rule.Pours && out.Cup == "" && m.Material == nil && m.Like == "" {
		return out, refused(field+".cup", "name the cup it pours")
	}
	out.Part, out.Minutes, out.After, out.Area = value(m.Part), value(m.Minutes), value(m.After), value(m.Area)
	if m.Material != nil && *m.Material != "" {
		if _, ok := technique.FindMaterial(*m.Material); !ok {
			return out, refused(field+".material", "there is no material %q", *m.Material)
		}
		out.Material, out.Amount = *m.Material, value(m.Grams)
	} else if m.Grams != nil && *m.Grams > 0 && rule.Material == "" {
		return out, refused(field+".grams", "name the material they are of")
	}
	if out.Material == "" && m.Grams != nil {
		out.Material, out.Amount = rule.Material, *m.Grams
	}
	return out, nil
}

func value(v *float64) float64 {
	if v == nil {
		return 0
	}
	return *v
}

// rest lets the mixed resin stand before it is first poured.
func (r *reading) rest(c *plan.CoatSpec, t technique.Technique, minutes float64) {
	if minutes <= 0 {
		return
	}
	if len(c.Rounds) == 0 {
		s := plan.Spec{Layers: []plan.Layer{{ID: "x", Kind: plan.Resin, What: t.ID, Coat: c}}}
		c.Rounds = s.Moves(r.ctx, "x")
	}
	for i := range c.Rounds {
		for k := range c.Rounds[i].Moves {
			if m := &c.Rounds[i].Moves[k]; m.Cup != "" {
				m.After = math.Max(m.After, minutes)
				return
			}
		}
	}
}

// AsError returns the document's own error in err, nil when there is none.
func AsError(err error) *Error {
	var e *Error
	if errors.As(err, &e) {
		return e
	}
	return nil
}
