package frame

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"

	"jevvo/internal/msg"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/translate"
	"jevvo/internal/words"
)

// An Area is one part of the application: its templates over the frame. A page
// file defines "main" and is laid into the layout; files whose names begin with
// an underscore are shared by the area's pages.
type Area struct {
	*Frame
	files fs.FS
	mu    sync.Mutex
	pages map[page]*template.Template // parsed when they are first shown
	parts cache.Memo[part, template.HTML]
}

// A page is one of an area's in a language; "" is what its pages share.
type page struct {
	language words.Language
	name     string
}

// A part is a block of a page with what it stands on.
type part struct {
	language    words.Language
	page, block string
	on          any
}

// mostParts are remembered by an area at once; a large one is some 100 kB.
const mostParts = 96

// Area offers the pages of an area's "templates" folder.
func (f *Frame) Area(files fs.FS) (*Area, error) {
	own, err := fs.Sub(files, "templates")
	if err != nil {
		return nil, err
	}
	return f.area(own), nil
}

func (f *Frame) area(files fs.FS) *Area {
	return &Area{Frame: f, files: files, pages: map[page]*template.Template{},
		parts: cache.Memo[part, template.HTML]{Most: mostParts}}
}

// in returns a page of the area in a language.
func (a *Area) in(l words.Language, name string) (*template.Template, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	return a.once(page{l, name}, func() (*template.Template, error) {
		shared, err := a.once(page{l, ""}, func() (*template.Template, error) { return a.shared(l) })
		if err != nil {
			return nil, err
		}
		t, err := shared.Clone()
		if err != nil {
			return nil, err
		}
		return t, parse(t, a.files, name+".html", l)
	})
}

// once parses a page when it is first shown; the area is locked.
func (a *Area) once(p page, parse func() (*template.Template, error)) (*template.Template, error) {
	if t, ok := a.pages[p]; ok {
		return t, nil
	}
	t, err := parse()
	if err == nil {
		a.pages[p] = t
	}
	return t, err
}

// shared parses what the pages of an area share, in a language.
func (a *Area) shared(l words.Language) (*template.Template, error) {
	t, err := a.base(l)
	if err != nil {
		return nil, err
	}
	names, err := fs.Glob(a.files, "_*.html")
	if err != nil {
		return nil, err
	}
	for _, name := range names {
		if err := parse(t, a.files, name, l); err != nil {
			return nil, err
		}
	}
	return t, nil
}

// parse adds a file to a template, in a language.
func parse(t *template.Template, files fs.FS, name string, l words.Language) error {
	b, err := fs.ReadFile(files, name)
	if err != nil {
		return err
	}
	source := string(b)
	if l != words.English {
		source = translate.Source(source, words.In(l).Text)
	}
	if _, err := t.New(path.Base(name)).Parse(source); err != nil {
		return fmt.Errorf("parse %s in %s: %w", name, l, err)
	}
	return nil
}

// page is one of the area's in the language of a request; in English where that cannot be had.
func (a *Area) page(ctx context.Context, name string) (*template.Template, error) {
	t, err := a.in(spoken(ctx).Language, name)
	if err == nil || spoken(ctx).Language == words.English {
		return t, err
	}
	a.Log.Error("a page in another language", "error", err)
	return a.in(words.English, name)
}

// execute renders a block of a page.
func (a *Area) execute(ctx context.Context, w io.Writer, name, block string, data any) error {
	t, err := a.page(ctx, name)
	if err != nil {
		return err
	}
	return t.ExecuteTemplate(w, block, data)
}

// base is a copy of what every page is laid into, in a language.
func (f *Frame) base(l words.Language) (*template.Template, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if _, ok := f.bases[l]; !ok {
		t, err := layout(l)
		if err != nil {
			return nil, err
		}
		f.bases[l] = t
	}
	return f.bases[l].Clone()
}

// layout parses what every page is laid into, in a language.
func layout(l words.Language) (*template.Template, error) {
	inScripts, err := scriptTexts(l)
	if err != nil {
		return nil, err
	}
	t := template.New("").Funcs(funcs(words.In(l))).Funcs(
		template.FuncMap{"shipped": shipped, "script": script,
			"lang": func() words.Language { return l }, "texts": func() map[string]string { return inScripts }})
	files, err := fs.Glob(templates, "templates/*.html")
	if err != nil {
		return nil, err
	}
	for _, name := range files {
		if err := parse(t, templates, name, l); err != nil {
			return nil, err
		}
	}
	return t, nil
}

// inScript finds the texts of a script: t('…').
var inScript = regexp.MustCompile(`\b(?:t|inWords)\('((?:[^'\\]|\\.)*)'`)

// scriptTexts are the texts of the scripts in a language; none in English.
func scriptTexts(l words.Language) (map[string]string, error) {
	if l == words.English {
		return nil, nil
	}
	files, err := fs.Glob(scripts, "assets/*.js")
	if err != nil {
		return nil, err
	}
	out := map[string]string{}
	for _, f := range files {
		b, err := fs.ReadFile(scripts, f)
		if err != nil {
			return nil, err
		}
		for _, m := range inScript.FindAllSubmatch(b, -1) {
			text := strings.ReplaceAll(string(m[1]), `\'`, "'")
			out[text] = words.In(l).Text(text)
		}
	}
	return out, nil
}

// A Page is the data of the layout.
type Page struct {
	Title msg.Text
	Nav   string // the main entry it belongs to
	Data  any
}

// A laid page is one with what the frame adds.
type laid struct {
	Page
	Demo    bool
	Version string
	Running []session.Running // bench days that go on
	Visitor Visitor
	May     string // what the visitor may change, as a pattern; "" for everything
	Bare    bool   // for who has not come in
	Screen  string // the page, for its help
	Refused bool   // what was sent was not saved
	Theme   string // dark or light; "" as the system has it
	Locks   int    // seconds after which a screen that is left is locked; 0 for never
}

// Show renders a whole page; who has not come in gets it without what is in the studio.
func (a *Area) Show(c *gin.Context, status int, name string, p Page) error {
	ctx := c.Request.Context()
	whole := laid{Page: p, Demo: a.Demo, Version: a.Version, Screen: name,
		Refused: status == http.StatusUnprocessableEntity}
	if theme, err := c.Cookie("theme"); err == nil && (theme == "dark" || theme == "light") {
		whole.Theme = theme
	}
	v, in := VisitorOf(ctx)
	whole.Visitor, whole.Bare = v, !in
	if in {
		whole.May = changesPattern(v.Role)
		var err error
		if whole.Running, err = a.Studio.Bench.Log().Running(ctx); err != nil {
			a.Log.Warn("bench days", "error", err) // the page is more than its strip
		}
		if locks, err := a.Studio.Access.Locks(); err == nil && locks && v.Own {
			whole.Locks = int(access.LockAfter.Seconds())
		}
	}
	a.render(c, status, name, "layout.html", whole)
	return nil
}

// Part renders one block of a page, for htmx.
func (a *Area) Part(c *gin.Context, status int, name, block string, data any) error {
	a.render(c, status, name, block, data)
	return nil
}

// Once renders a block of a page once for what it stands on: revisions, and
// plans and agendas that do not change once they were made. The data are made
// only when it is not remembered.
func (a *Area) Once(ctx context.Context, page, block string, on any, data func() (any, error)) (template.HTML, error) {
	return a.parts.Get(ctx, part{spoken(ctx).Language, page, block, on}, func(context.Context) (template.HTML, error) {
		with, err := data()
		if err != nil {
			return "", err
		}
		return a.Render(ctx, page, block, with)
	})
}

// Render renders a block of a page, to be laid into another.
func (a *Area) Render(ctx context.Context, page, block string, data any) (template.HTML, error) {
	var b strings.Builder
	if err := a.execute(ctx, &b, page, block, data); err != nil {
		return "", fmt.Errorf("render %s of %s: %w", block, page, err)
	}
	return template.HTML(b.String()), nil // rendered by a template
}

func (a *Area) render(c *gin.Context, status int, name, block string, data any) {
	ctx := c.Request.Context()
	var b bytes.Buffer
	if err := a.execute(ctx, &b, name, block, data); err != nil {
		a.Log.Error("render", "page", name, "error", err)
		c.String(http.StatusInternalServerError, "%s\n",
			msg.ID("This page could not be shown; nothing was lost. Go back and try again.").In(msg.LangOf(ctx)))
		return
	}
	c.Data(status, "text/html; charset=utf-8", a.offered(ctx, numbered(b.Bytes())))
}

// drawer is the copy of the base that is executed by itself.
func (f *Frame) drawer(l words.Language) (*template.Template, error) {
	f.mu.Lock()
	t, ok := f.drawn[l]
	f.mu.Unlock()
	if ok {
		return t, nil
	}
	t, err := f.base(l)
	if err == nil {
		f.mu.Lock()
		f.drawn[l] = t
		f.mu.Unlock()
	}
	return t, err
}

// Draw renders a template of the base by itself, for those who keep what it makes.
func (f *Frame) Draw(ctx context.Context, w io.Writer, name string, data any) error {
	t, err := f.drawer(spoken(ctx).Language)
	if err != nil {
		return err
	}
	return t.ExecuteTemplate(w, name, data)
}
