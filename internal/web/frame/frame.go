// Package frame holds the parts that all areas of the web application share: how a page is
// laid out, how a form is read and a field drawn, and the one way each kind of
// error is shown. An area is a folder with its handlers, view structs and
// templates; it joins the frame with Area.
package frame

import (
	"context"
	"embed"
	"errors"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"path"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/gin-gonic/gin"

	"jevvo/internal/msg"
	"jevvo/internal/studio"
	"jevvo/internal/words"
)

// static is what browsers load: icons, fonts, and what scripts/assets builds.
//
//go:embed static
var static embed.FS

// scripts are the sources of the scripts, for the texts in them.
//
//go:embed assets/*.js
var scripts embed.FS

//go:embed all:templates
var templates embed.FS

// Options are the dependencies of the pages besides the studio.
type Options struct {
	Version string
	Demo    bool
	Log     *slog.Logger
	AnyUser bool                                // of this computer may use it
	LAN     *LAN                                // nil: this computer alone
	Key     string                              // what a screen of this computer shows; "" where its user is known
	Clock   interface{ Jumped() time.Duration } // nil: the computer's clock is not watched
}

// A Frame serves areas over one studio.
type Frame struct {
	Studio *studio.Studio
	Options

	engine *gin.Engine
	mu     sync.Mutex
	bases  map[words.Language]*template.Template // cloned for each area, never executed
	drawn  map[words.Language]*template.Template
	own    *Area
	turns  *turns            // of heavy work
	gets   func() [][]string // the addresses that show something, in their parts
}

// New returns a frame with its static files and its answer to what is not
// there.
func New(st *studio.Studio, o Options) (*Frame, error) {
	gin.SetMode(gin.ReleaseMode)
	f := &Frame{Studio: st, Options: o, engine: gin.New(), turns: newTurns(),
		bases: map[words.Language]*template.Template{}, drawn: map[words.Language]*template.Template{}}
	f.gets = sync.OnceValue(f.shows)
	f.engine.HandleMethodNotAllowed = true
	if err := f.engine.SetTrustedProxies(nil); err != nil {
		return nil, err
	}
	pages, err := fs.Sub(templates, "templates/pages")
	if err != nil {
		return nil, err
	}
	f.own = f.area(pages)
	f.engine.Use(f.logRequests, f.recoverPanics, secure, f.speak, f.enter, f.takeTurn)
	f.engine.NoMethod(above)
	f.engine.NoRoute(func(c *gin.Context) { f.Fail(c, errNoPage) })
	return f, f.serveRoot()
}

// speak has a request answered in the studio's language.
func (f *Frame) speak(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/static/") {
		return
	}
	ctx := c.Request.Context()
	if set, err := f.Studio.Setup.Settings(ctx); err == nil {
		c.Request = c.Request.WithContext(msg.WithLang(ctx, set.Lang()))
	}
}

// spoken is the catalogue a request is answered from.
func spoken(ctx context.Context) *words.Catalogue {
	if c, ok := msg.LangOf(ctx).(*words.Catalogue); ok {
		return c
	}
	return words.In(words.English)
}

// above sends who reloads the address of a press to the page the press stands on: one
// segment up, as often as it takes.
func above(c *gin.Context) {
	at := path.Dir(c.Request.URL.Path)
	if c.Request.Method != http.MethodGet || strings.HasPrefix(at, "/api") {
		c.String(http.StatusMethodNotAllowed,
			msg.ID("That cannot be sent to this address.").In(msg.LangOf(c.Request.Context()))+
				"\n")
		return
	}
	c.Redirect(http.StatusSeeOther, at)
}

// serveRoot answers what is no page.
func (f *Frame) serveRoot() error {
	if err := f.serveStatic(); err != nil {
		return err
	}
	f.engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	f.engine.GET("/readyz", f.ready)
	f.engine.GET("/enter", f.enterByKey)
	return f.installRoutes()
}

// ready answers whether the data can be read.
func (f *Frame) ready(c *gin.Context) {
	if _, err := f.Studio.Setup.Settings(c.Request.Context()); err != nil {
		f.Log.Error("not ready", "error", err)
		c.String(http.StatusServiceUnavailable, "not ready\n")
		return
	}
	c.String(http.StatusOK, "ready\n")
}

// A Handler answers a request or says why it cannot; the frame shows the error.
type Handler func(c *gin.Context) error

// MaxForm bounds a posted form; what is larger, such as a picture, has a route
// with a bound of its own.
const MaxForm = 1 << 20

// GET answers a page or a part of one.
func (f *Frame) GET(path string, h Handler) { f.engine.GET(path, f.handle(h, 0)) }

// POST answers a form.
func (f *Frame) POST(path string, h Handler) { f.engine.POST(path, f.handle(h, MaxForm)) }

// Upload answers a form with a file of up to most bytes.
func (f *Frame) Upload(path string, most int64, h Handler) {
	f.engine.POST(path, f.handle(h, most+64<<10))
}

// Addresses are all that is answered, as methods and paths.
func (f *Frame) Addresses() [][2]string {
	var out [][2]string
	for _, r := range f.engine.Routes() {
		out = append(out, [2]string{r.Method, r.Path})
	}
	return out
}

// Mount answers below an address with a handler that shows its own errors.
func (f *Frame) Mount(path string, h http.Handler) { f.engine.Any(path, gin.WrapH(h)) }

// mostFields bounds the fields of a form, those of the largest page many times over.
const mostFields = 4000

// readable reads a form, and refuses one that cannot be read as it was typed. A form
// with files is read by its handler.
func readable(r *http.Request) error {
	if strings.HasPrefix(r.Header.Get("Content-Type"), "multipart/") {
		return textual(r.URL.Query())
	}
	var tooLarge *http.MaxBytesError
	if err := r.ParseForm(); errors.As(err, &tooLarge) {
		return err
	} else if err != nil {
		return errUnread
	}
	if len(r.Form) > mostFields {
		return errUnread
	}
	return textual(r.Form)
}

// textual reports values that are no text.
func textual(form url.Values) error {
	for key, values := range form {
		for _, v := range append(values, key) {
			if strings.ContainsRune(v, 0) || !utf8.ValidString(v) {
				return errUnread
			}
		}
	}
	return nil
}

func (f *Frame) handle(h Handler, most int64) gin.HandlerFunc {
	return func(c *gin.Context) {
		if most > 0 && c.Request.Body != nil {
			c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, most)
		}
		if err := readable(c.Request); err != nil {
			f.Fail(c, err)
			return
		}
		if err := f.once(c, h); err != nil {
			f.Fail(c, err)
		}
	}
}
