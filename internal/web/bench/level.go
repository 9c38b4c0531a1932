package bench

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
)

type levelPage struct {
	bench.Levelling
	Sys    units.System
	Board  drawing.Boards
	Fields map[string]form.View
}

// Open reports that the film can walk off the face.
func (p levelPage) Open() bool { return !p.View.Plan.Spec.Edge.Rule().Holds }

// noShim is the thickness below which no shim is used, in mm.
const noShim = 0.05

// Shim says how thick the shim under a corner is.
func (p levelPage) Shim(l units.Length) string {
	if l.Millimetres() <= noShim {
		return "none"
	}
	return units.Fixed(l.Millimetres(), 1) + " mm"
}

func (a *area) level(c *gin.Context) error {
	return a.sendLevel(c, http.StatusOK, nil, form.NewNotices())
}

func (a *area) sendLevel(c *gin.Context, status int, typed map[string]string, n form.Notices) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	l, err := a.Studio.Bench.Level(c.Request.Context(), p)
	if err != nil {
		return err
	}
	set := l.View.Agenda.Book.Settings
	sys := set.Units
	board := drawing.Of(l.View.Plan, l.Coat, p.ID, sys)
	board.Boards = board.Boards[:1] // one board is levelled at a time
	fields := bench.LevelFields.Views(&surface.Tilt{}, set.Style(), typed, n, nil)
	if typed == nil {
		for key, f := range fields { // a reading begins empty
			f.Value = ""
			fields[key] = f
		}
	}
	return a.Show(c, status, "level", frame.Page{Title: msg.F("Level: %s", p.Name), Nav: "pieces",
		Data: levelPage{Levelling: l, Sys: sys, Board: board.Small(), Fields: fields}})
}

func (a *area) readLevel(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	n, err := a.Studio.Bench.ReadLevel(c.Request.Context(), frame.ID(c), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendLevel(c, http.StatusUnprocessableEntity, typed, n)
	}
	return frame.Go(c, frame.Piece(frame.ID(c), "/level"))
}
