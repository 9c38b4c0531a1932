package web

import (
	"context"
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

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

func (s *Server) productForm(c *gin.Context, status int, p studio.Product, values map[string]string, n studio.Notices) {
	title := p.Name
	if p.ID == 0 {
		title = "New resin"
	}
	s.show(c, status, "product", Page{Title: title, Nav: "shelf", Data: formPage{Values: values, Notices: n, Product: p}})
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
