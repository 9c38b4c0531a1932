package web

import (
	"fmt"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/colour"
	"jevvo/internal/studio"
)

func (s *Server) showPigments(c *gin.Context) {
	pigments, err := s.studio.Pigments(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "pigments", Page{Title: "Pigments", Nav: "shelf", Data: pigments})
}

type pigmentPage struct {
	Pigment studio.Pigment
	Sample  studio.PigmentSample
	Forms   []colour.FormRule
	Values  map[string]string
	Notices studio.Notices
}

// pigmentForm shows a pigment; values that were typed overlay its own.
func (s *Server) pigmentForm(c *gin.Context, status int, p studio.Pigment, typed map[string]string, n studio.Notices) {
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page := pigmentPage{Pigment: p, Forms: colour.Forms, Values: p.Values(set.Units), Notices: n}
	page.Values["over_black"], page.Values["over_white"], page.Values["chart_white"] = "#101010", "#d0d0d0", "#e6e6e4"
	page.Values["draw_film"], page.Values["draw_load"] = "0.3 mm", "2 %"
	for k, v := range typed {
		page.Values[k] = v
	}
	if page.Sample, err = s.studio.Sample(p); err != nil {
		s.fail(c, err)
		return
	}
	title := p.Name
	if p.ID == 0 {
		title = "New pigment"
	}
	s.show(c, status, "pigment", Page{Title: title, Nav: "shelf", Data: page})
}

func (s *Server) newPigment(c *gin.Context) {
	s.pigmentForm(c, http.StatusOK, studio.NewPigment(), nil, studio.Notices{})
}

func (s *Server) showPigment(c *gin.Context) {
	p, err := s.studio.Pigment(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.pigmentForm(c, http.StatusOK, p, nil, studio.Notices{})
}

func (s *Server) savePigment(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(values["rev"], 10, 64)
	p, notices, err := s.studio.SavePigment(c.Request.Context(), id(c), rev, values)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.pigmentForm(c, http.StatusUnprocessableEntity, p, values, notices)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pigments/%d", p.ID))
}

func (s *Server) drawdown(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	p, notices, err := s.studio.SolveDrawdown(c.Request.Context(), id(c), values)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.pigmentForm(c, http.StatusUnprocessableEntity, p, values, notices)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/pigments/%d", p.ID))
}
