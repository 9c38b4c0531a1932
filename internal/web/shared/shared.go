// Package shared hands one piece, resin, pigment or technique to another studio as a
// file, and takes one in.
package shared

import (
	"embed"
	"errors"
	"io"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/msg"
	"jevvo/internal/studio/share"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/pieces/:id/share.json", a.send(share.Piece, "id"))
	a.GET("/materials/:id/share.json", a.send(share.Resin, "id"))
	a.GET("/pigments/:id/share.json", a.send(share.Pigment, "id"))
	a.GET("/techniques/:technique/share.json", a.send(share.Technique, "technique"))
	a.GET("/shared", func(c *gin.Context) error { return a.ask(c, http.StatusOK, nil) })
	a.Upload("/shared", share.MaxBytes, a.take)
	return nil
}

func (a *area) send(kind share.Kind, param string) frame.Handler {
	return func(c *gin.Context) error {
		data, name, err := a.Studio.Share.Write(c.Request.Context(), kind, c.Param(param))
		if err != nil {
			return err
		}
		frame.Attach(c, name)
		c.Data(http.StatusOK, "application/json", data)
		return nil
	}
}

func (a *area) ask(c *gin.Context, status int, wrong msg.Text) error {
	return a.Show(c, status, "shared", frame.Page{Title: msg.ID("Import what was shared"), Nav: "pieces", Data: wrong})
}

// where is the page of what was taken in.
var where = map[share.Kind]string{share.Piece: "/pieces/", share.Resin: "/materials/", share.Pigment: "/pigments/",
	share.Technique: "/techniques/"}

func (a *area) take(c *gin.Context) error {
	file, _, err := c.Request.FormFile("file")
	var tooLarge *http.MaxBytesError
	switch {
	case errors.As(err, &tooLarge):
		return err
	case err != nil:
		return a.ask(c, http.StatusUnprocessableEntity, msg.ID("Choose a file first."))
	}
	defer file.Close()
	data, err := io.ReadAll(io.LimitReader(file, share.MaxBytes+1))
	if err != nil {
		return err
	}
	t, err := a.Studio.Share.Take(c.Request.Context(), data)
	if _, ok := frame.Refusal(err); ok {
		_, words, _ := frame.Status(err)
		return a.ask(c, http.StatusUnprocessableEntity, words)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, where[t.Kind]+t.ID)
}
