package days

import (
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/web/frame"
)

// A monthPage is some weeks as a wall calendar has them.
type monthPage struct {
	*agenda.Agenda
	First    time.Time
	Last     time.Time
	Weeks    [][]monthDay
	Back, On string
	Names    []msg.Text
}

// A monthDay is a day of it: what is poured, how much else there is to do, and what
// falls due.
type monthDay struct {
	Date        time.Time
	Past, Today bool
	Closed      bool
	Pours       []agenda.Task
	Jobs        int
	Hands       float64 // minutes
	Due, Ready  []agenda.Piece
	Link        string
}

// mostPours is how many pours a day of a month names.
const mostPours = 3

// More is how many pours a day does not name.
func (d monthDay) More() int { return max(0, len(d.Pours)-mostPours) }

// Named are the pours that it names.
func (d monthDay) Named() []agenda.Task { return d.Pours[:min(len(d.Pours), mostPours)] }

// weeksShown is how many weeks a month shows, from the one a day lies in.
const weeksShown = 5

func (a *area) month(c *gin.Context) error {
	days, err := a.Studio.Agenda.Current(c.Request.Context())
	if err != nil {
		return err
	}
	at := days.Base
	if t, err := time.ParseInLocation(time.DateOnly, c.Query("from"), time.Local); err == nil {
		at = t
	}
	return a.Show(c, http.StatusOK, "month", frame.Page{Title: msg.ID("Month"), Nav: "days", Data: monthOf(days, at)})
}

// monthOf lays out the weeks from the one a day lies in, each from the day weeks begin on.
func monthOf(a *agenda.Agenda, at time.Time) monthPage {
	first := a.Book.Settings.Language.WeekBegins()
	start := at.AddDate(0, 0, -(int(at.Weekday()-first)+7)%7)
	link := func(weeks int) string {
		return "/days/month?from=" + start.AddDate(0, 0, 7*weeks).Format(time.DateOnly)
	}
	p := monthPage{Agenda: a, First: start, Last: start.AddDate(0, 0, 7*weeksShown-1), Back: link(-weeksShown),
		On: link(weeksShown)}
	for w := range weeksShown {
		var week []monthDay
		for d := range 7 {
			week = append(week, monthDayOf(a, start.AddDate(0, 0, 7*w+d)))
		}
		p.Weeks = append(p.Weeks, week)
	}
	for k := range 7 {
		p.Names = append(p.Names, msg.Date(start.AddDate(0, 0, k), "Mon"))
	}
	return p
}

func monthDayOf(a *agenda.Agenda, day time.Time) monthDay {
	next := day.AddDate(0, 0, 1)
	on := func(t time.Time) bool { return !t.Before(day) && t.Before(next) }
	d := monthDay{Date: day, Past: day.Before(a.Base), Today: day.Equal(a.Base),
		Closed: len(a.Book.Settings.Calendar.On(day)) == 0, Link: "/days?from=" + day.Format(time.DateOnly)}
	for _, t := range a.Tasks {
		switch {
		case !on(t.Start) || t.Kind == plan.TaskDeliver:
			continue
		case t.Kind == plan.TaskPour:
			d.Pours = append(d.Pours, t)
		}
		d.Jobs++
		d.Hands += float64(t.Hands)
	}
	for _, p := range a.Pieces {
		if !p.Due.IsZero() && on(p.Due.Add(-time.Minute)) {
			d.Due = append(d.Due, p)
		}
		if on(p.End) {
			d.Ready = append(d.Ready, p)
		}
	}
	return d
}
