// Package days shows the schedule: today, the days of all pieces, the
// printed week, the calendar and the letters.
package days

import (
	"bytes"
	"context"
	"embed"
	"encoding/json"
	"errors"
	"html/template"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/mail"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/setup"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/today"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

//go:embed all:templates
var templates embed.FS

type area struct {
	*frame.Area
	cards *card.Maker
}

// Routes adds the area to the frame.
func Routes(f *frame.Frame, cards *card.Maker) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages, cards}
	a.GET("/", a.today)
	a.GET("/days", a.days)
	a.GET("/days/ways", a.ways)
	a.GET("/days/month", a.month)
	a.GET("/days/print", a.week)
	a.GET("/days/place", a.place)
	a.POST("/days/hours", a.ownHours)
	a.POST("/days/pin", a.pin)
	a.POST("/days/done", a.mark)
	a.GET(calendarPath, a.calendarFile)
	a.GET("/calendar/:secret", a.calendarFeed)
	a.POST("/calendar/renew", a.renewFeed)
	a.GET("/outbox", a.outbox)
	a.POST("/outbox", a.remindNow)
	return nil
}

type todayPage struct {
	today.Today
	Sys          units.System
	Repairs, Out []msg.Text
	Lists        template.HTML
	Line         dayRow      // today, drawn
	Boards       []card.Card // in hand, those to be worked on first
}

// Last is the last thing to do today, nil when there is nothing.
func (p todayPage) Last() *agenda.Task {
	if n := len(p.Do); n > 0 {
		return &p.Do[n-1]
	}
	return nil
}

// listsKey is the state that the lists of a day depend on.
type listsKey struct {
	agenda *agenda.Agenda
	stock  *stock.Ledger
	role   access.Role
}

// shownTo leaves out what a visitor's role does not see.
func (p *todayPage) shownTo(v frame.Visitor) {
	if !v.Sees("/commissions") {
		p.Money = nil
	}
	if !v.Sees("/stock") {
		p.Low, p.Old = nil, nil
	}
	if !v.Sees("/pieces/:id/result") {
		p.Tell = nil
	}
}

func (a *area) today(c *gin.Context) error {
	t, err := a.Studio.Today.Today(c.Request.Context())
	if err != nil {
		return err
	}
	page := todayPage{Today: t, Sys: t.Agenda.Book.Settings.Units}
	who, _ := frame.VisitorOf(c.Request.Context())
	page.shownTo(who)
	page.Repairs, page.Out, _ = t.Agenda.Said()
	page.Line = lineOf(t.Agenda)
	page.Lists, err = a.Once(c.Request.Context(), "today", "lists", listsKey{t.Agenda, t.Stock, who.Role},
		func() (any, error) { return page, nil })
	if err != nil {
		return err
	}
	if page.Boards, err = a.inHand(c.Request.Context(), t.Agenda); err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "today", frame.Page{Title: msg.ID("Today"), Nav: "today", Data: page})
}

// mostInHand is how many boards the front door shows.
const mostInHand = 4

// inHand are the boards whose next tasks come first.
func (a *area) inHand(ctx context.Context, days *agenda.Agenda) ([]card.Card, error) {
	var list []pieces.Piece
	seen := map[int64]bool{}
	for _, t := range days.Tasks {
		if t.Done || seen[t.PieceID] || len(list) == mostInHand {
			continue
		}
		seen[t.PieceID] = true
		p, err := a.Studio.Pieces.Piece(ctx, t.PieceID)
		if errors.Is(err, store.ErrNotFound) {
			continue // removed since the days were planned
		}
		if err != nil {
			return nil, err
		}
		list = append(list, p)
	}
	return a.cards.Of(ctx, list)
}

// A daysPage is a stretch of days.
type daysPage struct {
	*agenda.Agenda
	Sys                   units.System
	Repairs, Out, Reasons []msg.Text
	Changed               []agenda.Moved
	Since                 string
	Body                  template.HTML // rows and rack, on the screen
	Rows                  []dayRow
	Hours                 hours             // of a day, that are shown
	Singles               []calendar.Single // days to come with hours of their own
	Typed                 string            // of such a day, not understood
	Notice                *form.Refused
	From, To              time.Time
	Back, On              string   // addresses of the stretches before and after
	If                    msg.Text // name of a what-if
	IfKey                 string
	Ways                  []agenda.WayOut
	Feed                  string // secret of the calendar's address, for who may have it
	Empty                 bool
	RackRows              []rackRow
	RackTicks             []tick
	Judge                 []journal.ToJudge // coats that may be looked at dry
}

// laid is the key of drawn days.
type laid struct {
	*agenda.Agenda
	from time.Time
}

// Last is the last day of the stretch.
func (p daysPage) Last() time.Time { return p.To.AddDate(0, 0, -1) }

func (a *area) days(c *gin.Context) error {
	page, err := a.stretch(c)
	if err != nil {
		return err
	}
	page.Body, err = a.Once(c.Request.Context(), "days", "days-body", laid{page.Agenda, page.From}, func() (any, error) {
		page.draw()
		return page, nil
	})
	if err != nil {
		return err
	}
	if page.IfKey == "" {
		if page.Judge, err = a.Studio.Journal.ToJudge(c.Request.Context(), page.Agenda, words.Coat); err != nil {
			return err
		}
	}
	if frame.FromHTMX(c) {
		return a.Part(c, http.StatusOK, "days", "days-all", page)
	}
	return a.Show(c, http.StatusOK, "days", frame.Page{Title: msg.ID("Days"), Nav: "days", Data: page})
}

func (a *area) week(c *gin.Context) error {
	page, err := a.stretch(c)
	if err != nil {
		return err
	}
	page.draw()
	return a.Show(c, http.StatusOK, "week", frame.Page{Title: msg.ID("Week"), Nav: "days", Data: page})
}

// stretch gathers the days a page shows, of what is or of a what-if.
func (a *area) stretch(c *gin.Context) (daysPage, error) {
	ctx := c.Request.Context()
	page := daysPage{IfKey: c.Query("if"), Ways: agenda.ToTry()}
	var err error
	if page.IfKey != "" {
		page.Agenda, page.If, err = a.Studio.Agenda.WhatIf(ctx, page.IfKey)
	} else if page.Agenda, err = a.Studio.Agenda.Current(ctx); err == nil {
		page.Changed, page.Since, err = a.Studio.Agenda.Since(ctx, page.Agenda)
	}
	if err != nil {
		return page, err
	}
	if who, _ := frame.VisitorOf(ctx); who.Sees(calendarPath) {
		if page.Feed, err = a.Studio.Mail.FeedSecret(ctx); err != nil {
			return page, err
		}
	}
	page.Sys = page.Book.Settings.Units
	page.Repairs, page.Out, page.Reasons = page.Said()
	page.From = page.Base
	if t, err := time.ParseInLocation(time.DateOnly, c.Query("from"), time.Local); err == nil {
		page.From = t
	}
	page.links()
	for _, one := range page.Book.Settings.Calendar.Singles {
		if one.Date >= page.Base.Format(time.DateOnly) {
			page.Singles = append(page.Singles, one)
		}
	}
	page.Empty = len(page.Pieces) == 0 && len(page.Out) == 0
	return page, nil
}

// A wayOut is a way out with the place where it is done.
type wayOut struct {
	agenda.WayOut
	Do string
}

// places are the addresses of where ways out are done.
var places = map[agenda.Where]string{agenda.AtSchools: "/settings#schools", agenda.AtSettings: "/settings",
	agenda.AtPieces: "/pieces"}

func (a *area) ways(c *gin.Context) error {
	found, err := a.Studio.Agenda.WaysOut(c.Request.Context())
	if err != nil {
		return err
	}
	ways := make([]wayOut, len(found))
	for i, w := range found {
		ways[i] = wayOut{w, places[w.Where]}
	}
	return a.Part(c, http.StatusOK, "days", "ways-out", ways)
}

// place says in words what keeps a task from a time, "" when nothing does.
func (a *area) place(c *gin.Context) error {
	at, err := form.ParseMoment(c.Query("at"))
	if err != nil {
		return &form.Refused{Field: "at", Err: err}
	}
	o, err := a.Studio.Agenda.Place(c.Request.Context(), frame.Number(c.Query("piece")), c.Query("task"), at)
	if err != nil {
		return err
	}
	var said msg.Text
	if o != nil {
		said = o.Words()
	}
	c.String(http.StatusOK, "%s", said)
	return nil
}

// ownHours gives a day hours of its own, or its usual ones again.
func (a *area) ownHours(c *gin.Context) error {
	ctx := c.Request.Context()
	if date := c.PostForm("drop"); date != "" {
		if err := a.Studio.Setup.DropDay(ctx, date); err != nil {
			return err
		}
		return frame.Go(c, "/days#hours")
	}
	_, err := a.Studio.Setup.SayDay(ctx, c.PostForm("day"), a.Studio.Now().Local())
	var refused *form.Refused
	if !errors.As(err, &refused) {
		if err != nil {
			return err
		}
		return frame.Go(c, "/days#hours")
	}
	page, err := a.stretch(c)
	if err != nil {
		return err
	}
	page.Typed, page.Notice = c.PostForm("day"), refused
	page.draw()
	if page.Body, err = a.Render(c.Request.Context(), "days", "days-body", page); err != nil {
		return err
	}
	return a.Show(c, http.StatusUnprocessableEntity, "days", frame.Page{Title: msg.ID("Days"), Nav: "days", Data: page})
}

// pin lays a task at a time, by drag, by keyboard or typed.
func (a *area) pin(c *gin.Context) error {
	var at time.Time
	if text := c.PostForm("at"); text != "" {
		var err error
		if at, err = form.ParseMoment(text); err != nil {
			return &form.Refused{Field: "at", Err: err}
		}
	}
	if err := a.Studio.Agenda.Pin(c.Request.Context(), frame.Number(c.PostForm("piece")), c.PostForm("task"),
		at); err != nil {
		return err
	}
	return a.backTo(c, "/days")
}

// mark says that a task was done now, or takes that back.
func (a *area) mark(c *gin.Context) error {
	at := a.Studio.Now()
	if c.PostForm("undo") != "" {
		at = time.Time{}
	}
	if err := a.Studio.Agenda.Mark(c.Request.Context(), frame.Number(c.PostForm("piece")), c.PostForm("task"),
		at); err != nil {
		return err
	}
	return a.backTo(c, "/")
}

func (a *area) backTo(c *gin.Context, other string) error {
	target := frame.Local(c.PostForm("back"), other)
	if !frame.FromHTMX(c) {
		return frame.Go(c, target)
	}
	// Only the days page asks this way.
	where, err := json.Marshal(map[string]string{"path": target, "target": "#days-all", "swap": "outerHTML"})
	if err != nil {
		return err
	}
	c.Header("HX-Location", string(where))
	c.Status(http.StatusOK)
	return nil
}

const (
	calendarPath = "/days.ics"
	calendarType = "text/calendar; charset=utf-8"
)

func (a *area) calendarFile(c *gin.Context) error {
	var b bytes.Buffer
	if err := a.Studio.Mail.Calendar(c.Request.Context(), &b); err != nil {
		return err
	}
	frame.Attach(c, "studio-days.ics")
	c.Data(http.StatusOK, calendarType, b.Bytes())
	return nil
}

func (a *area) calendarFeed(c *gin.Context) error {
	var b bytes.Buffer
	if err := a.Studio.Mail.Feed(c.Request.Context(), strings.TrimSuffix(c.Param("secret"), ".ics"), &b); err != nil {
		return err
	}
	c.Data(http.StatusOK, calendarType, b.Bytes())
	return nil
}

func (a *area) renewFeed(c *gin.Context) error {
	if err := a.Studio.Mail.RenewFeed(c.Request.Context()); err != nil {
		return err
	}
	return frame.Go(c, "/days#calendar")
}

type outboxPage struct {
	Letters []mail.Letter
	Server  setup.Mail
}

func (a *area) outbox(c *gin.Context) error {
	letters, err := a.Studio.Mail.Letters(c.Request.Context())
	if err != nil {
		return err
	}
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "outbox",
		frame.Page{Title: msg.ID("Outbox"), Nav: "today", Data: outboxPage{letters, set.Mail}})
}

func (a *area) remindNow(c *gin.Context) error {
	if err := a.Studio.Mail.RemindNow(c.Request.Context()); err != nil {
		return err
	}
	return frame.Go(c, "/outbox")
}
