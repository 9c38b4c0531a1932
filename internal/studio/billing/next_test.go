package billing

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/money"
	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/commissions"
	"jevvo/internal/studio/prices"
)

var noon = time.Date(2026, 3, 10, 12, 0, 0, 0, time.UTC)

func in(d time.Duration) time.Time { return noon.Add(d) }

const day = 24 * time.Hour

// board is one with these coats.
func board(made bool, coats ...plan.Coat) Board {
	return Board{View: agenda.View{Plan: &plan.Plan{Coats: coats}}, Made: made}
}

// ordered is a commission of one board that is poured at a time, of 100 with a deposit of 40,
// quotes valid for 14 days and invoices due after 10.
func ordered(pour time.Time) Deal {
	d := Deal{Boards: []Board{board(false, plan.Coat{Start: pour})}}
	d.Total = prices.Total{Quote: money.Quote{Gross: decimal.NewFromInt(100), Deposit: decimal.NewFromInt(40)}}
	d.Total.ValidDays, d.Total.PayDays = 14, 10
	return d
}

func (d Deal) agreed() Deal {
	d.Approvals = []commissions.Approval{{}}
	return d
}

func (d Deal) with(kind string, at time.Time) Deal {
	d.Papers = append(d.Papers, Paper{Kind: kind, At: at})
	return d
}

func (d Deal) paid(amount int64) Deal {
	d.Paid = decimal.NewFromInt(amount)
	return d
}

func (d Deal) handed(at time.Time) Deal {
	d.State, d.HandOut = commissions.Handed, at
	d.Boards = []Board{board(true, plan.Coat{Made: true})}
	return d
}

func (d Deal) like(change func(*Deal)) Deal {
	change(&d)
	return d
}

// Every step comes in its turn, on its day, late from the moment it is, and says whom it waits for.
func TestEachStepHasItsDay(t *testing.T) {
	at, begun := in(3*day), func(d *Deal) { d.Boards[0].Plan.Coats[0].Begun = true }
	quoted := ordered(at).with(Quote, in(-day))
	agreed := ordered(at).agreed()
	asked := agreed.with(Deposit, in(-10*day))
	poured := agreed.paid(40).like(func(d *Deal) { d.Boards = []Board{board(true, plan.Coat{Made: true})} })
	over := func(d Deal, at time.Time) Deal { return d.agreed().paid(40).handed(at) }
	for name, c := range map[string]struct {
		deal Deal
		want Next
	}{
		"called off": {ordered(at).like(func(d *Deal) { d.State = commissions.Off }),
			Next{Step: StepOff}},
		"nothing yet": {Deal{Commission: commissions.Commission{At: noon}},
			Next{Step: StepTile, Day: noon}},
		"a tile to choose": {Deal{Tiles: 1}, Next{Step: StepChoose, Who: true}},
		"a tile chosen": {Deal{Tiles: 1, Commission: commissions.Commission{Chosen: 7}},
			Next{Step: StepBoards}},
		"quote, two days before the pour": {ordered(in(48 * time.Hour)),
			Next{Step: StepQuote, Day: in(48 * time.Hour)}},
		"quote, hardly two days before": {ordered(in(48*time.Hour - 1)),
			Next{Step: StepQuote, Day: in(48*time.Hour - 1), Late: true}},
		"quote, a coat begun":        {ordered(at).like(begun), Next{Step: StepQuote, Day: at, Late: true}},
		"quote, no day for the pour": {ordered(time.Time{}), Next{Step: StepQuote}},
		"approval before the pour":   {quoted, Next{Step: StepApproval, Day: at, Who: true}},
		"approval while it is valid": {ordered(in(20*day)).with(Quote, in(-14*day)),
			Next{Step: StepApproval, Day: noon, Who: true}},
		"approval of a quote that ran out": {ordered(in(20*day)).with(Quote, in(-14*day-1)),
			Next{Step: StepApproval, Day: in(-1), Who: true, Late: true}},
		"the newest quote counts": {ordered(in(20*day)).with(Quote, in(-30*day)).with(Quote, in(-day)),
			Next{Step: StepApproval, Day: in(13 * day), Who: true}},
		"changed since": {agreed.like(func(d *Deal) { d.Changes = &Changes{Due: true} }),
			Next{Step: StepAgain, Day: at, Who: true}},
		"deposit to invoice": {agreed, Next{Step: StepInvoice1, Day: at}},
		"deposit to invoice, begun": {ordered(at).agreed().like(begun),
			Next{Step: StepInvoice1, Day: at, Late: true}},
		"deposit due today": {asked, Next{Step: StepDeposit, Day: noon, Who: true}},
		"deposit overdue": {agreed.with(Deposit, in(-10*day-1)),
			Next{Step: StepDeposit, Day: in(-1), Who: true, Late: true}},
		"deposit short by one": {agreed.with(Deposit, noon).paid(39),
			Next{Step: StepDeposit, Day: in(10 * day), Who: true}},
		"deposit in": {agreed.paid(40), Next{Step: StepPour, Day: at}},
		"no deposit asked": {agreed.like(func(d *Deal) { d.Total.Quote.Deposit = decimal.Zero }),
			Next{Step: StepPour, Day: at}},
		"pour, ready too late": {agreed.paid(40).like(func(d *Deal) { d.Due, d.Ready = in(5*day), in(5*day+1) }),
			Next{Step: StepPour, Day: at, Late: true}},
		"pour, ready on the day": {agreed.paid(40).like(func(d *Deal) { d.Due, d.Ready = in(5*day), in(5*day) }),
			Next{Step: StepPour, Day: at}},
		"hand over": {poured.like(func(d *Deal) { d.Ready, d.Due = in(day), noon }),
			Next{Step: StepHand, Day: in(day)}},
		"hand over late": {poured.like(func(d *Deal) { d.Due = in(-1) }), Next{Step: StepHand, Late: true}},
		"invoice":        {over(ordered(at), in(-7*day)), Next{Step: StepInvoice, Day: in(-7 * day)}},
		"invoice a week late": {over(ordered(at), in(-7*day-1)),
			Next{Step: StepInvoice, Day: in(-7*day - 1), Late: true}},
		"paid in full without an invoice": {over(ordered(at), noon).paid(100), Next{Step: StepDone}},
		"payment": {over(ordered(at), noon).with(Invoice, in(-10*day)),
			Next{Step: StepPayment, Day: noon, Who: true}},
		"payment overdue": {over(ordered(at), noon).with(Invoice, in(-10*day-1)),
			Next{Step: StepPayment, Day: in(-1), Who: true, Late: true}},
		"changed after it was handed over": {over(ordered(at), noon).paid(100).like(func(d *Deal) { d.Changes = &Changes{} }),
			Next{Step: StepDone}},
	} {
		assert.Equal(t, c.want, c.deal.next(noon), name)
	}
}

// A month after delivery it is asked how the piece is: by those who want to, once.
func TestAskingAMonthOn(t *testing.T) {
	d := ordered(time.Time{}).agreed().paid(100).handed(in(-askAfter - 1))
	d.Total.Remind = true
	assert.Equal(t, Next{Step: StepAsk, Day: in(-1)}, d.next(noon))
	assert.Equal(t, StepDone, d.like(func(d *Deal) { d.HandOut = in(-askAfter) }).next(noon).Step, "not a moment before")
	assert.Equal(t, StepDone, d.like(func(d *Deal) { d.Total.Remind = false }).next(noon).Step, "only if it is wanted")
	assert.Equal(t, StepDone, d.like(func(d *Deal) { d.HandOut = time.Time{} }).next(noon).Step, "from no day")
	shown := func(at time.Time) Deal {
		return d.like(func(d *Deal) { d.Showings = []commissions.Showing{{At: at}} })
	}
	assert.Equal(t, StepAsk, shown(d.HandOut).next(noon).Step, "what was shown before does not count")
	assert.Equal(t, StepDone, shown(d.HandOut.Add(1)).next(noon).Step)
}

// The first pour is that of the earliest board with a plan, of its first coat that is not made.
func TestTheFirstPour(t *testing.T) {
	d := Deal{Boards: []Board{{}, board(false, plan.Coat{Start: in(5 * day)}),
		board(false, plan.Coat{Start: in(day), Made: true}, plan.Coat{Start: in(4 * day)}),
		{View: agenda.View{Plan: &plan.Plan{Coats: []plan.Coat{{Start: noon}}}, Broken: assert.AnError}}}}
	assert.Equal(t, in(4*day), d.firstPour())
	assert.True(t, d.begun(), "a coat is made")
	assert.Zero(t, Deal{Boards: []Board{board(true, plan.Coat{Start: noon, Made: true})}}.firstPour())
}

// A day by which something is wanted says so; a day on which it is done does not.
func TestTheDayOfAStepInWords(t *testing.T) {
	for step, want := range map[Step]string{StepQuote: "by Tue 10 Mar", StepDeposit: "by Tue 10 Mar",
		StepPour: "Tue 10 Mar", StepHand: "Tue 10 Mar"} {
		assert.Equal(t, want, msg.Say(Next{Step: step, Day: noon}.When(), msg.English), step)
	}
	assert.Nil(t, Next{Step: StepChoose}.When())
	assert.True(t, Next{Step: StepDone}.Done())
	assert.False(t, Next{Step: StepOff}.Done())
	for _, s := range []Step{StepTile, StepChoose, StepBoards, StepQuote, StepApproval, StepAgain, StepInvoice1,
		StepDeposit, StepPour, StepHand, StepInvoice, StepPayment, StepAsk, StepDone, StepOff} {
		assert.NotEmpty(t, Next{Step: s}.Words(), s)
	}
}

// What changed is one sentence: boards, colours, day, price and delay in this order.
func TestChangesInWords(t *testing.T) {
	euro := money.Currency{Name: "EUR", Digits: 2}.Text
	say := func(c Changes) string { return msg.Say(c.Words(euro), msg.English) }
	assert.Equal(t, "The due date has changed.", say(Changes{Due: true}))
	full := say(Changes{Boards: []msg.Text{msg.F("%s was added", "Dune")}, Colours: "salt, sedge", Due: true,
		Price: decimal.NewFromInt(-12), Ready: 36 * time.Hour})
	assert.Regexp(t, `^Dune was added; the colours are now salt, sedge; the due date has changed; `+
		`it costs .*12\.00.* less; it is ready 2 days later\.$`, full)
	assert.Regexp(t, `^It costs .*3\.50.* more; it is ready 1 day later\.$`,
		say(Changes{Price: decimal.RequireFromString("3.5"), Ready: 12*time.Hour - time.Minute}))
}
