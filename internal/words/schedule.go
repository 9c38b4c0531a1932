package words

import (
	"jevvo/internal/core/schedule"
	"jevvo/internal/msg"
)

// Span prints minutes of waiting: "45 min", "6 h", "2 days 3 h".
func Span(m int) msg.Text {
	d, h, rest := m/1440, m/60%24, m%60
	var parts []msg.Text
	if d > 0 {
		parts = append(parts, msg.N(d, "day", "days"))
	}
	if h > 0 {
		parts = append(parts, msg.F("%d h", h))
	}
	if rest > 0 && d == 0 || len(parts) == 0 {
		parts = append(parts, msg.F("%d min", rest))
	}
	return msg.Join(" ", parts...)
}

// Reason says what stands in the way of a schedule, by the names its pieces
// and tasks have in the problem.
func Reason(r schedule.Reason, p schedule.Problem) msg.Text {
	switch r.Code {
	case schedule.NeverOpen:
		return msg.ID("There are no opening hours.")
	case schedule.InTheWay:
		return msg.ID("The pieces get in each other's way: each could be planned alone, but not all together within " +
			"three years.")
	}
	piece := p.Pieces[r.Piece]
	task := func(i int) msg.Text { return piece.Tasks[i].Title() }
	switch r.Code {
	case schedule.LateByHours:
		return msg.F("%s is late on its own: with the studio open day and night it would be on time, so the opening hours "+
			"are the limit.",
			piece.ID)
	case schedule.LateByWork:
		return msg.F("%s is late on its own: its work alone takes until after the due date.", piece.ID)
	case schedule.LateByWaits:
		var why msg.Text
		if r.Why != nil {
			why = msg.F(" (%s)", r.Why)
		}
		return msg.F("%s is late on its own: its waits alone run past the due date; the longest: %s waits %s after %s%s.",
			piece.ID, task(r.Task), Span(r.Minutes), task(r.After), why)
	case schedule.LateByRack:
		return msg.F("%s would be on time alone; it waits for a place on the drying rack. "+
			"More places would make less late.", piece.ID)
	case schedule.LateByHands:
		return msg.F("%s would be on time alone; it waits for your hands: the other pieces come first.",
			piece.ID)
	case schedule.InACircle:
		names := make([]msg.Text, len(r.Circle))
		for i, at := range r.Circle {
			names[i] = task(at)
		}
		return msg.F("In %s these wait for one another in a circle: %s.", piece.ID, msg.Join(", ", names...))
	case schedule.TaskTooLong:
		return msg.F("%s, %s takes %s, longer than the studio is ever open at a stretch (%s).", piece.ID, task(r.Task),
			Span(r.Minutes), Span(r.Most))
	case schedule.TooFewPlaces:
		return msg.F("%s needs %d level places; the drying rack has %d that fit.", piece.ID, r.Minutes, r.Most)
	case schedule.WindowShut:
		return msg.F("%s, %s must start within %s after %s, and no opening hours allow that.", piece.ID, task(r.Task),
			Span(r.Minutes), task(r.After))
	}
	return msg.F("%s cannot keep its waits within the opening hours.", piece.ID)
}
