package web

import (
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/technique"
	"jevvo/internal/studio"
)

func (s *Server) techniqueRoutes(e *gin.Engine) {
	e.GET("/techniques", s.listTechniques)
	g := e.Group("/techniques/:technique")
	g.GET("", s.showTechnique)
	g.POST("", s.saveTechnique)
	g.POST("/copy", func(c *gin.Context) {
		fresh, err := s.studio.CopyTechnique(c.Request.Context(), c.Param("technique"))
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/techniques/"+fresh)
	})
	g.POST("/steps/:at/:how", func(c *gin.Context) {
		at, err := strconv.Atoi(c.Param("at"))
		if err != nil {
			at = -1
		}
		if err := s.studio.ChangeStep(c.Request.Context(), c.Param("technique"), at, c.Param("how")); err != nil {
			s.fail(c, err)
			return
		}
		c.Redirect(http.StatusSeeOther, "/techniques/"+c.Param("technique"))
	})
}

func (s *Server) listTechniques(c *gin.Context) {
	book, err := s.studio.Techniques(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "techniques", Page{Title: "Techniques", Nav: "shelf", Data: book})
}

// A techniquePage is one technique; a studio's own can be changed.
type techniquePage struct {
	technique.Technique
	Rev     int64
	Values  map[string]string
	Notices studio.Notices
	Windows [][]any
}

// windowChoices are the windows a step can work in.
var windowChoices = [][]any{{"", "none"}, {"Runny", "Runny"}, {"Lacing", "Lacing"}, {"Holding", "Holding"}, {"Soft set", "Soft set"}, {"Tacky", "Tacky"}, {"Hard", "Hard"}}

func (s *Server) showTechnique(c *gin.Context) {
	t, rev, err := s.studio.Technique(c.Request.Context(), c.Param("technique"))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendTechnique(c, http.StatusOK, techniquePage{Technique: t, Rev: rev}, nil)
}

func (s *Server) sendTechnique(c *gin.Context, status int, page techniquePage, typed map[string]string) {
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	page.Values, page.Windows = studio.TechniqueValues(page.Technique, set.Units), windowChoices
	for k, v := range typed {
		page.Values[k] = v
	}
	s.show(c, status, "technique", Page{Title: page.Name, Nav: "shelf", Data: page})
}

func (s *Server) saveTechnique(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(typed["rev"], 10, 64)
	t, notices, err := s.studio.SaveTechnique(c.Request.Context(), c.Param("technique"), rev, typed)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.sendTechnique(c, http.StatusUnprocessableEntity, techniquePage{Technique: t, Rev: rev, Notices: notices}, typed)
		return
	}
	c.Redirect(http.StatusSeeOther, "/techniques/"+c.Param("technique"))
}
