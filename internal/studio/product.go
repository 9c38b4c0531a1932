package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
)

// A Product is a resin on the studio's shelf: its data sheet and what the
// studio knows about it.
type Product struct {
	ID      int64 `json:"-"`
	Rev     int64 `json:"-"`
	Retired bool  `json:"-"`

	Name string
	resin.Product
	MixMinutes float64
	MaxLot     units.Volume
	Price      float64 // of a kit, in the studio's money
	Kit        units.Volume
	Stock      units.Volume // both parts, left on the shelf
	Notes      string
	Seen       []Seen // observations of this studio
	UseOwn     bool   // its own fit is the clock, not the sheet
}

// NewProduct returns a product with the values a new form starts from.
func NewProduct() Product {
	return Product{
		Product: resin.Product{
			RatioA: 2, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 1000, Viscosity: 1000,
			WorkingMinutes: 45, HardHours: 24, Tolerance: resin.DefaultTolerance,
		},
		MixMinutes: 3, MaxLot: 500, Kit: 1500, Stock: 1500,
	}
}

var productFields = Fields[Product]{
	textField("name", "Name", func(p *Product) *string { return &p.Name }, 80, true),
	ratioField(),
	choiceField("by", "Ratio by", func(p *Product) *resin.Measure { return &p.By }, resin.ByVolume, resin.ByWeight),
	densityField("density_a", "Density of A", func(p *Product) *units.Density { return &p.DensityA }),
	densityField("density_b", "Density of B", func(p *Product) *units.Density { return &p.DensityB }),
	shareField("tolerance", "Off-ratio it forgives", func(p *Product) *float64 { return &p.Tolerance }, 0.5),
	viscosityField("viscosity", "Mixed viscosity at 25 °C", func(p *Product) *units.Viscosity { return &p.Viscosity }),
	minutesField("mix", "Mix time", "min", func(p *Product) *float64 { return &p.MixMinutes }, 0.5, 60),
	minutesField("working", "Film working time at 25 °C", "min", func(p *Product) *float64 { return &p.WorkingMinutes }, 1, 7*24*60),
	hardField(),
	volumeField("max_lot", "Largest lot", func(p *Product) *units.Volume { return &p.MaxLot }, 10, 50_000),
	priceField(),
	volumeField("kit", "Kit, both parts", func(p *Product) *units.Volume { return &p.Kit }, 10, 500_000),
	volumeField("stock", "In stock, both parts", func(p *Product) *units.Volume { return &p.Stock }, 0, 2_000_000),
	textField("notes", "Notes", func(p *Product) *string { return &p.Notes }, 2000, false),
}

func ratioField() Field[Product] {
	return Field[Product]{"ratio", "Ratio A:B",
		func(p *Product, _ units.System) string {
			return units.Fixed(p.RatioA, 3) + ":" + units.Fixed(p.RatioB, 3)
		},
		func(p *Product, text string, _ units.System) (string, error) {
			a, b, err := units.ParseRatio(text)
			if err != nil {
				return "", err
			}
			if a > 1000 || b > 1000 || a < 0.001 || b < 0.001 || a/b > 100 || b/a > 100 {
				return "", errors.New("no resin is mixed at more than 100 to 1")
			}
			p.RatioA, p.RatioB = a, b
			return "", nil
		}}
}

func hardField() Field[Product] {
	return Field[Product]{"hard", "Hard at 25 °C",
		func(p *Product, _ units.System) string { return units.Fixed(p.HardHours, 2) + " h" },
		func(p *Product, text string, _ units.System) (string, error) {
			r, err := units.ParseMinutes(text, "h")
			if err == nil {
				err = between(r.Value, 3, 60*24*60, func(m float64) string { return units.Fixed(m/60, 2) + " h" })
			}
			hours := units.Reading[float64]{Value: r.Value / 60, Note: r.Note}
			return keep(&p.HardHours, hours, err)
		}}
}

func priceField() Field[Product] {
	return Field[Product]{"price", "Price of a kit",
		func(p *Product, _ units.System) string { return fmt.Sprintf("%.2f", p.Price) },
		func(p *Product, text string, _ units.System) (string, error) {
			v, err := units.ParseNumber(text)
			if err != nil || v < 0 || v > 1e6 {
				return "", fmt.Errorf("%q is not a price", text)
			}
			p.Price = v
			return "", nil
		}}
}

// Values returns the product as typed text.
func (p Product) Values(sys units.System) map[string]string { return productFields.values(&p, sys) }

// CostOf returns what a volume of the product costs.
func (p Product) CostOf(v units.Volume) float64 {
	if p.Kit <= 0 {
		return 0
	}
	return p.Price * float64(v/p.Kit)
}

func decodeProduct(row store.Item) (Product, error) {
	p := NewProduct()
	if err := json.Unmarshal(row.Doc, &p); err != nil {
		return p, fmt.Errorf("read the product %q: %w", row.Name, err)
	}
	p.ID, p.Rev, p.Retired, p.Name = row.ID, row.Rev, row.Retired, row.Name
	return p, nil
}

// Product returns one resin of the shelf.
func (s *Studio) Product(ctx context.Context, id int64) (Product, error) {
	row, err := s.store.Item(ctx, store.Resins, id)
	if err != nil {
		return Product{}, err
	}
	return decodeProduct(row)
}

// Products returns the shelf, those in use first.
func (s *Studio) Products(ctx context.Context) ([]Product, error) {
	rows, err := s.store.Items(ctx, store.Resins)
	if err != nil {
		return nil, err
	}
	out := make([]Product, len(rows))
	for i, row := range rows {
		if out[i], err = decodeProduct(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// SaveProduct takes a typed product: a new one when id is 0, otherwise a
// change of the one still at rev. Nothing is kept while a value is refused.
func (s *Studio) SaveProduct(ctx context.Context, id, rev int64, values map[string]string) (Product, Notices, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Product{}, Notices{}, err
	}
	p := NewProduct()
	if id != 0 {
		if p, err = s.Product(ctx, id); err != nil {
			return p, Notices{}, err
		}
		p.Rev = rev
	}
	notices := productFields.apply(&p, values, set.Units)
	if id == 0 && p.Name == "" {
		notices.Errors["name"] = "needs a name"
	}
	if notices.OK() {
		if err := p.Product.Check(); err != nil {
			notices.Errors["ratio"] = err.Error()
		} else if _, err := p.Kinetics(); err != nil {
			notices.Errors["hard"] = err.Error()
		}
	}
	if !notices.OK() {
		return p, notices, nil
	}
	p.ID, err = s.saveItem(ctx, store.Resins, id, rev, p.Name, p, p.Retired, notices)
	return p, notices, err
}

// saveItem keeps a new thing (id 0) or a change of one that is still at rev on
// a shelf; a name in use and a change from another page are said at the name.
func (s *Studio) saveItem(ctx context.Context, shelf store.Shelf, id, rev int64, name string, doc any, retired bool, n Notices) (int64, error) {
	var err error
	if id == 0 {
		id, err = s.store.CreateItem(ctx, shelf, name, doc)
	} else {
		err = s.store.UpdateItem(ctx, shelf, id, rev, name, doc, retired)
	}
	switch {
	case errors.Is(err, store.ErrTaken):
		n.Errors["name"] = "something else on the shelf has this name"
	case errors.Is(err, store.ErrConflict):
		n.Errors["name"] = "this was changed on another page; look at it again before you save"
	default:
		return id, err
	}
	return id, nil
}

// RetireProduct takes a resin off the list for new pieces or puts it back;
// pieces that use it keep it.
func (s *Studio) RetireProduct(ctx context.Context, id int64, retired bool) error {
	p, err := s.Product(ctx, id)
	if err != nil {
		return err
	}
	return s.store.UpdateItem(ctx, store.Resins, id, p.Rev, p.Name, p, retired)
}

// ByWeight returns grams of A to a gram of B.
func (p Product) ByWeight() float64 { return 1 / p.WeightRatio() }
