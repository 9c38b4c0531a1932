package reorder

import (
	"strings"
	"time"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Words says what runs short, when, for what, and until when to order.
func (l Line) Words(sys units.System, now time.Time) msg.Text {
	if l.Worst == nil {
		return nil
	}
	n := l.Worst
	text := msg.F("%s runs short on %s for %s of %s: %s in stock, %s needed by then.", l.Name,
		msg.Date(n.Day, "Mon 2 Jan"), n.what(), n.Name, l.Text(max(0, l.State.OnHand), sys), l.Text(l.upTo(n), sys))
	switch {
	case l.Late(now) && l.LeadDays > 0:
		return msg.Sentences(text, msg.F("Delivery takes %s: pour later, or buy it nearby.",
			msg.N(l.LeadDays, "day", "days")))
	case l.LeadDays > 0:
		return msg.Sentences(text, msg.F("Order by %s.", msg.Date(l.OrderBy, "Mon 2 Jan")))
	}
	return text
}

// what is the coat, and the cups of it.
func (n Need) what() msg.Text {
	switch names := strings.Join(n.Cups, ", "); len(n.Cups) {
	case 0:
		return msg.F("the %s", msg.Lower(n.Coat))
	case 1:
		return msg.F("the cup %s", names)
	default:
		return msg.F("the cups %s", names)
	}
}

// upTo is the total up to and including a need.
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
