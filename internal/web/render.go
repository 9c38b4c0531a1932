package web

import (
	"bytes"
	"context"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"math"
	"net/http"
	"path"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

//go:embed templates
var templates embed.FS

// pages holds one parsed template set a page; a page file defines "main" and
// is laid into layout.html, partials are shared.
type pages struct{ byName map[string]*template.Template }

func parsePages() (*pages, error) {
	icons, err := readIcons()
	if err != nil {
		return nil, err
	}
	base, err := template.New("").Funcs(funcs(icons)).ParseFS(templates, "templates/layout.html", "templates/partials/*.html")
	if err != nil {
		return nil, fmt.Errorf("parse the layout: %w", err)
	}
	files, err := fs.Glob(templates, "templates/*.html")
	if err != nil {
		return nil, err
	}
	p := &pages{map[string]*template.Template{}}
	for _, f := range files {
		name := strings.TrimSuffix(path.Base(f), ".html")
		if name == "layout" {
			continue
		}
		t, err := base.Clone()
		if err == nil {
			_, err = t.ParseFS(templates, f)
		}
		if err != nil {
			return nil, fmt.Errorf("parse the page %s: %w", name, err)
		}
		p.byName[name] = t
	}
	return p, nil
}

// readIcons returns the shipped icons as inline SVG, without their comments.
func readIcons() (map[string]template.HTML, error) {
	files, err := fs.Glob(static, "static/vendor/icons/*.svg")
	if err != nil {
		return nil, err
	}
	out := make(map[string]template.HTML, len(files))
	for _, f := range files {
		b, err := fs.ReadFile(static, f)
		if err != nil {
			return nil, err
		}
		_, svg, _ := strings.Cut(string(b), "-->")
		svg = strings.Replace(strings.TrimSpace(svg), "<svg", `<svg aria-hidden="true" focusable="false"`, 1)
		out[strings.TrimSuffix(path.Base(f), ".svg")] = template.HTML(svg) // shipped files, not input
	}
	return out, nil
}

// A Page is what every template gets.
type Page struct {
	Title    string
	Nav      string
	Settings studio.Settings
	Demo     bool
	Version  string
	Data     any
}

// show renders a whole page.
func (s *Server) show(c *gin.Context, status int, name string, p Page) {
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.opts.Log.Error("settings", "error", err)
		set = studio.DefaultSettings()
	}
	p.Settings, p.Demo, p.Version = set, s.opts.Demo, s.opts.Version
	s.render(c, status, name, "layout.html", p)
}

// fragment renders one block of a page, for htmx.
func (s *Server) fragment(c *gin.Context, status int, name, block string, data any) {
	s.render(c, status, name, block, data)
}

func (s *Server) render(c *gin.Context, status int, name, block string, data any) {
	var b bytes.Buffer
	if err := s.pages.byName[name].ExecuteTemplate(&b, block, data); err != nil {
		s.opts.Log.Error("render", "page", name, "error", err)
		c.String(http.StatusInternalServerError, "This page could not be drawn; nothing was lost. Go back and try again.\n")
		return
	}
	c.Data(status, "text/html; charset=utf-8", b.Bytes())
}

// fromHTMX reports whether the page asks for a fragment.
func fromHTMX(c *gin.Context) bool { return c.GetHeader("HX-Request") == "true" }

var (
	errNoPage = errors.New("there is no such page")
	errInside = errors.New("something broke inside; what was saved before is safe")
)

// fail shows an error as what to do next.
func (s *Server) fail(c *gin.Context, err error) {
	if errors.Is(err, context.Canceled) {
		c.Abort()
		return
	}
	status, text := http.StatusInternalServerError, "Something broke inside. What was saved before is safe; go back and try again."
	var tooLarge *http.MaxBytesError
	var refused *studio.RefusedError
	switch {
	case errors.As(err, &refused):
		status, text = http.StatusUnprocessableEntity, "This cannot be reckoned: "+refused.Error()+"."
	case errors.Is(err, store.ErrNotFound), errors.Is(err, errNoPage):
		status, text = http.StatusNotFound, "There is nothing at this address. It may have been removed; the list of pieces shows what there is."
	case errors.Is(err, store.ErrDiskFull):
		status, text = http.StatusInsufficientStorage, "The disk is full. Nothing was changed; make room and do it again."
	case errors.Is(err, store.ErrConflict):
		status, text = http.StatusConflict, "Another page changed this at the same moment. Look at it again and repeat the change."
	case errors.As(err, &tooLarge):
		status, text = http.StatusRequestEntityTooLarge, "That is too large to take in."
	case errors.Is(err, studio.ErrTooManyColours):
		status, text = http.StatusUnprocessableEntity, err.Error()
	default:
		s.opts.Log.Error("request failed", "path", c.Request.URL.Path, "error", err)
	}
	c.Abort()
	if fromHTMX(c) {
		c.Header("HX-Retarget", "#alert")
		c.Header("HX-Reswap", "innerHTML")
		c.String(status, "%s", text)
		return
	}
	s.show(c, status, "failure", Page{Title: "Not done", Data: text})
}

// funcs are the words templates may use.
func funcs(icons map[string]template.HTML) template.FuncMap {
	return template.FuncMap{
		"icon": func(name string) (template.HTML, error) {
			svg, ok := icons[name]
			if !ok {
				return "", fmt.Errorf("no icon %q is shipped", name)
			}
			return svg, nil
		},
		"dict":  dict,
		"list":  func(v ...any) []any { return v },
		"pct":   func(v float64) string { return units.Fixed(v*100, 2) + " %" },
		"num":   decimals,
		"fixed": units.Fixed,
		"spoken": func(minutes any) string {
			return studio.Spoken(reflect.ValueOf(minutes).Convert(reflect.TypeFor[float64]()).Float())
		},
		"day":   func(t time.Time) string { return t.Format("Mon 2 Jan") },
		"hour":  func(t time.Time) string { return t.Format("15:04") },
		"stamp": func(t time.Time) string { return t.Format("Mon 2 Jan 15:04") },
		"iso":   func(t time.Time) string { return t.Format(time.RFC3339) },
		"after": func(t time.Time, m float64) string {
			return t.Add(time.Duration(m * float64(time.Minute))).Format("15:04")
		},
		"finite": func(v float64) bool { return !math.IsInf(v, 0) && !math.IsNaN(v) },
		"add":    func(a, b int) int { return a + b },
		"strip":  func(row int) int { return 17 * row }, // height of a row of windows
		"safety": func(keys []string) []technique.Safety { return technique.SafetyNotes(keys...) },
		"lower":  strings.ToLower,
		"join":   strings.Join,
		"other":  func(q interface{ Text(units.System) string }, sys units.System) string { return q.Text(sys.Other()) },
	}
}

// decimals prints v with n decimals and never a negative zero.
func decimals(v any, n int) string {
	f := reflect.ValueOf(v).Convert(reflect.TypeFor[float64]()).Float()
	text := strconv.FormatFloat(f, 'f', n, 64)
	if strings.Trim(text, "-0.") == "" {
		return strings.TrimPrefix(text, "-")
	}
	return text
}

// dict makes a map for a template call: dict "key" value ….
func dict(pairs ...any) (map[string]any, error) {
	if len(pairs)%2 != 0 {
		return nil, errors.New("dict takes pairs")
	}
	m := make(map[string]any, len(pairs)/2)
	for i := 0; i < len(pairs); i += 2 {
		key, ok := pairs[i].(string)
		if !ok {
			return nil, errors.New("dict keys are strings")
		}
		m[key] = pairs[i+1]
	}
	return m, nil
}
