package frame

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"maps"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/studio/session"
)

// onceField is the hidden field of a form that is done once: the page it stood on.
const onceField = "once"

// plainForm is a form that leads to another page: one that is sent in place may be sent
// again as it stands.
var plainForm = regexp.MustCompile(`<form\b[^>]*\bmethod="post"[^>]*>`)

// numbered gives the forms of a page that is sent the number of the page: pages are
// remembered, each that is sent has a number of its own.
func numbered(page []byte) []byte {
	field := []byte(`<input type="hidden" name="` + onceField + `" value="` + rand.Text() + `">`)
	return plainForm.ReplaceAllFunc(page, func(tag []byte) []byte {
		if bytes.Contains(tag, []byte("hx-post")) {
			return tag
		}
		return append(slices.Clip(tag), field...)
	})
}

// lateField says of a press that a device kept while the program was away how many
// milliseconds ago it was.
const lateField = "late"

// once answers a form; one that has been done before leads where it led. A form whose
// texts were changed before it was sent again is another, but for a press that comes
// from a device's queue: there its number is enough.
func (f *Frame) once(c *gin.Context, h Handler) error {
	sent, err := files(c.Request)
	if err != nil {
		return h(c) // what cannot be read is said by who would have read it
	}
	form := c.Request.PostForm
	page := form.Get(onceField)
	if page == "" {
		return h(c)
	}
	says := form.Encode() + sent
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
	address, before, err := f.Studio.Idempotency.Do(c.Request.Context(), hex.EncodeToString(digest[:]),
		func(ctx context.Context) (string, error) {
			c.Request = c.Request.WithContext(ctx)
			if err := h(c); err != nil {
				return "", err
			}
			return resultPage(c), nil
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

// inMemory is how much of the files of a form is held in memory.
const inMemory = 8 << 20

// files reads a form with files, and returns what tells its files from others.
func files(r *http.Request) (string, error) {
	if !strings.HasPrefix(r.Header.Get("Content-Type"), "multipart/") {
		return "", nil
	}
	if err := r.ParseMultipartForm(inMemory); err != nil {
		return "", err
	}
	if err := textual(r.MultipartForm.Value); err != nil {
		return "", err
	}
	sum := sha256.New()
	for _, field := range slices.Sorted(maps.Keys(r.MultipartForm.File)) {
		for _, head := range r.MultipartForm.File[field] {
			file, err := head.Open()
			if err != nil {
				return "", err
			}
			_, err = io.Copy(sum, file)
			if err = errors.Join(err, file.Close()); err != nil {
				return "", err
			}
		}
	}
	return hex.EncodeToString(sum.Sum(nil)), nil
}

// resultPage is the page a successful form leads to; "" for a failed one.
func resultPage(c *gin.Context) string {
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
