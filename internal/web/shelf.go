package web

import (
	"context"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/cure"
	"jevvo/internal/studio"
)

func (s *Server) shelfRoutes(e *gin.Engine) {
	e.GET("/shelf", s.showShelf)
	e.GET("/shelf/pigments", s.showPigments)
	e.GET("/pigments/new", s.newPigment)
	e.POST("/pigments", s.savePigment)
	e.GET("/pigments/:id", s.showPigment)
	e.POST("/pigments/:id", s.savePigment)
	e.POST("/pigments/:id/drawdown", s.drawdown)
	e.POST("/pigments/:id/retire", s.retire(s.studio.RetirePigment, true, "/shelf/pigments#pigment-"))
	e.POST("/pigments/:id/return", s.retire(s.studio.RetirePigment, false, "/shelf/pigments#pigment-"))
	e.GET("/shelf/new", s.newProduct)
	e.POST("/shelf", s.saveProduct)
	e.GET("/shelf/:id", s.showProduct)
	e.POST("/shelf/:id", s.saveProduct)
	e.POST("/shelf/:id/seen", s.observe)
	e.POST("/shelf/:id/seen/:at/remove", func(c *gin.Context) {
		at, err := strconv.Atoi(c.Param("at"))
		if err != nil {
			at = -1
		}
		s.backToProduct(c, s.studio.ForgetSeen(c.Request.Context(), id(c), at))
	})
	e.POST("/shelf/:id/own", func(c *gin.Context) {
		s.backToProduct(c, s.studio.UseOwnTimes(c.Request.Context(), id(c), c.PostForm("own") == "yes"))
	})
	e.POST("/shelf/:id/retire", s.retire(s.studio.RetireProduct, true, "/shelf#product-"))
	e.POST("/shelf/:id/return", s.retire(s.studio.RetireProduct, false, "/shelf#product-"))
}

func (s *Server) showShelf(c *gin.Context) {
	products, err := s.studio.Products(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "shelf", Page{Title: "Shelf", Nav: "shelf", Data: products})
}

// A productPage is a resin's sheet and what the studio saw of it.
type productPage struct {
	formPage
	Signs    []cure.Sign
	Compared []studio.Comparison
	Fit      cure.Refit
}

func (s *Server) productForm(c *gin.Context, status int, p studio.Product, values map[string]string, n studio.Notices) {
	title := p.Name
	if p.ID == 0 {
		title = "New resin"
	}
	page := productPage{formPage: formPage{Values: values, Notices: n, Product: p}, Signs: cure.Signs}
	if len(p.Seen) > 0 {
		var err error
		if page.Compared, page.Fit, err = p.Compare(); err != nil {
			s.opts.Log.Warn("fit the resin", "resin", p.Name, "error", err) // the sheet goes on
		}
	}
	s.show(c, status, "product", Page{Title: title, Nav: "shelf", Data: page})
}

func (s *Server) backToProduct(c *gin.Context, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/shelf/"+c.Param("id")+"#own")
}

// observe keeps what was seen of a resin; refused values stay in their fields.
func (s *Server) observe(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	p, notices, err := s.studio.Observe(c.Request.Context(), id(c), typed)
	if err != nil || notices.OK() {
		s.backToProduct(c, err)
		return
	}
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	values := p.Values(set.Units)
	for k, v := range typed {
		values[k] = v
	}
	s.productForm(c, http.StatusUnprocessableEntity, p, values, notices)
}

func (s *Server) newProduct(c *gin.Context) {
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	p := studio.NewProduct()
	s.productForm(c, http.StatusOK, p, p.Values(set.Units), studio.Notices{})
}

func (s *Server) showProduct(c *gin.Context) {
	p, err := s.studio.Product(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.productForm(c, http.StatusOK, p, p.Values(set.Units), studio.Notices{})
}

func (s *Server) saveProduct(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(values["rev"], 10, 64)
	p, notices, err := s.studio.SaveProduct(c.Request.Context(), id(c), rev, values)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.productForm(c, http.StatusUnprocessableEntity, p, values, notices)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/shelf#product-%d", p.ID))
}

// retire takes something off a shelf, or puts it back, and returns to it.
func (s *Server) retire(do func(context.Context, int64, bool) error, retired bool, back string) gin.HandlerFunc {
	return func(c *gin.Context) {
		if err := do(c.Request.Context(), id(c), retired); err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, back+c.Param("id"))
	}
}
