package pieces

import (
	"context"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
)

// A Rescale is a tested recipe on another board, at equal film and load.
type Rescale struct {
	From, To *plan.Plan
	Rows     []RescaleRow
	Views    map[string]form.View
	Notices  form.Notices
	Weighed  bool // it was weighed out, so that it can be matched
	AsCups   bool // it is matched: the cups as weighed, not as planned
}

// AsWeighed is the choice to match the cups that were weighed.
const AsWeighed = "weighed"

// matched returns a piece with the cups as they were weighed.
func matched(spec plan.Spec, weighed map[string][]plan.WeighedCup, b *materials.Book) plan.Spec {
	out := spec.Clone()
	for i := range out.Layers {
		l := &out.Layers[i]
		if l.Coat == nil {
			continue
		}
		l.Coat.Match(weighed[l.ID], b.CupLoss.Weighing(b.Products[l.Coat.Product].Density()))
	}
	return out
}

// A RescaleRow is one cup of the first coat on both boards.
type RescaleRow struct {
	From, To plan.Cup
}

// rescaleKeys are the values that may differ on the other board.
var rescaleKeys = []string{"name", "support", "outline", "size", "count", "more", "edge", "depth"}

// Rescale calculates a piece's recipe for another size and number of boards.
// Film, loads, shares, technique and resin stay; only the board changes, and
// all cups of a set come from one lot. Nothing is kept.
// weighed are the cups that were weighed out, by coat; they are matched when that is
// what was typed as "cups".
func (s *Service) Rescale(ctx context.Context, id int64, typed map[string]string,
	weighed map[string][]plan.WeighedCup) (Rescale, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Rescale{}, err
	}
	p, err := s.Piece(ctx, id)
	if err != nil {
		return Rescale{}, err
	}
	out := Rescale{Weighed: len(weighed) > 0, AsCups: typed["cups"] == AsWeighed}
	if out.AsCups {
		p.Spec = matched(p.Spec, weighed, b)
	}
	if out.From, err = plan.Evaluate(p.Spec, b.Context, plan.Timing{}); err != nil {
		return out, refused(err)
	}
	spec, n := Rescaled(p.Spec, typed, b)
	out.Notices = n
	all := BoardFields().Views(&spec, b.Settings.Style(), typed, n, Options(b))
	out.Views = map[string]form.View{}
	for _, key := range rescaleKeys {
		out.Views[key] = all[key]
	}
	if out.To, err = plan.Evaluate(spec, b.Context, plan.Timing{}); err != nil {
		return out, refused(err)
	}
	for _, cup := range out.To.Coats[0].Cups {
		row := RescaleRow{To: cup}
		if from := out.From.Coats[0].Cup(cup.Colour.ID); from != nil {
			row.From = *from
		}
		out.Rows = append(out.Rows, row)
	}
	return out, nil
}

// Rescaled returns a spec on another board. An amount that was typed for a
// whole coat becomes the film it came to, and typed volumes and grams of cups
// grow with the face, so that the film stays.
func Rescaled(spec plan.Spec, typed map[string]string, b *materials.Book) (plan.Spec, form.Notices) {
	out := spec.Clone()
	if spec.Tile && spec.Support == surface.Tile {
		out.Stand(surface.Panel) // what a tile stands for is a board
	}
	allowed := map[string]string{}
	for _, key := range rescaleKeys {
		if text, ok := typed[key]; ok {
			allowed[key] = text
		}
	}
	if typed["name"] == "" {
		out.Name = msg.F("%s, board", Shorten(out.Name, 70)).In(b.Settings.Lang())
		delete(allowed, "name")
	}
	n := BoardFields().Apply(&out, allowed, b.Settings.Style())
	out.Recompose(spec)
	calculated, err1 := plan.Evaluate(spec, b.Context, plan.Timing{})
	to, err2 := out.Boards()
	if err1 != nil || err2 != nil {
		return out, n
	}
	var face units.Area
	for _, s := range to {
		face += s.Area()
	}
	calculated.Onto(&out, face)
	return out, n
}

// KeepRescaled plans the other board as a piece of its own, from today on.
func (s *Service) KeepRescaled(ctx context.Context, id int64, typed map[string]string,
	weighed map[string][]plan.WeighedCup) (Piece, form.Notices, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, form.Notices{}, err
	}
	from, err := s.Piece(ctx, id)
	if err != nil {
		return Piece{}, form.Notices{}, err
	}
	if typed["cups"] == AsWeighed {
		from.Spec = matched(from.Spec, weighed, b)
	}
	spec, n := Rescaled(from.Spec, typed, b)
	if !n.OK() {
		return Piece{Spec: spec}, n, nil
	}
	spec = s.Fresh(spec)
	p, err := s.Add(ctx, spec)
	return p, n, err
}

// Fresh returns a spec as that of a new piece: in the making, poured from now
// on.
func (s *Service) Fresh(spec plan.Spec) plan.Spec {
	spec.State, spec.Start = plan.Open, s.now().Local()
	return spec
}
