package frame

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"
)

// onceField is the hidden field of a form that is done once: the page it stood on.
const onceField = "once"

// onceMark stands in rendered pages for the number of the page that is sent: pages are
// remembered, each that is sent has a number of its own. It is not to be guessed, so
// that no text a painter types is taken for it.
var onceMark = []byte(rand.Text())

// onceInput is the hidden field of a form, for templates.
func onceInput() template.HTML {
	return template.HTML(`<input type="hidden" name="` + onceField + `" value="` + string(onceMark) + `">`)
}

// numbered gives a page that is sent its number.
func numbered(page []byte) []byte {
	if !bytes.Contains(page, onceMark) {
		return page
	}
	return bytes.ReplaceAll(page, onceMark, []byte(rand.Text()))
}

// once answers a form; one that has been done before leads where it led. A form whose
// texts were changed before it was sent again is another.
func (f *Frame) once(c *gin.Context, h Handler) error {
	page := c.Request.PostForm.Get(onceField)
	if page == "" {
		return h(c)
	}
	digest := sha256.Sum256([]byte(c.Request.URL.String() + "\n" + c.Request.PostForm.Encode()))
	c.Request.Form.Del(onceField)
	c.Request.PostForm.Del(onceField)
	address, before, err := f.Studio.Once.Do(c.Request.Context(), hex.EncodeToString(digest[:]), func(ctx context.Context) (string, error) {
		c.Request = c.Request.WithContext(ctx)
		if err := h(c); err != nil || c.Writer.Status() != http.StatusSeeOther {
			return "", err
		}
		return c.Writer.Header().Get("Location"), nil
	})
	if err != nil || !before {
		return err
	}
	if address == "" {
		address = "/" // it was kept, and the program ended before it could say where
	}
	return Go(c, address)
}
