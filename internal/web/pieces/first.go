package pieces

import (
	"context"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/shelf"
	"jevvo/internal/web/frame"
)

// A firstPage asks what a first test tile needs: a resin, a few pigments, a way.
type firstPage struct {
	Resins     []material.Product
	Paints     []material.Pigment
	Techniques technique.Book
	Examples   shelf.Examples // where nothing is owned yet
	Product    string
	Technique  string
	Chosen     map[string]bool
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
	if err := page.offer(book); err != nil {
		return err
	}
	for _, p := range book.Resins {
		if !p.Retired {
			page.Resins = append(page.Resins, p)
		}
	}
	offer := page.Chosen == nil
	if offer {
		page.Chosen = map[string]bool{}
	}
	for _, p := range book.Paints {
		if p.Retired {
			continue
		}
		page.Paints = append(page.Paints, p)
		if offer && p.Form == colour.Paste && len(page.Chosen) < usualColour {
			page.Chosen[strconv.FormatInt(p.ID, 10)] = true
		}
	}
	for _, p := range page.Examples.Pigments {
		if offer && p.Form == colour.Paste && len(page.Chosen) < usualColour {
			page.Chosen[p.Name] = true
		}
	}
	return a.Show(c, status, "first", frame.Page{Title: msg.ID("A first test tile"), Nav: "today", Data: page})
}

// offer takes the examples where nothing is owned: what is chosen of them is copied.
func (p *firstPage) offer(book *shelf.Book) error {
	all, err := shelf.AllExamples()
	if err != nil {
		return err
	}
	if len(book.Resins) == 0 {
		p.Examples.Resins = all.Resins
	}
	if len(book.Paints) == 0 {
		p.Examples.Pigments = all.Pigments
	}
	return nil
}

// pourFirst plans the tile and pours it on the screen.
func (a *area) pourFirst(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	ctx := c.Request.Context()
	page := firstPage{Product: c.PostForm("product"), Technique: c.PostForm("technique"), Chosen: map[string]bool{}}
	asked := c.PostFormArray("pigment")
	for _, text := range asked {
		page.Chosen[text] = true
	}
	p, err := a.firstTile(ctx, page, asked)
	if refused, ok := frame.Refusal(err); ok {
		page.Wrong = refused.Error()
		return a.sendFirst(c, http.StatusUnprocessableEntity, page)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(p.ID, "/preview"))
}

func (a *area) firstTile(ctx context.Context, page firstPage, asked []string) (p pieces.Piece, err error) {
	if err = pieces.TileColours(len(asked)); err != nil { // before anything is copied
		return p, err
	}
	product, pigments, err := a.owned(ctx, page.Product, asked)
	if err != nil {
		return p, err
	}
	return a.Studio.Pieces.FirstTile(ctx, product, page.Technique, pigments)
}

// owned are the ids of what was chosen; examples among it are copied to the shelf
// first.
func (a *area) owned(ctx context.Context, product string, pigments []string) (int64, []int64, error) {
	var names []string
	for _, text := range append([]string{product}, pigments...) {
		if _, err := strconv.ParseInt(text, 10, 64); err != nil && text != "" {
			names = append(names, text)
		}
	}
	if len(names) > 0 {
		if err := a.Studio.Shelf.CopyExamples(ctx, names); err != nil {
			if _, refused := frame.Refusal(err); !refused {
				return 0, nil, err
			}
		}
	}
	book, err := a.Studio.Shelf.Book(ctx)
	if err != nil {
		return 0, nil, err
	}
	resin, ids := frame.Number(product), make([]int64, 0, len(pigments))
	for _, r := range book.Resins {
		if r.Name == product {
			resin = r.ID
		}
	}
	for _, text := range pigments {
		id := frame.Number(text)
		for _, p := range book.Paints {
			if p.Name == text {
				id = p.ID
			}
		}
		if id != 0 {
			ids = append(ids, id)
		}
	}
	return resin, ids, nil
}
