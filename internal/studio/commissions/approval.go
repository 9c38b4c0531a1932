package commissions

import (
	"time"

	"github.com/shopspring/decimal"
)

// A Showing is something that was shown to the client.
type Showing struct {
	At   time.Time
	What string
}

// An Approval is the agreement, as it stood then.
type Approval struct {
	At      time.Time
	Tile    int64
	Colours string
	Price   decimal.Decimal // to pay for all
	Money   string          // the currency
	Due     time.Time
	Ready   time.Time // by the plan of that day
	Note    string
	Letter  int64 // a picture of what was signed; 0 for none
	Hung    int64 // the picture of their wall that stood then; 0 for none
	Boards  []AgreedBoard
}

// An AgreedBoard is a piece as it was agreed.
type AgreedBoard struct {
	Piece, Rev int64
	Name       string
	Boards     int             `json:",omitempty"`
	Each, Less decimal.Decimal // as in the price; nothing in approvals kept before they were
	Sum        decimal.Decimal
	Asked      string `json:",omitempty"` // what was said of its price then
}

// Approved is the newest approval, nil while there is none.
func (c Commission) Approved() *Approval {
	if len(c.Approvals) == 0 {
		return nil
	}
	return &c.Approvals[len(c.Approvals)-1]
}
