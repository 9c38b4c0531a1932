package reorder

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/ledger"
	"jevvo/internal/store"
	"jevvo/internal/studio/stock"
)

func day(n int) time.Time { return time.Date(2026, 3, n, 0, 0, 0, 0, time.Local) }

// owned is a resin of which so much is there.
func owned(onHand float64, change func(*stock.Item)) stock.Item {
	bought := stock.Entry{}
	bought.At, bought.Kind, bought.Amount = day(1), ledger.Buy, onHand
	i := stock.Item{
		Thing: stock.Thing{Kind: store.Resins, ID: 1}, Name: "Ferry clear", OnHand: onHand, Entries: []stock.Entry{bought},
	}
	if change != nil {
		change(&i)
	}
	return i
}

// What runs short is ordered so many days before as it takes to come; without a delay, on the
// day itself.
func TestItIsOrderedInTime(t *testing.T) {
	needs := func() []Need { return []Need{{Day: day(20), Amount: 700, Name: "Quay"}} }
	slow := lineOf(owned(500, func(i *stock.Item) { i.LeadDays = 6 }), needs(), day(2))
	assert.Equal(t, day(14), slow.OrderBy)
	assert.False(t, slow.Late(day(14)))
	assert.True(t, slow.Late(day(15)))
	assert.Equal(t, day(20), lineOf(owned(500, nil), needs(), day(2)).OrderBy)
	assert.True(t, lineOf(owned(700, nil), needs(), day(2)).OrderBy.IsZero(), "700 cover 700")
}

// Two needs on one day are one want: each is covered alone, both are not, and it is the second
// that is not.
func TestTwoNeedsOnOneDay(t *testing.T) {
	l := lineOf(owned(500, nil), []Need{{Day: day(9), Amount: 300, Piece: 2}, {Day: day(9), Amount: 300, Piece: 1}},
		day(2))
	assert.Equal(t, day(9), l.Short)
	require.NotNil(t, l.Worst)
	assert.Equal(t, int64(2), l.Worst.Piece)
	assert.InDelta(t, -100, l.Free, 1e-9)
	assert.InDelta(t, 600, l.Reserved(), 1e-9)
}

// Ordered are whole packs: as many as cover what is missing, and what is to be left at least.
func TestWholePacksAreOrdered(t *testing.T) {
	needs := []Need{{Day: day(9), Amount: 1100}}
	packed := func(i *stock.Item) { i.Pack = 250 }
	l := lineOf(owned(500, packed), needs, day(2))
	assert.InDelta(t, 750, l.Order, 1e-9, "600 are missing")
	assert.Equal(t, 3, l.Packs())
	assert.InDelta(t, 500, lineOf(owned(600, packed), needs, day(2)).Order, 1e-9, "500 are two packs, no more")
	least := lineOf(owned(500, func(i *stock.Item) { i.Pack, i.Least = 250, 600 }), nil, day(2))
	assert.InDelta(t, 250, least.Order, 1e-9)
	assert.Equal(t, day(2), least.OrderBy, "nothing waits for it: today")
	gone := lineOf(owned(500, func(i *stock.Item) { i.Retired = true }), needs, day(2))
	assert.Zero(t, gone.Order, "what is used up is not bought again")
	assert.Equal(t, day(9), gone.Short)
}

// Nobody knows that what was never counted runs short.
func TestWhatWasNeverCounted(t *testing.T) {
	l := lineOf(owned(0, func(i *stock.Item) { i.Entries = nil }), []Need{{Day: day(9), Amount: 300}}, day(2))
	assert.True(t, l.Short.IsZero())
	assert.Zero(t, l.Order)
	assert.Empty(t, Short([]Line{l}))
}
