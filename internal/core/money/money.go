// Package money calculates prices in whole minor units: nothing is a binary fraction, every
// part is rounded by one rule, and sums are sums of rounded parts, so that what stands
// on a paper adds up.
//
//	p, err := money.Price{Digits: 2, Materials: []decimal.Decimal{kit}, Hours: h, Rate: r}.Calculate()
//	p.Gross == p.Net.Add(p.Tax)
package money

import (
	"fmt"
	"slices"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// MostDigits is the most a currency has after the point (ISO 4217: 0 to 4).
const MostDigits = 4

// Round rounds half away from zero to digits after the point, as invoices do (the
// commercial rounding of DIN 1333 and of most tax offices).
func Round(v decimal.Decimal, digits int) decimal.Decimal { return v.Round(int32(digits)) }

// Bounds of what is calculated with: an amount of money, and hours.
var (
	mostMoney = decimal.New(1, 12)
	mostHours = decimal.New(1, 6)
	one       = decimal.NewFromInt(1)
)

// A Price holds the terms of a sale, before the price is calculated. Shares are 0 to 1.
type Price struct {
	Digits       int               // of the currency
	Materials    []decimal.Decimal // what each costs
	Hours, Rate  decimal.Decimal
	Overhead     decimal.Decimal // share of materials and work
	Margin       decimal.Decimal // share of the list price
	Gallery      decimal.Decimal // share of the list price
	Discount     decimal.Decimal // share of the list price
	Delivery     decimal.Decimal
	Tax          decimal.Decimal // share of the net price
	TaxInclusive bool            // the list price holds the tax already
	Deposit      decimal.Decimal // share of the gross price
}

// A Quote is a price calculated, each part rounded to the currency's digits.
type Quote struct {
	Cost, List, Discount, Delivery, Net, Tax, Gross, Deposit, Remainder decimal.Decimal
}

// A FieldError says which field of a price cannot be.
type FieldError struct {
	Field string
	Err   error
}

func (e *FieldError) Error() string { return e.Field + ": " + e.Err.Error() }

// Unwrap returns what is wrong with it.
func (e *FieldError) Unwrap() error { return e.Err }

func wrong(field string, format msg.ID, args ...any) error {
	return &FieldError{field, refusal.New(format, args...)}
}

var (
	errNegative = refusal.New("cannot be negative")
	errLarge    = refusal.New("is far too much")
)

// check returns what is wrong with a price.
func (p Price) check() error {
	if p.Digits < 0 || p.Digits > MostDigits {
		return wrong("currency_digits", "a currency has 0 to %d decimal places", MostDigits)
	}
	for i, m := range p.Materials {
		if err := within(m, mostMoney); err != nil {
			return &FieldError{fmt.Sprintf("materials.%d.cost", i), err}
		}
	}
	for _, f := range []struct {
		name string
		v    decimal.Decimal
		most decimal.Decimal
	}{
		{"hours", p.Hours, mostHours}, {"hour_rate", p.Rate, mostMoney}, {"delivery", p.Delivery, mostMoney},
	} {
		if err := within(f.v, f.most); err != nil {
			return &FieldError{f.name, err}
		}
	}
	for _, f := range []struct {
		name string
		v    decimal.Decimal
	}{
		{"overhead_share", p.Overhead}, {"margin_share", p.Margin}, {"gallery_share", p.Gallery},
		{"discount_share", p.Discount}, {"tax_share", p.Tax}, {"deposit_share", p.Deposit},
	} {
		if f.v.IsNegative() || f.v.GreaterThan(one) {
			return wrong(f.name, "a share is 0 to 1")
		}
	}
	if p.Margin.Add(p.Gallery).GreaterThanOrEqual(one) {
		return wrong("margin_share", "margin and gallery together leave nothing for the cost")
	}
	return nil
}

func within(v, most decimal.Decimal) error {
	switch {
	case v.IsNegative():
		return errNegative
	case v.GreaterThan(most):
		return errLarge
	}
	return nil
}

// precise is to how many digits a quotient is taken before it is rounded.
const precise = 24

// Calculate makes the price: cost, list price, discount, tax and deposit are rounded in
// that order; net, gross and remainder are sums of rounded parts.
func (p Price) Calculate() (Quote, error) {
	if err := p.check(); err != nil {
		return Quote{}, err
	}
	round := func(v decimal.Decimal) decimal.Decimal { return Round(v, p.Digits) }
	var q Quote
	spent := p.Hours.Mul(p.Rate)
	for _, m := range p.Materials {
		spent = spent.Add(m)
	}
	q.Cost = round(spent.Mul(one.Add(p.Overhead)))
	return p.total(q, q.Cost.DivRound(one.Sub(p.Margin).Sub(p.Gallery), precise)), nil
}

// From makes the price of a list price that was made another way: by area, as a
// multiple, or said. Its cost is left at nothing.
func (p Price) From(list decimal.Decimal) (Quote, error) {
	if err := p.check(); err != nil {
		return Quote{}, err
	}
	if err := within(list, mostMoney); err != nil {
		return Quote{}, &FieldError{"list", err}
	}
	return p.total(Quote{}, list), nil
}

// Grossed is a price of which a gallery's share leaves what is wanted.
func Grossed(wanted, gallery decimal.Decimal, digits int) decimal.Decimal {
	if gallery.GreaterThanOrEqual(one) {
		return Round(wanted, digits)
	}
	return Round(wanted.DivRound(one.Sub(gallery), precise), digits)
}

// Inside is the tax that an amount holds already, rounded.
func Inside(gross, tax decimal.Decimal, digits int) decimal.Decimal {
	return Round(gross.Mul(tax).DivRound(one.Add(tax), precise), digits)
}

// total goes from a list price to what is paid.
func (p Price) total(q Quote, list decimal.Decimal) Quote {
	round := func(v decimal.Decimal) decimal.Decimal { return Round(v, p.Digits) }
	q.List = round(list)
	q.Discount = round(q.List.Mul(p.Discount))
	q.Delivery = round(p.Delivery)
	sum := q.List.Sub(q.Discount).Add(q.Delivery)
	if p.TaxInclusive {
		q.Gross = sum
		q.Tax = Inside(sum, p.Tax, p.Digits)
		q.Net = q.Gross.Sub(q.Tax)
	} else {
		q.Net = sum
		q.Tax = round(sum.Mul(p.Tax))
		q.Gross = q.Net.Add(q.Tax)
	}
	q.Deposit = round(q.Gross.Mul(p.Deposit))
	q.Remainder = q.Gross.Sub(q.Deposit)
	return q
}

// Allocate divides an amount by weights into parts of whole minor units that add up to
// it: each gets its share rounded down, and what is left goes to the largest remainders,
// the earlier first (the largest remainder method).
func Allocate(amount decimal.Decimal, weights []decimal.Decimal, digits int) ([]decimal.Decimal, error) {
	all := decimal.Zero
	for _, w := range weights {
		if w.IsNegative() {
			return nil, errNegative
		}
		all = all.Add(w)
	}
	if amount.IsNegative() || !all.IsPositive() || !amount.Equal(Round(amount, digits)) {
		return nil, refusal.New("an amount is divided by weights, at least one of them above zero")
	}
	out := make([]decimal.Decimal, len(weights))
	rest := make([]decimal.Decimal, len(weights))
	left, order := amount, make([]int, len(weights))
	for i, w := range weights {
		exact := amount.Mul(w).DivRound(all, precise)
		out[i] = exact.Truncate(int32(digits))
		rest[i], order[i] = exact.Sub(out[i]), i
		left = left.Sub(out[i])
	}
	slices.SortStableFunc(order, func(a, b int) int { return rest[b].Cmp(rest[a]) })
	unit := decimal.New(1, int32(-digits))
	for k := 0; left.IsPositive(); k++ {
		out[order[k]] = out[order[k]].Add(unit)
		left = left.Sub(unit)
	}
	return out, nil
}
