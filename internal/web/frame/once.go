package frame

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"html/template"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/studio/session"
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

// lateField says of a press that a device kept while the program was away how many
// milliseconds ago it was.
const lateField = "late"

// once answers a form; one that has been done before leads where it led. A form whose
// texts were changed before it was sent again is another, but for a press that comes
// from a device's queue: there its number is enough.
func (f *Frame) once(c *gin.Context, h Handler) error {
	form := c.Request.PostForm
	page := form.Get(onceField)
	if page == "" {
		return h(c)
	}
	says := form.Encode()
	if form.Has(lateField) {
		says = page
		late, err := strconv.ParseFloat(form.Get(lateField), 64)
		if err != nil {
			return errUnread
		}
		c.Request = c.Request.WithContext(session.Late(c.Request.Context(), time.Duration(late)*time.Millisecond))
	}
	digest := sha256.Sum256([]byte(c.Request.URL.String() + "\n" + says))
	for _, key := range []string{onceField, lateField} {
		c.Request.Form.Del(key)
		form.Del(key)
	}
	address, before, err := f.Studio.Once.Do(c.Request.Context(), hex.EncodeToString(digest[:]), func(ctx context.Context) (string, error) {
		c.Request = c.Request.WithContext(ctx)
		if err := h(c); err != nil {
			return "", err
		}
		return led(c), nil
	})
	if err != nil || !before {
		return err
	}
	if address == "" {
		address = "/" // it was kept, and the program ended before it could say where
	}
	if FromHTMX(c) {
		c.Header("HX-Redirect", address)
		return Nothing(c)
	}
	return Go(c, address)
}

// led is where a form led that was done; "" for one that was not.
func led(c *gin.Context) string {
	switch status := c.Writer.Status(); {
	case status == http.StatusSeeOther:
		return c.Writer.Header().Get("Location")
	case status < 300 && FromHTMX(c):
		if u, err := url.Parse(c.GetHeader("HX-Current-URL")); err == nil {
			return Local(u.Path, "/")
		}
	}
	return ""
}
