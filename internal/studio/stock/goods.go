package stock

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// Goods are stocked items besides resins and pigments.
type Goods struct {
	ID, Rev int64  `json:"-"`
	Retired bool   `json:"-"`
	Name    string `json:"-"`

	Unit Unit
	// Covers is the material of techniques it is; "" for none.
	Covers string
	// A board: taken by pieces of this support and size.
	Support       surface.Support
	Width, Height units.Length
	// Take is how much of it one of Each takes.
	Take float64
	Each Basis

	Pack     float64
	Price    decimal.Decimal // of a pack
	Supplier string
	LeadDays int
	Least    float64
	Notes    string
}

// Unit is the unit of goods.
type Unit string

// Basis is the basis of the use of goods.
type Basis string

// The bases.
const (
	ByHand   Basis = ""      // only what is entered
	ByPour   Basis = "pour"  // gloves, wipes
	ByCup    Basis = "cup"   // cups, sticks
	ByBatch  Basis = "lot"   // jugs
	ByBoard  Basis = "board" // wire, hangers
	ByEdge   Basis = "edge"  // tape, a metre of dam
	BySquare Basis = "area"  // sealer, a square metre of the face
)

// GoodsFields is the catalogue of goods.
var GoodsFields = form.Fields[Goods]{
	form.Text("name", "Name", func(g *Goods) *string { return &g.Name }, 80, true),
	form.Choice("unit", "Counted in", func(g *Goods) *Unit { return &g.Unit },
		form.Plain[Unit]("pieces", "pairs", "sheets", "drops", "m", "mL", "g")...),
	form.Choice("covers", "It is the material", func(g *Goods) *string { return &g.Covers }, laidMaterials()...),
	form.Choice("support", "It is a board", func(g *Goods) *surface.Support { return &g.Support }, supports()...),
	sizeField(),
	form.Number("take", "Takes", func(g *Goods) *float64 { return &g.Take }, 0, 1e4, 2),
	form.Choice("each", "of it for", func(g *Goods) *Basis { return &g.Each },
		form.Option{Value: "", Label: msg.ID("nothing by itself")}, form.Option{Value: "pour", Label: msg.ID("each pour")},
		form.Option{Value: "cup", Label: msg.ID("each cup")}, form.Option{Value: "lot", Label: msg.ID("each batch mixed")},
		form.Option{Value: "board", Label: msg.ID("each board")},
		form.Option{Value: "edge", Label: msg.ID("each metre of dam")},
		form.Option{Value: "area", Label: msg.ID("each square metre of face")}),
	form.Number("pack", "Pack size", func(g *Goods) *float64 { return &g.Pack }, 0.01, 1e5, 2),
	form.Money("price", "Price of a pack", func(g *Goods) *decimal.Decimal { return &g.Price }, 2),
	form.Text("supplier", "Bought from", func(g *Goods) *string { return &g.Supplier }, 80, false),
	form.Count("lead_days", "Delivery time, days", func(g *Goods) *int { return &g.LeadDays }, 0, 180),
	form.Number("least", "Reorder below", func(g *Goods) *float64 { return &g.Least }, 0, 1e6, 2),
	form.Words("notes", "Notes", func(g *Goods) *string { return &g.Notes }, 1000),
}

func laidMaterials() []form.Option {
	out := []form.Option{{Value: "", Label: msg.ID("none of a technique")}}
	for _, m := range technique.Materials {
		out = append(out, form.Option{Value: m.ID, Label: m.Name})
	}
	return out
}

func supports() []form.Option {
	out := []form.Option{{Value: "", Label: msg.ID("no")}}
	for _, s := range surface.Supports {
		out = append(out, form.Option{Value: string(s.Support), Label: msg.Lower(s.Name)})
	}
	return out
}

func sizeField() form.Field[Goods] {
	return form.Field[Goods]{Key: "size", Label: msg.ID("of the size"), Kind: form.Line, Say: form.Figures,
		Hint: msg.ID("60 x 90 cm"),
		Get: func(g *Goods, sys units.System) string {
			if g.Width == 0 {
				return ""
			}
			return string(g.Width.Text(sys) + " x " + g.Height.Text(sys))
		},
		Set: func(g *Goods, text string, sys units.System) (msg.Text, error) {
			if strings.TrimSpace(text) == "" {
				g.Width, g.Height = 0, 0
				return nil, nil
			}
			w, h, err := units.ParseSize(text, form.BareLength(sys))
			if err != nil {
				return nil, err
			}
			if min(w.Value, h.Value) < 10 || max(w.Value, h.Value) > 5000 {
				return nil, refusal.New("a board is 1 cm to 5 m a side")
			}
			g.Width, g.Height = w.Value, h.Value
			return w.Note, nil
		}}
}

// NewGoods returns what a new form starts from.
func NewGoods() Goods { return Goods{Unit: "pieces", Pack: 1, Take: 1} }

// Goods returns all goods by name, those retired last.
func (s *Service) Goods(ctx context.Context) ([]Goods, error) { return GoodsIn(ctx, s.store.Reader) }

// GoodsIn returns all goods a store has.
func GoodsIn(ctx context.Context, r store.Reader) ([]Goods, error) {
	docs, err := r.AllOf(ctx, store.Goods)
	if err != nil {
		return nil, err
	}
	out := make([]Goods, len(docs))
	for i, d := range docs {
		g := NewGoods()
		if err := json.Unmarshal(d.Doc, &g); err != nil {
			return nil, fmt.Errorf("read the goods %q: %w", d.Name, err)
		}
		g.ID, g.Rev, g.Retired, g.Name = d.ID, d.Rev, d.Off, d.Name
		out[i] = g
	}
	return out, nil
}

// SaveGoods takes typed goods: new ones when id is 0, otherwise a change of those
// still at rev.
func (s *Service) SaveGoods(ctx context.Context, id, rev int64, typed map[string]string) (Goods, form.Notices, error) {
	book, err := s.materials.Book(ctx)
	if err != nil {
		return Goods{}, form.Notices{}, err
	}
	g := NewGoods()
	if id != 0 {
		l, err := s.Ledger(ctx)
		if err != nil {
			return g, form.Notices{}, err
		}
		item, ok := l.Of(Thing{store.Goods, id})
		if !ok {
			return g, form.Notices{}, store.ErrNotFound
		}
		g = *item.Goods
	}
	n := GoodsFields.Apply(&g, typed, book.Settings.Style())
	if g.Name == "" {
		n.Refuse("name", msg.ID("needs a name"))
	}
	if g.Support != "" && g.Width == 0 {
		n.Refuse("size", msg.ID("enter the size, so that pieces of that size use it"))
	}
	if !n.OK() {
		return g, n, nil
	}
	err = s.store.Write(ctx, "keep "+g.Name, func(tx *store.Tx) error {
		if id == 0 {
			g.ID, err = tx.Create(ctx, store.Goods, g.Name, g, s.now())
			return err
		}
		return tx.Save(ctx, store.Goods, id, rev, g.Name, g)
	})
	switch {
	case errors.Is(err, store.ErrTaken):
		n.Refuse("name", msg.ID("something else in stock has this name"))
	case errors.Is(err, store.ErrConflict):
		n.Refuse("name", msg.ID("this was changed on another page; look at it again before you save"))
	default:
		return g, n, err
	}
	return g, n, nil
}

// RetireGoods takes goods off the list or puts them back; what is in stock stays.
func (s *Service) RetireGoods(ctx context.Context, id int64, off bool) error {
	now := s.now()
	at := &now
	if !off {
		at = nil
	}
	return s.store.Write(ctx, "retire it", func(tx *store.Tx) error { return tx.SetOff(ctx, store.Goods, id, at) })
}

// boardSlack is how far a board's size may be from what is in stock.
const boardSlack = 1.5 * units.Millimetre

// of returns how much of the goods a coat takes.
func (g Goods) of(p *plan.Plan, c *plan.Coat) float64 {
	sum := 0.0
	if g.Covers != "" {
		for _, m := range c.Materials {
			if m.ID == g.Covers {
				sum += m.Amount
			}
		}
	}
	if g.Support != "" {
		if c.Place == 0 && g.fits(p.Spec.Board) {
			sum += float64(max(1, p.Spec.Count))
		}
		return sum
	}
	return sum + g.Take*g.times(p, c)
}

func (g Goods) fits(b plan.Board) bool {
	near := func(a, b units.Length) bool { return max(a-b, b-a) <= boardSlack }
	return b.Support == g.Support &&
		(near(b.Width, g.Width) && near(b.Height, g.Height) || near(b.Width, g.Height) && near(b.Height, g.Width))
}

func (g Goods) times(p *plan.Plan, c *plan.Coat) float64 {
	boards := float64(max(1, p.Spec.Count))
	switch g.Each {
	case ByPour:
		return 1
	case ByCup:
		return float64(len(c.Cups))
	case ByBatch:
		return float64(len(c.Batches))
	case ByBoard:
		if c.Place == 0 {
			return boards
		}
	case ByEdge:
		if p.Spec.Dammed() {
			return float64(p.Perimeter) / 1000
		}
	case BySquare:
		if c.Place == 0 {
			return p.Face.SquareMetres()
		}
	}
	return 0
}
