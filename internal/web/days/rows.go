package days

import (
	"math"
	"time"
	"unicode/utf8"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/words"
)

// A dayRow is one day drawn as a day.
type dayRow struct {
	Date   time.Time
	Today  bool
	Closed bool
	Own    string // its hours, when they are not the usual ones
	Night  []span // shut hours, shaded
	Tasks  []dayTask
	Waits  []wait
	Now    float64
	Height int
	Ticks  []tick
	Hours  hours
}

type span struct{ X, W float64 }

type tick struct {
	X     float64
	Label msg.Text
}

type dayTask struct {
	agenda.Task
	X, W, Y   float64
	Left      bool // its words stand to the left
	BracketX  float64
	BracketW  float64
	Bracket   bool
	LabelX    float64
	Of        string // the piece, as far as there is room
	Moveable  bool
	StartText string
}

// A wait is a piece that is curing: a dashed line with the piece's name.
type wait struct {
	X, W, Y, TextX float64
	Name           string
}

// A rackRow is a piece's stay on the rack.
type rackRow struct {
	Name, Swatch string
	ID           int64
	X, W         float64
	From, To     time.Time
}

// Sizes of a drawn day in its own units.
const (
	dayWidth = 960.0
	taskRow  = 24.0
	waitRow  = 16.0
	letter   = 6.4 // how wide a letter of a task's words is at most, about
)

// hours are those of a day that a stretch of days shows.
type hours struct{ From, To int }

// x returns where a moment of a day stands, at its ends when it is not shown. A day of
// 23 or 25 hours is as wide as any.
func (h hours) x(day, next time.Time) func(time.Time) float64 {
	return func(t time.Time) float64 {
		at := 24 * t.Sub(day).Hours() / next.Sub(day).Hours()
		return math.Max(0, math.Min(1, (at-float64(h.From))/float64(h.To-h.From))) * dayWidth
	}
}

// leastHours is how many hours a day shows at least.
const leastHours = 10

// hoursOf are those in which anything happens or the studio is open on some day of a
// stretch, with an hour to spare on both sides.
func hoursOf(a *agenda.Agenda, from, to time.Time) hours {
	h := hours{24, 0}
	take := func(day, t, end time.Time) {
		next := day.AddDate(0, 0, 1)
		if end.After(next) {
			end = next
		}
		h.From = min(h.From, int(24*t.Sub(day).Hours()/next.Sub(day).Hours()))
		h.To = max(h.To, int(math.Ceil(24*end.Sub(day).Hours()/next.Sub(day).Hours())))
	}
	for day := from; day.Before(to); day = day.AddDate(0, 0, 1) {
		for _, o := range a.Book.Settings.Calendar.On(day) {
			take(day, o.From, o.To)
		}
	}
	for _, t := range a.Tasks {
		if !t.Start.Before(from) && t.Start.Before(to) {
			y, m, d := t.Start.Date()
			take(time.Date(y, m, d, 0, 0, 0, 0, t.Start.Location()), t.Start, t.End)
		}
	}
	if h.From > h.To {
		return hours{8, 8 + leastHours}
	}
	h.From, h.To = max(0, h.From-1), min(24, h.To+1)
	if short := leastHours - (h.To - h.From); short > 0 {
		h.From = max(0, min(h.From-short/2, 24-leastHours))
		h.To = h.From + leastHours
	}
	return h
}

// ticks are the hours written over a day.
func (h hours) ticks() []tick {
	every := 1
	if h.To-h.From > 12 {
		every = 2
	}
	var out []tick
	for k := h.From; k < h.To; k++ {
		if k%every == 0 {
			out = append(out, tick{float64(k-h.From) / float64(h.To-h.From) * dayWidth,
				msg.Date(time.Date(2000, 1, 1, k, 0, 0, 0, time.UTC), "15:04")})
		}
	}
	return out
}

// daysShown is how many days one page shows.
const daysShown = 7

// links says where the stretches before and after are.
func (p *daysPage) links() {
	p.To = p.From.AddDate(0, 0, daysShown)
	p.Back, p.On = p.link(p.From.AddDate(0, 0, -daysShown)), p.link(p.To)
}

func (p *daysPage) link(t time.Time) string {
	q := "/days?from=" + t.Format(time.DateOnly)
	if p.IfKey != "" {
		q += "&if=" + p.IfKey
	}
	return q
}

// draw draws the days of the stretch.
func (p *daysPage) draw() {
	p.Hours = hoursOf(p.Agenda, p.From, p.To)
	for i := range daysShown {
		p.Rows = append(p.Rows, rowOf(p.Agenda, p.From.AddDate(0, 0, i), p.Hours))
		p.RackTicks = append(p.RackTicks,
			tick{float64(i) / daysShown * dayWidth, msg.Date(p.From.AddDate(0, 0, i), "Mon 2")})
	}
	p.rack()
}

// rack draws the stays that touch the stretch.
func (p *daysPage) rack() {
	whole := p.To.Sub(p.From).Hours()
	for _, piece := range p.Pieces {
		if piece.RackIn.IsZero() || !piece.RackIn.Before(p.To) || !piece.RackTo.After(p.From) {
			continue
		}
		from, to := piece.RackIn, piece.RackTo
		if from.Before(p.From) {
			from = p.From
		}
		if to.After(p.To) {
			to = p.To
		}
		p.RackRows = append(p.RackRows,
			rackRow{Name: piece.Name, Swatch: piece.Swatch, ID: piece.ID, From: piece.RackIn, To: piece.RackTo,
				X: from.Sub(p.From).Hours() / whole * dayWidth, W: max(3, to.Sub(from).Hours()/whole*dayWidth)})
	}
}

// rowOf draws a day of an agenda.
func rowOf(a *agenda.Agenda, day time.Time, h hours) dayRow {
	next := day.AddDate(0, 0, 1)
	x := h.x(day, next)
	r := dayRow{Date: day, Today: day.Equal(a.Base), Now: -1, Hours: h, Ticks: h.ticks()}
	if !a.Now.Before(day) && a.Now.Before(next) {
		r.Now = x(a.Now)
	}
	open := a.Book.Settings.Calendar.On(day)
	r.Night, r.Closed = nights(open, x), len(open) == 0
	for _, s := range a.Book.Settings.Calendar.Singles {
		if s.Date == day.Format(time.DateOnly) {
			r.Own = s.Open.String()
		}
	}
	y := 18.0
	for _, t := range a.Tasks {
		if !t.Start.Before(day) && t.Start.Before(next) {
			r.Tasks = append(r.Tasks, taskOf(t, a.Book.Settings.Lang(), day, next, x, y))
			y += taskRow
		}
	}
	for _, piece := range a.Pieces {
		if !piece.RackIn.IsZero() && piece.RackIn.Before(next) && piece.RackTo.After(day) {
			from, to := x(piece.RackIn), x(piece.RackTo)
			w := wait{X: from, W: to - from, Y: y + 4, Name: piece.Name}
			w.TextX = math.Max(w.X+4, math.Min(w.X+4, dayWidth-letter*float64(utf8.RuneCountInString(w.Name))-8))
			if from == 0 && len(r.Night) > 0 && r.Night[0].X == 0 && r.Night[0].W < dayWidth/2 {
				w.TextX = r.Night[0].W + 4
			}
			if w.W > 1 {
				r.Waits = append(r.Waits, w)
				y += waitRow
			}
		}
	}
	r.Height = int(max(44, y+8))
	return r
}

// nights are the shut hours of a day, between its stretches of opening.
func nights(open []calendar.Stretch, x func(time.Time) float64) []span {
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

func taskOf(t agenda.Task, l msg.Lang, day, next time.Time, x func(time.Time) float64, y float64) dayTask {
	d := dayTask{Task: t, X: x(t.Start), W: max(3, x(t.End)-x(t.Start)), Y: y,
		Moveable: !t.Done && t.Kind != plan.TaskDeliver, StartText: t.Start.Format(form.MomentLayout)}
	if !t.NotAfter.IsZero() && t.NotBefore.Before(next) && t.NotAfter.After(day) {
		d.Bracket, d.BracketX = true, x(t.NotBefore)
		d.BracketW = max(2, x(t.NotAfter)-d.BracketX)
	}
	d.label(l)
	return d
}

// label puts a task's words beside it and its bracket, on the side that has more
// room; of a piece's long name there is as much as fits.
func (d *dayTask) label(l msg.Lang) {
	left, right := d.X, d.X+d.W
	if d.Bracket {
		left, right = min(left, d.BracketX), max(right, d.BracketX+d.BracketW)
	}
	said := msg.F("%s %s", msg.Date(d.Start, "15:04"), words.Task(d.Task.Task, d.Plan)).In(l) + " "
	if d.Bracket {
		said += ", " + d.NotBefore.Format("15:04") + "–" + d.NotAfter.Format("15:04")
	}
	room := dayWidth - right - 6
	d.LabelX = right + 6
	if whole := letter * float64(utf8.RuneCountInString(said+d.Piece)); left > room && whole > room {
		d.Left, d.LabelX, room = true, left-6, left-6
	}
	d.Of = d.Piece
	if fits := int(room/letter) - utf8.RuneCountInString(said); fits < utf8.RuneCountInString(d.Of) {
		d.Of = string([]rune(d.Of)[:max(0, fits-1)]) + "…"
	}
}
