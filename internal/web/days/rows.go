package days

import (
	"fmt"
	"time"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/studio/agenda"
)

// A dayRow is one day drawn as a day.
type dayRow struct {
	Date   time.Time
	Today  bool
	Closed bool
	Night  []span // shut hours, shaded
	Tasks  []dayTask
	Waits  []wait
	Now    float64
	Height int
	Ticks  []tick
}

type span struct{ X, W float64 }

type tick struct {
	X     float64
	Label string
}

type dayTask struct {
	agenda.Task
	X, W, Y   float64
	Left      bool // its words stand to the left
	BracketX  float64
	BracketW  float64
	Bracket   bool
	LabelX    float64
	Moveable  bool
	StartText string
}

// A wait is a thin line from one task of a piece to its next.
type wait struct{ X, W, Y float64 }

// A shelfRow is a piece's stay on the shelf.
type shelfRow struct {
	Name, Swatch string
	ID           int64
	X, W         float64
	From, To     time.Time
}

// Sizes of a day in its own units: 40 an hour.
const (
	hourWidth = 40.0
	dayWidth  = 24 * hourWidth
	taskRow   = 24.0
)

// daysShown is how many days one page shows.
const daysShown = 7

// links says where the stretches before and after are.
func (p *daysPage) links() {
	link := func(t time.Time) string {
		q := "/days?from=" + t.Format(time.DateOnly)
		if p.IfKey != "" {
			q += "&if=" + p.IfKey
		}
		return q
	}
	p.Back, p.On = link(p.From.AddDate(0, 0, -daysShown)), link(p.From.AddDate(0, 0, daysShown))
	p.To = p.From.AddDate(0, 0, daysShown)
}

// lay draws the days of the stretch.
func (p *daysPage) lay() {
	for i := range daysShown {
		p.Rows = append(p.Rows, p.row(p.From.AddDate(0, 0, i)))
		p.ShelfTicks = append(p.ShelfTicks, tick{float64(i) / daysShown * dayWidth, p.From.AddDate(0, 0, i).Format("Mon 2")})
	}
	p.shelf()
}

// shelf draws the stays that touch the stretch.
func (p *daysPage) shelf() {
	whole := p.To.Sub(p.From).Hours()
	for _, piece := range p.Pieces {
		if piece.ShelfIn.IsZero() || !piece.ShelfIn.Before(p.To) || !piece.ShelfTo.After(p.From) {
			continue
		}
		from, to := piece.ShelfIn, piece.ShelfTo
		if from.Before(p.From) {
			from = p.From
		}
		if to.After(p.To) {
			to = p.To
		}
		p.ShelfRows = append(p.ShelfRows, shelfRow{Name: piece.Name, Swatch: piece.Swatch, ID: piece.ID, From: piece.ShelfIn, To: piece.ShelfTo,
			X: from.Sub(p.From).Hours() / whole * dayWidth, W: max(3, to.Sub(from).Hours()/whole*dayWidth)})
	}
}

// within returns where a moment stands in a day, at its ends when it is not in
// it. A day of 23 or 25 hours is as wide as any.
func within(day, next time.Time) func(time.Time) float64 {
	return func(t time.Time) float64 {
		switch {
		case t.Before(day):
			return 0
		case t.After(next):
			return dayWidth
		}
		return t.Sub(day).Hours() / next.Sub(day).Hours() * dayWidth
	}
}

func (p *daysPage) row(day time.Time) dayRow {
	next := day.AddDate(0, 0, 1)
	x := within(day, next)
	r := dayRow{Date: day, Today: day.Equal(p.Base), Now: -1}
	if !p.Now.Before(day) && p.Now.Before(next) {
		r.Now = x(p.Now)
	}
	r.Night = nights(p.Book.Settings.Calendar.On(day), day, next)
	r.Closed = len(r.Night) == 1 && r.Night[0].W == dayWidth
	for h := 0; h < 24; h += 4 {
		r.Ticks = append(r.Ticks, tick{float64(h) * hourWidth, fmt.Sprintf("%02d:00", h)})
	}
	y := 18.0
	for _, t := range p.Tasks {
		if !t.Start.Before(day) && t.Start.Before(next) {
			r.Tasks = append(r.Tasks, taskOf(t, day, next, y))
			y += taskRow
		}
	}
	for _, piece := range p.Pieces { // what lies and cures is a thin line
		if !piece.ShelfIn.IsZero() && piece.ShelfIn.Before(next) && piece.ShelfTo.After(day) {
			from, to := x(piece.ShelfIn), x(piece.ShelfTo)
			r.Waits = append(r.Waits, wait{from, to - from, y + 3})
			y += 5
		}
	}
	r.Height = int(max(44, y+8))
	return r
}

// nights are the shut hours of a day, between its stretches of opening.
func nights(open []calendar.Stretch, day, next time.Time) []span {
	x := within(day, next)
	var out []span
	from := 0.0
	for _, o := range open {
		if to := x(o.From); to > from {
			out = append(out, span{from, to - from})
		}
		from = x(o.To)
	}
	if from < dayWidth {
		out = append(out, span{from, dayWidth - from})
	}
	return out
}

func taskOf(t agenda.Task, day, next time.Time, y float64) dayTask {
	x := within(day, next)
	d := dayTask{Task: t, X: x(t.Start), W: max(3, x(t.End)-x(t.Start)), Y: y,
		Moveable: !t.Done && t.Kind != plan.TaskDeliver, StartText: t.Start.Format(form.MomentLayout)}
	if !t.NotAfter.IsZero() && t.NotBefore.Before(next) && t.NotAfter.After(day) {
		d.Bracket, d.BracketX = true, x(t.NotBefore)
		d.BracketW = max(2, x(t.NotAfter)-d.BracketX)
	}
	d.label()
	return d
}

// label puts a task's words beside it and its bracket, on the side that has
// room.
func (d *dayTask) label() {
	left, right := d.X, d.X+d.W
	if d.Bracket {
		left, right = min(left, d.BracketX), max(right, d.BracketX+d.BracketW)
	}
	d.Left = d.X > dayWidth*0.6
	d.LabelX = right + 6
	if d.Left {
		d.LabelX = left - 6
	}
}
