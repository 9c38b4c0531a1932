package bench

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

func (a *area) weighRoutes() {
	a.GET("/pieces/:id/weigh", a.weighings)
	a.POST("/pieces/:id/weigh/:coat", a.startWeighing)
	a.GET("/weighings/:id", a.showWeighing)
	a.GET("/weighings/:id/look", a.lookTyped)
	a.POST("/weighings/:id/tare", a.weigh(a.Studio.Bench.Tare))
	a.POST("/weighings/:id/tares",
		a.weigh(func(ctx context.Context, id, rev int64, way string) (weighing.Weighing, error) {
			return a.Studio.Bench.Log().SetTares(ctx, id, rev, way)
		}))
	a.POST("/weighings/:id/confirm",
		a.weigh(func(ctx context.Context, id, rev int64, _ string) (weighing.Weighing, error) {
			return a.Studio.Bench.Confirm(ctx, id, rev)
		}))
	a.POST("/weighings/:id/typed", a.weigh(a.Studio.Bench.Typed))
	a.POST("/weighings/:id/undo", a.weigh(func(ctx context.Context, id, rev int64, _ string) (weighing.Weighing, error) {
		return a.Studio.Bench.Log().UndoWeighing(ctx, id, rev)
	}))
}

type weighListPage struct {
	View      agenda.View
	Sys       units.System
	Weighings []weighing.Weighing
}

func (a *area) weighings(c *gin.Context) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	v, err := a.Studio.Agenda.Plan(c.Request.Context(), p)
	if err != nil {
		return err
	}
	list, err := a.Studio.Bench.Log().WeighingsOf(c.Request.Context(), p.ID)
	if err != nil {
		return err
	}
	page := weighListPage{View: v, Sys: v.Agenda.Book.Settings.Units, Weighings: list}
	return a.Show(c, http.StatusOK, "weighings",
		frame.Page{Title: msg.F("Weigh out: %s", p.Name), Nav: "pieces", Data: page})
}

func (a *area) startWeighing(c *gin.Context) error {
	w, err := a.Studio.Bench.StartWeighing(c.Request.Context(), frame.ID(c), c.Param("coat"))
	if err != nil {
		return err
	}
	return frame.Go(c, fmt.Sprintf("/weighings/%d", w.ID))
}

// A weighPage is the screen at the scale.
type weighPage struct {
	weighing.Weighing
	Dial   weighing.Dial
	Sys    units.System
	Typed  string
	Seen   bool     // the dial judges what was typed
	Unread msg.Text // why what was typed says nothing
	Wrong  msg.Text // why the last step was not taken
	Scale  bool     // one is connected
	Lost   bool     // and keeps silent
	Play   bool     // and it is a stand-in
	Bench  string   // where the coat is poured
	Pour   int      // the batch to pour before the next is mixed, 0 for none
}

// beside finds the bench day that goes on, and whether its batch has been poured.
func (p *weighPage) beside(ctx context.Context, log *session.Log) error {
	p.Bench, p.Pour = frame.Piece(p.PieceID, "/bench"), p.PourFirst()
	open, err := log.OpenBenches(ctx)
	for _, b := range open {
		if b.WeighedBy(p.Weighing) && b.PieceID == p.PieceID {
			p.Bench = base(b)
			if b.ReadyFor(p.Pour + 1) {
				p.Pour = 0
			}
		}
	}
	return err
}

// TareWays are the ways to zero a scale, or to read the marks of a jug.
func (p weighPage) TareWays() []school.Way {
	q, _ := school.Find(school.Tare)
	if !p.ByVolume {
		return q.Ways
	}
	return []school.Way{{Key: school.TareEach, Words: "each part by itself"},
		{Key: school.TareOnce, Words: "up the marks of one jug"}}
}

// TareWay is the one in use.
func (p weighPage) TareWay() string {
	switch {
	case p.Tares == "":
		return school.TareEach
	case p.ByVolume && p.Tares == school.TareNever:
		return school.TareOnce
	}
	return p.Tares
}

// Gross reports whether the empty cup is weighed, since it stays in the
// readings.
func (p weighPage) Gross() bool { return !p.Scale && !p.ByVolume && p.Tares == school.TareNever }

// Counts is the pigment as its bottle gives it, where that can be counted.
func (p weighPage) Counts() msg.Text {
	if p.Stage != weighing.Pigmenting || msg.Same(p.Dial.By, words.Pinch) {
		return nil
	}
	return p.Dial.By
}

// Unit is the unit of a bare number.
func (p weighPage) Unit() string {
	if p.Marks() {
		return "mL"
	}
	return "g"
}

// Marks reports whether targets are read off a jug's marks.
func (p weighPage) Marks() bool { return p.ByVolume && p.Dial.Density > 0 }

// Working reports whether a pour is in hand.
func (p weighPage) Working() bool {
	return p.Stage != weighing.Done && p.Stage != weighing.Tare
}

// CanUndo reports whether there is a step to take back.
func (p weighPage) CanUndo() bool { return p.Cup > 0 || p.Stage != weighing.Tare }

func (a *area) weighPage(ctx context.Context, w weighing.Weighing, typed string) (weighPage, error) {
	set, err := a.Studio.Setup.Settings(ctx)
	page := weighPage{Weighing: w, Sys: set.Units, Typed: typed}
	page.look(a)
	return page, errors.Join(err, page.beside(ctx, a.Studio.Bench.Log()))
}

// look reads the scale, where there is one, else what was typed.
func (p *weighPage) look(a *area) {
	devices := a.Studio.Bench.Devices()
	scale := devices.Scale()
	if scale == nil {
		p.lookTyped()
		return
	}
	r := scale.Read()
	p.Lost = r.Lost
	p.Dial, p.Scale, p.Play = p.Look(r.Grams, r.Stable), true, devices.Simulated("scale")
}

func (p *weighPage) lookTyped() {
	p.Dial, p.Seen = p.Look(p.Base, true), false
	if strings.TrimSpace(p.Typed) == "" || p.Stage == weighing.Done {
		return
	}
	reading, err := p.Weighing.Typed(p.Typed)
	if err != nil {
		p.Unread = msg.F("%s.", msg.Capital(msg.Of(err)))
		return
	}
	if p.Working() {
		p.Dial, p.Seen = p.Look(reading, true), true
	}
}

// lookTyped judges what is being typed, before it is taken.
func (a *area) lookTyped(c *gin.Context) error {
	w, err := a.Studio.Bench.Log().Weighing(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	page, err := a.weighPage(c.Request.Context(), w, c.Query("grams"))
	if err != nil {
		return err
	}
	if page.Scale { // the dial is the scale's
		return frame.Nothing(c)
	}
	return a.Part(c, http.StatusOK, "weigh", "weigh-dial", page)
}

func (a *area) showWeighing(c *gin.Context) error {
	w, err := a.Studio.Bench.Log().Weighing(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.sendWeighing(c, http.StatusOK, w, nil, "")
}

func (a *area) sendWeighing(c *gin.Context, status int, w weighing.Weighing, wrong msg.Text, typed string) error {
	page, err := a.weighPage(c.Request.Context(), w, typed)
	if err != nil {
		return err
	}
	page.Wrong = wrong
	if frame.FromHTMX(c) {
		return a.Part(c, status, "weigh", "weigh-body", page)
	}
	return a.Show(c, status, "weigh", frame.Page{Title: msg.F("Weigh out: %s", w.Piece), Nav: "pieces", Data: page})
}

// weigh runs one step for the state the screen was showing.
func (a *area) weigh(do func(ctx context.Context, id, rev int64, typed string) (weighing.Weighing,
	error)) frame.Handler {
	return func(c *gin.Context) error {
		ctx, id, typed := c.Request.Context(), frame.ID(c), c.PostForm("grams")
		w, err := do(ctx, id, frame.Number(c.PostForm("rev")), typed)
		if err == nil {
			if frame.FromHTMX(c) {
				return a.sendWeighing(c, http.StatusOK, w, nil, "")
			}
			return frame.Go(c, fmt.Sprintf("/weighings/%d", w.ID))
		}
		status, text, known := frame.Status(err)
		if !known || status == http.StatusNotFound {
			return err
		}
		if w, readErr := a.Studio.Bench.Log().Weighing(ctx, id); readErr == nil {
			return a.sendWeighing(c, status, w, text, typed)
		}
		return err
	}
}

// streamEvery is how often a screen looks at the scale.
const streamEvery = 100 * time.Millisecond

// feedWeighing tells the dial as the scale moves, and the whole body at first and when a
// step was done on any screen.
func (a *area) feedWeighing(ctx context.Context, w weighing.Weighing, tell tell) {
	changes, stop := a.Studio.Bench.Log().WatchWeighing(w.ID)
	defer stop()
	page, err := a.weighPage(ctx, w, "")
	if err != nil {
		return
	}
	var ticks <-chan time.Time // without a scale there is nothing to look at
	if page.Scale {
		look := time.NewTicker(streamEvery)
		defer look.Stop()
		ticks = look.C
	}
	last := ""
	tell("body", "weigh", "weigh-body", page)
	for {
		select {
		case <-ctx.Done():
			return
		case <-changes:
			if w, err = a.Studio.Bench.Log().Weighing(ctx, w.ID); err != nil {
				return // the page says why when it is opened again
			}
			if page, err = a.weighPage(ctx, w, ""); err != nil {
				return
			}
			last = ""
			tell("body", "weigh", "weigh-body", page)
		case <-ticks:
			page.look(a)
			if now := fmt.Sprint(page.Dial); now != last {
				last = now
				tell("dial", "weigh", "weigh-dial", page)
			}
		}
	}
}
