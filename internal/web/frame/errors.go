package frame

import (
	"context"
	"errors"
	"net/http"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/session"
)

var (
	errNoPage = refusal.New("there is no such page")
	errUnread = refusal.New("the form cannot be read")
	errInside = refusal.New("something broke; what was saved before is safe")
)

// Missing says that there is nothing at an address.
var Missing = store.ErrNotFound

// A failing is one kind of error with its status and what to do next.
type failing struct {
	is     error
	status int
	text   msg.ID
}

var failings = []failing{
	{store.ErrNotFound, http.StatusNotFound,
		"There is nothing at this address. It may have been removed."},
	{errNoPage, http.StatusNotFound,
		"There is nothing at this address. It may have been removed."},
	{errUnread, http.StatusBadRequest,
		"What was sent cannot be read as a form; nothing was changed. Go back and type it again."},
	{store.ErrDiskFull, http.StatusInsufficientStorage,
		"The disk is full. Nothing was changed; make room and do it again."},
	{store.ErrBusy, http.StatusServiceUnavailable,
		"Another program is using the data. Nothing was changed; try again in a moment."},
	{store.ErrConflict, http.StatusConflict,
		"Another page changed this at the same moment. Look at it and make your change again."},
	{errUnpaired, http.StatusUnauthorized,
		"This device is not paired yet. Open /pair and type a code from the main screen."},
	{errLocked, http.StatusUnauthorized, "This screen is locked. Open /unlock and type the passphrase."},
	{errNoKey, http.StatusForbidden,
		"Open the address the program printed when it started: its key keeps other users of this computer out."},
	{errRole, http.StatusForbidden,
		"This device may not do that: its role is set on the main screen. Nothing was changed."},
	{access.ErrOften, http.StatusTooManyRequests, "Too many tries. Wait a minute, then try again."},
	{session.ErrStale, http.StatusConflict, "Another screen has just done this step. Look at it again."},
}

// Status returns the code of an error and what people read; known is false for
// what nobody foresaw.
func Status(err error) (status int, text msg.Text, known bool) {
	var tooLarge *http.MaxBytesError
	var refused *form.Refused
	switch {
	case errors.As(err, &refused):
		return http.StatusUnprocessableEntity, msg.F("%s.", msg.Capital(refused)), true
	case errors.As(err, &tooLarge):
		return http.StatusRequestEntityTooLarge, msg.ID("That is too large to upload."), true
	}
	for _, f := range failings {
		if errors.Is(err, f.is) {
			return f.status, f.text, true
		}
	}
	return http.StatusInternalServerError, msg.ID(
		"Something broke. What was saved before is safe; go back and try again."), false
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
		c.String(status, "%s", msg.Say(text, msg.LangOf(c.Request.Context())))
		return
	}
	f.own.Show(c, status, "failure", Page{Title: title(status), Data: text})
}

// title is the heading of a page that says why something was not done.
func title(status int) msg.ID {
	switch {
	case status == http.StatusNotFound:
		return "Not found"
	case status == http.StatusForbidden || status == http.StatusUnauthorized:
		return "Not allowed"
	case status == http.StatusConflict:
		return "Changed meanwhile"
	case status == http.StatusTooManyRequests || status == http.StatusServiceUnavailable:
		return "Wait a moment"
	case status >= http.StatusInternalServerError:
		return "Something went wrong"
	}
	return "Not saved"
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
	n.Refuse(field, r)
	return n
}
