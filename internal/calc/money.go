package calc

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/shopspring/decimal"
	schemas "github.com/swaggest/jsonschema-go"

	"jevvo/internal/core/ledger"
	"jevvo/internal/core/money"
	"jevvo/internal/msg"
)

// Money is an amount as a decimal string or a number; it is never a binary fraction.
type Money struct{ decimal.Decimal }

// UnmarshalJSON reads either.
func (m *Money) UnmarshalJSON(data []byte) error {
	text := string(bytes.Trim(data, `"`))
	if len(text) > 40 || strings.ContainsAny(text, "eE") && len(text) > 12 {
		return FieldError{"", msg.ID("is an amount of money, such as 12.50")}
	}
	v, err := decimal.NewFromString(text)
	if err != nil || v.Exponent() > 20 || v.Exponent() < -30 {
		return FieldError{"", msg.ID("is an amount of money, such as 12.50")}
	}
	m.Decimal = v
	return nil
}

// MarshalJSON writes a decimal string.
func (m Money) MarshalJSON() ([]byte, error) { return json.Marshal(m.String()) }

// PrepareJSONSchema describes both ways.
func (Money) PrepareJSONSchema(s *schemas.Schema) error {
	s.Type = nil
	s.WithType(schemas.Type{SliceOfSimpleTypeValues: []schemas.SimpleType{schemas.String, schemas.Number}})
	s.WithPattern(`^[0-9]+(\.[0-9]+)?$`).WithMinimum(0)
	s.WithDescription("Money as a decimal string or a number.")
	return nil
}

type priceMaterial struct {
	Name string `json:"name,omitempty"`
	Cost Money  `json:"cost" required:"true"`
}

type priceRequest struct {
	Digits    int             `json:"currency_digits" default:"2" minimum:"0" maximum:"4"`
	Materials []priceMaterial `json:"materials" maxItems:"10000"`
	Hours     Money           `json:"hours" description:"hours of work; 0 when left out"`
	Rate      Money           `json:"hour_rate" description:"0 when left out"`
	Overhead  float64         `json:"overhead_share" default:"0" minimum:"0" maximum:"1"`
	Margin    float64         `json:"margin_share" default:"0" minimum:"0" maximum:"1"`
	Gallery   float64         `json:"gallery_share" default:"0" minimum:"0" maximum:"1"`
	Discount  float64         `json:"discount_share" default:"0" minimum:"0" maximum:"1"`
	Delivery  Money           `json:"delivery" description:"0 when left out"`
	Tax       float64         `json:"tax_share" default:"0" minimum:"0" maximum:"1"`
	Inclusive bool            `json:"tax_inclusive" default:"false"`
	Deposit   float64         `json:"deposit_share" default:"0.5" minimum:"0" maximum:"1"`
}

type priceAnswer struct {
	Cost      string `json:"cost"`
	Net       string `json:"net"`
	Discount  string `json:"discount"`
	Delivery  string `json:"delivery"`
	Tax       string `json:"tax"`
	Gross     string `json:"gross"`
	Deposit   string `json:"deposit"`
	Remainder string `json:"remainder"`
}

func price(r priceRequest) (priceAnswer, error) {
	share := decimal.NewFromFloat
	p := money.Price{Digits: r.Digits, Hours: r.Hours.Decimal, Rate: r.Rate.Decimal, Overhead: share(r.Overhead),
		Margin: share(r.Margin), Gallery: share(r.Gallery),
		Discount: share(r.Discount), Delivery: r.Delivery.Decimal, Tax: share(r.Tax), TaxInclusive: r.Inclusive,
		Deposit: share(r.Deposit)}
	for _, m := range r.Materials {
		p.Materials = append(p.Materials, m.Cost.Decimal)
	}
	q, err := p.Calculate()
	var wrong *money.FieldError
	if errors.As(err, &wrong) {
		return priceAnswer{}, FieldError{wrong.Field, msg.Of(wrong.Err)}
	}
	if err != nil {
		return priceAnswer{}, err
	}
	text := func(v decimal.Decimal) string { return v.StringFixed(int32(r.Digits)) }
	return priceAnswer{text(q.Cost), text(q.Net), text(q.Discount), text(q.Delivery), text(q.Tax), text(q.Gross),
		text(q.Deposit), text(q.Remainder)}, nil
}

type stockEntry struct {
	At     string  `json:"at" required:"true" description:"day or moment, 2026-03-02 or 2026-03-02T08:00"`
	Kind   string  `json:"kind" required:"true" enum:"buy,use,count,leftover,return"`
	Amount float64 `json:"amount" required:"true" minimum:"0"`
}

type stockReserved struct {
	At     string  `json:"at" required:"true" description:"day"`
	Amount float64 `json:"amount" required:"true" minimum:"0"`
}

type stockRequest struct {
	Entries  []stockEntry    `json:"entries" required:"true" maxItems:"200000"`
	Reserved []stockReserved `json:"reserved" maxItems:"100000"`
	LeadDays int             `json:"lead_days" default:"0" minimum:"0" maximum:"3650"`
	Today    string          `json:"today" required:"true" description:"2026-03-02"`
}

type stockAnswer struct {
	OnHand  float64 `json:"on_hand" description:"below 0 when something was not written down"`
	Free    float64 `json:"free" description:"what is there less all that is reserved"`
	ShortOn *string `json:"short_on" nullable:"true" description:"the first reserved day that is not covered"`
	OrderBy *string `json:"order_by" nullable:"true" description:"the day before which it must be ordered"`
}

func stock(r stockRequest) (stockAnswer, error) {
	if _, err := moment(r.Today, "today"); err != nil {
		return stockAnswer{}, err
	}
	entries := make([]ledger.Entry, len(r.Entries))
	for i, e := range r.Entries {
		t, err := moment(e.At, fmt.Sprintf("entries.%d.at", i))
		if err != nil {
			return stockAnswer{}, err
		}
		entries[i] = ledger.Entry{At: t, Kind: ledger.Kind(e.Kind), Amount: e.Amount}
	}
	reserved := make([]ledger.Reserved, len(r.Reserved))
	for i, e := range r.Reserved {
		t, err := moment(e.At, fmt.Sprintf("reserved.%d.at", i))
		if err != nil {
			return stockAnswer{}, err
		}
		reserved[i] = ledger.Reserved{Day: time.Date(t.Year(), t.Month(), t.Day(), 0, 0, 0, 0, time.UTC), Amount: e.Amount}
	}
	s := ledger.Of(entries, reserved)
	out := stockAnswer{OnHand: s.OnHand, Free: s.Free}
	if !s.Short.IsZero() {
		short, order := s.Short.Format(time.DateOnly), s.Short.AddDate(0, 0, -r.LeadDays).Format(time.DateOnly)
		out.ShortOn, out.OrderBy = &short, &order
	}
	return out, nil
}

// moment reads a day or a moment.
func moment(text, field string) (time.Time, error) {
	for _, layout := range []string{time.DateOnly, localMinute, "2006-01-02T15:04:05", time.RFC3339} {
		if t, err := time.Parse(layout, text); err == nil {
			return t, nil
		}
	}
	return time.Time{}, FieldError{field, msg.ID("is a day or a moment, such as 2026-03-02 or 2026-03-02T08:00")}
}

func init() {
	define("price", "What a piece costs and is sold for, with tax, deposit and gallery share", price)
	define("stock", "What is there, what is free, and the day it runs short", stock)
}
