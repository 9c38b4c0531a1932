package stock_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/reorder"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studiotest"
)

func TestAnEmptyStudioOwnsNothing(t *testing.T) {
	r := studiotest.Open(t)
	l, err := r.Stock.Ledger(r.Ctx())
	require.NoError(t, err)
	require.NotEmpty(t, l.Items)
	for _, i := range l.Items {
		assert.Zero(t, i.OnHand, i.Name)
		assert.Empty(t, i.Entries, i.Name)
	}
}

// Bought less used, put right by a count, in the order in which it happened; what was
// entered is never changed.
func TestTheLedgerOfAResin(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	of := studiotest.ResinOf(p.Spec)
	require.NoError(t, r.Stock.Buy(r.Ctx(), of,
		map[string]string{"amount": "2 kits", "price": "1.234,50", "bought": "2026-01-05", "best_before": "2026-02-01",
			"supplier": "The chandler"}))
	two := r.Have(t, of)
	require.Positive(t, two)
	require.NoError(t, r.Stock.Take(r.Ctx(), of, false, "100 mL", "a sample"))
	require.NoError(t, r.Stock.Take(r.Ctx(), of, true, "40 mL", ""))
	assert.InDelta(t, two-60, r.Have(t, of), 1e-9)
	require.NoError(t, r.Stock.Count(r.Ctx(), of, "900 mL", "spilt"))
	assert.InDelta(t, 900, r.Have(t, of), 1e-9)
	l, err := r.Stock.Ledger(r.Ctx())
	require.NoError(t, err)
	item, _ := l.Of(of)
	require.Len(t, item.Lots, 1)
	assert.Equal(t, "1234.5", item.Lots[0].Price.String())
	assert.Equal(t, "The chandler", item.Lots[0].Supplier)
	require.NoError(t, r.Stock.Open(r.Ctx(), of, item.Lots[0].ID))
	l, err = r.Stock.Ledger(r.Ctx())
	require.NoError(t, err)
	item, _ = l.Of(of)
	assert.False(t, item.Lots[0].Opened.IsZero())
	for _, bad := range []map[string]string{{"amount": "-1 L"}, {"amount": "much"}, {"amount": "0"},
		{"amount": "1 L", "price": "ten"}, {"amount": "1 L", "bought": "soon"}, {"amount": "1 L", "bought": "2190-01-01"},
		{"amount": "99999 L"}} {
		assert.Error(t, r.Stock.Buy(r.Ctx(), of, bad), "%v", bad)
	}
	assert.Error(t, r.Stock.Count(r.Ctx(), of, "1 L", " "), "a count has a reason")
	assert.InDelta(t, 900, r.Have(t, of), 1e-9, "what was refused changed nothing")
}

// A pour takes its plan, what is typed afterwards the difference, and a mark that is
// taken back puts it back.
func TestAPourTakesFromTheStock(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	of := studiotest.ResinOf(p.Spec)
	require.NoError(t, r.Stock.Buy(r.Ctx(), of, map[string]string{"amount": "4 L", "price": "200"}))
	g, n, err := r.Stock.SaveGoods(r.Ctx(), 0, 0,
		map[string]string{"name": "Gloves", "unit": "pairs", "take": "2", "each": "pour", "pack": "50", "price": "12.50"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	gloves := stock.Thing{Kind: store.Goods, ID: g.ID}
	v, err := r.Agenda.Plan(r.Ctx(), p)
	require.NoError(t, err)
	total := float64(v.Plan.Coats[0].Total)
	key := plan.PourKey(plan.FirstCoat)
	for range 2 { // said twice it is taken once
		require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, key, r.Clock.Now()))
		assert.InDelta(t, 4000-total, r.Have(t, of), 1e-6)
		assert.InDelta(t, -2, r.Have(t, gloves), 1e-9, "what was never bought is owed, not hidden")
	}
	_, err = r.Bench.RecordUse(r.Ctx(), p.ID, plan.FirstCoat, fmt.Sprintf("%.0f mL", total+100))
	require.NoError(t, err)
	assert.InDelta(t, 4000-total-100, r.Have(t, of), 0.6)
	require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, key, r.Clock.Now()))
	assert.InDelta(t, 4000-total-100, r.Have(t, of), 0.6, "the plan does not overrule what was recorded")
	price, err := r.Prices.Price(r.Ctx(), v)
	require.NoError(t, err)
	for _, l := range price.Cost.Lines {
		if l.Thing == of {
			want := decimal.NewFromFloat(total + 100).Mul(decimal.New(5, -2)) // 200 for 4 L
			assert.InDelta(t, want.InexactFloat64(), l.Actual.InexactFloat64(), 0.05)
		}
	}
}

func TestWhatRunsShortIsSaidWithItsDay(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	of := studiotest.ResinOf(p.Spec)
	lines, err := r.Reorder.Lines(r.Ctx())
	require.NoError(t, err)
	assert.Empty(t, reorder.Short(lines), "what was never counted is not short")
	require.NoError(t, r.Stock.Count(r.Ctx(), of, "10 mL", "all there is"))
	lines, err = r.Reorder.Lines(r.Ctx())
	require.NoError(t, err)
	find := func() reorder.Line {
		for _, l := range lines {
			if l.Thing == of {
				return l
			}
		}
		t.Fatal("the resin is not there")
		return reorder.Line{}
	}
	l := find()
	require.NotNil(t, l.Worst)
	assert.Equal(t, p.ID, l.Worst.Piece)
	assert.False(t, l.Short.IsZero())
	assert.Contains(t, msg.Say(l.Words("metric", r.Clock.Now()), msg.English), p.Name)
	assert.Positive(t, l.Packs())
	require.NotEmpty(t, reorder.Orders(lines))
	n, err := r.Stock.Receive(r.Ctx(), map[stock.Thing]string{of: fmt.Sprintf("%d packs", l.Packs())}, nil, "")
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	lines, err = r.Reorder.Lines(r.Ctx())
	require.NoError(t, err)
	assert.True(t, find().Short.IsZero(), "what was ordered covers it")
	_, err = r.Stock.Receive(r.Ctx(), map[stock.Thing]string{of: " "}, nil, "")
	assert.Error(t, err)
	require.NoError(t, r.Stock.Buy(r.Ctx(), of,
		map[string]string{"amount": "1 L", "bought": "2025-01-05",
			"best_before": r.Clock.Now().Add(-48 * time.Hour).Format(time.DateOnly)}))
	lines, err = r.Reorder.Lines(r.Ctx())
	require.NoError(t, err)
	require.Len(t, find().Old, 1)
	assert.Contains(t, msg.Say(find().Old[0].Words("It"), msg.English), "expired")
}

// The first parts that meet take the plan from the stock; taken back they put it back,
// a rehearsal takes nothing, and what is left over goes to the piece it fills.
func TestABenchDayTakesFromTheStock(t *testing.T) {
	r := studiotest.Open(t)
	rehearsed := r.Day(map[string]string{}, 60)
	p, err := r.Pieces.Piece(r.Ctx(), rehearsed.PieceID)
	require.NoError(t, err)
	of := studiotest.ResinOf(p.Spec)
	r.UntilMet(rehearsed)
	assert.Zero(t, r.Have(t, of), "a rehearsal takes nothing")
	b := r.Day(map[string]string{}, 0)
	assert.Zero(t, r.Have(t, of), "nothing has met yet")
	b = r.UntilMet(b)
	took := r.Have(t, of)
	assert.Negative(t, took)
	b, err = r.Bench.Log().Press(r.Ctx(), b.ID, b.Rev, false, session.TakeBack)
	require.NoError(t, err)
	assert.InDelta(t, 0, r.Have(t, of), 1e-6, "taken back it is put back")
	b = r.UntilMet(b)
	assert.InDelta(t, took, r.Have(t, of), 1e-6)
	v, err := r.Pieces.Piece(r.Ctx(), b.PieceID)
	require.NoError(t, err)
	left, err := r.Bench.Leftover(r.Ctx(), b.ID,
		bench.Rest{Mould: "coaster", Cups: []string{v.Layers[0].Coat.Colours[0].ID}})
	require.NoError(t, err)
	assert.InDelta(t, took, r.Have(t, of), 1e-6, "a leftover takes nothing new")
	l, err := r.Stock.Ledger(r.Ctx())
	require.NoError(t, err)
	from, _ := l.TakenFor(b.PieceID)
	to, _ := l.TakenFor(left.ID)
	assert.InDelta(t, 25, to[of], 1e-9, "a coaster holds 25 mL")
	assert.InDelta(t, -took-25, from[of], 1e-6)
}

// A coat that is poured a second time at the bench takes its resin a second time, and what
// is taken back of that day is put back.
func TestACoatBegunAnewIsBookedAgain(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{"name": "Mudflat"}, 0)
	p := r.ReadPiece(b.PieceID)
	c := r.Plan(p).Plan.Coat(plan.FirstCoat)
	resin := stock.Thing{Kind: store.Resins, ID: c.Product.ID}
	require.NoError(t, r.Stock.Buy(r.Ctx(), resin,
		map[string]string{"amount": "5000 mL", "price": "100", "bought": "2026-01-05"}))
	full := r.Have(t, resin)
	for !b.Finished() {
		b = r.Press(b, 2*time.Minute)
	}
	assert.InDelta(t, full-float64(c.Total), r.Have(t, resin), 0.01)

	again, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	require.NotEqual(t, b.ID, again.ID)
	assert.InDelta(t, full-float64(c.Total), r.Have(t, resin), 0.01, "nothing met yet")
	again = r.UntilMet(again)
	assert.InDelta(t, full-2*float64(c.Total), r.Have(t, resin), 0.01)
	again, err = r.Bench.Log().Press(r.Ctx(), again.ID, again.Rev, false, session.TakeBack)
	require.NoError(t, err)
	assert.InDelta(t, full-float64(c.Total), r.Have(t, resin), 0.01, "taken back")
	for !again.Finished() {
		again = r.Press(again, 2*time.Minute)
	}
	assert.InDelta(t, full-2*float64(c.Total), r.Have(t, resin), 0.01, "to its end")
}

// What was weighed is not written over by a plan, nor by what is typed afterwards; what is
// typed is written over by the scale. Said twice nothing changes, and what was added at the
// bench stands beside all of it until the whole is typed.
func TestTheScaleKnowsBest(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	resin := stock.Thing{Kind: store.Resins, ID: studiotest.ResinOf(p.Spec).ID}
	say := func(from stock.Source, amount float64) float64 {
		t.Helper()
		require.NoError(t, r.DB.Write(r.Ctx(), "settle", func(tx *store.Tx) error {
			return stock.Settle(r.Ctx(), tx, p.ID, plan.FirstCoat, from, stock.Amounts{resin: amount}, r.Clock.Now())
		}))
		return -r.Have(t, resin)
	}
	assert.InDelta(t, 300, say(stock.Planned, 300), 1e-9)
	assert.InDelta(t, 310, say(stock.Planned, 310), 1e-9, "the plan changed before it was poured")
	assert.InDelta(t, 290, say(stock.Recorded, 290), 1e-9)
	assert.InDelta(t, 290, say(stock.Planned, 310), 1e-9, "a plan is not better than what was typed")
	assert.InDelta(t, 287.5, say(stock.Weighed, 287.5), 1e-9)
	assert.InDelta(t, 287.5, say(stock.Weighed, 287.5), 1e-9, "said twice")
	assert.InDelta(t, 287.5, say(stock.Recorded, 290), 1e-9, "nor is what was typed better than the scale")
	assert.InDelta(t, 287.5, say(stock.Planned, 310), 1e-9)
	assert.InDelta(t, 307.5, say(stock.Added, 20), 1e-9, "mixed on top")
	assert.InDelta(t, 307.5, say(stock.Added, 20), 1e-9)
	assert.InDelta(t, 282.5, say(stock.Weighed, 262.5), 1e-9, "weighed anew, with what was added")
}
