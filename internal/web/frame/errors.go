package frame

import (
	"context"
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/session"
	"jevvo/internal/words"
)

var (
	errNoPage = errors.New("there is no such page")
	errUnread = errors.New("the form cannot be read")
	errInside = errors.New("something broke inside; what was saved before is safe")
)

// Missing says that there is nothing at an address.
var Missing = store.ErrNotFound

// A failing is one kind of error with its status and what to do next.
type failing struct {
	is     error
	status int
	text   string
}

var failings = []failing{
	{store.ErrNotFound, http.StatusNotFound,
		words.Mark("There is nothing at this address. It may have been removed; the list of pieces shows what there is.")},
	{errNoPage, http.StatusNotFound,
		words.Mark("There is nothing at this address. It may have been removed; the list of pieces shows what there is.")},
	{errUnread, http.StatusBadRequest,
		words.Mark("What was sent cannot be read as a form; nothing was changed. Go back and type it again.")},
	{store.ErrDiskFull, http.StatusInsufficientStorage,
		words.Mark("The disk is full. Nothing was changed; make room and do it again.")},
	{store.ErrBusy, http.StatusServiceUnavailable,
		words.Mark("Another program holds the data. Nothing was changed; do it again in a moment.")},
	{store.ErrConflict, http.StatusConflict,
		words.Mark("Another page changed this at the same moment. Look at it again and repeat the change.")},
	{errUnpaired, http.StatusUnauthorized,
		words.Mark("This device is not let in yet. Open /pair and type a code from the first screen.")},
	{errLocked, http.StatusUnauthorized, words.Mark("This screen is locked. Open /unlock and type the passphrase.")},
	{errNoKey, http.StatusForbidden,
		words.Mark("Open the address the program printed at its start: it holds a key, without which other users of this " +
			"computer could read along.")},
	{errRole, http.StatusForbidden,
		words.Mark("This device may not do that: its role is set on the first screen. Nothing was changed.")},
	{access.ErrOften, http.StatusTooManyRequests, words.Mark("Too many tries. Wait a minute, then try again.")},
	{session.ErrStale, http.StatusConflict, words.Mark("Another screen has just done this step. Look at it again.")},
}

// Status returns the code of an error and what people read, in the studio's language; known is false for
// what nobody foresaw.
func Status(err error) (status int, text string, known bool) {
	var tooLarge *http.MaxBytesError
	var refused *form.Refused
	switch {
	case errors.As(err, &refused):
		return http.StatusUnprocessableEntity, words.Figures(words.Capital(refused.Error())) + ".", true
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, words.T("That is too large to take in."), true
	}
	for _, f := range failings {
		if errors.Is(err, f.is) {
			return f.status, words.T(f.text), true
		}
	}
	return http.StatusInternalServerError, words.T(
		"Something broke inside. What was saved before is safe; go back and try again."), false
}

// Fail shows an error as what to do next: as a page, or at the head of the one
// that asked for a part of itself.
func (f *Frame) Fail(c *gin.Context, err error) {
	c.Abort()
	if errors.Is(err, context.Canceled) && c.Request.Context().Err() != nil {
		return
	}
	status, text, known := Status(err)
	if !known {
		f.Log.Error("request failed", "id", c.GetString(requestID), "path", route(c), "error", err)
	}
	if FromHTMX(c) {
		c.Header("HX-Retarget", "#alert")
		c.Header("HX-Reswap", "innerHTML")
		c.String(status, "%s", text)
		return
	}
	f.own.Show(c, status, "failure", Page{Title: "Not done", Data: text})
}

// Refusal returns what was refused, for a page that shows it at its field.
func Refusal(err error) (r *form.Refused, ok bool) {
	ok = errors.As(err, &r)
	return r, ok
}

// At returns notices that say what was refused at its field, or at the one
// named when the refusal names none.
func At(r *form.Refused, field string) form.Notices {
	n := form.NewNotices()
	if r.Field != "" {
		field = r.Field
	}
	n.Refuse(field, r.Error())
	return n
}
