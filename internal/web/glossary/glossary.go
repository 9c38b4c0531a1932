// Package glossary is the page of the trade's words.
package glossary

import (
	"embed"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/msg"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

//go:embed all:templates
var templates embed.FS

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	pages.GET("/glossary", func(c *gin.Context) error {
		return pages.Show(c, http.StatusOK, "glossary",
			frame.Page{Title: msg.ID("Words of the trade"), Data: words.Glossary})
	})
	return nil
}
