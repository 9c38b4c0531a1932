package intake

import (
	"context"
	"strings"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// Kind is what a list is of.
type Kind string

// The kinds of lists.
const (
	Pigments Kind = "pigments"
	Resins   Kind = "resins"
	Goods    Kind = "goods"
	Past     Kind = "pieces"
)

// Kinds holds them in the order they are offered.
var Kinds = []Kind{Pigments, Resins, Goods, Past}

// A desk reads and keeps one kind.
type desk struct {
	kind   Kind
	fields []form.View // that can be filled, in order
	known  map[string]bool
	say    msg.Lang
	// monthFirst says that 3/14/2026 is a day in March.
	monthFirst bool
	check      func(typed map[string]string) form.Notices
	save       func(ctx context.Context, typed map[string]string) (form.Notices, error)
}

// mostPast is how many pieces are looked through for a name.
const mostPast = 10_000

func (s *Service) deskOf(ctx context.Context, kind Kind) (desk, error) {
	book, err := s.materials.Book(ctx)
	if err != nil {
		return desk{}, err
	}
	style := book.Settings.Style()
	d := desk{kind: kind, known: map[string]bool{}, say: book.Settings.Lang(),
		monthFirst: book.Settings.Language == words.American}
	none := form.NewNotices()
	switch kind {
	case Pigments:
		for _, p := range book.Paints {
			d.knows(p.Name)
		}
		p := materials.NewPigment()
		d.fields = inOrder(materials.PigmentFields, materials.PigmentFields.Views(&p, style, nil, none, nil))
		d.check = func(typed map[string]string) form.Notices { return materials.CheckPigment(typed, style) }
		d.save = func(ctx context.Context, typed map[string]string) (form.Notices, error) {
			_, n, err := s.materials.SavePigment(ctx, 0, 0, typed)
			return n, err
		}
	case Resins:
		for _, p := range book.Resins {
			d.knows(p.Name)
		}
		p := materials.NewProduct()
		d.fields = inOrder(materials.ResinFields, materials.ResinFields.Views(&p, style, nil, none, nil))
		d.check = func(typed map[string]string) form.Notices {
			p := materials.NewProduct()
			return materials.ResinFields.Apply(&p, typed, style)
		}
		d.save = func(ctx context.Context, typed map[string]string) (form.Notices, error) {
			_, n, err := s.materials.SaveProduct(ctx, 0, 0, typed)
			return n, err
		}
	case Goods:
		list, err := s.stock.Goods(ctx)
		if err != nil {
			return d, err
		}
		for _, g := range list {
			d.knows(g.Name)
		}
		g := stock.NewGoods()
		d.fields = inOrder(stock.GoodsFields, stock.GoodsFields.Views(&g, style, nil, none, nil))
		d.check = func(typed map[string]string) form.Notices {
			g := stock.NewGoods()
			return stock.GoodsFields.Apply(&g, typed, style)
		}
		d.save = func(ctx context.Context, typed map[string]string) (form.Notices, error) {
			_, n, err := s.stock.SaveGoods(ctx, 0, 0, typed)
			return n, err
		}
	case Past:
		return d, s.past(ctx, &d, book)
	default:
		return d, store.ErrNotFound
	}
	return d, nil
}

// pastKeys are the fields of a piece that a list of past ones can fill.
var pastKeys = []string{"name", "size", "support", "depth", "edge", pieces.CoatKey(plan.FirstCoat, "technique"),
	pieces.CoatKey(plan.FirstCoat, "product"), pieces.CoatKey(plan.FirstCoat, "amount"), "start", "brief", "state"}

// pastLabels are what fields of a piece are called once it is poured.
var pastLabels = map[string]msg.ID{"start": "Poured on", "brief": "Notes"}

// past reads pieces that were poured before the studio kept them here.
func (s *Service) past(ctx context.Context, d *desk, book *materials.Book) error {
	list, _, err := s.pieces.Found(ctx, store.PieceFilter{}, mostPast, 0)
	if err != nil {
		return err
	}
	for _, p := range list {
		d.knows(p.Name)
	}
	spec, _, err := s.pieces.Proposed(ctx, "")
	if err != nil {
		return err
	}
	fields, style := pieces.Fields(spec, book), book.Settings.Style()
	views := fields.Views(&spec, style, nil, form.NewNotices(), pieces.Options(book))
	for _, key := range pastKeys {
		f := views[key]
		if label, ok := pastLabels[key]; ok {
			f.Label = label
		}
		d.fields = append(d.fields, f)
	}
	d.check = func(typed map[string]string) form.Notices {
		trial := spec.Clone()
		n := fields.Set(&trial, typed, style)
		if _, err := trial.Boards(); err != nil {
			n.Refuse(trial.ShapeField(), msg.Of(err))
		}
		return n
	}
	d.save = func(ctx context.Context, typed map[string]string) (form.Notices, error) {
		_, n, err := s.pieces.Create(ctx, typed)
		return n, err
	}
	return nil
}

func (d *desk) knows(name string) { d.known[strings.ToLower(name)] = true }

func inOrder[T any](fields form.Fields[T], views map[string]form.View) []form.View {
	out := make([]form.View, 0, len(fields))
	for _, f := range fields {
		out = append(out, views[f.Key])
	}
	return out
}
