package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/demo"
	"jevvo/internal/device"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/web"
)

// A site is the application on its own database.
type site struct {
	t      testing.TB
	server *httptest.Server
	studio *studio.Studio
}

func open(t *testing.T) *site {
	t.Helper()
	return openSite(t)
}

func openSite(t testing.TB) *site {
	t.Helper()
	ctx := context.Background()
	db, err := store.Open(ctx, filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	scale := device.NewSimulatedScale(1, 0.1)
	scale.Advance(2 * time.Second) // it has come to rest
	st, err := studio.New(ctx, db, scale, time.Now)
	require.NoError(t, err)
	st.ConnectRoom(device.NewSimulatedRoom(21, time.Now))
	st.ConnectMail(device.Post{Outbox: t.TempDir()})
	require.NoError(t, demo.Fill(ctx, st))
	app, err := web.New(st, web.Options{Version: "test", Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	require.NoError(t, err)
	server := httptest.NewServer(app.Handler())
	t.Cleanup(func() {
		server.CloseClientConnections()
		server.Close()
		db.Close()
	})
	server.Client().CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	return &site{t, server, st}
}

// do sends a request and returns the answer with its body read.
func (s *site) do(method, path string, body io.Reader, header ...string) (*http.Response, string) {
	s.t.Helper()
	req, err := http.NewRequest(method, s.server.URL+path, body)
	require.NoError(s.t, err)
	for i := 0; i < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	res, err := s.server.Client().Do(req)
	require.NoError(s.t, err)
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	require.NoError(s.t, err)
	return res, string(text)
}

func (s *site) get(path string) (*http.Response, string) { return s.do("GET", path, nil) }

func (s *site) post(path string, form url.Values, header ...string) (*http.Response, string) {
	return s.do("POST", path, strings.NewReader(form.Encode()), append([]string{"Content-Type", "application/x-www-form-urlencoded"}, header...)...)
}

var pagePaths = []string{"/pieces", "/pieces/new", "/pieces/1", "/pieces/2", "/pieces/3", "/pieces/1/run-sheet", "/pieces/1/level", "/pieces/1/weigh",
	"/shelf", "/shelf/pigments", "/pigments/new", "/pigments/1", "/pigments/14", "/shelf/new", "/shelf/1", "/sums", "/sums/surface", "/sums/coat", "/sums/mix", "/sums/correct", "/sums/stages", "/sums/portion", "/sums/puddle-height",
	"/sums/level", "/sums/line", "/sums/puddle", "/sums/sides", "/sums/levelling", "/sums/settle", "/sums/cells", "/sums/clock", "/sums/cup", "/sums/torch", "/settings",
	"/", "/days", "/days?if=evening", "/days/print", "/commissions", "/commissions/new", "/commissions/1", "/outbox", "/bench", "/pieces/1/bench", "/techniques", "/techniques/swipe",
	"/palettes", "/palettes/1", "/pieces/1/composition", "/pieces/2/composition", "/pieces/1/cups/first/c3", "/pieces/1/card", "/pieces/2/card", "/pieces/1/rescale"}

var inline = regexp.MustCompile(`(?i)<script(?:[^>]*)>[^<]|\son[a-z]+=|<style|\sstyle=|javascript:`)

var ids = regexp.MustCompile(`\sid="([^"]+)"`)

// Every page answers, carries its protection, and holds nothing inline.
func TestEveryPage(t *testing.T) {
	s := open(t)
	for _, path := range pagePaths {
		res, body := s.get(path)
		assert.Equal(t, 200, res.StatusCode, path)
		assert.Contains(t, res.Header.Get("Content-Security-Policy"), "script-src 'self'", path)
		assert.NotContains(t, res.Header.Get("Content-Security-Policy"), "unsafe", path)
		assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
		assert.Empty(t, inline.FindString(body), "%s has something inline", path)
		assert.NotContains(t, body, "NaN", path)
		assert.NotContains(t, body, "Inf ", path)
		assert.NotContains(t, body, "%!", path)
		assert.Regexp(t, `<html lang="en">`, body)
		seen := map[string]bool{}
		for _, id := range ids.FindAllStringSubmatch(body, -1) {
			assert.False(t, seen[id[1]], "%s has two elements %q", path, id[1])
			seen[id[1]] = true
		}
	}
}

func TestCrossSiteRequestsAreRefused(t *testing.T) {
	s := open(t)
	form := url.Values{"name": {"theirs"}}
	for _, header := range [][]string{{"Sec-Fetch-Site", "cross-site"}, {"Sec-Fetch-Site", "same-site"}, {"Origin", "https://elsewhere.invalid"}, {"Origin", "null"}} {
		res, _ := s.post("/pieces", form, header...)
		assert.Equal(t, 403, res.StatusCode, "%v", header)
	}
	req, err := http.NewRequest("GET", s.server.URL+"/pieces", nil)
	require.NoError(t, err)
	req.Host = "rebound.invalid"
	res, err := s.server.Client().Do(req)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 421, res.StatusCode, "a name rebound to this machine gets nothing")
	_, n, err := s.studio.Pieces(context.Background(), "theirs", 5, 0)
	require.NoError(t, err)
	assert.Zero(t, n)
}

// A refused form comes back with what was typed and what is wrong beside it.
func TestFormsKeepWhatWasTyped(t *testing.T) {
	s := open(t)
	res, body := s.post("/pieces", url.Values{"name": {""}, "size": {"18 x bananas"}, "film": {"1/16 in"}, "technique": {"flow"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="18 x bananas"`)
	assert.Contains(t, body, `value="1/16 in"`)
	assert.Contains(t, body, "needs a name")
	assert.Regexp(t, `name="technique" value="flow" checked`, body)
	assert.Regexp(t, `id="say-size"[^>]*>\s*<svg[^<]*(<[^<]*)*is not a`, body)

	res, body = s.post("/shelf", url.Values{"name": {"<b>x</b>"}, "ratio": {"two"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="&lt;b&gt;x&lt;/b&gt;"`, "what was typed is escaped")
	assert.Contains(t, body, `value="two"`)

	res, body = s.post("/settings", url.Values{"room": {"hot"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="hot"`)

	res, body = s.post("/sums/coat", url.Values{"film_mm": {"-"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="-"`)

	res, body = s.post("/pieces/1/level", url.Values{"along": {"steep"}, "across": {"0.1"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="steep"`)
}

func TestEditAnswersWithTheChangedParts(t *testing.T) {
	s := open(t)
	_, before := s.get("/pieces/1")
	res, body := s.post("/pieces/1/edit", url.Values{"rev": {"1"}, "film": {"2 mm"}, "depth": {"12 oz"}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, `hx-swap-oob="true"`)
	assert.NotContains(t, body, "<html")
	assert.Contains(t, body, "is not a unit for a length")
	assert.Contains(t, body, "2.00 mm")
	assert.NotContains(t, before, "2.00 mm")
	_, after := s.get("/pieces/1")
	assert.Contains(t, after, `value="2 mm"`, "it was kept")
	res, _ = s.post("/pieces/1/edit", url.Values{"rev": {"2"}, "film": {"1.5 mm"}})
	assert.Equal(t, 200, res.StatusCode, "also without scripts")
	res, _ = s.post("/pieces/1/undo", nil)
	assert.Equal(t, 303, res.StatusCode)
	_, after = s.get("/pieces/1")
	assert.Contains(t, after, `value="2 mm"`)
}

func TestSizesAreBounded(t *testing.T) {
	s := open(t)
	res, _ := s.post("/pieces/1/edit", url.Values{"brief": {strings.Repeat("x", 3<<20)}})
	assert.Equal(t, 413, res.StatusCode)
	res, _ = s.post("/pieces/1/edit", url.Values{"brief": {strings.Repeat("x", 5000)}})
	assert.Equal(t, 422, res.StatusCode)
	res, _ = s.do("POST", "/api/v1/calc/coat", strings.NewReader(`{"x":"`+strings.Repeat("y", 17<<20)+`"}`), "Content-Type", "application/json")
	assert.Equal(t, 413, res.StatusCode)
	for size, want := range map[int]int{9 << 20: 413, 1000: 422} {
		var b bytes.Buffer
		m := multipart.NewWriter(&b)
		w, err := m.CreateFormFile("drawing", "board.svg")
		require.NoError(t, err)
		_, err = w.Write([]byte(`<svg xmlns="http://www.w3.org/2000/svg"><!--` + strings.Repeat("x", size) + `--><script/></svg>`))
		require.NoError(t, err)
		require.NoError(t, m.Close())
		res, body := s.do("POST", "/pieces/1/outline", &b, "Content-Type", m.FormDataContentType())
		assert.Equal(t, want, res.StatusCode, "%d bytes", size)
		assert.Contains(t, body, `id="say-drawing"`)
	}
}

func TestMissingThings(t *testing.T) {
	s := open(t)
	for _, path := range []string{"/nowhere", "/pieces/999", "/pieces/abc", "/pieces/0", "/shelf/999", "/pigments/999", "/sums/magic", "/weighings/9", "/weighings/9/stream", "/pieces/999/level", "/static/none.js",
		"/pieces/999/composition", "/pieces/1/composition?coat=ninth", "/pieces/1/cups/first/c99", "/pieces/1/cups/ninth/c1", "/pieces/999/card", "/pieces/999/rescale", "/pieces/999/cups.csv", "/pieces/999/bench",
		"/palettes/99", "/palettes/99/picture.png", "/palettes/99/palette.gpl", "/palettes/1/colours/40/recipes", "/palettes/1/colours/x/recipes", "/benches/9", "/benches/9/stream", "/benches/1/photos/3", "/rehearsals/9",
		"/techniques/none", "/commissions/99", "/commissions/1/pictures/9", "/calendar/guess.ics", "/days?if=magic"} {
		res, body := s.get(path)
		assert.Equal(t, 404, res.StatusCode, path)
		assert.NotContains(t, body, "goroutine", path)
	}
	res, _ := s.post("/pieces/999/edit", url.Values{"film": {"1 mm"}})
	assert.Equal(t, 404, res.StatusCode)
	res, _ = s.post("/pieces/1/weigh/ninth", nil)
	assert.Equal(t, 404, res.StatusCode)
	res, _ = s.post("/scale/throw", nil)
	assert.Equal(t, 404, res.StatusCode)
	for _, path := range []string{"/room/burn", "/pieces/1/bench/ninth", "/benches/9/done", "/techniques/none/copy", "/palettes/99/piece", "/palettes/1/colours/40/remove", "/commissions/99/tiles", "/pieces/999/layers", "/pieces/1/composition/things/t99/remove", "/days/pin", "/days/done"} {
		res, _ := s.post(path, url.Values{"piece": {"999"}, "task": {"first:pour"}})
		assert.Equal(t, 404, res.StatusCode, path)
	}
	res, _ = s.do("DELETE", "/pieces", nil)
	assert.Equal(t, 405, res.StatusCode)
}

func TestCalculatorsOverHTTP(t *testing.T) {
	s := open(t)
	res, body := s.do("POST", "/api/v1/calc/puddle-height", strings.NewReader(`{}`), "Content-Type", "application/json")
	assert.Equal(t, 200, res.StatusCode)
	assert.JSONEq(t, `{"capillary_length_mm":1.9256,"height_mm":1.6276,"pinned_height_mm":2.7233}`, round(t, body, 1e4))
	res, body = s.do("POST", "/api/v1/calc/coat", strings.NewReader(`{"area_mm2":-1,"film_mm":1}`), "Content-Type", "application/json")
	assert.Equal(t, 422, res.StatusCode)
	assert.Equal(t, "application/problem+json", res.Header.Get("Content-Type"))
	assert.Contains(t, body, `"field":"area_mm2"`)
	res, _ = s.do("POST", "/api/v1/calc/coat", strings.NewReader(`{`), "Content-Type", "application/json; charset=utf-8")
	assert.Equal(t, 400, res.StatusCode)
	res, _ = s.do("POST", "/api/v1/calc/coat", strings.NewReader(`a=1`), "Content-Type", "application/x-www-form-urlencoded")
	assert.Equal(t, 415, res.StatusCode)
	res, body = s.do("POST", "/api/v1/calc/magic", strings.NewReader(`{}`), "Content-Type", "application/json")
	assert.Equal(t, 404, res.StatusCode)
	assert.Contains(t, body, `"status":404`)
	res, body = s.get("/api/openapi.json")
	assert.Equal(t, 200, res.StatusCode)
	assert.True(t, json.Valid([]byte(body)))
}

// round prints the numbers of a flat object with fewer digits.
func round(t *testing.T, body string, per float64) string {
	t.Helper()
	var m map[string]float64
	require.NoError(t, json.Unmarshal([]byte(body), &m))
	for k, v := range m {
		m[k] = float64(int(v*per+0.5)) / per
	}
	out, err := json.Marshal(m)
	require.NoError(t, err)
	return string(out)
}

// The stream sends the dial, and the whole body once a step is done.
func TestWeighStream(t *testing.T) {
	s := open(t)
	res, _ := s.post("/pieces/1/weigh/first", nil)
	require.Equal(t, 303, res.StatusCode)
	path := res.Header.Get("Location")
	ctx, cancel := context.WithTimeout(context.Background(), 20*time.Second)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, "GET", s.server.URL+path+"/stream", nil)
	require.NoError(t, err)
	stream, err := s.server.Client().Do(req)
	require.NoError(t, err)
	defer stream.Body.Close()
	assert.Equal(t, "text/event-stream", stream.Header.Get("Content-Type"))
	seen, buffer := "", make([]byte, 64<<10)
	until := func(want string) {
		for !strings.Contains(seen, want) {
			n, err := stream.Body.Read(buffer)
			require.NoError(t, err, "the stream ended before %q", want)
			seen += string(buffer[:n])
		}
	}
	until("event: dial")
	res, _ = s.post(path+"/tare", url.Values{"rev": {"1"}}, "HX-Request", "true")
	require.Equal(t, 200, res.StatusCode)
	until("event: body")
	until("part A")
	res, body := s.post(path+"/typed", url.Values{"rev": {"1"}, "grams": {"10"}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "another screen has just done this step")
	res, body = s.post(path+"/typed", url.Values{"rev": {"2"}, "grams": {"heavy"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="heavy"`)
}

// Far too much: five hundred pieces list quickly enough to page through.
func TestFiveHundredPieces(t *testing.T) {
	s := open(t)
	ctx := context.Background()
	p, err := s.studio.Piece(ctx, 1)
	require.NoError(t, err)
	for range 500 {
		_, err := s.studio.AddPiece(ctx, p.Spec)
		require.NoError(t, err)
	}
	res, body := s.get("/pieces?page=22")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "Page 22 of 22, 505 pieces")
	_, body = s.get("/pieces?find=salt")
	assert.Contains(t, body, "Salt pans")
	assert.NotContains(t, body, "Ebb tide")
	_, body = s.get("/pieces?page=99999")
	assert.Contains(t, body, "Page", "beyond the end is no error")
	res, body = s.get("/days")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "There are more open pieces than are planned at once")
	assert.Regexp(t, `>and \d+ more<`, body, "not every one of them says why it is late")
	res, body = s.get("/")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "Ebb tide")
	_, body = s.do("GET", "/jump?q=ebb", nil, "HX-Request", "true")
	assert.Contains(t, body, "/pieces/")
}

func BenchmarkPiecePage(b *testing.B) {
	ctx := context.Background()
	db, err := store.Open(ctx, filepath.Join(b.TempDir(), "jevvo.db"))
	if err != nil {
		b.Fatal(err)
	}
	defer db.Close()
	st, err := studio.New(ctx, db, device.NewSimulatedScale(1, 0.1), time.Now)
	if err != nil {
		b.Fatal(err)
	}
	if err := demo.Fill(ctx, st); err != nil {
		b.Fatal(err)
	}
	app, err := web.New(st, web.Options{Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		w := httptest.NewRecorder()
		r := httptest.NewRequest("GET", "http://127.0.0.1/pieces/1", nil)
		app.Handler().ServeHTTP(w, r)
		if w.Code != 200 {
			b.Fatal(w.Code)
		}
	}
}
