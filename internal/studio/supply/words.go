package supply

import (
	"strings"
	"time"

	"jevvo/internal/core/units"
	"jevvo/internal/words"
)

// Words says what runs short, when, for what, and until when to order.
func (l Line) Words(sys units.System, now time.Time) string {
	if l.Worst == nil {
		return ""
	}
	n := l.Worst
	text := words.F("%s runs short on %s for %s of %s", l.Name, words.Date(n.Day, "Mon 2 Jan"), n.what(), n.Name)
	text += words.F(": %s there, %s needed by then.", l.Text(max(0, l.State.OnHand), sys), l.Text(l.upTo(n), sys))
	switch {
	case l.Late(now) && l.LeadDays > 0:
		text += words.F(" It takes %s to come: pour later, or find it nearer.", words.Plural(l.LeadDays, "day", "days"))
	case l.LeadDays > 0:
		text += words.F(" Order by %s.", words.Date(l.OrderBy, "Mon 2 Jan"))
	}
	return text
}

// what is the coat, and the cups of it.
func (n Need) what() string {
	if len(n.Cups) == 0 {
		return words.F("the %s", words.Lower(n.Coat))
	}
	cup := words.T("the cup")
	if len(n.Cups) > 1 {
		cup = words.T("the cups")
	}
	return cup + " " + strings.Join(n.Cups, ", ")
}

// upTo is what is needed up to a need and with it.
func (l Line) upTo(last *Need) float64 {
	sum := 0.0
	for i := range l.Needs {
		sum += l.Needs[i].Amount
		if &l.Needs[i] == last {
			break
		}
	}
	return sum
}
