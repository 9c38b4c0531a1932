package days

import (
	"jevvo/internal/studio/agenda"
)

// lineHeight is that of a day drawn as one line.
const lineHeight = 52

// lineOf draws today as one line: what hands do, its windows, and what lies and cures
// meanwhile.
func lineOf(a *agenda.Agenda) dayRow {
	r := rowOf(a, a.Base, hoursOf(a, a.Base, a.Base.AddDate(0, 0, 1)))
	for k := range r.Tasks {
		r.Tasks[k].Y = 18
	}
	for k := range r.Waits {
		r.Waits[k].Y = 42 + 3*float64(k)
	}
	if len(r.Waits) > mostLines {
		r.Waits = r.Waits[:mostLines]
	}
	r.Height = lineHeight
	return r
}

// mostLines is how many boards that lie and cure are drawn below a line.
const mostLines = 3
