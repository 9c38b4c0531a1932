package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/studio"
)

func (s *Server) settingsRoutes(e *gin.Engine) {
	e.GET("/settings", s.showSettings)
	e.POST("/settings", s.saveSettings)
	e.POST("/learning/:technique/reset", s.resetLearning)
}

type settingsPage struct {
	Values  map[string]string
	Notices studio.Notices
	Learned []learnedRow
	Saved   bool
	Schools []studio.School
}

type learnedRow struct {
	ID, Name string
	studio.Learned
}

func (s *Server) showSettings(c *gin.Context) {
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.settingsForm(c, http.StatusOK, settingsPage{Values: set.Values(), Saved: c.Query("saved") != ""})
}

func (s *Server) settingsForm(c *gin.Context, status int, p settingsPage) {
	learned, err := s.studio.Learned(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	book, err := s.studio.Techniques(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	for _, t := range book {
		if l, ok := learned[t.ID]; ok {
			p.Learned = append(p.Learned, learnedRow{t.ID, t.Name, l})
		}
	}
	p.Schools = studio.Schools
	s.show(c, status, "settings", Page{Title: "Settings", Nav: "settings", Data: p})
}

func (s *Server) saveSettings(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	_, notices, err := s.studio.EditSettings(c.Request.Context(), values)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.settingsForm(c, http.StatusUnprocessableEntity, settingsPage{Values: values, Notices: notices})
		return
	}
	c.Redirect(http.StatusSeeOther, "/settings?saved=1")
}

func (s *Server) resetLearning(c *gin.Context) {
	if err := s.studio.ResetLearning(c.Request.Context(), c.Param("technique")); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/settings")
}
