package bench

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/units"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/frame"
)

func (a *area) weighRoutes() {
	a.GET("/pieces/:id/weigh", a.weighings)
	a.POST("/pieces/:id/weigh/:coat", a.startWeighing)
	a.GET("/weighings/:id", a.showWeighing)
	a.GET("/weighings/:id/stream", a.streamWeighing)
	a.POST("/weighings/:id/tare", a.weigh(func(ctx context.Context, id, rev int64, _ string) (session.Weighing, error) {
		return a.Studio.Bench.Tare(ctx, id, rev)
	}))
	a.POST("/weighings/:id/confirm", a.weigh(func(ctx context.Context, id, rev int64, _ string) (session.Weighing, error) {
		return a.Studio.Bench.Confirm(ctx, id, rev)
	}))
	a.POST("/weighings/:id/typed", a.weigh(a.Studio.Bench.Typed))
	a.POST("/weighings/:id/undo", a.weigh(func(ctx context.Context, id, rev int64, _ string) (session.Weighing, error) {
		return a.Studio.Bench.Log().UndoWeighing(ctx, id, rev)
	}))
}

type weighListPage struct {
	View      agenda.View
	Sys       units.System
	Weighings []session.Weighing
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
	return a.Show(c, http.StatusOK, "weighings", frame.Page{Title: "Weigh out: " + p.Name, Nav: "pieces", Data: page})
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
	session.Weighing
	Dial  session.Dial
	Sys   units.System
	Typed string
	Wrong string // why the last step was not taken
	Scale bool   // one is connected
	Play  bool   // and it is a stand-in
}

// Marks reports whether targets are read off a jug's marks.
func (p weighPage) Marks() bool { return p.ByVolume && p.Dial.Density > 0 }

// Working reports whether a pour is in hand.
func (p weighPage) Working() bool {
	return p.Stage != session.WeighDone && p.Stage != session.WeighTare
}

// CanUndo reports whether there is a step to take back.
func (p weighPage) CanUndo() bool { return p.Cup > 0 || p.Stage != session.WeighTare }

func (a *area) weighPage(ctx context.Context, w session.Weighing) (weighPage, error) {
	set, err := a.Studio.Setup.Settings(ctx)
	page := weighPage{Weighing: w, Sys: set.Units}
	page.look(a)
	return page, err
}

// look reads the scale, where there is one.
func (p *weighPage) look(a *area) {
	devices := a.Studio.Bench.Devices()
	scale := devices.Scale()
	if scale == nil {
		p.Dial = p.Look(p.Base, true)
		return
	}
	r := scale.Read()
	p.Dial, p.Scale, p.Play = p.Look(r.Grams, r.Stable), true, devices.Simulated("scale")
}

func (a *area) showWeighing(c *gin.Context) error {
	w, err := a.Studio.Bench.Log().Weighing(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.sendWeighing(c, http.StatusOK, w, "", "")
}

func (a *area) sendWeighing(c *gin.Context, status int, w session.Weighing, wrong, typed string) error {
	page, err := a.weighPage(c.Request.Context(), w)
	if err != nil {
		return err
	}
	page.Wrong, page.Typed = wrong, typed
	if frame.FromHTMX(c) {
		return a.Part(c, status, "weigh", "weigh-body", page)
	}
	return a.Show(c, status, "weigh", frame.Page{Title: "Weigh out: " + w.Piece, Nav: "pieces", Data: page})
}

// weigh runs one step for the state the screen was showing.
func (a *area) weigh(do func(ctx context.Context, id, rev int64, typed string) (session.Weighing, error)) frame.Handler {
	return func(c *gin.Context) error {
		ctx, id, typed := c.Request.Context(), frame.ID(c), c.PostForm("grams")
		w, err := do(ctx, id, frame.Number(c.PostForm("rev")), typed)
		if err == nil {
			if frame.FromHTMX(c) {
				return a.sendWeighing(c, http.StatusOK, w, "", "")
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

// streamWeighing sends the dial as the scale moves, and the whole body when a
// step was done on any screen (server-sent events).
func (a *area) streamWeighing(c *gin.Context) error {
	ctx := c.Request.Context()
	changes, stop := a.Studio.Bench.Log().WatchWeighing(frame.ID(c))
	defer stop()
	w, err := a.Studio.Bench.Log().Weighing(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	page, err := a.weighPage(ctx, w)
	if err != nil {
		return err
	}
	frame.Stream(c)
	look := time.NewTicker(streamEvery)
	defer look.Stop()
	last := ""
	for {
		select {
		case <-ctx.Done():
			return nil
		case <-changes:
			if page.Weighing, err = a.Studio.Bench.Log().Weighing(ctx, w.ID); err != nil {
				return nil // the page reconnects by itself
			}
			page.look(a)
			last = ""
			if !a.Event(c, "weigh", "body", "weigh-body", page) {
				return nil
			}
		case <-look.C:
			page.look(a)
			if now := fmt.Sprint(page.Dial); now != last {
				last = now
				if !a.Event(c, "weigh", "dial", "weigh-dial", page) {
					return nil
				}
			}
		}
	}
}
