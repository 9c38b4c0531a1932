package stock

import (
	"time"

	"jevvo/internal/store"
	"jevvo/internal/words"
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
		past := !lot.BestBefore.IsZero() && lot.BestBefore.Before(now)
		if past || i.Kind == store.Resins && !lot.Opened.IsZero() && now.Sub(lot.Opened) > longOpen {
			out = append(out, Aged{lot, past})
		}
	}
	return out
}

// Words says why a lot may be too old.
func (a Aged) Words(name string) string {
	const sheet = " Old resin yellows and cures slowly; its product sheet decides."
	if a.Past {
		return words.F("%s bought %s is past its day, %s.", name, words.Date(a.Bought(), "2 Jan 2006"),
			words.Date(a.BestBefore.Local(), "2 Jan 2006")) + words.T(sheet)
	}
	return words.F("%s bought %s was opened %s.", name, words.Date(a.Bought(), "2 Jan 2006"),
		words.Date(a.Opened.Local(), "2 Jan 2006")) + words.T(sheet)
}

// Bought is the day it was bought.
func (a Aged) Bought() time.Time { return a.Entry.At.Local() }
