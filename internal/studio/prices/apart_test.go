package prices_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/prices"
	"jevvo/internal/studiotest"
)

// A set that is planned board by board costs what it cost: the price typed for a board of it is asked
// for each.
func TestASetTakenApartKeepsItsPrice(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	p = r.Edit(p, map[string]string{"count": "3"})
	_, n, err := r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": string(prices.Own), "own": "90"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	before := r.Deal(t, c.ID).Total
	boards, err := r.Pieces.Apart(r.Ctx(), p.ID)
	require.NoError(t, err)
	require.Len(t, boards, 3)
	after := r.Deal(t, c.ID).Total
	require.Len(t, after.Items, 3)
	for _, it := range after.Items {
		assert.Equal(t, "90", it.Each.String(), it.Name)
	}
	assert.Equal(t, before.Quote.Gross.String(), after.Quote.Gross.String())
}
