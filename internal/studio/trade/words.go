package trade

import (
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/words"
)

// stepWords say what is to be done next.
var stepWords = map[Step]string{
	StepTile: "Pour a test tile, or plan the boards", StepChoose: "Let the client choose a tile",
	StepBoards: "Plan the boards from the chosen tile", StepQuote: "Send a quote",
	StepApproval: "Get the approval", StepAgain: "It changed after it was agreed: ask again",
	StepInvoice1: "Invoice the deposit", StepDeposit: "The deposit is not in", StepPour: "Pour",
	StepHand: "Hand it over", StepInvoice: "Write the invoice", StepPayment: "Not paid yet",
	StepAsk: "Ask how it is, a month on", StepDone: "Delivered and paid", StepOff: "Called off",
}

// Words says the step.
func (n Next) Words() string { return stepWords[n.Step] }

// When says its day, "" where it has none.
func (n Next) When() string {
	if n.Day.IsZero() {
		return ""
	}
	day := words.Date(n.Day.Local(), "Mon 2 Jan")
	switch n.Step {
	case StepApproval, StepQuote, StepAgain, StepInvoice1, StepDeposit, StepPayment:
		return words.F("by %s", day)
	}
	return day
}

// Words says what changed since it was agreed, in one sentence or two.
func (c Changes) Words(money func(decimal.Decimal) string) string {
	var parts []string
	parts = append(parts, c.Boards...)
	if c.Colours != "" {
		parts = append(parts, words.F("the colours are now %s", c.Colours))
	}
	if c.Due {
		parts = append(parts, words.T("the due day is another"))
	}
	text := strings.Join(parts, "; ")
	switch {
	case c.Price.IsPositive():
		text = join(text, words.F("it costs %s more", money(c.Price.Abs())))
	case c.Price.IsNegative():
		text = join(text, words.F("it costs %s less", money(c.Price.Abs())))
	}
	if c.Ready > 0 {
		days := int((c.Ready + 12*time.Hour) / (24 * time.Hour))
		text = join(text, words.F("it is ready %s later", words.Plural(max(1, days), "day", "days")))
	}
	return words.Capital(text) + "."
}

func join(a, b string) string {
	if a == "" {
		return b
	}
	return a + "; " + b
}
