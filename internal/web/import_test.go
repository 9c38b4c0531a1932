package web_test

import (
	"bytes"
	"fmt"
	"html"
	"image/color"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studiotest"
)

// A file as an older spreadsheet writes it and a photograph of a swatch make one list; what
// it would make is shown, and kept when that is pressed.
func TestAFileAndAPhotographAreImported(t *testing.T) {
	s := open(t)
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	add := func(field, name string, data []byte) {
		part, err := form.CreateFormFile(field, name)
		require.NoError(t, err)
		_, err = part.Write(data)
		require.NoError(t, err)
	}
	require.NoError(t, form.WriteField("kind", "pigments"))
	add("file", "farben.csv", []byte("Seegr\xfcn;#55705a\nKreide;#f4f3ee\n"))
	slate := color.NRGBA{0x3d, 0x4a, 0x54, 255}
	add("photos", "Own slate.jpg", studiotest.Shot(t, slate, slate, slate))
	require.NoError(t, form.Close())
	r := httptest.NewRequestWithContext(t.Context(), http.MethodPost, "http://localhost/import", &b)
	r.Header.Set("Content-Type", form.FormDataContentType())
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	require.Equal(t, http.StatusOK, w.Code)
	for _, text := range []string{"Seegrün", "Kreide", "Own slate; #3d4", "Save 3 of them"} {
		assert.Contains(t, w.Body.String(), text)
	}
	assert.NotContains(t, s.get("/materials/pigments"), "Seegrün", "only shown")

	list := "Seegrün;#55705a\nKreide;#f4f3ee"
	done := s.post("/import", map[string]string{"kind": "pigments", "list": list, "do": "make"})
	require.Equal(t, http.StatusSeeOther, done.Code)
	assert.Equal(t, "/import?kind=pigments&made=2", done.Header().Get("Location"))
	assert.Contains(t, s.get("/materials/pigments"), "Seegrün")
	led := s.post("/import", map[string]string{"list": "Sand", "do": "make", "back": "/first/hours?product=1"})
	assert.Equal(t, "/first/hours?product=1", led.Header().Get("Location"))
	away := s.post("/import", map[string]string{"list": "Loam", "do": "make", "back": "//elsewhere.example"})
	assert.Equal(t, "/import?kind=pigments&made=1", away.Header().Get("Location"))
	for _, kind := range []string{"resins", "goods", "pieces"} {
		assert.Equal(t, http.StatusUnprocessableEntity,
			s.post("/import", map[string]string{"kind": kind, "list": " "}).Code)
	}
}

// The example of a list, sent as it is shown, is read whole: its columns are all known and each line
// can be kept, in every language.
func TestTheExampleOfAListIsRead(t *testing.T) {
	example := regexp.MustCompile(`(?s)<span class="example">(.*?)</span>`)
	for _, language := range []string{"en", "en-US", "de"} {
		s := open(t)
		_, n, err := s.Setup.Edit(t.Context(), map[string]string{"language": language})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		for _, kind := range []string{"pigments", "resins", "goods", "pieces"} {
			ask := httptest.NewRequestWithContext(t.Context(), http.MethodGet, "http://localhost/import?kind="+kind, nil)
			shown := example.FindStringSubmatch(s.answered(ask, "").Body.String())
			require.NotNil(t, shown)
			list := html.UnescapeString(shown[1])
			lines := len(strings.Split(strings.TrimSpace(list), "\n"))
			made := s.post("/import", map[string]string{"kind": kind, "list": list, "do": "make"})
			assert.Equal(t, fmt.Sprintf("/import?kind=%s&made=%d", kind, lines-1), made.Header().Get("Location"),
				"%s, %s: %s", language, kind, list)
			page := s.post("/import", map[string]string{"kind": kind, "list": list}).Body.String()
			assert.Empty(t, regexp.MustCompile("(Not used|Nicht verwendet):[^<]*").FindString(page), list)
		}
	}
}

// What a part of a piece sends names the parts that are in the page; the answer holds those
// and the sentences of all.
func TestAnswersHoldThePartsOfThePage(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{"name": "Mudflat"})
	code, body := s.htmx("/pieces/1/edit", map[string]string{"rev": "1", "coat": "first", "part": "cups", "size": "50 cm"})
	require.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, `id="out-cups"`)
	assert.NotContains(t, body, `id="out-clock"`)
	assert.Contains(t, body, `id="line-clock"`)
	page := s.get("/pieces/1")
	assert.NotContains(t, page, `name="size"`)
	assert.Less(t, len(page), 60_000)
	assert.Contains(t, s.get("/pieces/1/parts/surface"), `name="size"`)
	w := s.do(http.MethodGet, "/pieces/1/parts/nothing", nil, false)
	assert.Equal(t, http.StatusNotFound, w.Code)
}
