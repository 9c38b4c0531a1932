package stock

import (
	"time"

	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// An Aged is a lot that may be too old, and why.
type Aged struct {
	Lot
	Past bool // its best-before day is over; otherwise it was opened long ago
}

// longOpen is how long a resin or hardener usually keeps once it was opened; what is
// older yellows and cures slowly (common practice; the product's sheet decides).
const longOpen = 182 * 24 * time.Hour

// Old returns the lots of which something is left that may be too old.
func (i Item) Old(now time.Time) []Aged {
	var out []Aged
	for _, lot := range i.Lots {
		past := !lot.BestBefore.IsZero() && !now.Before(lot.BestBefore.AddDate(0, 0, 1))
		if past || i.Kind == store.Resins && !lot.Opened.IsZero() && now.Sub(lot.Opened) > longOpen {
			out = append(out, Aged{lot, past})
		}
	}
	return out
}

// Words says why a lot may be too old.
func (a Aged) Words(name string) msg.Text {
	const layout = "2 Jan 2006"
	why := msg.F("%s bought %s was opened %s.", name, msg.Date(a.Bought(), layout), msg.Date(a.Opened.Local(), layout))
	if a.Past {
		why = msg.F("%s bought %s expired %s.", name, msg.Date(a.Bought(), layout),
			msg.Date(a.BestBefore.Local(), layout))
	}
	return msg.Sentences(why, msg.ID("Old resin yellows and cures slowly; follow its data sheet."))
}

// Bought is the day it was bought.
func (a Aged) Bought() time.Time { return a.Entry.At.Local() }
