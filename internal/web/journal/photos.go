package journal

import (
	"errors"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/web/frame"
)

// addPhotos keeps photographs of a coat, one after the other; those that cannot be
// read are named and take none of the others along.
func (a *area) addPhotos(c *gin.Context) error {
	sent, err := c.MultipartForm()
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return a.showResult(c, nil,
			form.Refusef("photo", "that is more than can be uploaded at once; send fewer photographs at a time"))
	}
	if err != nil || len(sent.File["photo"]) == 0 {
		return a.showResult(c, nil, form.Refusef("photo", "choose a photograph first"))
	}
	kept, bad := 0, []string{}
	for _, header := range sent.File["photo"] {
		file, err := header.Open()
		if err != nil {
			return err
		}
		_, err = a.Studio.Journal.AddPhoto(c.Request.Context(), frame.ID(c), c.PostForm("coat"), c.PostForm("moment"), file)
		file.Close()
		var refused *form.Refused
		switch {
		case errors.As(err, &refused):
			bad = append(bad, header.Filename+": "+refused.In(msg.LangOf(c.Request.Context())))
		case err != nil:
			return err
		default:
			kept++
		}
	}
	if len(bad) > 0 {
		const named = 5
		text := msg.Text(msg.Own(strings.Join(bad[:min(len(bad), named)], "; ")))
		if more := len(bad) - named; more > 0 {
			text = msg.F("%s; and %d more", text, more)
		}
		return a.showResult(c, nil, form.Refusef("photo", "%d saved, %d not: %s", kept, len(bad), text))
	}
	return frame.Go(c, resultPath(c))
}

// photo shows a photograph, small or for a screen.
func (a *area) photo(c *gin.Context) error {
	data, err := a.Studio.Journal.PhotoPicture(c.Request.Context(), frame.ID(c), frame.Number(c.Param("photo")),
		c.Param("size") == "small.jpg")
	if err != nil {
		return err
	}
	c.Header("Cache-Control", "private, max-age=86400, immutable")
	c.Data(http.StatusOK, "image/jpeg", data)
	return nil
}
