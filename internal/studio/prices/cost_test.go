package prices_test

import (
	"fmt"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studiotest"
	"jevvo/internal/words"
)

// terms saves typed terms on those that are there.
func terms(t *testing.T, r *studiotest.Room, typed map[string]string) {
	t.Helper()
	now, err := r.Prices.Terms(r.Ctx())
	require.NoError(t, err)
	_, n, err := r.Prices.SaveTerms(r.Ctx(), now.Rev, typed, nil)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
}

// bought is a piece whose resin costs five cents a millilitre, with gloves at a quarter a pair.
func bought(t *testing.T, r *studiotest.Room) (p pieces.Piece, resin, gloves stock.Thing) {
	t.Helper()
	p = r.Piece(map[string]string{"count": "2"})
	resin = studiotest.ResinOf(p.Spec)
	require.NoError(t, r.Stock.Buy(r.Ctx(), resin, map[string]string{"amount": "8 L", "price": "400"}))
	g, n, err := r.Stock.SaveGoods(r.Ctx(), 0, 0, map[string]string{"name": "Gloves", "unit": "pairs", "take": "2",
		"each": "pour", "pack": "50", "price": "12.50"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	return p, resin, stock.Thing{Kind: store.Goods, ID: g.ID}
}

func costOf(t *testing.T, r *studiotest.Room, p pieces.Piece) prices.Cost {
	t.Helper()
	c, err := r.Prices.Cost(r.Ctx(), r.Plan(r.ReadPiece(p.ID)))
	require.NoError(t, err)
	return c
}

func lineOf(t *testing.T, c prices.Cost, kind prices.Kind, of stock.Thing) prices.Line {
	t.Helper()
	for _, l := range c.Lines {
		if l.Kind == kind && l.Thing == of {
			return l
		}
	}
	t.Fatalf("no line %s %v of %v", kind, of, c.Lines)
	return prices.Line{}
}

func cents(v float64) decimal.Decimal { return decimal.NewFromFloat(v).Round(2) }

// What a piece will cost, by hand: its millilitres at five cents, a pair of gloves twice a pour at a
// quarter, its hours at the rate and for the room, and a tenth of all that on top; each line is rounded
// and the sum is that of the lines.
func TestAPlannedCost(t *testing.T) {
	r := studiotest.Open(t)
	p, resin, gloves := bought(t, r)
	terms(t, r, map[string]string{"hour_rate": "30", "hourly_room": "4", "overhead": "10 %"})
	v := r.Plan(p)
	total, hands := 0.0, 0
	for i := range v.Plan.Coats {
		total += float64(v.Plan.Coats[i].Total)
	}
	for _, task := range v.Plan.Tasks {
		if task.Kind != plan.TaskLook {
			hands += task.Hands
		}
	}
	c := costOf(t, r, p)
	assert.Equal(t, cents(total*0.05).String(), lineOf(t, c, prices.Resin, resin).Planned.String())
	pairs := decimal.New(5, -1).Mul(decimal.NewFromInt(int64(len(v.Plan.Coats)))) // two at a quarter
	assert.True(t, lineOf(t, c, prices.Material, gloves).Planned.Equal(pairs))
	assert.InDelta(t, float64(hands)/60, c.PlannedHours.InexactFloat64(), 0.005, "to a hundredth of an hour")
	work, room := lineOf(t, c, prices.Work, stock.Thing{}), lineOf(t, c, prices.Room, stock.Thing{})
	assert.True(t, work.Planned.Equal(c.PlannedHours.Mul(decimal.NewFromInt(30))))
	assert.True(t, room.Planned.Equal(c.PlannedHours.Mul(decimal.NewFromInt(4))))
	assert.True(t, work.Actual.IsZero(), "nothing has been done yet")
	assert.Contains(t, msg.Say(work.PlannedOf, msg.English), fmt.Sprintf("%d h", hands/60))
	of := lineOf(t, c, prices.Resin, resin)
	assert.NotNil(t, of.PlannedOf)
	assert.Nil(t, of.ActualOf, "nothing has been taken yet")
	sum, material := decimal.Zero, decimal.Zero
	for _, l := range c.Lines {
		if l.Kind != prices.Overhead {
			sum = sum.Add(l.Planned)
		}
		if l.Kind == prices.Resin || l.Kind == prices.Pigment || l.Kind == prices.Material {
			material = material.Add(l.Planned)
		}
	}
	overhead := lineOf(t, c, prices.Overhead, stock.Thing{})
	assert.True(t, overhead.Planned.Equal(sum.Mul(decimal.New(1, -1)).Round(2)))
	assert.True(t, c.Planned.Equal(sum.Add(overhead.Planned)), "%s is not %s", c.Planned, sum)
	assert.True(t, c.Material.Equal(material))
	assert.Equal(t, 2, c.Boards)
	face := v.Width.Millimetres() * v.Height.Millimetres() * 2 / 1e4 // dm² of both
	assert.InDelta(t, face, c.Area.InexactFloat64(), 1e-6)
	assert.Empty(t, c.Unpriced)
	assert.True(t, c.Calculated().Equal(c.Planned), "until all is made")

	_, n, err := r.Stock.SaveGoods(r.Ctx(), 0, 0, map[string]string{"name": "Paste wax", "take": "1", "each": "pour"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	assert.Equal(t, []string{"Paste wax"}, costOf(t, r, p).Unpriced, "it is taken and has no price")
	terms(t, r, map[string]string{"hourly_room": "0", "overhead": "0"})
	for _, l := range costOf(t, r, p).Lines {
		assert.NotContains(t, []prices.Kind{prices.Room, prices.Overhead}, l.Kind, "what costs nothing has no line")
	}
}

// Once all coats are poured the cost is what was taken and what the bench took; while one is not, the plan's.
func TestAnActualCost(t *testing.T) {
	r := studiotest.Open(t)
	p, resin, _ := bought(t, r)
	terms(t, r, map[string]string{"hour_rate": "30", "overhead": "10 %"})
	planned := costOf(t, r, p)
	coats := r.Plan(p).Plan.Coats
	for i, c := range coats {
		before := costOf(t, r, p)
		assert.False(t, before.Made)
		assert.True(t, before.Calculated().Equal(before.Planned))
		require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, plan.PourKey(c.ID), r.Clock.Now()))
		_, err := r.Bench.RecordUse(r.Ctx(), p.ID, c.ID, "600 mL")
		require.NoError(t, err)
		got := lineOf(t, costOf(t, r, p), prices.Resin, resin)
		assert.InDelta(t, 30*float64(i+1), got.Actual.InexactFloat64(), 0.05, "600 mL a coat at five cents")
	}
	c := costOf(t, r, p)
	require.True(t, c.Made)
	assert.NotNil(t, lineOf(t, c, prices.Resin, resin).ActualOf)
	assert.True(t, c.Calculated().Equal(c.Actual))
	assert.True(t, c.Hours().Equal(c.ActualHours))
	assert.True(t, c.ActualHours.LessThan(c.PlannedHours), "what was not done took no hands")
	assert.True(t, c.ActualHours.IsPositive())
	assert.False(t, c.Material.Equal(planned.Material), "the material is what was taken")
	sum := decimal.Zero
	for _, l := range c.Lines {
		sum = sum.Add(l.Actual)
	}
	assert.True(t, c.Actual.Equal(sum), "the overhead is among the lines")
	assert.True(t, planned.Hours().Equal(planned.PlannedHours))
}

// A pour at the bench counts as long as it took, not as long as it was planned.
func TestTheBenchSaysHowLong(t *testing.T) {
	r := studiotest.Open(t)
	terms(t, r, map[string]string{"hour_rate": "60"})
	p := r.Made("By the clock")
	benches, err := r.Bench.Log().BenchesOf(r.Ctx(), p.ID, false)
	require.NoError(t, err)
	require.Len(t, benches, 1)
	worked := benches[0].Worked()
	require.Positive(t, worked)
	c := costOf(t, r, p)
	assert.InDelta(t, worked.Hours(), c.ActualHours.InexactFloat64(), 0.005)
	work := lineOf(t, c, prices.Work, stock.Thing{})
	assert.True(t, work.Actual.Equal(c.ActualHours.Mul(decimal.NewFromInt(60))))
	assert.Equal(t, words.Spoken(60*c.ActualHours.InexactFloat64()), work.ActualOf)
}

// Regression: a new studio adds a tenth for overhead, keeps three tenths and asks for half on order.
func TestTheTermsOfANewStudio(t *testing.T) {
	now := prices.DefaultTerms()
	for want, got := range map[string]decimal.Decimal{"0.1": now.Overhead, "0.3": now.Margin, "0.5": now.Deposit} {
		assert.True(t, decimal.RequireFromString(want).Equal(got), "%s is %s", want, got)
	}
}

// The test tiles of a commission are paid for by its boards, by their faces, to the cent.
func TestTilesAreShared(t *testing.T) {
	r := studiotest.Open(t)
	com, small := r.Ordered(t)
	large, err := r.Commissions.AddBoard(r.Ctx(), com.ID)
	require.NoError(t, err)
	large = r.Edit(large, map[string]string{"size": "40 x 30 cm"})
	plain := costOf(t, r, small)
	tile, err := r.Commissions.AddTile(r.Ctx(), com.ID, "", "swipe")
	require.NoError(t, err)
	ofTile := costOf(t, r, tile)
	require.True(t, ofTile.Planned.IsPositive())
	share := func(p pieces.Piece) decimal.Decimal {
		return lineOf(t, costOf(t, r, p), prices.Tiles, stock.Thing{}).Planned
	}
	assert.True(t, share(small).Add(share(large)).Equal(ofTile.Planned), "%s and %s", share(small), share(large))
	assert.InDelta(t, ofTile.Planned.InexactFloat64()/3, share(small).InexactFloat64(), 0.011, "6 of 18 dm²")
	assert.True(t, costOf(t, r, small).Planned.GreaterThan(plain.Planned))
	for _, l := range ofTile.Lines {
		assert.NotEqual(t, prices.Tiles, l.Kind, "a tile does not pay for itself")
	}
	total, err := r.Prices.Total(r.Ctx(), com.ID, decimal.Zero, decimal.Zero)
	require.NoError(t, err)
	require.Len(t, total.Items, 2, "a tile is not asked for")
	assert.Equal(t, "180", total.List.String(), "18 dm² at 10")
	assert.True(t, total.Cost.Equal(costOf(t, r, small).Planned.Add(costOf(t, r, large).Planned)))
	assert.True(t, total.Hours.Equal(costOf(t, r, small).PlannedHours.Add(costOf(t, r, large).PlannedHours)))
}

// A millilitre costs its resin and what colours it, over all that is poured with its colours.
func TestAMillilitre(t *testing.T) {
	r := studiotest.Open(t)
	p, _, _ := bought(t, r) // gloves are not in the cup
	v := r.Plan(p)
	per, priced, err := r.Prices.PerMillilitre(r.Ctx(), v)
	require.NoError(t, err)
	require.True(t, priced)
	resin, poured := 0.0, 0.0
	for _, c := range v.Plan.Coats {
		resin, poured = resin+float64(c.Total)*0.05, poured+float64(c.Amount.Total)
	}
	for _, l := range costOf(t, r, p).Lines {
		if l.Kind == prices.Pigment {
			resin += l.Planned.InexactFloat64()
		}
	}
	assert.InDelta(t, resin/poured, per.InexactFloat64(), 1e-4)
	v.Plan.Coats = nil
	_, priced, err = r.Prices.PerMillilitre(r.Ctx(), v)
	require.NoError(t, err)
	assert.False(t, priced, "nothing is poured")
}

// A discount and a delivery that are asked for one piece stand in the sum of its commission, each once.
func TestWhatAPieceIsAsked(t *testing.T) {
	r := studiotest.Open(t)
	com, p := r.Ordered(t)
	r.Edit(p, map[string]string{"count": "3"})
	asked, n, err := r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"discount": "20 %", "delivery": "7"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	total, err := r.Prices.Total(r.Ctx(), com.ID, decimal.Zero, decimal.NewFromInt(5))
	require.NoError(t, err)
	require.Len(t, total.Items, 1)
	it := total.Items[0]
	assert.Equal(t, "60 36 144", it.Each.String()+" "+it.Less.String()+" "+it.Sum.String(), "3 of 60, a fifth less")
	assert.Equal(t, "12", total.Quote.Delivery.String())
	assert.Equal(t, "156", total.Net.String())
	require.NoError(t, total.At(decimal.New(50, -2)))
	assert.Equal(t, "84", total.Net.String(), "half of 144, and delivery")

	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, asked.Rev+7, map[string]string{"discount": "0 %"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors, "method", "it was made on another revision")
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 1, map[string]string{"method": string(prices.Own)})
	require.NoError(t, err)
	assert.Contains(t, n.Errors, "own")
	all, err := r.Prices.AllAsked(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, "0.2", all[p.ID].Discount.String(), "what was refused changed nothing")

	as, err := r.Prices.AsIf(r.Ctx(), p.ID, r.Plan(r.Edit(r.ReadPiece(p.ID), map[string]string{"size": "20 x 20 cm"})))
	require.NoError(t, err)
	assert.Equal(t, "96", as.String(), "3 boards of 4 dm² at 10, a fifth less")
}

// Profit is what is left of the net price without delivery once the cost is paid.
func TestProfit(t *testing.T) {
	r := studiotest.Open(t)
	_, p := r.Ordered(t)
	_, n, err := r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": string(prices.Own), "own": "500",
		"delivery": "20"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	got, err := r.Prices.Price(r.Ctx(), r.Plan(r.ReadPiece(p.ID)))
	require.NoError(t, err)
	assert.True(t, got.Profit.Equal(decimal.NewFromInt(500).Sub(got.Cost.Planned)), "%s", got.Profit)
	assert.True(t, got.Quote.Cost.Equal(got.Cost.Planned))
}

// Terms that leave nothing for the cost are refused, and so are those of a page that is old.
func TestTermsThatCannotBe(t *testing.T) {
	r := studiotest.Open(t)
	for field, typed := range map[string]map[string]string{
		"margin": {"margin": "60 %", "gallery": "40 %"}, "tax": {"tax": "101 %"}, "digits": {"digits": "5"},
		"pay_days": {"pay_days": "366"}, "valid_days": {"valid_days": "0"}, "hour_rate": {"hour_rate": "-1"},
	} {
		_, n, err := r.Prices.SaveTerms(r.Ctx(), 0, typed, nil)
		require.NoError(t, err)
		assert.Contains(t, n.Errors, field)
	}
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 4, map[string]string{"tax": "19 %"}, nil)
	require.NoError(t, err)
	assert.Contains(t, n.Errors, "currency")
	now, err := r.Prices.Terms(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, prices.DefaultTerms(), now)
	_, n, err = r.Prices.SaveTerms(r.Ctx(), 0, map[string]string{"margin": "59 %", "gallery": "40 %"},
		map[string]string{"quote": "With thanks"})
	require.NoError(t, err)
	require.True(t, n.OK(), "what leaves a hundredth can be")
	terms(t, r, map[string]string{"tax": "7 %"})
	now, err = r.Prices.Terms(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"quote": "With thanks"}, now.Texts, "texts that are not sent stay")
	assert.EqualValues(t, 2, now.Rev)
}

// How a price was made is said by its method, with the numbers it was made of.
func TestHowAPriceIsMade(t *testing.T) {
	r := studiotest.Open(t)
	_, p := r.Ordered(t)
	terms(t, r, map[string]string{"gallery": "40 %", "margin": "20 %", "hour_rate": "35", "multiple": "3"})
	for method, want := range map[prices.Method]string{
		"": "6.0 dm² of face at", prices.ByArea: "6.0 dm² of face at", prices.ByCost: "leaves a margin of 20 %",
		prices.ByHour: "hours at", prices.ByMaterial: "times 3", prices.Own: "As entered.",
	} {
		now, err := r.Prices.AllAsked(r.Ctx())
		require.NoError(t, err)
		_, n, err := r.Prices.Ask(r.Ctx(), p.ID, now[p.ID].Rev, map[string]string{"method": string(method), "own": "9",
			"gallery": "yes"})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		got, err := r.Prices.Price(r.Ctx(), r.Plan(r.ReadPiece(p.ID)))
		require.NoError(t, err)
		said := msg.Say(got.How(units.Metric), msg.English)
		assert.Contains(t, said, want)
		if method == prices.Own {
			assert.NotContains(t, said, "gallery")
		} else {
			assert.Contains(t, said, "The gallery keeps 40 % of it.")
		}
	}
}

// Until a studio has said so it has the money and the tax of its language.
func TestTheTermsBeforeTheyAreSaid(t *testing.T) {
	r := studiotest.Open(t)
	for language, want := range map[string][2]string{"en": {"EUR", "VAT"}, "en-US": {"USD", "Sales tax"},
		"de": {"EUR", "MwSt."}} {
		_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"language": language})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		now, err := r.Prices.Terms(r.Ctx())
		require.NoError(t, err)
		assert.Equal(t, want, [2]string{now.Currency, now.TaxName}, language)
		assert.Equal(t, language == "de", now.Comma)
	}
	terms(t, r, map[string]string{"currency": "CHF"})
	_, _, err := r.Setup.Edit(r.Ctx(), map[string]string{"language": "en-US"})
	require.NoError(t, err)
	now, err := r.Prices.Terms(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, "CHF", now.Currency, "what was said stays")
}
