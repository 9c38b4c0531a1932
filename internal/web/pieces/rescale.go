package pieces

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
)

// A rescalePage is a recipe on another board.
type rescalePage struct {
	pieces.Rescale
	ID    int64
	Sys   units.System
	Board drawing.Boards
	Rows  []rescaleRow
}

type rescaleRow struct {
	pieces.RescaleRow
	Doses []cardDose
}

func (a *area) rescale(c *gin.Context) error {
	return a.sendRescale(c, http.StatusOK, frame.Flat(c.Request.URL.Query()))
}

func (a *area) sendRescale(c *gin.Context, status int, typed map[string]string) error {
	weighed, err := a.Studio.Bench.Recipes(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	r, err := a.Studio.Pieces.Rescale(c.Request.Context(), frame.ID(c), typed, weighed)
	if err != nil {
		return err
	}
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	page := rescalePage{Rescale: r, ID: frame.ID(c), Sys: set.Units,
		Board: drawing.Of(r.To, &r.To.Coats[0], frame.ID(c), set.Units)}
	for _, row := range r.Rows {
		page.Rows = append(page.Rows, rescaleRow{row, dosesOf(r.To, row.To, set.Units)})
	}
	if frame.FromHTMX(c) {
		return a.Part(c, status, "rescale", "rescaled", page)
	}
	return a.Show(c, status, "rescale",
		frame.Page{Title: msg.F("On another board: %s", r.From.Spec.Name), Nav: "pieces", Data: page})
}

func (a *area) keepRescaled(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	weighed, err := a.Studio.Bench.Recipes(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Pieces.KeepRescaled(c.Request.Context(), frame.ID(c), typed, weighed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendRescale(c, http.StatusUnprocessableEntity, typed)
	}
	return frame.Go(c, frame.Piece(p.ID))
}
