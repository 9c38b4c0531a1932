package web

import (
	"errors"
	"mime"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/calc"
)

func (s *Server) apiRoutes(e *gin.Engine) {
	e.POST("/api/v1/calc/:name", s.calculate)
	e.GET("/api/openapi.json", func(c *gin.Context) { c.Data(http.StatusOK, "application/json", s.openAPI) })
}

const problemType = "application/problem+json"

func (s *Server) calculate(c *gin.Context) {
	if t := c.GetHeader("Content-Type"); t != "" {
		if media, _, err := mime.ParseMediaType(t); err != nil || media != "application/json" {
			p := calc.Problem{Title: "Unsupported media type", Status: http.StatusUnsupportedMediaType, Detail: "send application/json"}
			c.Data(p.Status, problemType, p.JSON())
			return
		}
	}
	out, err := calc.Run(c.Param("name"), c.Request.Body)
	if err == nil {
		c.Data(http.StatusOK, "application/json", out)
		return
	}
	p := &calc.Problem{Title: "Internal error", Status: http.StatusInternalServerError}
	if !errors.As(err, &p) {
		s.opts.Log.Error("calculator", "name", c.Param("name"), "error", err)
	}
	c.Data(p.Status, problemType, p.JSON())
}
