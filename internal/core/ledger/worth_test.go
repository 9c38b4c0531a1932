package ledger_test

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/ledger"
)

func dec(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func priced(n int, k ledger.Kind, amount float64, price string) ledger.Priced {
	return ledger.Priced{Entry: ledger.Entry{At: day(n), Kind: k, Amount: amount}, Price: dec(price)}
}

// The example of every bookkeeping primer (common practice): 100 at 10 and 100 at 12
// bought, 150 used, first in first out: 1 000 + 600 are used, 50 at 12 stay.
func TestFirstInFirstOut(t *testing.T) {
	w := ledger.Value([]ledger.Priced{
		priced(3, ledger.Use, 150, "0"), priced(1, ledger.Buy, 100, "1000"), priced(2, ledger.Buy, 100, "1200"),
	}, dec("0"))
	assert.Equal(t, "1600", w.Costs[0].String())
	require.Len(t, w.Lots, 1)
	assert.Equal(t, 50.0, w.Lots[0].Left)
	assert.Equal(t, 2, w.Lots[0].At)
	assert.Equal(t, "600", w.Value.String())
}

func TestWhatWasNeverBoughtCostsTheUsual(t *testing.T) {
	w := ledger.Value([]ledger.Priced{priced(1, ledger.Use, 30, "0"), priced(2, ledger.Buy, 100, "200"),
		priced(3, ledger.Use, 10, "0")}, dec("1.5"))
	assert.Equal(t, "45", w.Costs[0].String())
	assert.Equal(t, "20", w.Costs[2].String())
	assert.Equal(t, 60.0, w.Lots[0].Left, "what was owed came out of the purchase")
	w = ledger.Value([]ledger.Priced{priced(1, ledger.Buy, 100, "200"), priced(2, ledger.Use, 40, "0"),
		priced(3, ledger.Return, 15, "0"), priced(4, ledger.Count, 70, "0"), priced(5, ledger.Use, 70, "0")}, dec("9"))
	assert.Equal(t, "-30", w.Costs[2].String(), "put back at what it cost")
	assert.Equal(t, "140", w.Costs[4].String(), "a count that finds less takes from the oldest and costs no piece")
	assert.Empty(t, w.Lots)
}

// A gift, a purchase of nothing, a use of nothing, a count that is right: none breaks the sum, and
// each is worth what it says.
func TestEntriesAtTheirBounds(t *testing.T) {
	w := ledger.Value([]ledger.Priced{
		priced(1, ledger.Buy, 10, "0"), priced(2, ledger.Buy, 0, "5"), priced(3, ledger.Use, 0, "0"),
		priced(4, ledger.Return, 2, "0"), priced(5, ledger.Count, 12, "0"), priced(6, ledger.Count, 15, "0"),
	}, dec("1.5"))
	assert.Equal(t, "22.5", w.Value.String(), "15 at the usual price")
	assert.Equal(t, "-3", w.Costs[3].String())
	require.Len(t, w.Lots, 3, "bought, put back, found")
	assert.Equal(t, []float64{10, 2, 3}, []float64{w.Lots[0].Left, w.Lots[1].Left, w.Lots[2].Left})

	w = ledger.Value([]ledger.Priced{priced(1, ledger.Use, 30, "0"), priced(2, ledger.Buy, 20, "60"),
		priced(3, ledger.Buy, 20, "100"), priced(4, ledger.Use, 4, "0"), priced(5, ledger.Return, 1, "0"),
		priced(6, ledger.Use, 0, "0"), priced(7, ledger.Return, 1, "0")}, dec("2"))
	assert.Equal(t, "20", w.Costs[3].String(), "the first purchase was owed whole")
	assert.Equal(t, []string{"-5", "-5"}, []string{w.Costs[4].String(), w.Costs[6].String()}, "at the newest use's price")
	assert.Equal(t, 6.0, w.Lots[0].Left)

	w = ledger.Value([]ledger.Priced{priced(1, ledger.Buy, 20, "60"), priced(2, ledger.Use, 30, "0"),
		priced(3, ledger.Count, 4, "0")}, dec("2"))
	assert.Equal(t, "80", w.Costs[1].String(), "20 at 3, 10 at the usual 2")
	require.Len(t, w.Lots, 1)
	assert.Equal(t, 4.0, w.Lots[0].Left, "ten were missing, four are there: fourteen were found")
}

// What is left by rounding alone is no lot, and what is short by it is not owed.
func TestRoundingIsNoLot(t *testing.T) {
	for bought, used := range map[float64]float64{300000.3: 200000.2, 300000.4: 200000.3} { // short of it, and over
		w := ledger.Value([]ledger.Priced{priced(1, ledger.Buy, bought, "900000"), priced(2, ledger.Use, 100000.1, "0"),
			priced(3, ledger.Use, used, "0"), priced(4, ledger.Buy, 1, "3")}, dec("9"))
		require.Len(t, w.Lots, 1)
		assert.Equal(t, 1.0, w.Lots[0].Left)
		assert.Equal(t, "3", w.Value.String())
	}
}

// What was there after each entry is what a stock of the entries so far has.
func TestRunning(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kinds := []ledger.Kind{ledger.Buy, ledger.Use, ledger.Leftover, ledger.Return, ledger.Count}
		var entries []ledger.Priced
		var plain []ledger.Entry
		for n := range rapid.IntRange(0, 20).Draw(t, "n") {
			e := ledger.Entry{At: day(1 + n/3), Kind: rapid.SampledFrom(kinds).Draw(t, "kind"),
				Amount: rapid.Float64Range(0, 1e6).Draw(t, "amount")}
			entries, plain = append(entries, ledger.Priced{Entry: e}), append(plain, e)
		}
		for i, after := range ledger.Running(entries) {
			require.Equal(t, ledger.OnHand(plain[:i+1]), after)
		}
	})
}

// What lies in the lots is what the ledger says is there; nothing is worth less than
// nothing, and money in is money used plus money left where no count interfered.
func TestWorthLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var entries []ledger.Priced
		paid := decimal.Zero
		for n := range rapid.IntRange(1, 30).Draw(t, "n") {
			e := ledger.Priced{Entry: ledger.Entry{At: day(1).Add(time.Duration(n) * time.Hour),
				Kind:   rapid.SampledFrom([]ledger.Kind{ledger.Buy, ledger.Use}).Draw(t, "kind"),
				Amount: float64(rapid.IntRange(1, 64).Draw(t, "amount"))}}
			if e.Kind == ledger.Buy {
				e.Price = decimal.NewFromFloat(e.Amount).Mul(decimal.NewFromInt(int64(rapid.IntRange(1, 9).Draw(t, "each"))))
				paid = paid.Add(e.Price)
			}
			entries = append(entries, e)
		}
		plain := make([]ledger.Entry, len(entries))
		for i, e := range entries {
			plain[i] = e.Entry
		}
		w, sum, used := ledger.Value(entries, decimal.Zero), 0.0, decimal.Zero
		for _, l := range w.Lots {
			sum += l.Left
		}
		for _, c := range w.Costs {
			used = used.Add(c)
		}
		have := ledger.OnHand(plain)
		if have >= 0 {
			require.InDelta(t, have, sum, 1e-9)
		}
		require.True(t, used.Add(w.Value).LessThanOrEqual(paid))
	})
}
