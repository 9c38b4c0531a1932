package studio

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/film"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// composed reports whether a coat has a composition of its own.
func (s Spec) composed(coat string) bool {
	return slices.ContainsFunc(s.Things, func(t composition.Thing) bool { return t.Coat == coat })
}

// thingsOf returns the things of a coat.
func (s Spec) thingsOf(coat string) []composition.Thing {
	var out []composition.Thing
	for _, t := range s.Things {
		if t.Coat == coat {
			out = append(out, t)
		}
	}
	return out
}

// followThings sets the colours' shares to what the composition of the first
// coat gives them.
func (s *Spec) followThings() {
	if !s.composed(firstCoat) {
		return
	}
	shares, _ := composition.Shares(s.thingsOf(firstCoat))
	for i := range s.Colours {
		s.Colours[i].Share = shares[s.Colours[i].ID]
	}
}

// recompose brings the composition in line with an edit of the plan: another
// board carries it along, a changed share moves it, and the shares then follow
// from it.
func (s *Spec) recompose(before Spec) {
	if len(s.Things) == 0 {
		return
	}
	board, err := s.Shape()
	if err != nil {
		return
	}
	if old, err := before.Shape(); err == nil && (old.Bounds() != board.Bounds() || old.Area() != board.Area()) {
		s.Things = composition.Fit(s.Things, old, board)
	}
	if s.composed(firstCoat) {
		sum := 0.0
		for _, c := range s.Colours {
			sum += c.Share
		}
		first := s.thingsOf(firstCoat)
		for _, c := range s.Colours {
			if c.Share != before.colour(c.ID).Share && sum > 0 {
				first, _ = composition.Reshare(board, first, c.ID, math.Min(1, c.Share))
			}
		}
		s.replaceThings(firstCoat, first)
	}
	s.followThings()
}

func (s *Spec) replaceThings(coat string, things []composition.Thing) {
	s.Things = slices.DeleteFunc(s.Things, func(t composition.Thing) bool { return t.Coat == coat })
	s.Things = append(s.Things, things...)
}

// coloursOf returns the cups of a coat with their shares: those of its
// composition, or the colours' own.
func (s Spec) coloursOf(coat string) []Colour {
	if !s.composed(coat) {
		return poured(s.Colours)
	}
	shares, _ := composition.Shares(s.thingsOf(coat))
	out := make([]Colour, 0, len(s.Colours))
	for _, c := range s.Colours {
		if c.Share = shares[c.ID]; c.Share > 0 {
			out = append(out, c)
		}
	}
	if len(out) == 0 {
		return poured(s.Colours)
	}
	return out
}

// SketchOf returns the regions of a coat on each board: its composition, or
// the technique's sketch.
func (p Plan) SketchOf(coat string) [][]composition.Region {
	var c *CoatPlan
	for i := range p.Coats {
		if p.Coats[i].Key == coat {
			c = &p.Coats[i]
		}
	}
	layout, colours := p.Technique.Layout, p.Piece.coloursOf(coat)
	if c != nil {
		layout, colours = c.Technique.Layout, c.Colours
	}
	out := make([][]composition.Region, len(p.Boards))
	things := p.Piece.thingsOf(coat)
	for i, b := range p.Boards {
		if len(things) > 0 {
			out[i] = composition.Draw(b, composition.Fit(things, p.Boards[0], b), coat)
		} else {
			out[i] = composition.Sketch(layout, b, sketchColours(colours))
		}
	}
	return out
}

func sketchColours(colours []Colour) []composition.Colour {
	out := make([]composition.Colour, 0, len(colours))
	for _, c := range colours {
		out = append(out, composition.Colour{ID: c.ID, Share: c.Share, Base: c.Role == RoleBase || c.Role == RoleClear, White: c.Role == RoleWhite})
	}
	return out
}

// A Composition is one coat's drawing with all that follows from it.
type Composition struct {
	Coat    CoatPlan
	Things  []ThingView
	Regions []composition.Region
	Below   []composition.Region // of the coat under it
	Over    float64              // how far the things exceed the coat, as a share of it
	Missing []Colour             // cups that are not on the board yet
	Starts  []composition.Start
	Sketch  bool // nothing is placed: the technique's sketch is shown
}

// A ThingView is one thing with its volume, its size and its moment.
type ThingView struct {
	composition.Thing
	Rule   composition.KindRule
	Colour Colour
	Swatch string
	Part   float64 // of the coat
	Amount units.Volume
	Width  units.Length
	Length units.Length
	Step   string
	At     float64 // minutes after the parts met
	When   time.Time
	Spread []SpreadAt
	// DryStop is where it stops by itself on a board without a bed; 0 on a bed.
	DryStop units.Length
}

// A SpreadAt is how wide a line or how far across a puddle has run by itself.
type SpreadAt struct {
	After float64 // minutes since it was poured
	Width units.Length
}

// spreadMinutes are the looks at a line after it was poured.
var spreadMinutes = []float64{0.5, 2, 5, 10}

// Composition returns the drawing of a coat.
func (p Plan) Composition(coat string) (Composition, error) {
	var out Composition
	at := -1
	for i, c := range p.Coats {
		if c.Key == coat {
			at = i
		}
	}
	if at < 0 || len(p.Boards) == 0 {
		return out, store.ErrNotFound
	}
	out.Coat = p.Coats[at]
	out.Regions = p.SketchOf(coat)[0]
	if at > 0 {
		out.Below = p.SketchOf(p.Coats[at-1].Key)[0]
	}
	out.Starts = composition.StartsFor(p.Technique.Layout)
	things := p.Piece.thingsOf(coat)
	out.Sketch = len(things) == 0
	if out.Sketch {
		return out, nil
	}
	shares, over := composition.Shares(things)
	out.Over = over
	for _, c := range p.Piece.Colours {
		if shares[c.ID] == 0 {
			out.Missing = append(out.Missing, c)
		}
	}
	total := 1 + over
	for _, t := range things {
		v := ThingView{Thing: t, Rule: ruleOf(t), Colour: *p.Piece.Spec.colour(t.Cup), Part: t.Share / total}
		if t.Kind == composition.Bed {
			v.Part = shares[t.Cup]
		}
		v.Swatch = p.swatchOf(coat, t.Cup)
		v.Width, v.Length = t.Width(p.Boards[0]), t.Length(p.Boards[0])
		if v.Rule.Pours {
			v.Amount = out.Coat.Poured * units.Volume(v.Part)
		}
		out.Things = append(out.Things, v)
	}
	out.moments(p)
	return out, nil
}

func ruleOf(t composition.Thing) composition.KindRule {
	r, _ := composition.RuleOf(t.Kind)
	return r
}

// swatchOf returns the truest colour known of a cup in a coat.
func (p Plan) swatchOf(coat, cup string) string {
	for _, c := range p.Coats {
		if c.Key != coat {
			continue
		}
		for _, k := range c.Cups {
			if k.Colour.ID == cup {
				return k.Swatch()
			}
		}
	}
	return p.Piece.Spec.colour(cup).Swatch
}

// moments lays the things on the coat's clock: beds when the bed is spread,
// the others one after the other while the technique pours, whites last.
func (c *Composition) moments(p Plan) {
	bedFrom, bedTo, from, to := 0.0, 0.0, 0.0, 0.0
	bedName, name := "", ""
	for _, s := range c.Coat.Fit.Steps {
		if !s.Pours {
			continue
		}
		if bedName == "" {
			bedFrom, bedTo, bedName = s.From, s.To, s.Name
		}
		from, to, name = s.From, s.To, s.Name
	}
	hasBed := slices.ContainsFunc(c.Things, func(t ThingView) bool { return t.Kind == composition.Bed })
	order := make([]int, 0, len(c.Things))
	for i, t := range c.Things {
		if t.Rule.Pours && t.Rule.Step == "" {
			order = append(order, i)
		}
	}
	last := func(i int) int {
		rank := c.Things[i].Rule.Layer * 2
		if c.Things[i].Colour.Role == RoleWhite {
			rank++
		}
		return rank
	}
	slices.SortStableFunc(order, func(a, b int) int { return last(a) - last(b) })
	place := map[int]int{}
	for k, i := range order {
		place[i] = k
	}
	for i := range c.Things {
		t := &c.Things[i]
		t.At, t.Step = bedFrom, bedName
		if k, ok := place[i]; ok {
			t.Step = name
			t.At = from + (to-from)*float64(k)/float64(len(order))
		} else if t.Kind == composition.Zone {
			t.At = (bedFrom + bedTo) / 2
		}
		t.When = c.Coat.Met.Add(minutes(t.At))
		t.spread(p, c.Coat, hasBed)
	}
}

// spread forecasts how far a line or puddle runs as the clock runs.
func (t *ThingView) spread(p Plan, c CoatPlan, hasBed bool) {
	kind := t.Kind
	isLine := kind == composition.Ribbon || kind == composition.Stripe || kind == composition.Vein
	if !(isLine || kind == composition.Puddle) || t.Amount <= 0 {
		return
	}
	pools := 1.0
	if !isLine {
		pools = math.Max(1, math.Round(t.Part*float64(p.Boards[0].Area())/(math.Pi/4*float64(t.Width*t.Width))))
	}
	for _, after := range spreadMinutes {
		flow := c.Clock.Flow(t.At, t.At+after, p.Product.Viscosity, p.Product.Density())
		var half units.Length
		var err error
		if isLine {
			half, err = film.LineAfter(t.Amount, t.Length, flow)
		} else {
			half, err = film.PuddleAfter(t.Amount/units.Volume(pools), flow)
		}
		if err == nil {
			t.Spread = append(t.Spread, SpreadAt{after, 2 * half})
		}
	}
	if hasBed {
		return
	}
	stop := p.Puddle.Height
	if isLine && t.Length > 0 {
		t.DryStop = units.Length(float64(t.Amount) * 1000 / float64(t.Length) / float64(stop))
	} else if !isLine {
		t.DryStop = units.Length(2 * math.Sqrt(float64(t.Amount)*1000/pools/math.Pi/float64(stop)))
	}
}

// compose changes a piece's things and lets shares follow.
func (s *Studio) compose(ctx context.Context, id int64, f func(spec *Spec, board surface.Shape) error) (Piece, error) {
	return s.change(ctx, id, func(spec *Spec) error {
		board, err := spec.Shape()
		if err != nil {
			return &RefusedError{err}
		}
		if err := f(spec, board); err != nil {
			return err
		}
		if len(spec.Things) > composition.MostThings {
			return &RefusedError{fmt.Errorf("a board holds at most %d things", composition.MostThings)}
		}
		for _, t := range spec.Things {
			if err := t.Check(); err != nil {
				return &RefusedError{err}
			}
		}
		spec.Things = composition.Settle(board, spec.Things)
		spec.followThings()
		return nil
	})
}

// StartComposition replaces a coat's things by a beginning.
func (s *Studio) StartComposition(ctx context.Context, id int64, coat, start string) (Piece, error) {
	st, ok := composition.FindStart(start)
	if !ok {
		return Piece{}, store.ErrNotFound
	}
	return s.compose(ctx, id, func(spec *Spec, board surface.Shape) error {
		colours := spec.coloursOf(coat)
		things := st.Lay(board, sketchColours(colours), coat)
		spec.replaceThings(coat, nil)
		for _, t := range things {
			t.ID = composition.NextID(spec.Things)
			spec.Things = append(spec.Things, t)
		}
		return nil
	})
}

// ClearComposition takes all things of a coat away; the sketch stands in again.
func (s *Studio) ClearComposition(ctx context.Context, id int64, coat string) (Piece, error) {
	return s.compose(ctx, id, func(spec *Spec, _ surface.Shape) error {
		spec.replaceThings(coat, nil)
		return nil
	})
}

// Placing says how a thing is put on the board by hand.
type Placing struct {
	Snap bool
	Grid float64 // mm; 0 for none
}

func (pl Placing) points(points []surface.Point, board surface.Shape, things []composition.Thing, skip string) []surface.Point {
	if !pl.Snap {
		return points
	}
	box := board.Bounds()
	reach := float64(max(box.Width(), box.Height())) / 60
	out := make([]surface.Point, len(points))
	for i, p := range points {
		out[i] = composition.Snap(p, board, things, skip, reach, pl.Grid)
	}
	return out
}

// AddThing puts a new thing on the board. It returns its id.
func (s *Studio) AddThing(ctx context.Context, id int64, t composition.Thing, pl Placing) (Piece, string, error) {
	rule, ok := composition.RuleOf(t.Kind)
	if !ok {
		return Piece{}, "", &RefusedError{fmt.Errorf("there is no %q on a board", t.Kind)}
	}
	p, err := s.compose(ctx, id, func(spec *Spec, board surface.Shape) error {
		if rule.Pours && spec.colour(t.Cup).ID == "" {
			return &RefusedError{errors.New("choose a cup for it first")}
		}
		if !rule.Pours {
			t.Cup = ""
		}
		t.ID, t.Share = composition.NextID(spec.Things), rule.Share
		t.Points = pl.points(t.Points, board, spec.thingsOf(t.Coat), "")
		if t.Kind == composition.Dots {
			t.Count = 7
		}
		if t.Kind == composition.Edging || t.Kind == composition.Bed {
			t.Points = nil
		}
		spec.Things = append(spec.Things, t)
		return nil
	})
	return p, t.ID, err
}

// withThing changes one thing. A thing another page has removed is not found.
func (s *Studio) withThing(ctx context.Context, id int64, thing string, f func(spec *Spec, board surface.Shape, i int) error) (Piece, error) {
	return s.compose(ctx, id, func(spec *Spec, board surface.Shape) error {
		i := slices.IndexFunc(spec.Things, func(t composition.Thing) bool { return t.ID == thing })
		if i < 0 {
			return store.ErrNotFound
		}
		return f(spec, board, i)
	})
}

// MoveThing shifts a thing, or only its point at when that is not negative.
func (s *Studio) MoveThing(ctx context.Context, id int64, thing string, at int, dx, dy float64, pl Placing) (Piece, error) {
	return s.withThing(ctx, id, thing, func(spec *Spec, board surface.Shape, i int) error {
		t := &spec.Things[i]
		others := spec.thingsOf(t.Coat)
		if at >= len(t.Points) || len(t.Points) == 0 {
			return store.ErrNotFound
		}
		if at >= 0 {
			p := surface.Point{X: t.Points[at].X + dx, Y: t.Points[at].Y + dy}
			t.Points[at] = pl.points([]surface.Point{p}, board, others, t.ID)[0]
			return nil
		}
		moved := t.Moved(dx, dy)
		if pl.Snap { // the first point snaps, the others come along
			to := pl.points(moved.Points[:1], board, others, t.ID)[0]
			moved = moved.Moved(to.X-moved.Points[0].X, to.Y-moved.Points[0].Y)
		}
		*t = moved
		return nil
	})
}

// RemoveThing takes a thing off the board.
func (s *Studio) RemoveThing(ctx context.Context, id int64, thing string) (Piece, error) {
	return s.withThing(ctx, id, thing, func(spec *Spec, _ surface.Shape, i int) error {
		spec.Things = slices.Delete(spec.Things, i, i+1)
		return nil
	})
}

// CopyThing lays a thing again a little beside itself. It returns the new id.
func (s *Studio) CopyThing(ctx context.Context, id int64, thing string) (Piece, string, error) {
	fresh := ""
	p, err := s.withThing(ctx, id, thing, func(spec *Spec, board surface.Shape, i int) error {
		d := float64(board.Bounds().Width()) / 25
		t := composition.Clone(spec.Things[i : i+1])[0].Moved(d, d)
		t.ID = composition.NextID(spec.Things)
		fresh = t.ID
		spec.Things = append(spec.Things, t)
		return nil
	})
	return p, fresh, err
}

// A thingEdit is a thing with what its typed values depend on.
type thingEdit struct {
	composition.Thing
	board  surface.Shape
	poured units.Volume
	cups   []Colour
}

var thingFields = Fields[thingEdit]{
	{"cup", "Cup", func(t *thingEdit, _ units.System) string { return t.Cup },
		func(t *thingEdit, text string, _ units.System) (string, error) {
			if !slices.ContainsFunc(t.cups, func(c Colour) bool { return c.ID == text }) {
				return "", errors.New("choose one of the cups")
			}
			t.Cup = text
			return "", nil
		}},
	{"points", "Points", func(t *thingEdit, _ units.System) string { return printPoints(t.Points, 1) },
		func(t *thingEdit, text string, _ units.System) (string, error) {
			points, err := ParsePoints(text)
			if err == nil {
				trial := t.Thing
				trial.Points = points
				err = trial.Check()
			}
			if err != nil {
				return "", err
			}
			t.Points = points
			return "", nil
		}},
	{"share", "Part of the coat", func(t *thingEdit, _ units.System) string { return units.Fixed(t.Share*100, 2) + " %" },
		func(t *thingEdit, text string, _ units.System) (string, error) {
			v, err := units.ParseShare(text)
			if err == nil {
				err = between(v, 0, 1, func(v float64) string { return units.Fixed(v*100, 1) + " %" })
			}
			return keep(&t.Share, units.Reading[float64]{Value: v}, err)
		}},
	{"volume", "Volume", func(t *thingEdit, sys units.System) string {
		return (t.poured * units.Volume(t.Share)).Text(sys)
	},
		func(t *thingEdit, text string, sys units.System) (string, error) {
			r, err := units.ParseVolume(text, bareVolume(sys))
			if err == nil {
				err = between(r.Value, 0, t.poured, func(v units.Volume) string { return v.Text(sys) })
			}
			if err != nil {
				return "", err
			}
			t.Share = float64(r.Value / t.poured)
			return r.Note, nil
		}},
	{"width", "Width", func(t *thingEdit, sys units.System) string { return t.Width(t.board).Text(sys) },
		func(t *thingEdit, text string, _ units.System) (string, error) {
			r, err := units.ParseLength(text, "mm")
			if err == nil {
				err = between(r.Value, 0.1, 5000, func(l units.Length) string { return l.Text(units.Metric) })
			}
			if err != nil {
				return "", err
			}
			t.Thing = t.WithWidth(t.board, r.Value)
			return r.Note, nil
		}},
	countField("repeat", "Times", func(t *thingEdit) *int { return &t.Count }, 1, 60),
	lengthField("gap", "Apart", func(t *thingEdit) *units.Length { return &t.Gap }, -190, 190),
	choiceField("mirror", "Mirror", func(t *thingEdit) *composition.Mirror { return &t.Mirror },
		composition.NoMirror, composition.LeftRight, composition.TopBottom, composition.BothMirrors),
	volumeField("hollows", "Hollows take", func(t *thingEdit) *units.Volume { return &t.Volume }, 0, 20_000),
}

func printPoints(points []surface.Point, n int) string {
	parts := make([]string, len(points))
	for i, p := range points {
		parts[i] = units.Fixed(p.X, n) + "," + units.Fixed(p.Y, n)
	}
	return strings.Join(parts, " ")
}

func (p Plan) thingEdit(t composition.Thing) thingEdit {
	e := thingEdit{Thing: t, board: p.Boards[0], cups: p.Piece.Colours}
	for _, c := range p.Coats {
		if c.Key == t.Coat {
			e.poured = c.Poured
		}
	}
	return e
}

// ThingValues returns a thing as typed text.
func (p Plan) ThingValues(t composition.Thing) map[string]string {
	e := p.thingEdit(t)
	return thingFields.values(&e, p.Settings.Units)
}

// EditThing lays typed values on a thing.
func (s *Studio) EditThing(ctx context.Context, id int64, thing string, typed map[string]string) (Piece, Notices, error) {
	plan, err := s.Plan(ctx, id)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	notices := newNotices()
	p, err := s.withThing(ctx, id, thing, func(spec *Spec, board surface.Shape, i int) error {
		e := plan.thingEdit(spec.Things[i])
		e.board, e.cups = board, spec.Colours
		slid := e.Share
		notices = thingFields.apply(&e, typed, plan.Settings.Units)
		if e.Kind == composition.Zone && e.Share != slid {
			want, cup := e.Share, e.Cup
			spec.Things[i] = e.Thing
			things := spec.thingsOf(e.Coat)
			if moved, ok := composition.Reshare(board, things, cup, want); ok {
				spec.replaceThings(e.Coat, moved)
			}
			return nil
		}
		spec.Things[i] = e.Thing
		return nil
	})
	return p, notices, err
}
