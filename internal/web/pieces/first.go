package pieces

import (
	"context"
	"net/http"
	"net/url"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/technique"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/setup"
	"jevvo/internal/web/frame"
)

// A firstPage is one of the steps of a new studio: what it pours with, which colours it has,
// when it works; then a test tile.
type firstPage struct {
	Step       string
	Steps      []firstStep
	Resins     []material.Product
	Paints     []material.Pigment
	Techniques technique.Book
	Examples   materials.Examples // that are not owned
	Product    string
	Technique  string
	Chosen     map[string]bool
	Fields     map[string]form.View
	Wrong      msg.Text
}

// A firstStep is a step as the page names it.
type firstStep struct {
	Key  string
	Name msg.ID
}

var firstSteps = []firstStep{{"resin", "What you pour with"}, {"colours", "Your colours"}, {"hours", "When you work"},
	{"tile", "A tile"}}

// hoursKeys are what a studio has to say of its days.
var hoursKeys = []string{"hours", "room", "units", "language"}

// usualFirst is the technique a first tile is offered by, and how many pigments are
// chosen already.
const (
	usualFirst  = "swipe"
	usualColour = 5
)

func (a *area) firstRoutes() {
	for _, s := range firstSteps {
		a.GET("/first/"+s.Key, func(c *gin.Context) error {
			return a.sendFirst(c, http.StatusOK, firstPage{Step: s.Key, Technique: usualFirst, Product: c.Query("product")}, nil,
				form.NewNotices())
		})
	}
	a.GET("/first", func(c *gin.Context) error { return frame.Go(c, "/first/resin") })
	a.POST("/first/resin", a.firstResin)
	a.POST("/first/colours", a.firstColours)
	a.POST("/first/hours", a.firstHours)
	a.POST("/first/tile", a.pourFirst)
}

func (a *area) sendFirst(c *gin.Context, status int, page firstPage, typed map[string]string, n form.Notices) error {
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	page.Steps = firstSteps
	page.Techniques = book.Techniques().Coats()
	all, err := materials.AllExamples()
	if err != nil {
		return err
	}
	page.Examples = all.Left(book)
	style := book.Settings.Style()
	switch page.Step {
	case "resin":
		p := materials.NewProduct()
		page.Fields = materials.ResinFields.Views(&p, style, typed, n, nil)
	case "hours":
		page.Fields = setup.Fields.Views(&book.Settings, style, typed, n, nil)
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
	return a.Show(c, status, "first", frame.Page{Title: msg.ID("A new studio"), Nav: "today", Data: page})
}

// firstResin keeps the resin: one that is owned, an example to copy, or one typed from its
// leaflet.
func (a *area) firstResin(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	ctx, chosen := c.Request.Context(), typed["product"]
	page := firstPage{Step: "resin", Product: chosen}
	switch {
	case chosen == "":
		p, n, err := a.Studio.Materials.SaveProduct(ctx, 0, 0, typed)
		if err != nil {
			return err
		}
		if !n.OK() {
			return a.sendFirst(c, http.StatusUnprocessableEntity, page, typed, n)
		}
		chosen = strconv.FormatInt(p.ID, 10)
	case frame.Number(chosen) == 0:
		id, _, err := a.owned(ctx, chosen, nil)
		if err != nil {
			return err
		}
		chosen = strconv.FormatInt(id, 10)
	}
	return frame.Go(c, "/first/colours?product="+url.QueryEscape(chosen))
}

// firstColours copies the chosen examples.
func (a *area) firstColours(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	if names := c.PostFormArray("pigment"); len(names) > 0 {
		if _, _, err := a.owned(c.Request.Context(), "", names); err != nil {
			return err
		}
	}
	return frame.Go(c, "/first/hours?product="+url.QueryEscape(c.PostForm("product")))
}

// firstHours keeps when the studio works, how it measures and in which language.
func (a *area) firstHours(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	said := map[string]string{}
	for _, key := range hoursKeys {
		if text, ok := typed[key]; ok {
			said[key] = text
		}
	}
	_, n, err := a.Studio.Setup.Edit(c.Request.Context(), said)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendFirst(c, http.StatusUnprocessableEntity, firstPage{Step: "hours", Product: typed["product"]}, typed, n)
	}
	return frame.Go(c, "/first/tile?product="+url.QueryEscape(typed["product"]))
}

// pourFirst plans the tile and pours it on the screen.
func (a *area) pourFirst(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	ctx := c.Request.Context()
	page := firstPage{Step: "tile", Product: c.PostForm("product"), Technique: c.PostForm("technique"),
		Chosen: map[string]bool{}}
	asked := c.PostFormArray("pigment")
	for _, text := range asked {
		page.Chosen[text] = true
	}
	p, err := a.firstTile(ctx, page, asked)
	if refused, ok := frame.Refusal(err); ok {
		page.Wrong = msg.Of(refused)
		return a.sendFirst(c, http.StatusUnprocessableEntity, page, nil, form.NewNotices())
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

// owned are the ids of what was chosen; examples among it are copied to the materials
// first.
func (a *area) owned(ctx context.Context, product string, pigments []string) (int64, []int64, error) {
	var names []string
	for _, text := range append([]string{product}, pigments...) {
		if _, err := strconv.ParseInt(text, 10, 64); err != nil && text != "" {
			names = append(names, text)
		}
	}
	if len(names) > 0 {
		if err := a.Studio.Materials.CopyExamples(ctx, names); err != nil {
			if _, refused := frame.Refusal(err); !refused {
				return 0, nil, err
			}
		}
	}
	book, err := a.Studio.Materials.Book(ctx)
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
