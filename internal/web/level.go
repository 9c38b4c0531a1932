package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/studio"
)

func (s *Server) levelRoutes(e *gin.Engine) {
	e.GET("/pieces/:id/level", s.showLevel)
	e.POST("/pieces/:id/level", s.readLevel)
}

type levelPage struct {
	studio.Levelling
	Drawing Drawing
	Values  map[string]string
	Notices studio.Notices
}

func (s *Server) showLevel(c *gin.Context) {
	s.levelForm(c, http.StatusOK, map[string]string{}, studio.Notices{})
}

func (s *Server) levelForm(c *gin.Context, status int, values map[string]string, n studio.Notices) {
	l, err := s.studio.Level(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	one := l.Plan
	one.Boards, one.Sketches = one.Boards[:1], one.Sketches[:1]
	s.show(c, status, "level", Page{Title: "Level: " + l.Plan.Piece.Name, Nav: "pieces",
		Data: levelPage{Levelling: l, Drawing: draw(one), Values: values, Notices: n}})
}

func (s *Server) readLevel(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	notices, err := s.studio.ReadLevel(c.Request.Context(), id(c), values)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.levelForm(c, http.StatusUnprocessableEntity, values, notices)
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(id(c))+"/level")
}
