package reorder

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/stock"
)

func coat(n int, amount float64, piece int64, cups ...string) Need {
	return Need{Day: day(n), Amount: amount, Piece: piece, Name: "Quay", Coat: msg.ID("First coat"), Cups: cups}
}

// It says what is there and what is needed by the first day that is not covered, and until when
// to order; what cannot come in time any more is said as that.
func TestWhatRunsShortIsSaid(t *testing.T) {
	say := func(l Line, now time.Time) string { return msg.Say(l.Words(units.Metric, now), msg.English) }
	late := func(i *stock.Item) { i.LeadDays = 6 }
	needs := func() []Need { return []Need{coat(12, 300, 1), coat(20, 300, 2), coat(25, 50, 3)} }
	l := lineOf(owned(500, late), needs(), day(2))
	assert.Equal(t, "Ferry clear runs short on Fri 20 Mar for the first coat of Quay: 500 mL in stock, 600 mL needed by "+
		"then. Order by Sat 14 Mar.", say(l, day(14)))
	assert.Contains(t, say(l, day(15)), "Delivery takes 6 days: pour later, or buy it nearby.")
	at := lineOf(owned(500, nil), needs(), day(2))
	assert.NotContains(t, say(at, day(2)), "Order")
	assert.Empty(t, say(lineOf(owned(650, late), needs(), day(2)), day(2)))
	cups := lineOf(owned(1, nil), []Need{coat(9, 2, 1, "Rust")}, day(2))
	assert.Contains(t, say(cups, day(2)), "for the cup Rust of Quay")
	cups = lineOf(owned(1, nil), []Need{coat(9, 2, 1, "Rust", "Foam")}, day(2))
	assert.Contains(t, say(cups, day(2)), "for the cups Rust, Foam of Quay")
}

// A piece hears of what runs short of its own coats, and of what is too old of what it takes.
func TestWhatOnePieceLacks(t *testing.T) {
	short := lineOf(owned(500, nil), []Need{coat(12, 300, 1), coat(20, 150, 2), coat(25, 100, 3), coat(26, 10, 3)}, day(2))
	assert.Empty(t, For([]Line{short}, 1), "it is covered")
	assert.Empty(t, For([]Line{short}, 2))
	assert.Empty(t, For([]Line{short}, 9), "it takes nothing of it")
	got := For([]Line{short}, 3)
	require.Len(t, got, 1)
	assert.Equal(t, day(25), got[0].Worst.Day, "the first of its coats that is not covered")
	old := lineOf(owned(500, func(i *stock.Item) { i.Lots = []stock.Lot{{Opened: day(1).AddDate(-1, 0, 0)}} }),
		[]Need{coat(12, 300, 1)}, day(2))
	require.Len(t, For([]Line{old}, 1), 1)
	assert.Nil(t, For([]Line{old}, 1)[0].Worst)
	assert.Empty(t, For([]Line{old}, 2))
}

// Orders are by supplier, the first that is to go out at the head; each by its first day.
func TestOrdersBySupplier(t *testing.T) {
	line := func(name, supplier string, by int, order float64) Line {
		l := Line{Item: owned(0, nil), OrderBy: day(by), Order: order}
		l.Name, l.Supplier, l.Pack, l.Price = name, supplier, 250, decimal.NewFromInt(12)
		l.Short = day(by)
		return l
	}
	lines := []Line{line("Clear", "Harbour", 9, 500), line("White", "", 4, 250), line("Rust", "Harbour", 3, 250),
		line("Gold", "Dune", 9, 250), line("Foam", "Dune", 9, 0)}
	orders := Orders(lines)
	require.Len(t, orders, 3)
	assert.Equal(t, []string{"Harbour", "", "Dune"},
		[]string{orders[0].Supplier, orders[1].Supplier, orders[2].Supplier})
	assert.Equal(t, []time.Time{day(3), day(4), day(9)}, []time.Time{orders[0].By, orders[1].By, orders[2].By})
	assert.Len(t, orders[0].Lines, 2)
	assert.Len(t, orders[2].Lines, 1, "nothing to order is no line")
	assert.Equal(t, "24", orders[0].Lines[0].Cost().String(), "two packs")
	var names []string
	for _, l := range Short(append(lines, Line{Item: owned(9, nil)})) {
		names = append(names, l.Name)
	}
	assert.Equal(t, []string{"Rust", "White", "Clear", "Foam", "Gold"}, names, "by day, then by name")
	loose := line("Sheet", "", 9, 3)
	loose.Pack = 0
	assert.Zero(t, loose.Packs())
}
