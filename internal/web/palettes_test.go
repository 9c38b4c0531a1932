package web_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// upload posts one file as a form would, with texts as name and value by turns.
func (s *site) upload(path, field, name string, content []byte, texts ...string) *httptest.ResponseRecorder {
	s.t.Helper()
	var b bytes.Buffer
	m := multipart.NewWriter(&b)
	for i := 0; i+1 < len(texts); i += 2 {
		require.NoError(s.t, m.WriteField(texts[i], texts[i+1]))
	}
	w, err := m.CreateFormFile(field, name)
	require.NoError(s.t, err)
	_, err = w.Write(content)
	require.NoError(s.t, err)
	require.NoError(s.t, m.Close())
	r := httptest.NewRequestWithContext(s.t.Context(), http.MethodPost, "http://localhost"+path, &b)
	r.Header.Set("Content-Type", m.FormDataContentType())
	rec := httptest.NewRecorder()
	s.h.ServeHTTP(rec, r)
	return rec
}

// halves is a picture of two colours, the left three times as wide.
func halves(t testing.TB, left, right color.NRGBA) []byte {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, 80, 40))
	for y := range 40 {
		for x := range 80 {
			c := left
			if x >= 60 {
				c = right
			}
			img.SetNRGBA(x, y, c)
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	return b.Bytes()
}

var shore = [2]color.NRGBA{{0x20, 0x60, 0x80, 255}, {0xe0, 0xd0, 0xb0, 255}}

// A picture is read, its palette goes out as a file and comes back the same.
func TestAPictureGoesInAndAPaletteOut(t *testing.T) {
	s := open(t)
	res := s.upload("/palettes", "picture", "shore at noon.png", halves(t, shore[0], shore[1]))
	require.Equal(t, http.StatusSeeOther, res.Code)
	page := res.Header().Get("Location")
	body := s.get(page)
	for _, want := range []string{"shore at noon", "#206080", "#e0d0b0", "75 %", "25 %"} {
		assert.Contains(t, body, want)
	}
	kept, err := png.Decode(strings.NewReader(s.get(page + "/picture.png")))
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 80, 40), kept.Bounds())

	gpl := s.get(page + "/palette.gpl")
	assert.Regexp(t, `(?m)^ *32 +96 +128\b`, gpl)
	res = s.upload("/palettes", "picture", "shore.gpl", []byte(gpl))
	require.Equal(t, http.StatusSeeOther, res.Code)
	again := s.get(res.Header().Get("Location"))
	assert.Contains(t, again, "#206080")
	assert.Contains(t, again, "#e0d0b0")

	recipes := s.get(page + "/colours/0/recipes")
	assert.NotContains(t, recipes, "<html")
	assert.Contains(t, recipes, "%", "shares of what is among the materials")
}

func TestFilesThatAreNoPictures(t *testing.T) {
	s := open(t)
	whole := halves(t, color.NRGBA{1, 2, 3, 255}, color.NRGBA{200, 200, 200, 255})
	for name, content := range map[string][]byte{
		"empty.png": {}, "words.png": []byte("a picture of the sea"), "cut.png": whole[:len(whole)/2],
		"odd.gpl": []byte("GIMP Palette\n#\n300 -1 x\n"),
		"huge.png": append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR"), 0x7f, 0xff, 0xff, 0xff, 0x7f, 0xff, 0xff, 0xff, 8,
			6, 0, 0, 0),
	} {
		res := s.upload("/palettes", "picture", name, content)
		assert.Equal(t, http.StatusUnprocessableEntity, res.Code, name)
		assert.Contains(t, res.Body.String(), `role="alert"`, name)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, s.post("/palettes", nil).Code, "no file at all")
	assert.Equal(t, http.StatusRequestEntityTooLarge,
		s.upload("/palettes", "picture", "large.png", make([]byte, 49<<20)).Code)
	list, _, err := s.Studio.Colours.Palettes(t.Context(), 10, 0)
	require.NoError(t, err)
	assert.Empty(t, list)
}

// Colours are renamed and taken out; a page that is behind is told so and
// loses nothing; a palette that was removed can be had back.
func TestAPaletteIsEdited(t *testing.T) {
	s := open(t)
	page := s.upload("/palettes", "picture", "shore.png", halves(t, shore[0], shore[1])).Header().Get("Location")
	rev := func() string { return between(t, s.get(page), `name="rev" value="`, `"`) }
	first := rev()
	res := s.post(page, map[string]string{"rev": first, "name": "Low water", "colour.0.name": "wet silt"})
	require.Equal(t, http.StatusSeeOther, res.Code)
	body := s.get(page)
	assert.Contains(t, body, "Low water")
	assert.Contains(t, body, `value="wet silt"`)
	assert.GreaterOrEqual(t, s.post(page, map[string]string{"rev": first, "name": "Too late"}).Code, 400)
	long := strings.Repeat("long ", 20)
	res = s.post(page, map[string]string{"rev": rev(), "colour.0.hex": "blue-ish", "colour.1.name": long})
	assert.Equal(t, http.StatusUnprocessableEntity, res.Code)
	assert.Contains(t, res.Body.String(), `value="blue-ish"`, "what was typed is still there")
	assert.Contains(t, res.Body.String(), `value="`+long+`"`)

	res = s.post(page+"/piece", map[string]string{"piece": "0"})
	require.Equal(t, http.StatusSeeOther, res.Code)
	made, _, _ := strings.Cut(res.Header().Get("Location"), "#")
	assert.Contains(t, s.get(made), "wet silt", "a cup for each colour")

	require.Equal(t, http.StatusSeeOther, s.post(page+"/colours/1/remove", nil).Code)
	assert.NotContains(t, s.get(page), "#e0d0b0")

	res = s.post(page+"/remove", nil)
	assert.Contains(t, s.get(res.Header().Get("Location")), page+"/restore")
	assert.Equal(t, http.StatusSeeOther, s.post(page+"/restore", nil).Code)
	s.get(page)
}

// between returns what stands between two marks of a page.
func between(t testing.TB, body, before, after string) string {
	t.Helper()
	_, rest, ok := strings.Cut(body, before)
	require.True(t, ok, "no %q on the page", before)
	value, _, ok := strings.Cut(rest, after)
	require.True(t, ok)
	return value
}
