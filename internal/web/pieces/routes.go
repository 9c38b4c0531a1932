// Package pieces is the pages of a piece: the list, the piece itself with its
// coats, its run sheet, weigh-out card and cup mixer, and the same recipe on
// another board.
package pieces

import (
	"context"
	"embed"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/svgoutline"
	"jevvo/internal/form"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/card"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

// Drawings of what the techniques of the library make.
//
//go:embed pictures
var pictures embed.FS

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
	a.GET("/pieces", a.list)
	a.POST("/pieces", a.create)
	a.POST("/pieces/several/done", a.finish)
	a.POST("/pieces/several/later", a.later)
	a.POST("/pieces/several/back", a.takeBack)
	a.GET("/pieces/new", a.blank)
	a.GET("/techniques/:technique/picture.svg", a.picture)
	a.firstRoutes()
	a.GET("/pieces/:id", a.show)
	a.GET("/pieces/:id/board.svg", a.cards.Picture)
	a.GET("/pieces/:id/parts/:part", a.part)
	a.POST("/pieces/:id/edit", a.edit)
	a.POST("/pieces/:id/undo", a.step(a.Studio.Pieces.Undo))
	a.POST("/pieces/:id/redo", a.step(a.Studio.Pieces.Redo))
	a.GET("/pieces/:id/history", a.history)
	a.POST("/pieces/:id/history/:rev", a.goBack)
	a.POST("/pieces/:id/copy", a.copy)
	a.POST("/pieces/:id/apart", a.apart)
	a.POST("/pieces/:id/remove", a.remove)
	a.POST("/pieces/:id/restore", a.restore)
	a.Upload("/pieces/:id/outline", svgoutline.MaxBytes, a.outline)
	a.coatRoutes()
	a.GET("/pieces/:id/run-sheet", a.sheet)
	a.GET("/pieces/:id/card", a.weighCard)
	a.GET("/pieces/:id/cups.csv", a.cupsCSV)
	a.GET("/pieces/:id/rescale", a.rescale)
	a.POST("/pieces/:id/rescale", a.keepRescaled)
	a.mixerRoutes()
	a.moveRoutes()
	return nil
}

func (a *area) coatRoutes() {
	a.POST("/pieces/:id/layers", a.addLayer)
	a.POST("/pieces/:id/layers/usual", a.step(a.Studio.Pieces.UsualLayers))
	a.POST("/pieces/:id/layers/:layer/:how", a.changeLayer)
	a.POST("/pieces/:id/coats/:coat/colours", func(c *gin.Context) error {
		p, err := a.Studio.Pieces.AddColour(c.Request.Context(), frame.ID(c), c.Param("coat"))
		return a.stepped(c, p, err)
	})
	a.POST("/pieces/:id/coats/:coat/colours/:colour/remove", func(c *gin.Context) error {
		p, err := a.Studio.Pieces.RemoveColour(c.Request.Context(), frame.ID(c), c.Param("coat"), c.Param("colour"))
		return a.stepped(c, p, err)
	})
	a.POST("/pieces/:id/coats/:coat/used", a.recordUse)
}

func (a *area) copy(c *gin.Context) error {
	p, err := a.Studio.Pieces.Copy(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(p.ID))
}

// apart plans every board of a set by itself and shows the first; what was poured together stays together.
func (a *area) apart(c *gin.Context) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	v, err := a.Studio.Agenda.Plan(c.Request.Context(), p)
	if err != nil {
		return err
	}
	if v.Plan != nil && v.Plan.Begun() {
		return form.Refusef("count", "its boards were poured together already")
	}
	if _, err := a.Studio.Pieces.Apart(c.Request.Context(), p.ID); err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(frame.ID(c)))
}

func (a *area) remove(c *gin.Context) error {
	if err := a.Studio.Pieces.Remove(c.Request.Context(), frame.ID(c), false); err != nil {
		return err
	}
	return frame.Go(c, "/pieces?removed="+c.Param("id"))
}

func (a *area) restore(c *gin.Context) error {
	if err := a.Studio.Pieces.Remove(c.Request.Context(), frame.ID(c), true); err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(frame.ID(c)))
}

// step runs a change that takes only the piece.
func (a *area) step(do func(ctx context.Context, id int64) (pieces.Piece, error)) frame.Handler {
	return func(c *gin.Context) error {
		p, err := do(c.Request.Context(), frame.ID(c))
		return a.stepped(c, p, err)
	}
}

// stepped answers a change of a piece with the piece as it is now.
func (a *area) stepped(c *gin.Context, p pieces.Piece, err error) error {
	if err != nil {
		return err
	}
	coat := c.Query("coat")
	if frame.FromHTMX(c) {
		return a.send(c, http.StatusOK, sending{Piece: p, Coat: coat, Anew: true})
	}
	return frame.Go(c, frame.Piece(p.ID, toCoat(coat)))
}

func toCoat(coat string) string {
	if coat == "" {
		return ""
	}
	return "?coat=" + coat
}

// toPart is the end of an address that opens a part of a coat's page.
func toPart(coat, part string) string {
	if coat == "" {
		return "?part=" + part + "#" + part
	}
	return toCoat(coat) + "&part=" + part + "#" + part
}

func (a *area) addLayer(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, next, err := a.Studio.Pieces.AddLayer(c.Request.Context(), frame.ID(c), typed["what"])
	return a.layered(c, p, next, err)
}

func (a *area) changeLayer(c *gin.Context) error {
	if c.Param("how") == "place" {
		p, next, err := a.Studio.Pieces.PlaceLayer(c.Request.Context(), frame.ID(c), c.Param("layer"), c.PostForm("before"))
		return a.layered(c, p, next, err)
	}
	p, next, err := a.Studio.Pieces.ChangeLayer(c.Request.Context(), frame.ID(c), c.Param("how"), c.Param("layer"))
	return a.layered(c, p, next, err)
}

// layered shows the piece at the coat that came of a change of its layers.
func (a *area) layered(c *gin.Context, p pieces.Piece, next string, err error) error {
	if err != nil {
		return err
	}
	coat := c.Query("coat")
	if p.Coat(next) != nil {
		coat = next
	}
	if frame.FromHTMX(c) {
		return a.send(c, http.StatusOK, sending{Piece: p, Coat: coat, Anew: true})
	}
	return frame.Go(c, frame.Piece(p.ID, toPart(coat, "layers")))
}
