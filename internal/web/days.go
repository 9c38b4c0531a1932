package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/studio"
)

func (s *Server) dayRoutes(e *gin.Engine) {
	e.GET("/", s.showToday)
	e.GET("/days", s.showDays)
	e.GET("/pieces/:id/among", s.showAmong)
	e.GET("/days/ways", s.showWays)
	e.GET("/days/print", s.printWeek)
	e.POST("/days/pin", s.pinTask)
	e.POST("/days/done", s.markTask)
	e.GET("/days.ics", s.calendarFile)
	e.GET("/calendar/:secret", s.calendarFeed)
	e.POST("/calendar/renew", s.renewFeed)
	e.GET("/outbox", s.showOutbox)
	e.POST("/outbox", s.remindNow)
}

type todayPage struct{ studio.Today }

func (s *Server) showToday(c *gin.Context) {
	t, err := s.studio.Today(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "today", Page{Title: "Today", Nav: "today", Data: todayPage{t}})
}

// A daysPage is a stretch of days.
type daysPage struct {
	studio.Days
	Rows       []dayRow
	From, To   time.Time
	Back, On   string // addresses of the stretches before and after
	If         string // name of a what-if
	IfKey      string
	Ways       []studio.WayOut
	Feed       string
	Empty      bool
	ShelfRows  []shelfRow
	ShelfTicks []dayTick
}

// Last is the last day of the stretch.
func (p daysPage) Last() time.Time { return p.To.AddDate(0, 0, -1) }

// A dayRow is one day drawn as a day.
type dayRow struct {
	Date   time.Time
	Today  bool
	Closed bool
	Night  []daySpan // shut hours, shaded
	Tasks  []dayTask
	Waits  []dayWait
	Now    float64
	Height int
	Ticks  []dayTick
}

type daySpan struct{ X, W float64 }

type dayTick struct {
	X     float64
	Label string
}

type dayTask struct {
	studio.PlannedTask
	X, W, Y   float64
	Left      bool // its words stand to the left
	BracketX  float64
	BracketW  float64
	Bracket   bool
	Opens     string
	Closes    string
	LabelX    float64
	Moveable  bool
	StartText string
}

// A dayWait is a thin line from one task of a piece to its next.
type dayWait struct{ X, W, Y float64 }

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

func (s *Server) showDays(c *gin.Context) {
	page, ok := s.daysPage(c, daysShown)
	if !ok {
		return
	}
	if fromHTMX(c) {
		s.fragment(c, http.StatusOK, "days", "days-all", page)
		return
	}
	s.show(c, http.StatusOK, "days", Page{Title: "Days", Nav: "days", Data: page})
}

func (s *Server) daysPage(c *gin.Context, n int) (daysPage, bool) {
	var page daysPage
	var err error
	if key := c.Query("if"); key != "" {
		page.IfKey = key
		page.Days, page.If, err = s.studio.WhatIf(c.Request.Context(), key)
	} else {
		page.Days, err = s.studio.Days(c.Request.Context())
	}
	if err == nil {
		page.Feed, err = s.studio.FeedSecret(c.Request.Context(), false)
	}
	if err != nil {
		s.fail(c, err)
		return page, false
	}
	page.From = page.Base
	if t, err := time.ParseInLocation(time.DateOnly, c.Query("from"), time.Local); err == nil {
		page.From = t
	}
	page.lay(n)
	page.Ways = studio.WaysToTry()
	page.Empty = len(page.Days.Pieces) == 0 && len(page.LeftOut) == 0
	return page, true
}

// lay draws the days of the stretch.
func (p *daysPage) lay(n int) {
	link := func(t time.Time) string {
		q := "/days?from=" + t.Format(time.DateOnly)
		if p.IfKey != "" {
			q += "&if=" + p.IfKey
		}
		return q
	}
	p.Back, p.On = link(p.From.AddDate(0, 0, -n)), link(p.From.AddDate(0, 0, n))
	p.To = p.From.AddDate(0, 0, n)
	for i := range n {
		p.Rows = append(p.Rows, p.row(p.From.AddDate(0, 0, i)))
	}
	whole := p.To.Sub(p.From).Hours()
	for _, piece := range p.Days.Pieces {
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
	for i := range n {
		p.ShelfTicks = append(p.ShelfTicks, dayTick{float64(i) / float64(n) * dayWidth, p.From.AddDate(0, 0, i).Format("Mon 2")})
	}
}

func (p *daysPage) row(day time.Time) dayRow {
	next := day.AddDate(0, 0, 1)
	x := func(t time.Time) float64 {
		switch {
		case t.Before(day):
			return 0
		case t.After(next):
			return dayWidth
		}
		return t.Sub(day).Hours() / next.Sub(day).Hours() * dayWidth
	}
	r := dayRow{Date: day, Today: day.Equal(p.Base), Now: -1}
	if !p.Now.Before(day) && p.Now.Before(next) {
		r.Now = x(p.Now)
	}
	from, to, open := p.Settings.OpenOn(day)
	if open {
		r.Night = []daySpan{{0, x(from)}, {x(to), dayWidth - x(to)}}
	} else {
		r.Closed, r.Night = true, []daySpan{{0, dayWidth}}
	}
	for h := 0; h < 24; h += 4 {
		r.Ticks = append(r.Ticks, dayTick{float64(h) * hourWidth, fmt.Sprintf("%02d:00", h)})
	}
	y := 18.0
	for _, t := range p.Tasks {
		if t.Start.Before(day) || !t.Start.Before(next) {
			continue
		}
		d := dayTask{PlannedTask: t, X: x(t.Start), W: max(3, x(t.End)-x(t.Start)), Y: y, Moveable: !t.Done && t.Kind != studio.TaskDeliver, StartText: t.Start.Format("2006-01-02T15:04")}
		if !t.NotAfter.IsZero() && t.NotBefore.Before(next) && t.NotAfter.After(day) {
			d.Bracket, d.BracketX = true, x(t.NotBefore)
			d.BracketW = max(2, x(t.NotAfter)-d.BracketX)
			d.Opens, d.Closes = t.NotBefore.Format("15:04"), t.NotAfter.Format("15:04")
		}
		d.label()
		r.Tasks = append(r.Tasks, d)
		y += taskRow
	}
	for _, piece := range p.Days.Pieces { // what lies and cures is a thin line
		if !piece.ShelfIn.IsZero() && piece.ShelfIn.Before(next) && piece.ShelfTo.After(day) {
			a, b := x(piece.ShelfIn), x(piece.ShelfTo)
			r.Waits = append(r.Waits, dayWait{a, b - a, y + 3})
			y += 5
		}
	}
	r.Height = int(max(44, y+8))
	return r
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

// showAmong says when a piece's coats lie in the plan of all pieces.
func (s *Server) showAmong(c *gin.Context) {
	tasks, late, err := s.studio.Among(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.fragment(c, http.StatusOK, "piece", "among", struct {
		Tasks []studio.PlannedTask
		Late  time.Duration
	}{tasks, late})
}

func (s *Server) showWays(c *gin.Context) {
	ways, err := s.studio.WaysOut(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.fragment(c, http.StatusOK, "days", "ways-out", ways)
}

func (s *Server) printWeek(c *gin.Context) {
	page, ok := s.daysPage(c, daysShown)
	if ok {
		s.show(c, http.StatusOK, "week", Page{Title: "Week", Nav: "days", Data: page})
	}
}

// pinTask lays a task at a time, by drag, by keyboard or typed.
func (s *Server) pinTask(c *gin.Context) {
	piece, _ := strconv.ParseInt(c.PostForm("piece"), 10, 64)
	var at time.Time
	if text := c.PostForm("at"); text != "" {
		t, err := time.ParseInLocation("2006-01-02T15:04", text, time.Local)
		if err != nil {
			s.fail(c, &studio.RefusedError{Err: fmt.Errorf("%q is not a day and hour", text)})
			return
		}
		at = t
	}
	if err := s.studio.PinTask(c.Request.Context(), piece, c.PostForm("task"), at); err != nil {
		s.fail(c, err)
		return
	}
	s.backTo(c, "/days")
}

// markTask says that a task was done now, or takes that back.
func (s *Server) markTask(c *gin.Context) {
	piece, _ := strconv.ParseInt(c.PostForm("piece"), 10, 64)
	at := s.studio.Now()
	if c.PostForm("undo") != "" {
		at = time.Time{}
	}
	if err := s.studio.MarkTask(c.Request.Context(), piece, c.PostForm("task"), at); err != nil {
		s.fail(c, err)
		return
	}
	s.backTo(c, "/")
}

func (s *Server) backTo(c *gin.Context, other string) {
	target := localReferer(c, other)
	if fromHTMX(c) { // only the days page asks this way
		where, err := json.Marshal(map[string]string{"path": target, "target": "#days-all", "swap": "outerHTML"})
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Header("HX-Location", string(where))
		c.Status(http.StatusOK)
		return
	}
	c.Redirect(http.StatusSeeOther, target)
}

func (s *Server) calendarFile(c *gin.Context) {
	var b bytes.Buffer
	if err := s.studio.Calendar(c.Request.Context(), &b); err != nil {
		s.fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="studio-days.ics"`)
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
}

func (s *Server) calendarFeed(c *gin.Context) {
	secret := c.Param("secret")
	if len(secret) > 4 && secret[len(secret)-4:] == ".ics" {
		secret = secret[:len(secret)-4]
	}
	var b bytes.Buffer
	if err := s.studio.Feed(c.Request.Context(), secret, &b); err != nil {
		s.fail(c, err)
		return
	}
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
}

func (s *Server) renewFeed(c *gin.Context) {
	if _, err := s.studio.FeedSecret(c.Request.Context(), true); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/days#calendar")
}

type outboxPage struct {
	Letters []studio.Letter
	Server  studio.MailServer
}

func (s *Server) showOutbox(c *gin.Context) {
	letters, err := s.studio.Letters(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "outbox", Page{Title: "Outbox", Nav: "today", Data: outboxPage{letters, set.Mail}})
}

func (s *Server) remindNow(c *gin.Context) {
	if err := s.studio.RemindNow(c.Request.Context()); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/outbox")
}
