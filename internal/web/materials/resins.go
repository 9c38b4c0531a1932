// Package materials is the pages of what a studio has and knows: resins, pigments
// and techniques.
package materials

import (
	"context"
	"embed"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"
	"github.com/shopspring/decimal"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/material"
	"jevvo/internal/core/money"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/stock"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/materials", a.resins)
	a.GET("/materials/new", func(c *gin.Context) error {
		return a.sendResin(c, http.StatusOK, materials.NewProduct(), nil, form.NewNotices())
	})
	a.POST("/materials", a.saveResin)
	a.POST("/materials/examples", a.copyExamples)
	a.GET("/materials/:id", a.resin)
	a.POST("/materials/:id", a.saveResin)
	a.POST("/materials/:id/seen", a.observe)
	a.POST("/materials/:id/seen/:at/remove", a.forget)
	a.POST("/materials/:id/own", a.ownTimes)
	a.POST("/materials/:id/undo", a.takeBack(store.Resins, "/materials/"))
	a.POST("/materials/:id/retire", a.retire(a.Studio.Materials.RetireProduct, true, "/materials#product-"))
	a.POST("/materials/:id/return", a.retire(a.Studio.Materials.RetireProduct, false, "/materials#product-"))
	a.pigmentRoutes()
	a.techniqueRoutes()
	return nil
}

// A listPage is a list of materials with the units it is shown in.
type listPage struct {
	*materials.Book
	Examples materials.Examples // that are not among the materials
	Wrong    msg.Text           // of examples to copy
	Sys      units.System
	owned    *stock.Ledger
	money    money.Currency
}

// Price prints what a kit or a bottle costs.
func (p listPage) Price(v decimal.Decimal) msg.Text {
	if v.IsZero() {
		return msg.Figure("–")
	}
	return p.money.Text(v)
}

// Have prints what is in stock of a resin or a pigment.
func (p listPage) Have(kind string, id int64) msg.Text {
	item, _ := p.owned.Of(stock.Thing{Kind: store.Kind(kind), ID: id})
	return item.Text(item.OnHand, p.Sys)
}

func (a *area) listPage(c *gin.Context, name string, title msg.ID, wrong msg.Text) error {
	book, err := a.Studio.Materials.Book(c.Request.Context())
	if err != nil {
		return err
	}
	owned, err := a.Studio.Stock.Ledger(c.Request.Context())
	if err != nil {
		return err
	}
	terms, err := a.Studio.Prices.Terms(c.Request.Context())
	if err != nil {
		return err
	}
	all, err := materials.AllExamples()
	if err != nil {
		return err
	}
	status := http.StatusOK
	if wrong != nil {
		status = http.StatusUnprocessableEntity
	}
	data := listPage{Book: book, Examples: all.Left(book), Wrong: wrong, Sys: book.Settings.Units, owned: owned,
		money: terms.Money()}
	return a.Show(c, status, name, frame.Page{Title: title, Nav: "materials", Data: data})
}

// copyExamples adds the chosen examples to the materials.
func (a *area) copyExamples(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	err := a.Studio.Materials.CopyExamples(c.Request.Context(), c.PostFormArray("example"))
	to := c.DefaultPostForm("to", "/materials")
	switch wrong, refused := frame.Refusal(err); {
	case refused && to == "/materials/pigments":
		return a.listPage(c, "pigments", "Pigments", msg.Of(wrong.Err))
	case refused:
		return a.listPage(c, "materials", "Materials", msg.Of(wrong.Err))
	case err != nil:
		return err
	}
	return frame.Go(c, to)
}

func (a *area) resins(c *gin.Context) error { return a.listPage(c, "materials", "Materials", nil) }

// A resinPage is a resin's sheet and what the studio saw of it.
type resinPage struct {
	Product  material.Product
	Fields   map[string]form.View
	Sys      units.System
	Compared []material.Comparison
	Fit      cure.Refit
	Changed  bool // its last change can be taken back
}

func (a *area) sendResin(c *gin.Context, status int, p material.Product, typed map[string]string,
	n form.Notices) error {
	set, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	page := resinPage{Product: p, Sys: set.Units, Fields: materials.ResinFields.Views(&p, set.Style(), typed, n, nil)}
	for key, f := range materials.SeenViews(set.Style(), typed, n) {
		page.Fields[key] = f
	}
	if len(p.Seen) > 0 {
		if page.Compared, page.Fit, err = p.Compare(); err != nil {
			a.Log.Warn("fit the resin", "resin", p.Name, "error", err) // the sheet goes on
		}
	}
	if page.Changed, err = a.Studio.Materials.Changed(c.Request.Context(), store.Resins, p.ID); err != nil {
		return err
	}
	title := msg.Text(msg.Own(p.Name))
	if p.ID == 0 {
		title = msg.ID("New resin")
	}
	return a.Show(c, status, "resin", frame.Page{Title: title, Nav: "materials", Data: page})
}

func (a *area) resin(c *gin.Context) error {
	p, err := a.Studio.Materials.Product(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.sendResin(c, http.StatusOK, p, nil, form.NewNotices())
}

func (a *area) saveResin(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Materials.SaveProduct(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendResin(c, http.StatusUnprocessableEntity, p, typed, n)
	}
	return frame.Go(c, fmt.Sprintf("/materials#product-%d", p.ID))
}

// observe keeps what was seen of a resin; refused values stay in their fields.
func (a *area) observe(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Materials.Observe(c.Request.Context(), frame.ID(c), typed)
	if err != nil || n.OK() {
		return a.toOwn(c, err)
	}
	return a.sendResin(c, http.StatusUnprocessableEntity, p, typed, n)
}

func (a *area) toOwn(c *gin.Context, err error) error {
	if err != nil {
		return err
	}
	return frame.Go(c, "/materials/"+c.Param("id")+"#own")
}

func (a *area) forget(c *gin.Context) error {
	at, err := strconv.Atoi(c.Param("at"))
	if err != nil {
		return frame.Missing
	}
	return a.toOwn(c, a.Studio.Materials.ForgetSeen(c.Request.Context(), frame.ID(c), at))
}

func (a *area) ownTimes(c *gin.Context) error {
	return a.toOwn(c, a.Studio.Materials.UseOwnTimes(c.Request.Context(), frame.ID(c), c.PostForm("own") == "yes"))
}

// takeBack takes the last change of something back and returns to it.
func (a *area) takeBack(kind store.Kind, to string) frame.Handler {
	return func(c *gin.Context) error {
		if err := a.Studio.Materials.TakeBack(c.Request.Context(), kind, frame.ID(c)); err != nil {
			return err
		}
		return frame.Go(c, to+c.Param("id"))
	}
}

// retire retires a material, or brings it back, and returns to it.
func (a *area) retire(do func(context.Context, int64, bool) error, off bool, back string) frame.Handler {
	return func(c *gin.Context) error {
		if err := do(c.Request.Context(), frame.ID(c), off); err != nil {
			return err
		}
		return frame.Go(c, back+c.Param("id"))
	}
}
