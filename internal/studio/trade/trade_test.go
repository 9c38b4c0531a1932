package trade_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/verdict"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/prices"
	"jevvo/internal/studio/trade"
	"jevvo/internal/studiotest"
)

// 6 dm² at 10 are 60; less 10 % are 54, and 12.50 for delivery 66.50; 19 % of that are
// 12.64 (12.635 rounded away from nothing); 79.14 to pay, 40 % of it 31.66 before.
func TestACommissionAddsUp(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	q := r.Deal(t, c.ID).Total.Quote
	for what, v := range map[string]decimal.Decimal{"60": q.List, "6": q.Discount, "66.5": q.Net, "12.64": q.Tax,
		"79.14": q.Gross, "31.66": q.Deposit, "47.48": q.Remainder} {
		assert.Equal(t, what, v.String())
	}
}

// From asked to paid, one step after the other.
func TestTheStepsOfACommission(t *testing.T) {
	r := studiotest.Open(t)
	c, n, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": "Nothing yet"})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.Equal(t, trade.StepTile, r.Deal(t, c.ID).Next.Step)
	c, p := r.Ordered(t)
	step := func(want trade.Step) trade.Deal {
		t.Helper()
		d := r.Deal(t, c.ID)
		require.Equal(t, want, d.Next.Step)
		return d
	}
	make := func(kind string) {
		t.Helper()
		_, err := r.Papers.Make(r.Ctx(), c.ID, kind, "en", "")
		require.NoError(t, err)
	}
	step(trade.StepQuote)
	make(trade.Quote)
	step(trade.StepApproval)
	_, err = r.Papers.Make(r.Ctx(), c.ID, trade.Confirmation, "en", "")
	assert.Error(t, err, "nothing was agreed")
	require.Error(t, r.Trade.Approve(r.Ctx(), c.ID, " ", nil), "an approval says how")
	require.NoError(t, r.Trade.Approve(r.Ctx(), c.ID, "on the phone", nil))
	make(trade.Confirmation)
	step(trade.StepInvoice1)
	make(trade.Deposit)
	step(trade.StepDeposit)
	require.NoError(t, r.Trade.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "31,66"}))
	step(trade.StepPour)

	_, n, err = r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev,
		map[string]string{"state": string(commissions.Ready)})
	require.NoError(t, err)
	assert.Contains(t, msg.Say(n.Errors["state"], msg.English), "coat to pour", "not ready while a board is not")

	for _, l := range r.Plan(p).Plan.Layers {
		if l.Coat != nil {
			require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, plan.PourKey(l.ID), r.Clock.Now()))
		}
	}
	step(trade.StepHand)
	_, n, err = r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev,
		map[string]string{"state": string(commissions.Handed)})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	d := step(trade.StepInvoice)
	assert.Equal(t, "47.48", d.Open().String())
	assert.False(t, d.Cured.IsZero())
	for _, kind := range []string{trade.Delivery, trade.Care, trade.Label, trade.Certificate, trade.Invoice} {
		make(kind)
	}
	step(trade.StepPayment)
	require.NoError(t, r.Trade.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "47.48"}))
	step(trade.StepDone)
	y, err := r.Trade.Year(r.Ctx(), 2026)
	require.NoError(t, err)
	assert.Equal(t, "79.14", y.Total.Income.String())
	assert.Equal(t, 1, y.Total.Made)
	assert.Equal(t, 1, y.Total.Sold)
	assert.Equal(t, "0.06", y.Area.String())
}

// What is changed after it was agreed is said with what it costs, and asks again.
func TestAChangeAfterTheApproval(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	require.NoError(t, r.Trade.Approve(r.Ctx(), c.ID, "by letter", nil))
	assert.Nil(t, r.Deal(t, c.ID).Changes)
	r.Edit(p, map[string]string{"size": "30 x 30 cm"})
	d := r.Deal(t, c.ID)
	require.NotNil(t, d.Changes)
	// 9 dm² at 10, less 10 %, with 12.50 and 19 %: 111.27 (111.265 rounded), 32.13 more
	assert.Equal(t, "32.13", d.Changes.Price.String())
	words := d.Changes.Words(d.Total.Money().Text)
	assert.Contains(t, msg.Say(words, msg.English), "was changed")
	assert.Contains(t, msg.Say(words, msg.English), "32.13")
	assert.Equal(t, trade.StepAgain, d.Next.Step)
	require.NoError(t, r.Trade.Approve(r.Ctx(), c.ID, "again", nil))
	d = r.Deal(t, c.ID)
	assert.Nil(t, d.Changes)
	assert.Len(t, d.Approvals, 2, "what was agreed before stays")
}

// Another day, or another price, after it was agreed is told and asks again, each by itself.
func TestAnotherDayAfterTheApproval(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	save := func(typed map[string]string) trade.Deal {
		t.Helper()
		_, n, err := r.Commissions.Save(r.Ctx(), c.ID, r.Deal(t, c.ID).Rev, typed)
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		return r.Deal(t, c.ID)
	}
	save(map[string]string{"due": "2026-06-01"})
	require.NoError(t, r.Trade.Approve(r.Ctx(), c.ID, "by letter", nil))
	require.Nil(t, r.Deal(t, c.ID).Changes)
	d := save(map[string]string{"due": "2026-06-08"})
	require.NotNil(t, d.Changes)
	assert.True(t, d.Changes.Due)
	assert.True(t, d.Changes.Price.IsZero())
	assert.Equal(t, trade.StepAgain, d.Next.Step)
	d = save(map[string]string{"due": "2026-06-01", "delivery": "20"})
	require.NotNil(t, d.Changes)
	assert.False(t, d.Changes.Due)
	// 54 and 20 for delivery with 19 %: 88.06, where 79.14 were agreed
	assert.Equal(t, "8.92", d.Changes.Price.String())
	assert.Equal(t, trade.StepAgain, d.Next.Step)
}

// Money paid back is spent, not earned, and what is open grows by it again.
func TestMoneyPaidBack(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	pay := func(spent bool, amount string) {
		require.NoError(t, r.Trade.Pay(r.Ctx(), c.ID, spent, map[string]string{"amount": amount}))
	}
	pay(false, "50")
	pay(true, "20")
	d := r.Deal(t, c.ID)
	assert.Equal(t, "30", d.Paid.String())
	assert.Equal(t, "49.14", d.Open().String())
	y, err := r.Trade.Year(r.Ctx(), 2026)
	require.NoError(t, err)
	assert.Equal(t, "50", y.Total.Income.String())
	assert.Equal(t, "20", y.Total.Spent.String())
}

// An agreed price stays to the cent when what it was made of changes; what is changed
// on purpose is said and asks again.
func TestAnAgreedPriceStands(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	require.NoError(t, r.Trade.Approve(r.Ctx(), c.ID, "by letter", nil))
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{"per_area": "20"}, nil)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	d := r.Deal(t, c.ID)
	assert.Equal(t, "79.14", d.Total.Gross.String())
	assert.Equal(t, "31.66", d.Total.Quote.Deposit.String())
	assert.Nil(t, d.Changes)
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": string(prices.Own), "own": "100"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	d = r.Deal(t, c.ID)
	// 100 less 10 %, with 12.50 and 19 %: 121.98 (121.975 rounded)
	assert.Equal(t, "121.98", d.Total.Gross.String())
	assert.Equal(t, trade.StepAgain, d.Next.Step)
}

// What is invoiced is not invoiced again; another sum is.
func TestNothingIsInvoicedTwice(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	for _, kind := range []string{trade.Deposit, trade.Invoice} {
		first, err := r.Papers.Make(r.Ctx(), c.ID, kind, "en", "")
		require.NoError(t, err)
		_, err = r.Papers.Make(r.Ctx(), c.ID, kind, "de", "once more")
		require.ErrorContains(t, err, first.Number)
	}
	require.NoError(t, r.Trade.Pay(r.Ctx(), c.ID, false, map[string]string{"amount": "20"}))
	_, err := r.Papers.Make(r.Ctx(), c.ID, trade.Invoice, "en", "")
	require.Error(t, err, "the rest was invoiced with the whole")
	r.Edit(p, map[string]string{"size": "30 x 30 cm"})
	for _, kind := range []string{trade.Deposit, trade.Invoice} {
		_, err := r.Papers.Make(r.Ctx(), c.ID, kind, "en", "")
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
	first, err := r.Papers.Make(r.Ctx(), c.ID, trade.Deposit, "de", "Grüße")
	require.NoError(t, err)
	assert.Equal(t, "I2026-0001", first.Number)
	assert.Equal(t, "Anzahlungsrechnung", first.Title)
	before, err := r.Papers.PDF(r.Ctx(), first.ID)
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(before, []byte("%PDF")))
	var wait sync.WaitGroup
	for _, id := range orders {
		wait.Go(func() {
			_, err := r.Papers.Make(r.Ctx(), id, trade.Deposit, "en", "")
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
	after, err := r.Papers.PDF(r.Ctx(), first.ID)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	require.NoError(t, r.Papers.Send(r.Ctx(), first.ID, "maren@islandferry.example", ""))
	letters, err := r.Post.Letters(r.Ctx())
	require.NoError(t, err)
	require.Len(t, letters, 1)
	assert.Equal(t, "maren@islandferry.example", letters[0].To)
	for _, bad := range []string{"", "maren", "a b@c", "x@", "@y", "a@b\nBcc: c@d"} {
		assert.Error(t, r.Papers.Send(r.Ctx(), first.ID, bad, ""), bad)
	}
}

func TestMoneyThatCannotBe(t *testing.T) {
	r := studiotest.Open(t)
	_, p := r.Ordered(t)
	for key, bad := range map[string]string{"tax": "120 %", "margin": "-3 %", "deposit": "much", "hour_rate": "1e9",
		"digits": "7"} {
		_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{key: bad}, nil)
		require.NoError(t, err)
		assert.NotEmpty(t, n.Errors[key], "%s %s", key, bad)
	}
	_, n, err := r.Prices.SaveTerms(r.Ctx(), 1, map[string]string{"margin": "60 %", "gallery": "40 %"}, nil)
	require.NoError(t, err)
	assert.NotEmpty(t, n.Errors["margin"], "together they leave nothing")
	_, n, err = r.Prices.SaveTerms(r.Ctx(), 0, map[string]string{"tax": "7 %"}, nil)
	require.NoError(t, err)
	assert.Contains(t, n.Errors["currency"], "another page")
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": "own", "own": "0"})
	require.NoError(t, err)
	assert.Contains(t, n.Errors["own"], "nothing")
	a, n, err := r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"method": string(prices.Own), "own": "1.250,00"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	assert.Equal(t, "1250", a.Own.String())
	_, n, err = r.Prices.Ask(r.Ctx(), p.ID, 0, map[string]string{"own": "9"})
	require.NoError(t, err)
	assert.NotEmpty(t, n.Errors, "two tabs: the second is told")
	assert.Error(t, r.Trade.Pay(r.Ctx(), 1, false, map[string]string{"amount": "0"}))
	assert.Error(t, r.Trade.Pay(r.Ctx(), 1, false, map[string]string{"amount": "5", "on": "2027-01-01"}), "not yet")
	assert.Error(t, r.Papers.SetLogo(r.Ctx(), strings.NewReader("no picture")))
}

// A board twice as far along a wall is half as large in the picture when the patch says
// so; the light of the wall falls on it, and beside it nothing changes.
func TestBoardsHangTrueInScale(t *testing.T) {
	r := studiotest.Open(t)
	c, p := r.Ordered(t)
	wall := image.NewRGBA(image.Rect(0, 0, 800, 600))
	for i := range wall.Pix {
		wall.Pix[i] = 200
	}
	var photo bytes.Buffer
	require.NoError(t, png.Encode(&photo, wall))
	id, err := r.Wall.AddRoom(r.Ctx(), c.ID, bytes.NewReader(photo.Bytes()))
	require.NoError(t, err)
	hang := func(typed map[string]string) *bounds {
		t.Helper()
		typed["room"] = "1"
		asked, err := r.Wall.Read(r.Ctx(), typed, []string{"1"})
		require.NoError(t, err)
		asked.Room, asked.Pieces = id, []int64{p.ID}
		hung, err := r.Wall.Hang(r.Ctx(), c.ID, asked)
		require.NoError(t, err)
		data, err := r.Wall.Hung(r.Ctx(), c.ID, hung)
		require.NoError(t, err)
		return changed(t, data)
	}
	// A length of 1 m over 400 pixels: 20 × 30 cm are 80 × 120 of them.
	b := hang(map[string]string{"corners": "0.25,0.5 0.75,0.5", "width": "1 m"})
	assert.InDelta(t, 80, b.w, 5)
	assert.InDelta(t, 120, b.h, 5)
	assert.InDelta(t, 400, b.x+b.w/2, 3, "in the middle of the length")
	// The same metre over half the pixels: half as large.
	b = hang(map[string]string{"corners": "0.25,0.5 0.5,0.5", "width": "1 m"})
	assert.InDelta(t, 40, b.w, 5)
	// A patch turned by a right angle turns the board with it.
	b = hang(map[string]string{"corners": "0.75,0.25 0.75,0.75 0.25,0.75 0.25,0.25", "width": "1 m", "height": "1 m"})
	assert.Greater(t, b.w, b.h)
	for _, bad := range []map[string]string{{"corners": "0,0 1,1 2,2 0,1", "width": "1 m", "height": "1 m", "room": "1"},
		{"corners": "0,0", "room": "1"}, {"corners": "0,0 1,1", "width": "0", "room": "1"},
		{"corners": "0,0 1,1", "width": "1 m"}, {"corners": "x,y 1,1", "width": "1 m", "room": "1"}} {
		asked, err := r.Wall.Read(r.Ctx(), bad, []string{"1"})
		if err == nil {
			asked.Room, asked.Pieces = id, []int64{p.ID}
			_, err = r.Wall.Hang(r.Ctx(), c.ID, asked)
		}
		var refused *form.Refused
		assert.ErrorAs(t, err, &refused, "%v", bad)
	}
}

type bounds struct{ x, y, w, h float64 }

// changed is the box of what is not the wall any more, its shadow left out.
func changed(t *testing.T, data []byte) *bounds {
	t.Helper()
	m, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	box := image.Rectangle{}
	for y := m.Bounds().Min.Y; y < m.Bounds().Max.Y; y++ {
		for x := m.Bounds().Min.X; x < m.Bounds().Max.X; x++ {
			c := color.RGBAModel.Convert(m.At(x, y)).(color.RGBA)
			grey := max(c.R, c.G, c.B)-min(c.R, c.G, c.B) < 24
			if grey && c.R > 100 {
				continue
			}
			box = box.Union(image.Rect(x, y, x+1, y+1))
		}
	}
	return &bounds{float64(box.Min.X), float64(box.Min.Y), float64(box.Dx()), float64(box.Dy())}
}

// BenchmarkQuotePaper makes the quote of a board, from the deal to the kept PDF; wanted
// under 300 ms.
func BenchmarkQuotePaper(b *testing.B) {
	r := studiotest.Open(b)
	c, _ := r.Ordered(b)
	for b.Loop() {
		if _, err := r.Papers.Make(r.Ctx(), c.ID, trade.Quote, "en", ""); err != nil {
			b.Fatal(err)
		}
	}
}

// Pieces are found by what they use, whose they are, how far they are and when they
// were begun, all at once.
func TestPiecesAreFoundByMoreThanAName(t *testing.T) {
	r := studiotest.Open(t)
	_, p := r.Ordered(t)
	other := r.Piece(map[string]string{"name": "Own"})
	found := func(f store.PieceFilter) []int64 {
		t.Helper()
		list, n, err := r.Pieces.Found(r.Ctx(), f, 50, 0)
		require.NoError(t, err)
		require.Len(t, list, n)
		var ids []int64
		for _, v := range list {
			ids = append(ids, v.ID)
		}
		return ids
	}
	assert.ElementsMatch(t, []int64{p.ID, other.ID}, found(store.PieceFilter{}))
	assert.Equal(t, []int64{p.ID}, found(store.PieceFilter{Client: "maren quill, 🎨 שלום"}))
	assert.Equal(t, []int64{other.ID},
		found(store.PieceFilter{Find: "own", State: "open", Month: "2026-03", Technique: other.First().What}))
	assert.Empty(t, found(store.PieceFilter{Month: "2025-03"}))
	assert.Empty(t, found(store.PieceFilter{State: "done"}))
	assert.Empty(t, found(store.PieceFilter{Technique: "' OR 1=1 --"}))
	clients, months, err := r.Pieces.Choices(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, []string{"Maren Quill, 🎨 שלום"}, clients)
	assert.Equal(t, []string{"2026-03"}, months)
}

// A first tile takes the colours that were chosen, the lightest for the cup that is to
// be white, and is planned at once.
func TestAFirstTile(t *testing.T) {
	r := studiotest.Open(t)
	book, err := r.Shelf.Book(r.Ctx())
	require.NoError(t, err)
	ids := map[string]int64{}
	for _, p := range book.Paints {
		ids[p.Name] = p.ID
	}
	p, err := r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, "swipe",
		[]int64{ids["Slate"], ids["Lacing white"], ids["Brine"], ids["Eelgrass"]})
	require.NoError(t, err)
	seen := map[int64]bool{}
	for _, c := range p.First().Coat.Colours {
		seen[c.Pigment] = true
		if c.Role == technique.White {
			assert.Equal(t, "Lacing white", c.Name)
		}
	}
	assert.True(t, seen[ids["Slate"]])
	assert.Positive(t, float64(r.Plan(p).Plan.Coats[0].Total))
	for n := 1; n <= 5; n++ { // as many tinted cups as colours were chosen, whatever the technique is used to
		chosen := []int64{ids["Slate"], ids["Lacing white"], ids["Brine"], ids["Eelgrass"], ids["Rowan red"]}[:n]
		for _, way := range []string{"swipe", "cell", "flow", "blow"} {
			p, err := r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, way, chosen)
			require.NoError(t, err, way)
			var got []int64
			for _, c := range p.First().Coat.Colours {
				if c.Role.Rule().Tints {
					got = append(got, c.Pigment)
				}
			}
			assert.ElementsMatch(t, chosen, got, "%s of %d", way, n)
			for _, said := range r.Plan(p).Plan.Diagnostics() {
				fair := n == 1 && said.Part == verdict.PartColours // one colour is a poor swipe
				assert.True(t, fair || said.Weight == verdict.Settled, "%s of %d, as we propose it: %v", way, n, said)
			}
		}
	}
	for _, bad := range [][]int64{nil, {999}, {1, 2, 3, 4, 5, 6}} {
		_, err := r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, "swipe", bad)
		assert.Error(t, err, "%v", bad)
	}
	_, err = r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, "juggling", []int64{ids["Slate"]})
	assert.Error(t, err)
	_, err = r.Pieces.FirstTile(r.Ctx(), 999, "swipe", []int64{ids["Slate"]})
	assert.Error(t, err)
}

// What the boards would cost, were they made as a tile is: by area it is the same for
// every tile, and the same as the boards are asked.
func TestBoardsAsATile(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	_, err := r.Commissions.AddTile(r.Ctx(), c.ID, "Tile one", "swipe")
	require.NoError(t, err)
	tiles, err := r.Trade.TilesOf(r.Ctx(), c.ID)
	require.NoError(t, err)
	require.Len(t, tiles, 1)
	d := r.Deal(t, c.ID)
	gross, ok, err := r.Trade.LikeTile(r.Ctx(), d, tiles[0])
	require.NoError(t, err)
	require.True(t, ok)
	assert.Equal(t, d.Total.Gross.String(), gross.String())
	p, err := r.Papers.Make(r.Ctx(), c.ID, trade.Quote, "en", "")
	require.NoError(t, err)
	require.Len(t, p.Options, 1)
	assert.Equal(t, string(d.Total.Money().Text(gross)), p.Options[0].Amount)
}

// Commissions are found by their state, beside their words.
func TestCommissionsOfAState(t *testing.T) {
	r := studiotest.Open(t)
	make := func(name string, state commissions.State) {
		_, n, err := r.Commissions.Save(r.Ctx(), 0, 0,
			map[string]string{"name": name, "client": "Tove Ansel", "state": string(state)})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
	}
	make("Stairs", commissions.Asked)
	make("Hall", commissions.Testing)
	make("Porch", commissions.Testing)
	count := func(find string, state commissions.State) int {
		deals, total, err := r.Trade.Deals(r.Ctx(), store.CommissionFilter{Find: find, State: string(state)}, 10, 0)
		require.NoError(t, err)
		require.Len(t, deals, total)
		for _, d := range deals {
			require.True(t, state == "" || d.State == state)
		}
		return total
	}
	assert.Equal(t, 3, count("", ""))
	assert.Equal(t, 2, count("", commissions.Testing))
	assert.Equal(t, 1, count("hall", commissions.Testing))
	assert.Equal(t, 0, count("stairs", commissions.Testing))
}

// A tile's brief says what the client wants, and nothing of what was not asked.
func TestATileKnowsWhatIsWanted(t *testing.T) {
	r := studiotest.Open(t)
	for brief, typed := range map[string]map[string]string{
		"":                               {"name": "Pier"},
		"Wanted: slate.":                 {"name": "Pier", "wanted": "slate"},
		"Unwanted: gold.":                {"name": "Pier", "unwanted": "gold."},
		"Wanted: slate. Unwanted: gold.": {"name": "Pier", "wanted": "slate", "unwanted": "gold"},
	} {
		c, n, err := r.Commissions.Save(r.Ctx(), 0, 0, typed)
		require.NoError(t, err)
		require.True(t, n.OK())
		tile, err := r.Commissions.AddTile(r.Ctx(), c.ID, "", "swipe")
		require.NoError(t, err)
		assert.Equal(t, brief, tile.Brief)
	}
}

// Commissions are found by what their boards are made of, by client and by the month they
// are due in, and by what was written in them, not by how it is kept.
func TestCommissionsAreFiltered(t *testing.T) {
	r := studiotest.Open(t)
	add := func(name, client, due string) commissions.Commission {
		c, n, err := r.Commissions.Save(r.Ctx(), 0, 0,
			map[string]string{"name": name, "client": client, "due": due, "notes": "opposite a window"})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		return c
	}
	stairs := add("Stairs", "Tove Ansel", "2026-04-10")
	add("Hall", "Ida Brook", "2026-05-02")
	_, err := r.Commissions.AddTile(r.Ctx(), stairs.ID, "", "flow")
	require.NoError(t, err)
	for _, c := range []struct {
		asked store.CommissionFilter
		want  []string
	}{
		{store.CommissionFilter{}, []string{"Hall", "Stairs"}},
		{store.CommissionFilter{Technique: "flow"}, []string{"Stairs"}}, {store.CommissionFilter{Technique: "veil"}, nil},
		{store.CommissionFilter{Client: "tove ansel"}, []string{"Stairs"}},
		{store.CommissionFilter{Month: "2026-05"}, []string{"Hall"}},
		{store.CommissionFilter{Month: "2026-05", Technique: "flow"}, nil},
		{store.CommissionFilter{State: "testing"}, []string{"Stairs"}},
		{store.CommissionFilter{Find: "WINDOW"}, []string{"Hall", "Stairs"}},
		{store.CommissionFilter{Find: "brook"}, []string{"Hall"}}, {store.CommissionFilter{Find: "unwanted"}, nil},
	} {
		list, n, err := r.Commissions.List(r.Ctx(), c.asked, 10, 0)
		require.NoError(t, err)
		var names []string
		for _, x := range list {
			names = append(names, x.Name)
		}
		slices.Sort(names)
		assert.Equal(t, c.want, names, c.asked)
		assert.Equal(t, len(c.want), n)
	}
	clients, months, err := r.Commissions.Choices(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, []string{"Ida Brook", "Tove Ansel"}, clients)
	assert.Equal(t, []string{"2026-05", "2026-04"}, months)
}
