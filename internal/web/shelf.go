package web

import (
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/studio"
)

func (s *Server) shelfRoutes(e *gin.Engine) {
	e.GET("/shelf", s.showShelf)
	e.GET("/shelf/new", s.newProduct)
	e.POST("/shelf", s.saveProduct)
	e.GET("/shelf/:id", s.showProduct)
	e.POST("/shelf/:id", s.saveProduct)
	e.POST("/shelf/:id/retire", s.retireProduct(true))
	e.POST("/shelf/:id/return", s.retireProduct(false))
}

func (s *Server) showShelf(c *gin.Context) {
	products, err := s.studio.Products(c)
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
	set, err := s.studio.Settings(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	p := studio.NewProduct()
	s.productForm(c, http.StatusOK, p, p.Values(set.Units), studio.Notices{})
}

func (s *Server) showProduct(c *gin.Context) {
	p, err := s.studio.Product(c, id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	set, err := s.studio.Settings(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.productForm(c, http.StatusOK, p, p.Values(set.Units), studio.Notices{})
}

func (s *Server) saveProduct(c *gin.Context) {
	values, err := typed(c)
	if err != nil {
		s.fail(c, err)
		return
	}
	rev, _ := strconv.ParseInt(values["rev"], 10, 64)
	p, notices, err := s.studio.SaveProduct(c, id(c), rev, values)
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

func (s *Server) retireProduct(retired bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		if err := s.studio.RetireProduct(c, id(c), retired); err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/shelf#product-"+c.Param("id"))
	}
}
