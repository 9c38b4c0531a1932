package pieces

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/material"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/colours"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/frame"
)

func (a *area) mixerRoutes() {
	const cup = "/pieces/:id/coats/:coat/cups/:colour"
	a.GET(cup, func(c *gin.Context) error { return a.sendMixer(c, http.StatusOK, c.Query("ground"), "", nil) })
	a.POST(cup+"/dose", a.mixing(func(c *gin.Context, typed map[string]string) (pieces.Piece, error) {
		return a.Studio.Colours.Dose(c.Request.Context(), frame.ID(c), c.Param("coat"), c.Param("colour"),
			frame.Number(typed["pigment"]), typed["amount"])
	}))
	a.POST(cup+"/recipe", a.mixing(func(c *gin.Context, _ map[string]string) (pieces.Piece, error) {
		return a.Studio.Colours.TakeRecipe(c.Request.Context(), frame.ID(c), c.Param("coat"), c.Param("colour"))
	}))
	a.POST(cup+"/undo", a.mixing(func(c *gin.Context, _ map[string]string) (pieces.Piece, error) {
		return a.Studio.Pieces.Undo(c.Request.Context(), frame.ID(c))
	}))
}

// A mixerPage is one cup with its pigments.
type mixerPage struct {
	colours.Mixer
	Piece    pieces.Piece
	Sys      units.System
	Pigments []material.Pigment
	Ground   string
	Wrong    string
	Amount   string
	Chosen   int64
}

// At is the address of the cup.
func (p mixerPage) At() string {
	return frame.Piece(p.Piece.ID, "/coats/", p.Coat.ID, "/cups/", p.Cup.Colour.ID)
}

// mixing runs a change of the cup; a refused amount stays in its field.
func (a *area) mixing(do func(*gin.Context, map[string]string) (pieces.Piece, error)) frame.Handler {
	return func(c *gin.Context) error {
		typed, err := frame.Typed(c)
		if err != nil {
			return err
		}
		_, err = do(c, typed)
		if refused, ok := frame.Refusal(err); ok {
			return a.sendMixer(c, http.StatusUnprocessableEntity, typed["ground"], refused.Error(), typed)
		}
		if err != nil {
			return err
		}
		return a.sendMixer(c, http.StatusOK, typed["ground"], "", nil)
	}
}

func (a *area) sendMixer(c *gin.Context, status int, ground, wrong string, typed map[string]string) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	m, err := a.Studio.Colours.Mixer(c.Request.Context(), p, c.Param("coat"), c.Param("colour"), ground)
	if err != nil {
		return err
	}
	book := m.View.Agenda.Book
	page := mixerPage{Mixer: m, Piece: p, Sys: book.Settings.Units, Pigments: book.Paints, Ground: ground, Wrong: wrong,
		Amount: typed["amount"], Chosen: frame.Number(typed["pigment"])}
	if frame.FromHTMX(c) {
		return a.Part(c, status, "mixer", "mixer", page)
	}
	return a.Show(c, status, "mixer", frame.Page{Title: msg.F("Mix %s", m.Cup.Colour.Name), Nav: "pieces", Data: page})
}
