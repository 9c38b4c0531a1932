package pieces

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/web/frame"
)

// A firstPage asks what a first test tile needs: a resin, a few pigments, a way.
type firstPage struct {
	Resins     []plan.Product
	Paints     []plan.Pigment
	Techniques technique.Book
	Product    int64
	Technique  string
	Chosen     map[int64]bool
	Wrong      string
}

// usualFirst is the technique a first tile is offered by, and how many pigments are
// chosen already.
const (
	usualFirst  = "swipe"
	usualColour = 5
)

func (a *area) first(c *gin.Context) error {
	return a.sendFirst(c, http.StatusOK, firstPage{Technique: usualFirst})
}

func (a *area) sendFirst(c *gin.Context, status int, page firstPage) error {
	book, err := a.Studio.Shelf.Book(c.Request.Context())
	if err != nil {
		return err
	}
	page.Techniques = book.Techniques().Coats()
	for _, p := range book.Resins {
		if !p.Retired {
			page.Resins = append(page.Resins, p)
		}
	}
	offer := page.Chosen == nil
	if offer {
		page.Chosen = map[int64]bool{}
	}
	for _, p := range book.Paints {
		if p.Retired {
			continue
		}
		page.Paints = append(page.Paints, p)
		if offer && p.Form == colour.Paste && len(page.Chosen) < usualColour {
			page.Chosen[p.ID] = true
		}
	}
	return a.Show(c, status, "first", frame.Page{Title: "A first test tile", Nav: "today", Data: page})
}

// pourFirst plans the tile and pours it on the screen.
func (a *area) pourFirst(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	page := firstPage{Product: frame.Number(c.PostForm("product")), Technique: c.PostForm("technique"), Chosen: map[int64]bool{}}
	var pigments []int64
	for _, text := range c.PostFormArray("pigment") {
		if id, err := strconv.ParseInt(text, 10, 64); err == nil {
			pigments, page.Chosen[id] = append(pigments, id), true
		}
	}
	p, err := a.Studio.Pieces.FirstTile(c.Request.Context(), page.Product, page.Technique, pigments)
	if refused, ok := frame.Refusal(err); ok {
		page.Wrong = refused.Error()
		return a.sendFirst(c, http.StatusUnprocessableEntity, page)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(p.ID, "/preview"))
}
