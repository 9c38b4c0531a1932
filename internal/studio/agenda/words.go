package agenda

import (
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// Words says the note.
func (n Note) Words() msg.Text {
	layout := "Mon 15:04"
	if n.Code == PinLetGo {
		layout = "Mon 2 Jan 15:04"
	}
	return words.Agenda(words.Placed{Name: n.Name, Task: n.Task, Plan: n.Plan, Code: string(n.Code),
		When: msg.Date(n.At, layout), Need: n.Need, Have: n.Have, Err: n.Err})
}

// Words says the obstacle.
func (o Obstacle) Words() msg.Text {
	return words.Obstacle(words.Placed{Name: o.Piece, Task: o.Task, Plan: o.Plan, Code: string(o.Code),
		When: msg.Date(o.Until, "Mon 2 Jan 15:04")}, o.Why)
}

// Said returns the notes in words: those of windows that closed, of pieces that
// are not planned, and all others with why pieces are late.
func (a *Agenda) Said() (repairs, out, reasons []msg.Text) {
	for _, n := range a.Notes {
		switch {
		case n.Repair():
			repairs = append(repairs, n.Words())
		case n.Out():
			out = append(out, n.Words())
		default:
			reasons = append(reasons, n.Words())
		}
	}
	for _, r := range a.Reasons {
		reasons = append(reasons, words.Reason(r, a.Problem))
	}
	return repairs, out, reasons
}
