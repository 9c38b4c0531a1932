package money_test

import (
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/money"
)

func d(text string) decimal.Decimal { return decimal.RequireFromString(text) }

// Half away from zero, both ways (DIN 1333; from memory).
func TestRounding(t *testing.T) {
	for in, want := range map[string]string{"2.345": "2.35", "2.344999": "2.34", "-2.345": "-2.35", "0.005": "0.01",
		"1.005": "1.01"} {
		assert.Equal(t, want, money.Round(d(in), 2).StringFixed(2), in)
	}
	assert.Equal(t, "3", money.Round(d("2.5"), 0).String())
	assert.Equal(t, "0.0005", money.Round(d("0.00045"), 4).String())
}

// A worked example by hand: 40.50 + 12.25 + 6 h at 28 = 220.75, a tenth for the room
// 242.83 (242.825), list at 30 % margin 346.90, 5 % off 17.35 (17.345), delivery 18, net
// 347.55, tax at 19 % 66.03 (66.0345), gross 413.58, half of it 206.79.
func TestAWorkedPrice(t *testing.T) {
	p := money.Price{Digits: 2, Materials: []decimal.Decimal{d("40.50"), d("12.25")}, Hours: d("6"), Rate: d("28"),
		Overhead: d("0.1"), Margin: d("0.3"), Discount: d("0.05"), Delivery: d("18"), Tax: d("0.19"), Deposit: d("0.5")}
	q, err := p.Calculate()
	require.NoError(t, err)
	for _, c := range []struct {
		name, want string
		got        decimal.Decimal
	}{
		{"cost", "242.83", q.Cost}, {"list", "346.90", q.List}, {"discount", "17.35", q.Discount}, {"net", "347.55", q.Net},
		{"tax", "66.03", q.Tax}, {"gross", "413.58", q.Gross}, {"deposit", "206.79", q.Deposit},
		{"remainder", "206.79", q.Remainder},
	} {
		assert.Equal(t, c.want, c.got.StringFixed(2), c.name)
	}
	p.TaxInclusive = true // 347.55 holds 55.49 (55.4911) of tax
	q, err = p.Calculate()
	require.NoError(t, err)
	assert.Equal(t, "347.55 55.49 292.06", q.Gross.StringFixed(2)+" "+q.Tax.StringFixed(2)+" "+q.Net.StringFixed(2))
}

func TestPricesThatCannotBe(t *testing.T) {
	for field, p := range map[string]money.Price{
		"currency_digits":  {Digits: 5},
		"materials.1.cost": {Materials: []decimal.Decimal{d("1"), d("-1")}},
		"hours":            {Hours: d("-1")},
		"hour_rate":        {Rate: d("1e13")},
		"tax_share":        {Tax: d("1.01")},
		"discount_share":   {Discount: d("-0.1")},
		"margin_share":     {Margin: d("0.6"), Gallery: d("0.4")},
	} {
		_, err := p.Calculate()
		var wrong *money.FieldError
		require.ErrorAs(t, err, &wrong, field)
		assert.Equal(t, field, wrong.Field)
	}
}

// What is on a paper adds up, whatever the price.
func TestPricesAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		share := func(name string, most int64) decimal.Decimal {
			return decimal.New(rapid.Int64Range(0, most).Draw(t, name), -4)
		}
		digits := rapid.IntRange(0, 4).Draw(t, "digits")
		amount := func(name string) decimal.Decimal { return decimal.New(rapid.Int64Range(0, 1e9).Draw(t, name), -4) }
		p := money.Price{Digits: digits, Materials: []decimal.Decimal{amount("a"), amount("b")}, Hours: amount("h"),
			Rate: share("r", 1e6), Overhead: share("o", 1e4), Margin: share("m", 5999), Gallery: share("g", 4000),
			Discount: share("d", 1e4),
			Delivery: amount("v"), Tax: share("t", 1e4), TaxInclusive: rapid.Bool().Draw(t, "in"), Deposit: share("p", 1e4)}
		q, err := p.Calculate()
		require.NoError(t, err)
		assert.True(t, q.Gross.Equal(q.Net.Add(q.Tax)))
		assert.True(t, q.Gross.Equal(q.Deposit.Add(q.Remainder)))
		assert.True(t, q.List.Sub(q.Discount).Add(q.Delivery).Equal(map[bool]decimal.Decimal{true: q.Gross,
			false: q.Net}[p.TaxInclusive]))
		for _, v := range []decimal.Decimal{q.Cost, q.List, q.Discount, q.Net, q.Tax, q.Gross, q.Deposit, q.Remainder} {
			assert.True(t, v.Equal(money.Round(v, digits)), "whole minor units")
			assert.False(t, v.IsNegative())
		}
	})
}

// Parts add up to the whole, and none is a minor unit from its share.
func TestAllocation(t *testing.T) {
	got, err := money.Allocate(d("100.00"), []decimal.Decimal{d("1"), d("1"), d("1")}, 2)
	require.NoError(t, err)
	assert.Equal(t, "33.34 33.33 33.33", got[0].String()+" "+got[1].String()+" "+got[2].String())
	rapid.Check(t, func(t *rapid.T) {
		digits := rapid.IntRange(0, 4).Draw(t, "digits")
		amount := decimal.New(rapid.Int64Range(0, 1e9).Draw(t, "amount"), int32(-digits))
		var weights []decimal.Decimal
		all := decimal.Zero
		for range rapid.IntRange(1, 12).Draw(t, "n") {
			w := decimal.NewFromInt(rapid.Int64Range(0, 1000).Draw(t, "w"))
			weights, all = append(weights, w), all.Add(w)
		}
		parts, err := money.Allocate(amount, weights, digits)
		if all.IsZero() {
			require.Error(t, err)
			return
		}
		require.NoError(t, err)
		sum := decimal.Zero
		for i, p := range parts {
			sum = sum.Add(p)
			off := p.Sub(amount.Mul(weights[i]).DivRound(all, 24)).Abs()
			assert.True(t, off.LessThan(decimal.New(1, int32(-digits))))
		}
		assert.True(t, sum.Equal(amount))
	})
	_, err = money.Allocate(d("0.001"), []decimal.Decimal{d("1")}, 2)
	require.Error(t, err)
	_, err = money.Allocate(d("1"), []decimal.Decimal{d("-1"), d("2")}, 2)
	require.Error(t, err)
}
