package api

import (
	"context"
	"net/http"
	"slices"

	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/stock"
)

// An Item is a resin or a pigment of the materials.
type Item struct {
	ID      int64  `json:"id"`
	Rev     int64  `json:"rev"`
	Name    string `json:"name"`
	Retired bool   `json:"retired"`
	Fields  Fields `json:"fields"`
	// Have is the amount in stock, in Unit: mL, g or the goods' own.
	Have float64 `json:"have"`
	Unit string  `json:"unit"`
}

// Stock is the current stock.
type Stock struct {
	Resins   []Item `json:"resins"`
	Pigments []Item `json:"pigments"`
	Goods    []Item `json:"goods"`
}

func (a *records) stock(r *http.Request, _ []byte) (any, error) {
	b, err := a.st.Materials.Book(r.Context())
	if err != nil {
		return nil, err
	}
	l, err := a.st.Stock.Ledger(r.Context())
	if err != nil {
		return nil, err
	}
	out := Stock{Resins: []Item{}, Pigments: []Item{}, Goods: []Item{}}
	have := func(kind store.Kind, id int64) float64 { return l.Have(stock.Thing{Kind: kind, ID: id}) }
	for _, p := range b.Resins {
		out.Resins = append(out.Resins,
			Item{p.ID, p.Rev, p.Name, p.Retired, materials.ResinFields.Values(&p, b.Settings.Units), have(store.Resins, p.ID),
				"mL"})
	}
	for _, p := range b.Context.Pigments {
		out.Pigments = append(out.Pigments,
			Item{p.ID, p.Rev, p.Name, p.Retired, materials.PigmentFields.Values(&p, b.Settings.Units), have(store.Pigments,
				p.ID),
				"g"})
	}
	for _, i := range l.Items {
		if g := i.Goods; g != nil {
			out.Goods = append(out.Goods,
				Item{g.ID, g.Rev, g.Name, g.Retired, stock.GoodsFields.Values(g, b.Settings.Units), i.OnHand, i.Unit})
		}
	}
	slices.SortFunc(out.Pigments, func(a, b Item) int { return int(a.ID - b.ID) })
	return out, nil
}

func (a *records) editResin(r *http.Request, body []byte) (any, error) {
	return a.editItem(r, body, func(ctx context.Context, id int64, c Change) (form.Notices, error) {
		_, n, err := a.st.Materials.SaveProduct(ctx, id, c.Rev, c.Fields)
		return n, err
	}, func(s Stock) []Item { return s.Resins })
}

func (a *records) editPigment(r *http.Request, body []byte) (any, error) {
	return a.editItem(r, body, func(ctx context.Context, id int64, c Change) (form.Notices, error) {
		_, n, err := a.st.Materials.SavePigment(ctx, id, c.Rev, c.Fields)
		return n, err
	}, func(s Stock) []Item { return s.Pigments })
}

func (a *records) editItem(r *http.Request, body []byte,
	save func(context.Context, int64, Change) (form.Notices, error), of func(Stock) []Item) (any, error) {
	c, err := change(body)
	if err != nil {
		return nil, err
	}
	id := idOf(r)
	was, err := a.item(r, id, of)
	if err == nil {
		err = known(c.Fields, was.Fields)
	}
	if err == nil && was.Rev != c.Rev {
		err = store.ErrConflict
	}
	if err != nil {
		return nil, err
	}
	n, err := save(r.Context(), id, c)
	if err == nil && !n.OK() {
		err = refusedFields(n.Errors)
	}
	if err != nil {
		return nil, err
	}
	return a.item(r, id, of)
}

func (a *records) item(r *http.Request, id int64, of func(Stock) []Item) (Item, error) {
	all, err := a.stock(r, nil)
	if err != nil {
		return Item{}, err
	}
	for _, i := range of(all.(Stock)) {
		if i.ID == id {
			return i, nil
		}
	}
	return Item{}, store.ErrNotFound
}
