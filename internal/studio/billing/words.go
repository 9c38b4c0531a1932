package billing

import (
	"slices"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/msg"
)

// stepWords say what is to be done next.
var stepWords = map[Step]msg.ID{
	StepTile: "Pour a test tile, or plan the boards", StepChoose: "Let the client choose a tile",
	StepBoards: "Plan the boards from the chosen tile", StepQuote: "Send a quote",
	StepApproval: "Get the approval", StepAgain: "Changed since it was agreed: ask again",
	StepInvoice1: "Invoice the deposit", StepDeposit: "Deposit not received", StepPour: "Pour",
	StepHand: "Hand it over", StepInvoice: "Write the invoice", StepPayment: "Not paid yet",
	StepAsk: "Ask how it is, a month on", StepDone: "Delivered and paid", StepOff: "Called off",
}

// Words says the step.
func (n Next) Words() msg.ID { return stepWords[n.Step] }

// Done reports whether nothing is left to do.
func (n Next) Done() bool { return n.Step == StepDone }

// When says its day, "" where it has none.
func (n Next) When() msg.Text {
	if n.Day.IsZero() {
		return nil
	}
	day := msg.Date(n.Day.Local(), "Mon 2 Jan")
	switch n.Step {
	case StepApproval, StepQuote, StepAgain, StepInvoice1, StepDeposit, StepPayment:
		return msg.F("by %s", day)
	}
	return day
}

// Words says what changed since it was agreed, in one sentence or two.
func (c Changes) Words(money func(decimal.Decimal) msg.Figure) msg.Text {
	parts := slices.Clone(c.Boards)
	if c.Colours != "" {
		parts = append(parts, msg.F("the colours are now %s", c.Colours))
	}
	if c.Due {
		parts = append(parts, msg.ID("the due date has changed"))
	}
	switch {
	case c.Price.IsPositive():
		parts = append(parts, msg.F("it costs %s more", money(c.Price.Abs())))
	case c.Price.IsNegative():
		parts = append(parts, msg.F("it costs %s less", money(c.Price.Abs())))
	}
	if c.Ready > 0 {
		days := int((c.Ready + 12*time.Hour) / (24 * time.Hour))
		parts = append(parts, msg.F("it is ready %s later", msg.N(max(1, days), "day", "days")))
	}
	return msg.F("%s.", msg.Capital(msg.Join("; ", parts...)))
}
