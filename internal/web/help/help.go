// Package help has a short page with a picture for each screen.
package help

import (
	"embed"
	"net/http"
	"path"

	"github.com/gin-gonic/gin"

	"jevvo/internal/store"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

// pictures are the main views, taken anew by e2e/pictures.js; those in another language than
// English have a folder.
//
//go:embed pictures
var pictures embed.FS

type page struct {
	Topic
	All []Topic
}

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	show := func(c *gin.Context, t Topic) error {
		return pages.Show(c, http.StatusOK, "help", frame.Page{Title: t.Title, Data: page{t, topics}})
	}
	pages.GET("/help", func(c *gin.Context) error { return show(c, of(c.Query("on"))) })
	pages.GET("/help/:topic", func(c *gin.Context) error {
		for _, t := range topics {
			if t.ID == c.Param("topic") {
				return show(c, t)
			}
		}
		return store.ErrNotFound
	})
	pages.GET("/help/:topic/picture.jpg", picture)
	return nil
}

func picture(c *gin.Context) error {
	for _, t := range topics {
		if t.ID != c.Param("topic") || t.Picture == "" {
			continue
		}
		b, err := pictures.ReadFile(path.Join("pictures", c.Query("in"), t.Picture+".jpg"))
		if err != nil {
			b, err = pictures.ReadFile("pictures/" + t.Picture + ".jpg")
		}
		if err != nil {
			return err
		}
		c.Header("Cache-Control", "private, max-age=86400")
		c.Data(http.StatusOK, "image/jpeg", b)
		return nil
	}
	return store.ErrNotFound
}
