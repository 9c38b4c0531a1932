package commissions

import (
	"jevvo/internal/msg"
	"jevvo/internal/studio/billing"
	"jevvo/internal/studio/documents"
	"jevvo/internal/web/frame"
)

// An action does a commission's next step: it makes a document, or leads to where it is done.
type action struct {
	Label msg.Text
	Paper string // kind of document it makes; "" for none
	At    string // address it leads to
}

var places = map[billing.Step]action{
	billing.StepTile:     {Label: msg.ID("Pour a test tile"), At: "#tiles"},
	billing.StepChoose:   {Label: msg.ID("Choose a tile"), At: "#tiles"},
	billing.StepBoards:   {Label: msg.ID("Plan the boards"), At: "#boards"},
	billing.StepApproval: {Label: msg.ID("Note what was agreed"), At: "#offer"},
	billing.StepAgain:    {Label: msg.ID("Note what was agreed"), At: "#offer"},
	billing.StepDeposit:  {Label: msg.ID("Enter the payment"), At: "#papers"},
	billing.StepPayment:  {Label: msg.ID("Enter the payment"), At: "#papers"},
	billing.StepHand:     {Label: msg.ID("Note the delivery"), At: "#brief"},
	billing.StepAsk:      {Label: msg.ID("Note what they said"), At: "#offer"},
}

var made = map[billing.Step]string{billing.StepQuote: billing.Quote, billing.StepInvoice1: billing.Deposit,
	billing.StepInvoice: billing.Invoice}

// Action is the one of the next step, nil where there is nothing to do.
func (p commissionPage) Action() *action {
	step := p.Deal.Next.Step
	if kind, ok := made[step]; ok {
		return &action{Label: msg.F("Create: %s", documents.Name(kind)), Paper: kind}
	}
	if step == billing.StepPour {
		for _, b := range p.Boards {
			if !b.Made() {
				return &action{Label: msg.F("Open %s", b.Name), At: frame.Piece(b.ID)}
			}
		}
	}
	if a, ok := places[step]; ok {
		return &a
	}
	return nil
}
