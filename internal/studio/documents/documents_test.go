package documents_test

import (
	"bytes"
	"fmt"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/billing"
	"jevvo/internal/studiotest"
)

// What is invoiced is not invoiced again; another sum is.
func TestNothingIsInvoicedTwice(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	for _, kind := range []string{billing.Deposit, billing.Invoice} {
		first, err := r.Documents.Make(r.Ctx(), c.ID, kind, "en", "")
		require.NoError(t, err)
		_, err = r.Documents.Make(r.Ctx(), c.ID, kind, "de", "once more")
		require.ErrorContains(t, err, first.Number)
	}
	require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "20"}))
	_, err := r.Documents.Make(r.Ctx(), c.ID, billing.Invoice, "en", "")
	require.Error(t, err, "the rest was invoiced with the whole")
	r.Edit(p, map[string]string{"size": "30 x 30 cm"})
	for _, kind := range []string{billing.Deposit, billing.Invoice} {
		_, err := r.Documents.Make(r.Ctx(), c.ID, kind, "en", "")
		assert.NoError(t, err)
	}
}

// Fifty at once: every paper has its number, and the invoices run on without a gap;
// what was made is not changed by what comes after.
func TestPapersAtOnce(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	orders := make([]int64, 50)
	for i := range orders {
		c, n, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": fmt.Sprintf("Order %d", i)})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		_, err = r.Commissions.AddBoard(r.Ctx(), c.ID)
		require.NoError(t, err)
		orders[i] = c.ID
	}
	first, err := r.Documents.Make(r.Ctx(), c.ID, billing.Deposit, "de", "Grüße")
	require.NoError(t, err)
	assert.Equal(t, "I2026-0001", first.Number)
	assert.Equal(t, "Anzahlungsrechnung", first.Title)
	before, err := r.Documents.PDF(r.Ctx(), first.ID)
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(before, []byte("%PDF")))
	var wait sync.WaitGroup
	for _, id := range orders {
		wait.Go(func() {
			_, err := r.Documents.Make(r.Ctx(), id, billing.Deposit, "en", "")
			assert.NoError(t, err)
		})
	}
	wait.Wait()
	seen := map[string]bool{}
	for _, id := range append(orders, c.ID) {
		for _, v := range r.Deal(t, id).Papers {
			assert.False(t, seen[v.Number], v.Number)
			seen[v.Number] = true
		}
	}
	assert.Len(t, seen, 51)
	assert.True(t, seen["I2026-0051"])
	r.Edit(p, map[string]string{"size": "60 x 90 cm"})
	after, err := r.Documents.PDF(r.Ctx(), first.ID)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	require.NoError(t, r.Documents.Send(r.Ctx(), first.ID, "maren@islandferry.example", ""))
	letters, err := r.Mail.Letters(r.Ctx())
	require.NoError(t, err)
	require.Len(t, letters, 1)
	assert.Equal(t, "maren@islandferry.example", letters[0].To)
	for _, bad := range []string{"", "maren", "a b@c", "x@", "@y", "a@b\nBcc: c@d"} {
		assert.Error(t, r.Documents.Send(r.Ctx(), first.ID, bad, ""), bad)
	}
}

// BenchmarkQuotePaper makes the quote of a board, from the deal to the kept PDF; wanted
// under 300 ms.
func BenchmarkQuotePaper(b *testing.B) {
	r := studiotest.Open(b)
	c, _ := r.Ordered(b)
	for b.Loop() {
		if _, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", ""); err != nil {
			b.Fatal(err)
		}
	}
}

// What the boards would cost, were they made as a tile is: by area it is the same for
// every tile, and the same as the boards are asked.
func TestBoardsAsATile(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	_, err := r.Commissions.AddTile(r.Ctx(), c.ID, "Tile one", "swipe")
	require.NoError(t, err)
	tiles, err := r.Billing.TilesOf(r.Ctx(), c.ID)
	require.NoError(t, err)
	require.Len(t, tiles, 1)
	d := r.Deal(t, c.ID)
	gross, ok, err := r.Billing.LikeTile(r.Ctx(), d, tiles[0])
	require.NoError(t, err)
	require.True(t, ok)
	assert.Equal(t, d.Total.Gross.String(), gross.String())
	p, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", "")
	require.NoError(t, err)
	require.Len(t, p.Options, 1)
	assert.Equal(t, string(d.Total.Money().Text(gross)), p.Options[0].Amount)
}

// A client is named once, with or without the name in the address.
func TestAClientIsNamedOnce(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	for _, address := range []string{"Quay 3\nSallow", " Ada Lindqvist \nQuay 3\nSallow",
		"ADA LINDQVIST\nQuay 3\nSallow"} {
		now, err := r.Commissions.Commission(r.Ctx(), c.ID)
		require.NoError(t, err)
		_, n, err := r.Commissions.Save(r.Ctx(), c.ID, now.Rev, map[string]string{"client": "Ada Lindqvist",
			"address": address})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		made, err := r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", "")
		require.NoError(t, err)
		require.Len(t, made.To, 3)
		assert.Regexp(t, "(?i)^ada lindqvist$", made.To[0])
		assert.Equal(t, []string{"Quay 3", "Sallow"}, made.To[1:])
	}
}
