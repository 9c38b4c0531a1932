package materials

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/material"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// NewProduct returns a product with the values a new form starts from.
func NewProduct() material.Product {
	return material.Product{
		Product: resin.Product{
			RatioA: 2, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 1000, Viscosity: 1000,
			WorkingMinutes: 45, HardHours: 24, Tolerance: resin.DefaultTolerance,
		},
		MixMinutes: 3, MaxBatch: 500, Kit: 1500,
	}
}

// ResinFields is the catalogue of a resin.
var ResinFields = form.Fields[material.Product]{
	form.Text("name", "Name", func(p *material.Product) *string { return &p.Name }, 80, true),
	{Key: "ratio", Label: msg.ID("Ratio A:B"), Kind: form.Line, Say: form.Figures, Hint: msg.ID("2:1"),
		Get: func(p *material.Product, _ units.System) string {
			return units.Fixed(p.RatioA, 3) + ":" + units.Fixed(p.RatioB, 3)
		},
		Set: setRatio},
	form.Choice("by", "Ratio by", func(p *material.Product) *resin.Measure { return &p.By },
		form.Option{Value: "volume", Label: msg.ID("volume")}, form.Option{Value: "weight", Label: msg.ID("weight")}),
	form.Density("density_a", "Density of A", func(p *material.Product) *units.Density { return &p.DensityA }, 500, 3000),
	form.Density("density_b", "Density of B", func(p *material.Product) *units.Density { return &p.DensityB }, 500, 3000),
	form.Share("tolerance", "Ratio tolerance", func(p *material.Product) *float64 { return &p.Tolerance }, 0.5),
	form.Viscosity("viscosity", "Mixed viscosity at 25 °C",
		func(p *material.Product) *units.Viscosity { return &p.Viscosity }),
	form.Minutes("mix", "Mix time", "min", func(p *material.Product) *float64 { return &p.MixMinutes }, 0.5, 60),
	form.Minutes("working", "Film working time at 25 °C", "min",
		func(p *material.Product) *float64 { return &p.WorkingMinutes }, 1, 7*24*60),
	form.Hours("hard", "Hard after, at 25 °C", func(p *material.Product) *float64 { return &p.HardHours }, 3.0/60, 60*24),
	form.Temperature("glass_full", "Glass transition, fully cured",
		func(p *material.Product) *units.Temperature { return &p.Glass.Full }, 30, 250).
		OrNothing(func(p *material.Product) bool { return p.Glass.Full == 0 },
			func(p *material.Product) { p.Glass.Full = 0 }).Hinted("usually 70 °C"),
	form.Temperature("glass_fresh", "and freshly mixed",
		func(p *material.Product) *units.Temperature { return &p.Glass.Fresh }, -100, 20).
		OrNothing(func(p *material.Product) bool { return p.Glass.Fresh == 0 },
			func(p *material.Product) { p.Glass.Fresh = 0 }).Hinted("usually −45 °C"),
	form.Number("glass_factor", "Factor λ", func(p *material.Product) *float64 { return &p.Glass.Lambda }, 0, 1, 2),
	form.VolumeOf("max_lot", "Largest batch", func(p *material.Product) *units.Volume { return &p.MaxBatch }, mixed, 10,
		50_000),
	form.Money("price", "Price of a kit", func(p *material.Product) *decimal.Decimal { return &p.Price }, 2),
	form.VolumeOf("kit", "Kit, both parts", func(p *material.Product) *units.Volume { return &p.Kit }, mixed, 10, 500_000),
	form.Text("supplier", "Bought from", func(p *material.Product) *string { return &p.Supplier }, 80, false),
	form.Count("lead_days", "Delivery time, days", func(p *material.Product) *int { return &p.LeadDays }, 0, 180),
	form.Words("notes", "Notes", func(p *material.Product) *string { return &p.Notes }, 2000),
}

func mixed(p *material.Product) units.Density { return p.Density() }

func setRatio(p *material.Product, text string, _ units.System) (msg.Text, error) {
	a, b, err := units.ParseRatio(text)
	if err != nil {
		return nil, err
	}
	if a > 1000 || b > 1000 || a < 0.001 || b < 0.001 || a/b > 100 || b/a > 100 {
		return nil, refusal.New("no resin is mixed at more than 100 to 1")
	}
	p.RatioA, p.RatioB = a, b
	return nil, nil
}

func decodeProduct(d store.Document) (material.Product, error) {
	p := NewProduct()
	if err := json.Unmarshal(d.Doc, &p); err != nil {
		return p, fmt.Errorf("read the resin %q: %w", d.Name, err)
	}
	p.ID, p.Rev, p.Retired, p.Name = d.ID, d.Rev, d.Off, d.Name
	p, err := p.Fitted()
	if err != nil {
		return p, fmt.Errorf("the times of %q: %w", d.Name, err)
	}
	return p, nil
}

func (s *Service) products(ctx context.Context) ([]material.Product, error) {
	docs, err := s.store.AllOf(ctx, store.Resins)
	if err != nil {
		return nil, err
	}
	out := make([]material.Product, len(docs))
	for i, d := range docs {
		if out[i], err = decodeProduct(d); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Product returns one resin of the materials.
func (s *Service) Product(ctx context.Context, id int64) (material.Product, error) {
	d, err := s.store.Document(ctx, store.Resins, id)
	if err != nil {
		return material.Product{}, err
	}
	return decodeProduct(d)
}

// SaveProduct takes a typed product: a new one when id is 0, otherwise a
// change of the one still at rev. Nothing is kept while a value is refused.
func (s *Service) SaveProduct(ctx context.Context, id, rev int64, typed map[string]string) (material.Product,
	form.Notices,
	error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return material.Product{}, form.Notices{}, err
	}
	p := NewProduct()
	if id != 0 {
		if p, err = s.Product(ctx, id); err != nil {
			return p, form.Notices{}, err
		}
	}
	n := ResinFields.Apply(&p, typed, set.Style())
	if p.Name == "" {
		n.Refuse("name", msg.ID("needs a name"))
	}
	if n.OK() {
		if err := p.Product.Check(); err != nil {
			n.Refuse("ratio", msg.Of(err))
		} else if _, err := p.Fitted(); err != nil {
			n.Refuse("hard", msg.Of(err))
		}
	}
	if !n.OK() {
		return p, n, nil
	}
	p.ID, err = s.keep(ctx, store.Resins, id, rev, p.Name, p, n)
	return p, n, err
}

// RetireProduct takes a resin off the list for new pieces or puts it back.
func (s *Service) RetireProduct(ctx context.Context, id int64, off bool) error {
	return s.setOff(ctx, store.Resins, id, off)
}

// an observation as it is typed.
type seen struct {
	sign string
	at   float64
	room units.Temperature
}

// seenFields is the catalogue of an observation of a resin.
var seenFields = form.Fields[seen]{
	form.Choice("sign", "What was seen", func(f *seen) *string { return &f.sign }, signs()...),
	form.Minutes("after", "After mixing", "min", func(f *seen) *float64 { return &f.at }, 1,
		60*24*60).Hinted("38 min"),
	form.Temperature("seen_room", "Room temperature then", func(f *seen) *units.Temperature { return &f.room }, 5,
		45).Hinted("21 °C"),
}

func signs() []form.Option {
	out := make([]form.Option, len(cure.Signs))
	for i, s := range cure.Signs {
		out[i] = form.Option{Value: s.Key, Label: s.Words}
	}
	return out
}

// mostSeen bounds what is kept of a resin.
const mostSeen = 200

// SeenViews are the fields of an observation, empty but for what was typed.
func SeenViews(style form.Style, typed map[string]string, n form.Notices) map[string]form.View {
	views := seenFields.Views(&seen{}, style, typed, n, nil)
	for key, v := range views {
		v.Value = typed[key]
		views[key] = v
	}
	return views
}

// Observe keeps an observation of a resin.
func (s *Service) Observe(ctx context.Context, id int64, typed map[string]string) (material.Product, form.Notices,
	error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return material.Product{}, form.Notices{}, err
	}
	var f seen
	n := form.NewNotices()
	for _, field := range seenFields { // all are asked for
		if _, err := field.Set(&f, typed[field.Key], set.Units); err != nil {
			n.Refuse(field.Key, msg.Of(err))
		}
	}
	p, err := s.changeProduct(ctx, id, func(p *material.Product) error {
		if len(p.Seen) >= mostSeen {
			n.Refuse("sign", msg.F("there are %d observations already; remove old ones first", mostSeen))
		}
		if n.OK() {
			p.Seen = append(p.Seen, material.Seen{Observation: cure.Observation{Sign: f.sign, Minute: f.at, Room: f.room},
				At: s.now()})
		}
		return nil
	})
	return p, n, err
}

// changeProduct changes a resin in one transaction.
func (s *Service) changeProduct(ctx context.Context, id int64, f func(*material.Product) error) (material.Product,
	error) {
	var p material.Product
	err := s.store.Write(ctx, "keep the resin", func(tx *store.Tx) error {
		d, err := tx.Document(ctx, store.Resins, id)
		if err != nil {
			return err
		}
		if p, err = decodeProduct(d); err != nil {
			return err
		}
		if err := f(&p); err != nil {
			return err
		}
		return tx.Save(ctx, store.Resins, id, p.Rev, p.Name, p)
	})
	return p, err
}

// ForgetSeen takes an observation out.
func (s *Service) ForgetSeen(ctx context.Context, id int64, at int) error {
	_, err := s.changeProduct(ctx, id, func(p *material.Product) error {
		if at < 0 || at >= len(p.Seen) {
			return store.ErrNotFound
		}
		p.Seen = append(p.Seen[:at], p.Seen[at+1:]...)
		return nil
	})
	return err
}

// UseOwnTimes makes the studio's own fit the product's clock, or the sheet
// again.
func (s *Service) UseOwnTimes(ctx context.Context, id int64, own bool) error {
	_, err := s.changeProduct(ctx, id, func(p *material.Product) error {
		if own && len(p.Seen) == 0 {
			return form.Refusef("sign", "nothing was observed yet")
		}
		p.UseOwn = own
		return nil
	})
	return err
}
