package web

import (
	"bytes"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

func (s *Server) weighRoutes(e *gin.Engine) {
	e.GET("/pieces/:id/weigh", s.listWeighings)
	e.POST("/pieces/:id/weigh/:coat", s.startWeighing)
	g := e.Group("/weighings/:id")
	g.GET("", s.showWeighing)
	g.GET("/stream", s.streamWeighing)
	g.POST("/tare", s.weighStep(func(c *gin.Context, id, rev int64) (studio.Weighing, error) {
		return s.studio.TareWeighing(c.Request.Context(), id, rev)
	}))
	g.POST("/confirm", s.weighStep(func(c *gin.Context, id, rev int64) (studio.Weighing, error) {
		return s.studio.ConfirmScale(c.Request.Context(), id, rev)
	}))
	g.POST("/typed", s.weighStep(func(c *gin.Context, id, rev int64) (studio.Weighing, error) {
		return s.studio.ConfirmTyped(c.Request.Context(), id, rev, c.PostForm("grams"))
	}))
	g.POST("/undo", s.weighStep(func(c *gin.Context, id, rev int64) (studio.Weighing, error) {
		return s.studio.UndoWeighing(c.Request.Context(), id, rev)
	}))
	e.POST("/scale/:what", s.playScale)
}

type weighListPage struct {
	Plan      studio.Plan
	Weighings []studio.Weighing
}

func (s *Server) listWeighings(c *gin.Context) {
	plan, err := s.studio.Plan(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	list, err := s.studio.Weighings(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "weighings", Page{Title: "Weigh out: " + plan.Piece.Name, Nav: "pieces", Data: weighListPage{plan, list}})
}

func (s *Server) startWeighing(c *gin.Context) {
	w, err := s.studio.StartWeighing(c.Request.Context(), id(c), c.Param("coat"))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/weighings/%d", w.ID))
}

// A weighPage is the screen at the scale.
type weighPage struct {
	studio.Weighing
	Dial    studio.Dial
	Typed   string
	Wrong   string // why the last step was not taken
	CanPlay bool   // a simulated scale stands on the bench
}

// player is a scale that can be played with on the page.
type player interface {
	Lever(position float64)
	Place(units.Mass)
	Clear()
}

func (s *Server) weighPage(w studio.Weighing) weighPage {
	r := s.studio.Scale().Read()
	_, canPlay := s.studio.Scale().(player)
	return weighPage{Weighing: w, Dial: w.Look(r.Grams, r.Stable), CanPlay: canPlay}
}

func (s *Server) showWeighing(c *gin.Context) {
	w, err := s.studio.Weighing(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "weigh", Page{Title: "Weigh out: " + w.Piece, Nav: "pieces", Data: s.weighPage(w)})
}

// weighStep runs one step for the state the screen was showing.
func (s *Server) weighStep(do func(c *gin.Context, id, rev int64) (studio.Weighing, error)) gin.HandlerFunc {
	return func(c *gin.Context) {
		rev, _ := strconv.ParseInt(c.PostForm("rev"), 10, 64)
		w, err := do(c, id(c), rev)
		if w.ID == 0 {
			s.fail(c, err)
			return
		}
		page := s.weighPage(w)
		if err != nil {
			page.Wrong, page.Typed = err.Error(), c.PostForm("grams")
		}
		if fromHTMX(c) {
			s.fragment(c, http.StatusOK, "weigh", "weigh-body", page)
			return
		}
		if err != nil {
			s.show(c, http.StatusUnprocessableEntity, "weigh", Page{Title: "Weigh out: " + w.Piece, Nav: "pieces", Data: page})
			return
		}
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/weighings/%d", w.ID))
	}
}

// streamEvery is how often a screen looks at the scale.
const streamEvery = 100 * time.Millisecond

// streamWeighing sends the dial as the scale moves, and the whole body when a
// step was done on any screen (server-sent events).
func (s *Server) streamWeighing(c *gin.Context) {
	changes, stop := s.studio.WatchWeighing(id(c))
	defer stop()
	w, err := s.studio.Weighing(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.beginStream(c)
	look := time.NewTicker(streamEvery)
	defer look.Stop()
	last := ""
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-changes:
			if w, err = s.studio.Weighing(c.Request.Context(), w.ID); err != nil {
				return
			}
			if !s.event(c, "weigh", "body", "weigh-body", s.weighPage(w)) {
				return
			}
			last = ""
		case <-look.C:
			page := s.weighPage(w)
			if now := fmt.Sprint(page.Dial); now != last {
				last = now
				if !s.event(c, "weigh", "dial", "weigh-dial", page) {
					return
				}
			}
		}
	}
}

// event writes one server-sent event; false when the page has gone.
func (s *Server) event(c *gin.Context, page, name, block string, data any) bool {
	var b bytes.Buffer
	if err := s.pages.byName[page].ExecuteTemplate(&b, block, data); err != nil {
		s.opts.Log.Error("render", "block", block, "error", err)
		return false
	}
	text := strings.ReplaceAll(strings.TrimSpace(b.String()), "\n", "\ndata: ")
	_, err := fmt.Fprintf(c.Writer, "event: %s\ndata: %s\n\n", name, text)
	c.Writer.Flush()
	return err == nil
}

// playScale moves the simulated scale's lever, cup and pan.
func (s *Server) playScale(c *gin.Context) {
	scale, ok := s.studio.Scale().(player)
	if !ok {
		s.fail(c, errNoPage)
		return
	}
	switch c.Param("what") {
	case "lever":
		v, err := strconv.ParseFloat(c.PostForm("lever"), 64)
		if err != nil || !(v >= 0 && v <= 100) {
			c.String(http.StatusUnprocessableEntity, "the lever stands between 0 and 100")
			return
		}
		scale.Lever(v / 100)
	case "cup":
		scale.Clear()
		scale.Place(emptyCup)
	default:
		s.fail(c, errNoPage)
		return
	}
	c.Status(http.StatusNoContent)
}

// emptyCup is what a paper cup weighs (common practice).
const emptyCup = 9 * units.Gram
