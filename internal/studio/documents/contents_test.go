package documents_test

import (
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/documents"
	"jevvo/internal/studiotest"
)

var narrow = regexp.MustCompile(`[\x{202f}\x{a0}]`)

// sums are the totals of a document, label and amount.
func sums(d documents.Doc) []string {
	var out []string
	for _, t := range d.Totals {
		out = append(out, narrow.ReplaceAllString(t.Label+" "+t.Amount, " "))
	}
	return out
}

// Each document says what it is for: a quote until when it is valid, an invoice by when it is
// due and what was paid, a delivery note no prices. 60 of boards less 6, with 12.50 and 19 %
// (TestACommissionAddsUp).
func TestWhatEachDocumentSays(t *testing.T) {
	r := studiotest.Open(t) // 2 March 2026
	c, _ := r.Ordered(t)
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{"tax_number": "12/345", "bank": "LT00 1"}, nil)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	make := func(kind string) documents.Doc {
		t.Helper()
		p, err := r.Documents.Make(r.Ctx(), c.ID, kind, "en", "")
		require.NoError(t, err)
		return p.Doc
	}
	fact := func(d documents.Doc, label string) string {
		for _, f := range d.Facts {
			if f.Label == label {
				return f.Value
			}
		}
		return ""
	}
	whole := []string{"Sum 60.00 EUR", "Discount −6.00 EUR", "Delivery 12.50 EUR", "Net 66.50 EUR", "VAT 19 % 12.64 EUR",
		"To pay 79.14 EUR"}
	quote := make(billing.Quote)
	terms := r.Deal(t, c.ID).Total.Terms
	assert.Equal(t, r.Clock.T.AddDate(0, 0, terms.ValidDays).Format("2 January 2006"), fact(quote, "Valid until"))
	assert.Equal(t, append(whole, "Deposit on order 31.66 EUR"), sums(quote))
	assert.Equal(t, []string{"Tax number 12/345", "Account LT00 1"}, quote.Foot)
	assert.Empty(t, fact(quote, "Due by"))

	deposit := make(billing.Deposit)
	assert.Equal(t, "31.66", deposit.Asks)
	require.Len(t, deposit.Items, 1)
	assert.Equal(t, "Deposit of 40 %", deposit.Items[0].Text)
	// 31.66 holds 31.66 − 31.66 / 1.19 = 5.05 of tax
	assert.Equal(t, []string{"To pay 31.66 EUR", "includes VAT 19 % 5.05 EUR"}, sums(deposit))
	assert.Equal(t, r.Clock.T.AddDate(0, 0, terms.PayDays).Format("2 January 2006"), fact(deposit, "Due by"))

	require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "31.66"}))
	invoice := make(billing.Invoice)
	assert.Equal(t, "79.14", invoice.Asks)
	assert.Equal(t, append(whole, "Paid so far −31.66 EUR", "Balance 47.48 EUR"), sums(invoice))

	note := make(billing.Delivery)
	require.Len(t, note.Items, 1)
	assert.Empty(t, note.Items[0].Each+note.Items[0].Sum+note.Heads[2]+note.Heads[3])
	assert.Empty(t, note.Totals)
	assert.Empty(t, note.Foot, "no bank on a note of delivery")
}

// What hangs behind a board says how many there are of it; its certificate is signed; a card
// of care follows the product and says nothing of days that are not known.
func TestLabelsAndCare(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	p = r.Edit(p, map[string]string{"count": "2"})
	text := func(kind, lang string) (out string) {
		t.Helper()
		d, err := r.Documents.Make(r.Ctx(), c.ID, kind, lang, "")
		require.NoError(t, err)
		for _, part := range d.Parts {
			out += part.Text + "\n"
		}
		return out
	}
	label := text(billing.Label, "en")
	assert.Regexp(t, `Edition: 1 of 2, 2 of 2`, label)
	assert.NotContains(t, label, "Signed")
	assert.Contains(t, text(billing.Certificate, "en"), "Signed: ___")
	care := text(billing.Care, "de")
	assert.Contains(t, care, "Ganz ausgehärtet am")
	assert.Contains(t, care, "Licht:")
	r.Edit(p, map[string]string{"count": "1"})
	assert.Contains(t, text(billing.Label, "en"), "Edition: one of one")
}

// A date asked for that the plan does not keep stands beside the one it does.
func TestAQuoteThatIsTooLateSaysSo(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	labels := func() map[string]bool {
		d, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", "")
		require.NoError(t, err)
		out := map[string]bool{}
		for _, f := range d.Facts {
			out[f.Label] = true
		}
		return out
	}
	due := func(day string) commissions.Commission {
		c, n, err := r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev, map[string]string{"due": day})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		return c
	}
	due("2026-12-24")
	assert.True(t, labels()["Ready around"])
	assert.False(t, labels()["Wanted by"])
	due("2026-03-03")
	assert.True(t, labels()["Wanted by"])
}
