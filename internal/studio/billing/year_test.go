package billing_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studiotest"
)

// Money counts on the day it moved: in its own month, in no other year, and a year begins where the
// first of it does.
func TestMoneyCountsInItsMonth(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	resin := studiotest.ResinOf(p.Spec)
	pay := func(on, amount string, spent bool) {
		require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, spent, map[string]string{"amount": amount, "on": on}))
	}
	buy := func(on, price string) {
		require.NoError(t, r.Stock.Buy(r.Ctx(), resin, map[string]string{"amount": "1 L", "price": price, "bought": on}))
	}
	pay("2024-07-09", "7", false)
	pay("2025-12-31", "1000", false)
	pay("2026-01-01", "100", false)
	pay("2026-01-31", "10.50", false)
	pay("2026-02-01", "30", true)
	buy("2026-02-28", "45.90")
	buy("2025-12-31", "400")
	y, err := r.Billing.Year(r.Ctx(), 2026)
	require.NoError(t, err)
	assert.Equal(t, 2024, y.First)
	assert.Equal(t, "110.5 75.9", y.Total.Income.String()+" "+y.Total.Spent.String())
	assert.Equal(t, "110.5 0", y.Months[0].Income.String()+" "+y.Months[0].Spent.String())
	assert.Equal(t, "0 75.9", y.Months[1].Income.String()+" "+y.Months[1].Spent.String())
	assert.True(t, y.PerArea.IsZero(), "nothing was made")
	rows := y.Rows()
	require.Len(t, rows, 14, "a head, twelve months and the year")
	assert.Equal(t, []string{"Jan", "0", "0", "0.00", "110.50", "0.00", "0.00"}, rows[1])
	assert.Equal(t, []string{"2026", "0", "0", "0.00", "110.50", "75.90", "0.00"}, rows[13])
	before, err := r.Billing.Year(r.Ctx(), 2025)
	require.NoError(t, err)
	assert.Equal(t, "1000 400", before.Total.Income.String()+" "+before.Total.Spent.String())
}

// A set that is poured is so many boards made; until it is sold it is in stock, and what it took and
// how long it took stand in the month it was poured.
func TestWhatIsPouredIsMadeOnceAndSoldOnce(t *testing.T) {
	r := studiotest.Open(t)
	begun := r.Clock.T
	tile := r.Piece(map[string]string{"name": "Tile", "state": "done", "tile": "yes"})
	spec, _, err := r.Pieces.Draft(r.Ctx())
	require.NoError(t, err)
	spec.Name, spec.Count, spec.Width, spec.Height = "Pair", 2, 200, 300
	pair, err := r.Pieces.Add(r.Ctx(), spec)
	require.NoError(t, err)
	resin := studiotest.ResinOf(spec)
	require.NoError(t, r.Stock.Buy(r.Ctx(), resin, map[string]string{"amount": "10 L", "price": "300"}))
	b, err := r.Bench.Start(r.Ctx(), pair.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	for !b.Finished() {
		b = r.Press(b, 2*time.Minute)
	}
	year := func(of int) billing.Year {
		y, err := r.Billing.Year(r.Ctx(), of)
		require.NoError(t, err)
		return y
	}
	y := year(begun.Year())
	month := y.Months[begun.Month()-1]
	assert.Equal(t, "2 0 2", counts(month.Made, month.Sold, y.InStock))
	assert.Equal(t, "0.12", y.Area.String(), "two faces of 20 × 30 cm")
	require.Len(t, month.Pieces, 1)
	assert.Equal(t, pair.ID, month.Pieces[0].ID)
	took := -r.Have(t, resin) + 10_000
	spent, _ := month.Material.Float64()
	assert.InDelta(t, took*300/10_000, spent, 0.005, "what it took, at what was paid")
	perArea, _ := y.PerArea.Float64()
	assert.InDelta(t, spent/0.12, perArea, 0.006)
	assert.NotEqual(t, tile.ID, month.Pieces[0].ID)
	minutes := r.Clock.T.Sub(begun).Minutes()
	hours, _ := month.Hours.Float64()
	assert.Greater(t, hours, 0.2)
	assert.LessOrEqual(t, hours, minutes/60+0.01)
	_, n, err := r.Prices.Ask(r.Ctx(), pair.ID, 0, map[string]string{"method": string(prices.Own), "own": "90",
		"sold": begun.AddDate(0, 0, 40).Format(time.DateOnly)})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	y = year(begun.Year())
	sold := y.Months[begun.AddDate(0, 0, 40).Month()-1]
	assert.Equal(t, "2 2 0", counts(y.Total.Made, sold.Sold, y.InStock))
	assert.Equal(t, "0 0 0", counts(year(begun.Year()+1).Total.Made, year(begun.Year()+1).Total.Sold, 0))
}

func counts(made, sold, left int) string {
	return msg.Say(msg.F("%d %d %d", made, sold, left), msg.English)
}

// A payment is of a day that has been, from 2000 on, and never of nothing.
func TestTheDayOfAPayment(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	today := r.Clock.T.Format(time.DateOnly)
	for on, good := range map[string]bool{today: true, "": true, "2000-01-01": true, "1999-12-31": false,
		r.Clock.T.AddDate(0, 0, 1).Format(time.DateOnly): false, "yesterday": false} {
		err := r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "1", "on": on, "note": " by card "})
		assert.Equal(t, good, err == nil, "%q: %v", on, err)
	}
	d := r.Deal(t, c.ID)
	require.Len(t, d.Payments, 3)
	for _, p := range d.Payments {
		assert.Equal(t, "by card", p.Note)
	}
	assert.Equal(t, "3", d.Paid.String())
	assert.Error(t, r.Billing.Pay(r.Ctx(), 999, false, map[string]string{"amount": "1"}), "of no commission")
	assert.NoError(t, r.Billing.Pay(r.Ctx(), 0, true, map[string]string{"amount": "1"}), "rent is of none")
	assert.Error(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "0"}))
	assert.Error(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "-4"}))
}

// A commission whose boards nobody can price, or that is gone, says so and is not taken for one of nothing.
func TestACommissionThatIsNotThere(t *testing.T) {
	r := studiotest.Open(t)
	_, err := r.Billing.Deal(r.Ctx(), 999)
	assert.Error(t, err)
	assert.Error(t, r.Billing.Show(r.Ctx(), 999, "a sketch"))
	assert.Error(t, r.Billing.Approve(r.Ctx(), 999, "by letter", nil))
	_, err = r.Billing.TilesOf(r.Ctx(), 999)
	assert.NoError(t, err, "it has none")
}
