// Package prices calculates what a piece costs and what it is sold for: the stock it took
// or will take, the minutes of hands, the test tiles of its commission, and the
// studio's way of pricing.
package prices

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/money"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/setup"
	"jevvo/internal/words"
)

// Method is how a price is made.
type Method string

// The methods, as painters use them (common practice).
const (
	ByCost     Method = "cost"     // what it cost, with the margin on it
	ByHour     Method = "hour"     // hours at the rate, and the material
	ByArea     Method = "area"     // so much a square decimetre of face
	ByMaterial Method = "material" // a multiple of the material
	Own        Method = "own"      // said for each
)

// Terms are how a studio calculates its prices and writes its papers.
type Terms struct {
	Currency string
	Digits   int
	Comma    bool

	Method     Method
	HourRate   decimal.Decimal
	Overhead   decimal.Decimal // share of material and work
	HourlyRoom decimal.Decimal // rent, heat and light, an hour at the bench
	PerArea    decimal.Decimal // a square decimetre
	Multiple   decimal.Decimal // of the material
	Margin     decimal.Decimal // share of the list price
	Gallery    decimal.Decimal
	Tax        decimal.Decimal
	TaxName    string
	Inclusive  bool // list prices hold the tax already
	Deposit    decimal.Decimal
	ValidDays  int
	PayDays    int
	Remind     bool // ask once, thirty days after delivery, how it is

	Studio, Address, Contact, TaxNumber, Bank string // letterhead
	Texts                                     map[string]string
	Rev                                       int64
}

// DefaultTerms are the terms of a new studio.
func DefaultTerms() Terms {
	return Terms{Currency: "EUR", Digits: 2, Method: ByCost, HourRate: decimal.NewFromInt(35),
		Overhead: decimal.New(10, -2), PerArea: decimal.New(4, 0), Multiple: decimal.NewFromInt(4),
		Margin: decimal.New(30, -2), Deposit: decimal.New(50, -2), TaxName: "VAT", ValidDays: 30, PayDays: 14}
}

// usualIn is what a studio that speaks a language usually has: its money and what its tax is called.
func (t Terms) usualIn(l words.Language) Terms {
	switch l {
	case words.American:
		t.Currency, t.TaxName = "USD", "Sales tax"
		t.PerArea, _, _ = parseAreaPrice("0.25", units.US)
	case words.German:
		t.TaxName, t.Comma = "MwSt.", true
	}
	return t
}

// Money returns how amounts are written.
func (t Terms) Money() money.Currency {
	return money.Currency{Name: t.Currency, Digits: t.Digits, Comma: t.Comma}
}

// TermsFields is the catalogue of the terms.
var TermsFields = form.Fields[Terms]{
	form.Text("currency", "Currency", func(t *Terms) *string { return &t.Currency }, 12, true),
	form.Count("digits", "Decimal places", func(t *Terms) *int { return &t.Digits }, 0, money.MostDigits),
	form.Bool("comma", "Use a decimal comma", func(t *Terms) *bool { return &t.Comma }),
	form.Choice("method", "Pricing method", func(t *Terms) *Method { return &t.Method },
		form.Option{Value: "cost", Label: msg.ID("cost with a margin")},
		form.Option{Value: "hour", Label: msg.ID("hours and material")},
		form.Option{Value: "area", Label: msg.ID("by the area of the face")},
		form.Option{Value: "material", Label: msg.ID("a multiple of the material")},
		form.Option{Value: "own", Label: msg.ID("entered for each piece")}),
	form.Money("hour_rate", "Hourly rate", func(t *Terms) *decimal.Decimal { return &t.HourRate }, 2),
	form.Money("hourly_room", "Cost of the room per hour", func(t *Terms) *decimal.Decimal { return &t.HourlyRoom }, 2),
	form.Part("overhead", "Overhead on material and work", func(t *Terms) *decimal.Decimal { return &t.Overhead }, 100),
	perArea("per_area", "Price by area", func(t *Terms) *decimal.Decimal { return &t.PerArea }),
	form.Money("multiple", "Material multiplied by", func(t *Terms) *decimal.Decimal { return &t.Multiple }, 2),
	form.Part("margin", "Margin, as a share of the list price", func(t *Terms) *decimal.Decimal { return &t.Margin }, 99),
	form.Part("gallery", "Gallery's share of the list price", func(t *Terms) *decimal.Decimal { return &t.Gallery }, 99),
	form.Part("tax", "Tax", func(t *Terms) *decimal.Decimal { return &t.Tax }, 100),
	form.Text("tax_name", "Name of the tax", func(t *Terms) *string { return &t.TaxName }, 40, false),
	form.Bool("inclusive", "List prices include tax", func(t *Terms) *bool { return &t.Inclusive }),
	form.Part("deposit", "Deposit", func(t *Terms) *decimal.Decimal { return &t.Deposit }, 100),
	form.Count("valid_days", "Quotes valid for, days", func(t *Terms) *int { return &t.ValidDays }, 1, 365),
	form.Count("pay_days", "Invoices due after, days", func(t *Terms) *int { return &t.PayDays }, 0, 365),
	form.Bool("remind", "Ask how it is, once, 30 days after delivery", func(t *Terms) *bool { return &t.Remind }),
	form.Text("studio", "Studio", func(t *Terms) *string { return &t.Studio }, 120, false),
	form.Words("address", "Address", func(t *Terms) *string { return &t.Address }, 400),
	form.Text("contact", "Contact details", func(t *Terms) *string { return &t.Contact }, 200, false),
	form.Text("tax_number", "Tax number", func(t *Terms) *string { return &t.TaxNumber }, 60, false),
	form.Text("bank", "Bank account", func(t *Terms) *string { return &t.Bank }, 200, false),
}

// TermsKey is the setting the terms are kept under.
const TermsKey = "money"

// ReadTerms returns the terms kept in a store, the defaults of the studio's language in an
// empty one.
func ReadTerms(ctx context.Context, r store.Reader) (Terms, error) {
	t := DefaultTerms()
	var doc json.RawMessage
	found, err := r.Setting(ctx, TermsKey, &doc)
	if err != nil {
		return t, err
	}
	if !found {
		set, err := setup.Read(ctx, r)
		return t.usualIn(set.Language), err
	}
	if err := json.Unmarshal(doc, &t); err != nil {
		return t, fmt.Errorf("read the terms: %w", err)
	}
	return t, nil
}

// Terms returns them as they stand.
func (s *Service) Terms(ctx context.Context) (Terms, error) { return ReadTerms(ctx, s.store.Reader) }

// SaveTerms takes typed terms; rev tells a change from another page.
func (s *Service) SaveTerms(ctx context.Context, rev int64, typed map[string]string, texts map[string]string) (Terms,
	form.Notices, error) {
	book, err := s.materials.Book(ctx)
	if err != nil {
		return Terms{}, form.Notices{}, err
	}
	var t Terms
	n := form.NewNotices()
	err = s.store.Write(ctx, "keep the terms", func(tx *store.Tx) error {
		if t, err = ReadTerms(ctx, tx.Reader); err != nil {
			return err
		}
		stale := t.Rev != rev
		n = TermsFields.Apply(&t, typed, book.Settings.Style())
		if t.Margin.Add(t.Gallery).GreaterThanOrEqual(decimal.NewFromInt(1)) {
			n.Refuse("margin", msg.ID("margin and gallery together leave nothing for the cost"))
		}
		if stale {
			n.Refuse("currency", msg.ID("this was changed on another page; look at it again before you save"))
		}
		if !n.OK() {
			return nil
		}
		if texts != nil {
			t.Texts = texts
		}
		t.Rev++
		return tx.SetSetting(ctx, TermsKey, t)
	})
	return t, n, err
}
