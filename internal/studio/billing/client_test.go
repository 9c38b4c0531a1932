package billing_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studiotest"
)

// A client is found by the name, however it is typed, with what was ordered, what was bought
// without an order, what they like and what they paid; test tiles are none of it.
func TestAClientIsAllThatWasOrderedAndBought(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	_, n, err := r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev,
		map[string]string{"client": " Maren  Quill ", "place": "stair", "size": "60 x 90 cm", "likes": "much clear"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	_, err = r.Commissions.AddTile(r.Ctx(), c.ID, "", "")
	require.NoError(t, err)
	require.NoError(t, r.Billing.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "31.66"}))
	_, n, err = r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": "Another", "client": "Maren Quills"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	sell := func(name, to, price string) int64 {
		own := r.Piece(map[string]string{"name": name})
		_, n, err := r.Prices.Ask(r.Ctx(), own.ID, 0, map[string]string{"sold": "2026-02-01", "for": price, "to": to})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		return own.ID
	}
	name := r.Deal(t, c.ID).Client
	bought := sell("Sold by itself", "  "+name+" ", "120")
	sell("To somebody else", "Ivo Brandt", "500")
	asked := r.Piece(map[string]string{"name": "Only asked"})
	_, n, err = r.Prices.Ask(r.Ctx(), asked.ID, 0, map[string]string{"for": "80", "to": name})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)

	found, err := r.Billing.Client(r.Ctx(), " "+name)
	require.NoError(t, err)
	require.Len(t, found.Deals, 1, "not who is called almost so")
	assert.Equal(t, c.ID, found.Deals[0].ID)
	var ids []int64
	for _, of := range found.Pieces {
		ids = append(ids, of.ID)
	}
	assert.ElementsMatch(t, []int64{p.ID, bought}, ids)
	assert.Equal(t, "151.66", found.Paid.String(), "31.66 and 120")
	assert.Equal(t, []string{"much clear"}, found.Likes)
	assert.Equal(t, []string{"stair, 60 x 90 cm"}, found.Places)
	assert.Empty(t, found.Asks, "the next step is the painter's")

	_, err = r.Documents.Make(r.Ctx(), c.ID, billing.Quote, "en", "")
	require.NoError(t, err)
	found, err = r.Billing.Client(r.Ctx(), name)
	require.NoError(t, err)
	require.Len(t, found.Asks, 1, "the approval waits for them")
	nobody, err := r.Billing.Client(r.Ctx(), "  ")
	require.NoError(t, err)
	assert.Empty(t, nobody.Deals, "a commission without a client belongs to nobody")
	assert.Empty(t, nobody.Pieces)
}

// Late ones lead, then the sooner; what only has to be poured, is over or far off presses nobody.
func TestWhatPresses(t *testing.T) {
	r := studiotest.Open(t)
	order := func(name string, at time.Duration) int64 {
		t.Helper()
		was := r.Clock.T
		r.Clock.T = was.Add(at)
		c, n, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": name})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		r.Clock.T = was
		return c.ID
	}
	old := order("asked for last week", -7*24*time.Hour)
	today := order("asked for today", 0)
	off := order("called off", 0)
	_, n, err := r.Commissions.Save(r.Ctx(), off, r.Deal(t, off).Rev, map[string]string{"state": string(commissions.Off)})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	late, _ := r.Ordered(t)
	_, err = r.Documents.Make(r.Ctx(), late.ID, billing.Quote, "en", "")
	require.NoError(t, err)
	r.Clock.T = r.Clock.T.AddDate(0, 0, r.Deal(t, late.ID).Total.ValidDays+1)
	list, err := r.Billing.Pressing(r.Ctx())
	require.NoError(t, err)
	var ids []int64
	for _, d := range list {
		ids = append(ids, d.ID)
	}
	assert.Equal(t, []int64{late.ID, old, today}, ids)
}

// What was shown is kept with its day, and something has to be said.
func TestWhatWasShownToTheClient(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	err := r.Billing.Show(r.Ctx(), c.ID, "  ")
	require.Error(t, err)
	require.NoError(t, r.Billing.Show(r.Ctx(), c.ID, " two tiles "))
	shown := r.Deal(t, c.ID).Showings
	require.Len(t, shown, 1)
	assert.Equal(t, "two tiles", shown[0].What)
	assert.WithinDuration(t, r.Clock.Now(), shown[0].At, time.Second)
}

// A board taken out after it was agreed, and one added, are said by their names.
func TestBoardsAddedAndTakenOut(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	require.NoError(t, r.Billing.Approve(r.Ctx(), c.ID, "by letter", nil))
	added, err := r.Commissions.AddBoard(r.Ctx(), c.ID)
	require.NoError(t, err)
	require.NoError(t, r.Pieces.Remove(r.Ctx(), p.ID, false))
	d := r.Deal(t, c.ID)
	require.NotNil(t, d.Changes)
	said := msg.Say(d.Changes.Words(d.Total.Money().Text), msg.English)
	assert.Contains(t, said, added.Name+" was added")
	assert.Contains(t, said, p.Name+" was removed")
	assert.Equal(t, billing.StepAgain, d.Next.Step)
}
