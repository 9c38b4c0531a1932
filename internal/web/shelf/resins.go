// Package shelf is the pages of what a studio has and knows: resins, pigments
// and techniques.
package shelf

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
	"jevvo/internal/studio/shelf"
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
	a.GET("/shelf", a.resins)
	a.GET("/shelf/new", func(c *gin.Context) error {
		return a.sendResin(c, http.StatusOK, shelf.NewProduct(), nil, form.NewNotices())
	})
	a.POST("/shelf", a.saveResin)
	a.POST("/shelf/examples", a.copyExamples)
	a.GET("/shelf/:id", a.resin)
	a.POST("/shelf/:id", a.saveResin)
	a.POST("/shelf/:id/seen", a.observe)
	a.POST("/shelf/:id/seen/:at/remove", a.forget)
	a.POST("/shelf/:id/own", a.ownTimes)
	a.POST("/shelf/:id/undo", a.takeBack(store.Resins, "/shelf/"))
	a.POST("/shelf/:id/retire", a.retire(a.Studio.Shelf.RetireProduct, true, "/shelf#product-"))
	a.POST("/shelf/:id/return", a.retire(a.Studio.Shelf.RetireProduct, false, "/shelf#product-"))
	a.pigmentRoutes()
	a.techniqueRoutes()
	return nil
}

// A shelfPage is a shelf with the units it is shown in.
type shelfPage struct {
	*shelf.Book
	Examples shelf.Examples // that are not on the shelf
	Wrong    msg.Text       // of examples to copy
	Sys      units.System
	owned    *stock.Ledger
	money    money.Currency
}

// Price prints what a kit or a bottle costs.
func (p shelfPage) Price(v decimal.Decimal) msg.Text {
	if v.IsZero() {
		return msg.Figure("–")
	}
	return p.money.Text(v)
}

// Have prints what is in stock of a resin or a pigment.
func (p shelfPage) Have(kind string, id int64) msg.Text {
	item, _ := p.owned.Of(stock.Thing{Kind: store.Kind(kind), ID: id})
	return item.Text(item.OnHand, p.Sys)
}

func (a *area) shelfPage(c *gin.Context, name string, title msg.ID, wrong msg.Text) error {
	book, err := a.Studio.Shelf.Book(c.Request.Context())
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
	all, err := shelf.AllExamples()
	if err != nil {
		return err
	}
	status := http.StatusOK
	if wrong != nil {
		status = http.StatusUnprocessableEntity
	}
	data := shelfPage{Book: book, Examples: all.Left(book), Wrong: wrong, Sys: book.Settings.Units, owned: owned,
		money: terms.Money()}
	return a.Show(c, status, name, frame.Page{Title: title, Nav: "shelf", Data: data})
}

// copyExamples puts the chosen examples on the shelf.
func (a *area) copyExamples(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	err := a.Studio.Shelf.CopyExamples(c.Request.Context(), c.PostFormArray("example"))
	to := c.DefaultPostForm("to", "/shelf")
	switch wrong, refused := frame.Refusal(err); {
	case refused && to == "/shelf/pigments":
		return a.shelfPage(c, "pigments", "Pigments", msg.Of(wrong.Err))
	case refused:
		return a.shelfPage(c, "shelf", "Materials", msg.Of(wrong.Err))
	case err != nil:
		return err
	}
	return frame.Go(c, to)
}

func (a *area) resins(c *gin.Context) error { return a.shelfPage(c, "shelf", "Materials", nil) }

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
	page := resinPage{Product: p, Sys: set.Units, Fields: shelf.ResinFields.Views(&p, set.Style(), typed, n, nil)}
	for key, f := range shelf.SeenViews(set.Style(), typed, n) {
		page.Fields[key] = f
	}
	if len(p.Seen) > 0 {
		if page.Compared, page.Fit, err = p.Compare(); err != nil {
			a.Log.Warn("fit the resin", "resin", p.Name, "error", err) // the sheet goes on
		}
	}
	if page.Changed, err = a.Studio.Shelf.Changed(c.Request.Context(), store.Resins, p.ID); err != nil {
		return err
	}
	title := msg.Text(msg.Own(p.Name))
	if p.ID == 0 {
		title = msg.ID("New resin")
	}
	return a.Show(c, status, "resin", frame.Page{Title: title, Nav: "shelf", Data: page})
}

func (a *area) resin(c *gin.Context) error {
	p, err := a.Studio.Shelf.Product(c.Request.Context(), frame.ID(c))
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
	p, n, err := a.Studio.Shelf.SaveProduct(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	if !n.OK() {
		return a.sendResin(c, http.StatusUnprocessableEntity, p, typed, n)
	}
	return frame.Go(c, fmt.Sprintf("/shelf#product-%d", p.ID))
}

// observe keeps what was seen of a resin; refused values stay in their fields.
func (a *area) observe(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Shelf.Observe(c.Request.Context(), frame.ID(c), typed)
	if err != nil || n.OK() {
		return a.toOwn(c, err)
	}
	return a.sendResin(c, http.StatusUnprocessableEntity, p, typed, n)
}

func (a *area) toOwn(c *gin.Context, err error) error {
	if err != nil {
		return err
	}
	return frame.Go(c, "/shelf/"+c.Param("id")+"#own")
}

func (a *area) forget(c *gin.Context) error {
	at, err := strconv.Atoi(c.Param("at"))
	if err != nil {
		return frame.Missing
	}
	return a.toOwn(c, a.Studio.Shelf.ForgetSeen(c.Request.Context(), frame.ID(c), at))
}

func (a *area) ownTimes(c *gin.Context) error {
	return a.toOwn(c, a.Studio.Shelf.UseOwnTimes(c.Request.Context(), frame.ID(c), c.PostForm("own") == "yes"))
}

// takeBack takes the last change of something back and returns to it.
func (a *area) takeBack(kind store.Kind, to string) frame.Handler {
	return func(c *gin.Context) error {
		if err := a.Studio.Shelf.TakeBack(c.Request.Context(), kind, frame.ID(c)); err != nil {
			return err
		}
		return frame.Go(c, to+c.Param("id"))
	}
}

// retire takes something off a shelf, or puts it back, and returns to it.
func (a *area) retire(do func(context.Context, int64, bool) error, off bool, back string) frame.Handler {
	return func(c *gin.Context) error {
		if err := do(c.Request.Context(), frame.ID(c), off); err != nil {
			return err
		}
		return frame.Go(c, back+c.Param("id"))
	}
}
