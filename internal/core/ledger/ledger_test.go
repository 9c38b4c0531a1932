package ledger_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/ledger"
)

func day(n int) time.Time { return time.Date(2026, 3, n, 0, 0, 0, 0, time.UTC) }

func TestEntriesInTheirOrder(t *testing.T) {
	entries := []ledger.Entry{
		{day(5), ledger.Use, 300}, {day(1), ledger.Buy, 1000}, {day(3), ledger.Count, 950}, {day(3), ledger.Leftover, 20},
		{day(6), ledger.Return, 5},
	}
	assert.Equal(t, 675.0, ledger.OnHand(entries))
	assert.Equal(t, day(5), entries[0].At, "what was given stays")
	assert.Equal(t, -40.0, ledger.OnHand([]ledger.Entry{{day(1), ledger.Use, 40}}), "below nothing is said")
	assert.Zero(t, ledger.OnHand(nil))
	assert.Error(t, ledger.Entry{Kind: "steal"}.Check())
	assert.Error(t, ledger.Entry{Kind: ledger.Buy, Amount: -1}.Check())
	assert.NoError(t, ledger.Entry{Kind: ledger.Buy, Amount: 1}.Check())
}

func TestTheFirstDayThatIsNotCovered(t *testing.T) {
	have := []ledger.Entry{{day(1), ledger.Buy, 500}}
	s := ledger.Of(have, []ledger.Reserved{{day(9), 200}, {day(4), 200}, {day(9), 100}})
	assert.True(t, s.Short.IsZero(), "500 cover 500")
	assert.Equal(t, 0.0, s.Free)
	s = ledger.Of(have, []ledger.Reserved{{day(9), 200}, {day(4), 200}, {day(9), 101}, {day(12), 1}})
	assert.Equal(t, day(9), s.Short)
	assert.Equal(t, -2.0, s.Free)
	both := []ledger.Reserved{{day(9), 300}, {day(9), 300}}
	assert.Equal(t, day(9), ledger.Of(have, both).Short, "each is covered, both are not")
	assert.Equal(t, day(2), ledger.Of(nil, []ledger.Reserved{{day(2), 1}}).Short)
	s = ledger.Of([]ledger.Entry{{day(1), ledger.Buy, 0.3}}, []ledger.Reserved{{day(2), 0.1}, {day(3), 0.2}})
	assert.True(t, s.Short.IsZero(), "a tenth and two are three tenths")
}

// Neumaier's own example (ZAMM 54, 1974): what a plain sum makes nothing of is two.
func TestASumLosesNothing(t *testing.T) {
	buy := func(v float64) ledger.Entry { return ledger.Entry{At: day(1), Kind: ledger.Buy, Amount: v} }
	used := ledger.Entry{At: day(2), Kind: ledger.Use, Amount: 1e100}
	assert.Equal(t, 2.0, ledger.OnHand([]ledger.Entry{buy(1), buy(1e100), buy(1), used}))
	assert.Equal(t, 2.0, ledger.OnHand([]ledger.Entry{used, buy(1e100), buy(1), buy(1)}), "in the order of time")
}

// What is less than rounding is no want; a drop is.
func TestRoundingIsNoWant(t *testing.T) {
	short := func(have, want float64) bool {
		return !ledger.Against(have, []ledger.Reserved{{day(2), want}}).Short.IsZero()
	}
	assert.False(t, short(1000, 1000+5e-10))
	assert.True(t, short(1000, 1000.05))
	assert.True(t, short(0.001, 0.002))
	assert.True(t, short(-5, 0), "what was used and never written down is missing already")
}

func TestEntriesOfOneMoment(t *testing.T) {
	left, count := ledger.Entry{At: day(3), Kind: ledger.Leftover, Amount: 20},
		ledger.Entry{At: day(3), Kind: ledger.Count, Amount: 950}
	last := ledger.Entry{At: day(4), Kind: ledger.Use, Amount: 1}
	assert.Equal(t, 949.0, ledger.OnHand([]ledger.Entry{last, left, count}))
	assert.Equal(t, 969.0, ledger.OnHand([]ledger.Entry{last, count, left}))
	many := []ledger.Entry{last} // more than a sort keeps in order by itself
	for n := range 100 {
		many = append(many, ledger.Entry{At: day(3), Kind: ledger.Count, Amount: float64(n)})
	}
	assert.Equal(t, 98.0, ledger.OnHand(many), "the last count of a moment holds")
	require.NoError(t, ledger.Entry{Kind: ledger.Count}.Check(), "there may be none left")
	require.Error(t, ledger.Entry{Kind: ledger.Count, Amount: math.NaN()}.Check())
	require.Error(t, ledger.Entry{Kind: ledger.Count, Amount: math.Inf(1)}.Check())
}

// Stock is what was bought and put back less what was used, in whatever order it is
// written down; a count makes good all that was before it.
func TestLedgerLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kinds := []ledger.Kind{ledger.Buy, ledger.Use, ledger.Leftover, ledger.Return}
		var entries []ledger.Entry
		want := 0.0
		for n := range rapid.IntRange(0, 40).Draw(t, "n") {
			e := ledger.Entry{At: day(1).Add(time.Duration(n) * time.Minute), Kind: rapid.SampledFrom(kinds).Draw(t, "kind"),
				Amount: float64(rapid.IntRange(0, 100000).Draw(t, "amount"))}
			entries = append(entries, e)
			if e.Kind == ledger.Use {
				want -= e.Amount
			} else {
				want += e.Amount
			}
		}
		mixed := rapid.Permutation(entries).Draw(t, "order")
		require.Equal(t, want, ledger.OnHand(mixed))
		counted := append(mixed, ledger.Entry{At: day(2), Kind: ledger.Count, Amount: 77})
		require.Equal(t, 77.0, ledger.OnHand(counted))
	})
}

// BenchmarkStock50000 sums 50 000 entries; wanted under 20 ms.
func BenchmarkStock50000(b *testing.B) {
	entries := make([]ledger.Entry, 50_000)
	for i := range entries {
		entries[i] = ledger.Entry{At: day(1).Add(time.Duration(i*7919%50_000) * time.Minute),
			Kind: []ledger.Kind{ledger.Buy, ledger.Use}[i%2], Amount: float64(i % 100)}
	}
	for b.Loop() {
		ledger.OnHand(entries)
	}
}
