package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image/color"
	"io"
	"log/slog"
	"math/rand/v2"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"jevvo/internal/demo"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/access"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// demoSite is the application over the demo's studio.
func demoSite(t *testing.T) *site {
	t.Helper()
	dir := t.TempDir()
	db, err := store.Open(t.Context(), filepath.Join(dir, studiotest.Database))
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	now := func() time.Time { return monday }
	st, err := studio.New(t.Context(), db, studio.Options{Now: now, Secrets: studiotest.Secrets(dir)})
	require.NoError(t, err)
	st.Preview.Cells = 32
	require.NoError(t, demo.Fill(t.Context(), st, nil))
	f, err := web.New(st, frame.Options{Version: "test", Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	require.NoError(t, err)
	return &site{st, t, db, f.Handler(), f}
}

// A sheet is a form as a page offers it.
type sheet struct {
	action string
	files  bool
	fields []field
}

type field struct {
	name, value, kind string
	choices           []string
}

// sheets are the forms of all pages that can be reached from the first, one of each
// action.
func (s *site) sheets() (out []sheet) {
	seen := map[string]bool{}
	s.walk(func(page, body string) {
		root, err := html.Parse(strings.NewReader(body))
		require.NoError(s.t, err)
		for _, f := range formsOf(root, page) {
			if key := fmt.Sprint(f.action, len(f.fields)); !seen[key] {
				seen[key] = true
				out = append(out, f)
			}
		}
	})
	return out
}

// walk visits the pages that can be reached from the first, one of each kind.
func (s *site) walk(visit func(page, body string)) {
	pages, kinds := []string{"/", "/pieces/1?part=all"}, map[string]int{}
	for i := 0; i < len(pages); i++ {
		w := s.do(http.MethodGet, pages[i], nil, false)
		if w.Code != http.StatusOK || !strings.Contains(w.Header().Get("Content-Type"), "html") {
			continue
		}
		body := w.Body.String()
		for _, link := range localLink.FindAllStringSubmatch(body, -1) {
			at := html.UnescapeString(link[1])
			kind := unlike.ReplaceAllString(at, "")
			skip := strings.HasPrefix(at, "/static/") || slices.Contains(pages, at) || kinds[kind] == 1
			if !skip {
				kinds[kind]++
				pages = append(pages, at)
			}
		}
		visit(pages[i], body)
	}
}

// unlike is what pages of a kind differ by.
var unlike = regexp.MustCompile(`\d+|=[^&]*`)

func attribute(n *html.Node, key string) string {
	for _, a := range n.Attr {
		if a.Key == key {
			return a.Val
		}
	}
	return ""
}

// formsOf are the forms of a page that change something.
func formsOf(n *html.Node, page string) (out []sheet) {
	if n.Type == html.ElementNode && n.Data == "form" {
		action := attribute(n, "action")
		if posted := attribute(n, "hx-post"); posted != "" {
			action = posted
		} else if !strings.EqualFold(attribute(n, "method"), http.MethodPost) {
			return nil
		}
		if action == "" {
			action, _, _ = strings.Cut(page, "?")
		}
		f := sheet{action: action, files: strings.HasPrefix(attribute(n, "enctype"), "multipart")}
		f.gather(n)
		return []sheet{f}
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		out = append(out, formsOf(c, page)...)
	}
	return out
}

// gather finds the fields below a node.
func (f *sheet) gather(n *html.Node) {
	if n.Type == html.ElementNode && attribute(n, "name") != "" {
		x := field{name: attribute(n, "name"), value: attribute(n, "value"), kind: attribute(n, "type")}
		if n.Data == "select" {
			x.choose(n)
		}
		if n.Data == "textarea" && n.FirstChild != nil {
			x.value = n.FirstChild.Data
		}
		f.fields = append(f.fields, x)
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		f.gather(c)
	}
}

// choose finds the choices below a node, and the one that is made.
func (x *field) choose(n *html.Node) {
	for o := n.FirstChild; o != nil; o = o.NextSibling {
		if o.Type != html.ElementNode {
			continue
		}
		if o.Data != "option" {
			x.choose(o)
			continue
		}
		x.choices = append(x.choices, attribute(o, "value"))
		made := slices.ContainsFunc(o.Attr, func(a html.Attribute) bool { return a.Key == "selected" })
		if made || len(x.choices) == 1 {
			x.value = attribute(o, "value")
		}
	}
}

// typed are values a painter may type into any field.
var typed = []string{
	"60 cm",
	"1.5",
	"12",
	"40-45 min",
	"2026-03-05",
	"first",
	"500 g",
	"1,250.00",
	"0",
	"3 mm",
	"20 °C",
	"Mudflat",
	"#336699",
	"9-12",
	"1:2",
	"50 %",
}

// filled is a value for a field: mostly what stands there or may be chosen, now and then
// something else, now and then nonsense.
func (f field) filled(r *rand.Rand) string {
	switch n := r.IntN(10); {
	case f.kind == "hidden" && n < 8, n < 4:
		return f.value
	case len(f.choices) > 0 && n < 8:
		return f.choices[r.IntN(len(f.choices))]
	case n < 8:
		return typed[r.IntN(len(typed))]
	}
	return nonsense[r.IntN(len(nonsense))]
}

// sent fills a form and sends it.
func (f sheet) sent(t *testing.T, s *site, r *rand.Rand) *httptest.ResponseRecorder {
	values := url.Values{}
	for _, x := range f.fields {
		if x.kind != "file" && x.name != "once" {
			values.Set(x.name, x.filled(r))
		}
	}
	body, kind := io.Reader(strings.NewReader(values.Encode())), "application/x-www-form-urlencoded"
	if f.files {
		var b bytes.Buffer
		w := multipart.NewWriter(&b)
		for k := range values {
			require.NoError(t, w.WriteField(k, values.Get(k)))
		}
		for _, x := range f.fields {
			if x.kind == "file" {
				part, err := w.CreateFormFile(x.name, "some.png")
				require.NoError(t, err)
				_, err = part.Write(halves(t, color.NRGBA{uint8(r.Uint32()), 9, 9, 255}, color.NRGBA{9, 90, 9, 255}))
				require.NoError(t, err)
			}
		}
		require.NoError(t, w.Close())
		body, kind = &b, w.FormDataContentType()
	}
	return s.answered(
		httptest.NewRequestWithContext(t.Context(), http.MethodPost, "http://localhost"+f.action, body),
		kind,
	)
}

func (s *site) answered(r *http.Request, kind string) *httptest.ResponseRecorder {
	r.Header.Set("Content-Type", kind)
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	return w
}

// answers counts answers by their status, and keeps the slowest.
type answers struct {
	by      map[int]int
	slowest time.Duration
	where   string
}

func (a *answers) of(t *testing.T, at, sent string, ask func() *httptest.ResponseRecorder) {
	began := time.Now()
	w := ask()
	if d := time.Since(began); d > a.slowest {
		a.slowest, a.where = d, at
	}
	if a.by == nil {
		a.by = map[int]int{}
	}
	a.by[w.Code]++
	assert.Less(t, w.Code, 500, "%s answers %s to %s", at, brief(w.Body.String()), sent)
}

// handled is how many requests came as far as what they were for: neither refused at the
// door nor by their kind.
func (a *answers) handled() int {
	n := 0
	for status, k := range a.by {
		if !slices.Contains([]int{401, 403, 404, 405, 413, 415, 429}, status) {
			n += k
		}
	}
	return n
}

// Forms as pages offer them, filled with what stands there, what may be chosen, what
// a painter may type and nonsense, are all answered: $JEVVO_FORMS that reach what they are
// for, such as 10000 at night.
func TestManyForms(t *testing.T) {
	testsize.Sequential(t)
	s := demoSite(t)
	r := rand.New(rand.NewPCG(27, 1))
	all := s.sheets()
	require.Greater(t, len(all), 60)
	var got answers
	for n := testsize.Of(t, "JEVVO_FORMS", 80); got.handled() < n; {
		f := all[r.IntN(len(all))]
		if strings.HasSuffix(f.action, "/remove") && r.IntN(40) > 0 {
			continue // so that most things stay
		}
		got.of(t, f.action, "a form", func() *httptest.ResponseRecorder { return f.sent(t, s, r) })
	}
	t.Logf("%d forms: %v, slowest %v at %s", len(all), got.by, got.slowest, got.where)
}

// schema is the part of a JSON Schema that descriptions of the API use.
type schema struct {
	Ref        string            `json:"$ref"`
	Type       any               `json:"type"`
	Properties map[string]schema `json:"properties"`
	Required   []string          `json:"required"`
	Items      *schema           `json:"items"`
	Enum       []any             `json:"enum"`
	Minimum    float64           `json:"minimum"`
	Maximum    *float64          `json:"maximum"`
	Default    any               `json:"default"`
	MinItems   int               `json:"minItems"`
	Pattern    string            `json:"pattern"`
}

type description struct {
	Paths map[string]map[string]struct {
		RequestBody struct {
			Content map[string]struct{ Schema schema }
		}
	}
	Components struct{ Schemas map[string]schema }
}

// value is a JSON value as a schema has it, now and then another.
func (d *description) value(r *rand.Rand, s schema, deep int) any {
	if name, is := strings.CutPrefix(s.Ref, "#/components/schemas/"); is {
		s = d.Components.Schemas[name]
	}
	if r.IntN(60) == 0 {
		return []any{nil, -1, 1e308, "", []any{}, map[string]any{}, nonsense[r.IntN(len(nonsense))]}[r.IntN(7)]
	}
	if len(s.Enum) > 0 {
		return s.Enum[r.IntN(len(s.Enum))]
	}
	if s.Default != nil && r.IntN(2) == 0 {
		return s.Default
	}
	kind := s.Type
	if several, is := kind.([]any); is && len(several) > 0 {
		kind = several[len(several)-1]
	}
	switch kind {
	case "object":
		out := map[string]any{}
		for name, p := range s.Properties {
			if deep < 6 && (slices.Contains(s.Required, name) || r.IntN(3) > 0) {
				out[name] = d.value(r, p, deep+1)
			}
		}
		return out
	case "array":
		out := []any{}
		for range s.MinItems + r.IntN(4) {
			if s.Items != nil {
				out = append(out, d.value(r, *s.Items, deep+1))
			}
		}
		return out
	case "number", "integer":
		most := 100.0
		if s.Maximum != nil {
			most = *s.Maximum
		}
		v := s.Minimum + (most-s.Minimum)*r.Float64()*r.Float64()
		if kind == "integer" {
			return int(v)
		}
		return v
	case "boolean":
		return r.IntN(2) == 0
	}
	return append(typed, "2026-03-03T08:00:00Z", "09:00", "a")[r.IntN(len(typed)+3)]
}

// Bodies of the API made after its own description, now and then with a value of another
// kind, are all answered: $JEVVO_BODIES that reach what they are for, such as 10000 at
// night.
func TestManyBodies(t *testing.T) {
	testsize.Sequential(t)
	s := demoSite(t)
	r := rand.New(rand.NewPCG(27, 2))
	var d description
	require.NoError(t, json.Unmarshal([]byte(s.get("/api/openapi.json")), &d))
	type route struct{ method, path string }
	var all []route
	for path, methods := range d.Paths {
		for method, m := range methods {
			if _, has := m.RequestBody.Content["application/json"]; has {
				all = append(all, route{method, path})
			}
		}
	}
	slices.SortFunc(all, func(a, b route) int { return strings.Compare(a.path+a.method, b.path+b.method) })
	require.Greater(t, len(all), 30)
	key, err := s.Access.MakeKey(
		t.Context(),
		"spreadsheet",
		[]string{string(access.WritePieces), string(access.WriteStock), string(access.WriteJournal)},
	)
	require.NoError(t, err)
	var got answers
	for n := testsize.Of(t, "JEVVO_BODIES", 400); got.handled() < n; {
		at := all[r.IntN(len(all))]
		body, err := json.Marshal(d.value(r, d.Paths[at.path][at.method].RequestBody.Content["application/json"].Schema, 0))
		require.NoError(t, err)
		path := strings.NewReplacer("{id}", "1", "{kind}", "pigments").Replace(at.path)
		got.of(t, path, string(body), func() *httptest.ResponseRecorder {
			r := httptest.NewRequestWithContext(
				t.Context(),
				strings.ToUpper(at.method),
				"http://localhost"+path,
				bytes.NewReader(body),
			)
			r.Header.Set("Authorization", "Bearer "+key)
			return s.answered(r, "application/json")
		})
	}
	t.Logf("%d routes: %v, slowest %v at %s", len(all), got.by, got.slowest, got.where)
}
