package billing_test

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studiotest"
)

// 6 dm² at 10 are 60; less 10 % are 54, and 12.50 for delivery 66.50; 19 % of that are
// 12.64 (12.635 rounded away from nothing); 79.14 to pay, 40 % of it 31.66 before.
func TestACommissionAddsUp(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	q := r.Deal(t, c.ID).Total.Quote
	for what, v := range map[string]decimal.Decimal{"60": q.List, "6": q.Discount, "66.5": q.Net, "12.64": q.Tax,
		"79.14": q.Gross, "31.66": q.Deposit, "47.48": q.Remainder} {
		assert.Equal(t, what, v.String())
	}
}

// From asked to paid, one step after the other.
func TestTheStepsOfACommission(t *testing.T) {
	r := studiotest.Open(t)
	c, n, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": "Nothing yet"})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Equal(t, billing.StepTile, r.Deal(t, c.ID).Next.Step)
	c, p := r.Ordered(t)
	step := func(want billing.Step) billing.Deal {
		t.Helper()
		d := r.Deal(t, c.ID)
		require.Equal(t, want, d.Next.Step)
		return d
	}
	make := func(kind string) {
		t.Helper()
		_, err := r.Documents.Make(r.Ctx(), c.ID, kind, "en", "")
		require.NoError(t, err)
	}
	step(billing.StepQuote)
	make(billing.Quote)
	step(billing.StepApproval)
	_, err = r.Documents.Make(r.Ctx(), c.ID, billing.Confirmation, "en", "")
	assert.Error(t, err, "nothing was agreed")
	require.Error(t, r.Billing.Approve(r.Ctx(), c.ID, " ", nil), "an approval says how")
	require.NoError(t, r.Billing.Approve(r.Ctx(), c.ID, "on the phone", nil))
	make(billing.Confirmation)
	step(billing.StepInvoice1)
	make(billing.Deposit)
	step(billing.StepDeposit)
	require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "31,66"}))
	step(billing.StepPour)

	_, n, err = r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev,
		map[string]string{"state": string(commissions.Ready)})
	require.NoError(t, err)
	assert.Contains(t, msg.Say(n.Errors["state"], msg.English), "coat to pour", "not ready while a board is not")

	for _, l := range r.Plan(p).Plan.Layers {
		if l.Coat != nil {
			require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, plan.PourKey(l.ID), r.Clock.Now()))
		}
	}
	step(billing.StepHand)
	_, n, err = r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev,
		map[string]string{"state": string(commissions.Handed)})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	d := step(billing.StepInvoice)
	assert.Equal(t, "47.48", d.Open().String())
	assert.False(t, d.Cured.IsZero())
	for _, kind := range []string{billing.Delivery, billing.Care, billing.Label, billing.Certificate, billing.Invoice} {
		make(kind)
	}
	step(billing.StepPayment)
	require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "47.48"}))
	step(billing.StepDone)
	y, err := r.Billing.Year(r.Ctx(), 2026)
	require.NoError(t, err)
	assert.Equal(t, "79.14", y.Total.Income.String())
	assert.Equal(t, 1, y.Total.Made)
	assert.Equal(t, 1, y.Total.Sold)
	assert.Equal(t, "0.06", y.Area.String())
	for i, m := range y.Months {
		boards := 0
		for _, p := range m.Pieces {
			boards += p.Count
		}
		assert.Equal(t, m.Made, boards, "what hangs in month %d is what was made in it", i+1)
	}
}

// What is changed after it was agreed is said with what it costs, and asks again.
func TestAChangeAfterTheApproval(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	require.NoError(t, r.Billing.Approve(r.Ctx(), c.ID, "by letter", nil))
	assert.Nil(t, r.Deal(t, c.ID).Changes)
	r.Edit(p, map[string]string{"size": "30 x 30 cm"})
	d := r.Deal(t, c.ID)
	require.NotNil(t, d.Changes)
	// 9 dm² at 10, less 10 %, with 12.50 and 19 %: 111.27 (111.265 rounded), 32.13 more
	assert.Equal(t, "32.13", d.Changes.Price.String())
	words := d.Changes.Words(d.Total.Money().Text)
	assert.Contains(t, msg.Say(words, msg.English), "was changed")
	assert.Contains(t, msg.Say(words, msg.English), "32.13")
	assert.Equal(t, billing.StepAgain, d.Next.Step)
	require.NoError(t, r.Billing.Approve(r.Ctx(), c.ID, "again", nil))
	d = r.Deal(t, c.ID)
	assert.Nil(t, d.Changes)
	assert.Len(t, d.Approvals, 2, "what was agreed before stays")
}

// Another day, or another price, after it was agreed is told and asks again, each by itself.
func TestAnotherDayAfterTheApproval(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	save := func(typed map[string]string) billing.Deal {
		t.Helper()
		_, n, err := r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev, typed)
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		return r.Deal(t, c.ID)
	}
	save(map[string]string{"due": "2026-06-01"})
	require.NoError(t, r.Billing.Approve(r.Ctx(), c.ID, "by letter", nil))
	require.Nil(t, r.Deal(t, c.ID).Changes)
	d := save(map[string]string{"due": "2026-06-08"})
	require.NotNil(t, d.Changes)
	assert.True(t, d.Changes.Due)
	assert.True(t, d.Changes.Price.IsZero())
	assert.Equal(t, billing.StepAgain, d.Next.Step)
	d = save(map[string]string{"due": "2026-06-01", "delivery": "20"})
	require.NotNil(t, d.Changes)
	assert.False(t, d.Changes.Due)
	// 54 and 20 for delivery with 19 %: 88.06, where 79.14 were agreed
	assert.Equal(t, "8.92", d.Changes.Price.String())
	assert.Equal(t, billing.StepAgain, d.Next.Step)
}

// Money paid back is spent, not earned, and what is open grows by it again.
func TestMoneyPaidBack(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	pay := func(spent bool, amount string) {
		require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, spent, map[string]string{"amount": amount}))
	}
	pay(false, "50")
	pay(true, "20")
	d := r.Deal(t, c.ID)
	assert.Equal(t, "30", d.Paid.String())
	assert.Equal(t, "49.14", d.Open().String())
	y, err := r.Billing.Year(r.Ctx(), 2026)
	require.NoError(t, err)
	assert.Equal(t, "50", y.Total.Income.String())
	assert.Equal(t, "20", y.Total.Spent.String())
}

// An agreed price stays to the cent when what it was made of changes; what is changed
// on purpose is said and asks again.
func TestAnAgreedPriceStands(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	require.NoError(t, r.Billing.Approve(r.Ctx(), c.ID, "by letter", nil))
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{"per_area": "20"}, nil)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	d := r.Deal(t, c.ID)
	assert.Equal(t, "79.14", d.Total.Gross.String())
	assert.Equal(t, "31.66", d.Total.Quote.Deposit.String())
	assert.Nil(t, d.Changes)
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": string(prices.Own), "own": "100"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	d = r.Deal(t, c.ID)
	// 100 less 10 %, with 12.50 and 19 %: 121.98 (121.975 rounded)
	assert.Equal(t, "121.98", d.Total.Gross.String())
	assert.Equal(t, billing.StepAgain, d.Next.Step)
}

func TestMoneyThatCannotBe(t *testing.T) {
	r := studiotest.Open(t)
	_, p := r.Ordered(t)
	for key, bad := range map[string]string{"tax": "120 %", "margin": "-3 %", "deposit": "much", "hour_rate": "1e9",
		"digits": "7"} {
		_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{key: bad}, nil)
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], "%s %s", key, bad)
	}
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{"margin": "60 %", "gallery": "40 %"}, nil)
	require.NoError(t, err)
	assert.NotEmpty(t, n.Errors["margin"], "together they leave nothing")
	_, n, err = r.Prices.SaveTerms(r.Ctx(), 0, map[string]string{"tax": "7 %"}, nil)
	require.NoError(t, err)
	assert.Contains(t, n.Errors["currency"], "another page")
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": "own", "own": "0"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["own"], "above zero")
	a, n, err := r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": string(prices.Own), "own": "1.250,00"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	assert.Equal(t, "1250", a.Own.String())
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"own": "9"})
	require.NoError(t, err)
	assert.NotEmpty(t, n.Errors, "two tabs: the second is told")
	assert.Error(t, r.Billing.Pay(r.Ctx(), 1, false, map[string]string{"amount": "0"}))
	assert.Error(t, r.Billing.Pay(r.Ctx(), 1, false, map[string]string{"amount": "5", "on": "2027-01-01"}), "not yet")
	assert.Error(t, r.Documents.SetLogo(r.Ctx(), strings.NewReader("no picture")))
}
