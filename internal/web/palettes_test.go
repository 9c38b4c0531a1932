package web_test

import (
	"bytes"
	"image"
	"image/color"
	"image/png"
	"mime/multipart"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// upload posts one file as a form would.
func (s *site) upload(path, field, name string, content []byte) (*http.Response, string) {
	s.t.Helper()
	var b bytes.Buffer
	m := multipart.NewWriter(&b)
	w, err := m.CreateFormFile(field, name)
	require.NoError(s.t, err)
	_, err = w.Write(content)
	require.NoError(s.t, err)
	require.NoError(s.t, m.Close())
	return s.do("POST", path, &b, "Content-Type", m.FormDataContentType())
}

// halves is a picture of two colours, the left three times as wide.
func halves(t *testing.T, left, right color.NRGBA) []byte {
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

// A picture is read, its palette goes out as a file and comes back the same.
func TestAPictureGoesInAndAPaletteOut(t *testing.T) {
	s := open(t)
	res, _ := s.upload("/palettes", "picture", "shore at noon.png", halves(t, color.NRGBA{0x20, 0x60, 0x80, 255}, color.NRGBA{0xe0, 0xd0, 0xb0, 255}))
	require.Equal(t, 303, res.StatusCode)
	page := res.Header.Get("Location")
	_, body := s.get(page)
	for _, want := range []string{"shore at noon", "#206080", "#e0d0b0", "75 %", "25 %"} {
		assert.Contains(t, body, want)
	}
	res, body = s.get(page + "/picture.png")
	assert.Equal(t, "image/png", res.Header.Get("Content-Type"))
	kept, err := png.Decode(strings.NewReader(body))
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 80, 40), kept.Bounds())

	res, gpl := s.get(page + "/palette.gpl")
	assert.Contains(t, res.Header.Get("Content-Disposition"), "attachment")
	assert.True(t, strings.HasPrefix(gpl, "GIMP Palette\n"))
	assert.Regexp(t, `(?m)^ *32 +96 +128\b`, gpl)
	res, _ = s.upload("/palettes", "picture", "shore.gpl", []byte(gpl))
	require.Equal(t, 303, res.StatusCode)
	_, again := s.get(res.Header.Get("Location"))
	assert.Contains(t, again, "#206080")
	assert.Contains(t, again, "#e0d0b0")

	_, recipes := s.get(page + "/colours/0/recipes")
	assert.NotContains(t, recipes, "<html")
	assert.Contains(t, recipes, "%", "shares of what is on the shelf")
}

func TestFilesThatAreNoPictures(t *testing.T) {
	s := open(t)
	whole := halves(t, color.NRGBA{1, 2, 3, 255}, color.NRGBA{200, 200, 200, 255})
	for name, content := range map[string][]byte{
		"empty.png": {}, "words.png": []byte("a picture of the sea"), "cut.png": whole[:len(whole)/2],
		"empty.gpl": []byte("GIMP Palette\n"), "odd.gpl": []byte("GIMP Palette\n#\n300 -1 x\n"),
		"huge.png": append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR"), 0x7f, 0xff, 0xff, 0xff, 0x7f, 0xff, 0xff, 0xff, 8, 6, 0, 0, 0),
	} {
		res, body := s.upload("/palettes", "picture", name, content)
		assert.Equal(t, 422, res.StatusCode, name)
		assert.Contains(t, body, `role="alert"`, name)
	}
	res, _ := s.post("/palettes", nil)
	assert.Equal(t, 422, res.StatusCode, "no file at all")
	res, _ = s.upload("/palettes", "picture", "large.png", make([]byte, 49<<20))
	assert.Equal(t, 413, res.StatusCode)
	list, err := s.studio.Palettes(t.Context())
	require.NoError(t, err)
	assert.Len(t, list, 1, "only the demo's")
}

// Colours are renamed and taken out; a page that is behind is told so and
// loses nothing; a palette that was removed can be had back.
func TestAPaletteIsEdited(t *testing.T) {
	s := open(t)
	p, err := s.studio.Palette(t.Context(), 1)
	require.NoError(t, err)
	n := len(p.Colours)
	require.Greater(t, n, 2)
	rev := func() string {
		_, body := s.get("/palettes/1")
		return between(t, body, `name="rev" value="`, `"`)
	}
	first := rev()
	res, _ := s.post("/palettes/1", url.Values{"rev": {first}, "name": {"Low water"}, "colour.0.name": {"wet silt"}})
	require.Equal(t, 303, res.StatusCode)
	_, body := s.get("/palettes/1")
	assert.Contains(t, body, "Low water")
	assert.Contains(t, body, `value="wet silt"`)
	res, body = s.post("/palettes/1", url.Values{"rev": {first}, "name": {"Too late"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.NotContains(t, body, "goroutine")
	long := strings.Repeat("long ", 20)
	res, body = s.post("/palettes/1", url.Values{"rev": {rev()}, "colour.0.hex": {"blue-ish"}, "colour.1.name": {long}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Equal(t, 2, strings.Count(body, `<p class="wrong" role="alert">`), "said beside each")
	assert.Contains(t, body, `value="`+long+`"`, "what was typed is still there")

	res, _ = s.post("/palettes/1/colours/1/remove", nil)
	assert.Equal(t, 303, res.StatusCode)
	p, err = s.studio.Palette(t.Context(), 1)
	require.NoError(t, err)
	assert.Len(t, p.Colours, n-1)

	res, _ = s.post("/palettes/1/piece", url.Values{"piece": {"0"}})
	require.Equal(t, 303, res.StatusCode)
	_, body = s.get(strings.TrimSuffix(res.Header.Get("Location"), "#composition"))
	assert.Contains(t, body, "wet silt", "a cup for each colour")
	res, _ = s.post("/palettes/1/piece", url.Values{"piece": {"3"}})
	assert.Equal(t, 303, res.StatusCode)

	res, _ = s.post("/palettes/1/remove", nil)
	assert.Equal(t, "/palettes?removed=1", res.Header.Get("Location"))
	_, body = s.get("/palettes?removed=1")
	assert.Contains(t, body, "/palettes/1/restore")
	res, _ = s.post("/palettes/1/restore", nil)
	assert.Equal(t, 303, res.StatusCode)
	res, _ = s.get("/palettes/1")
	assert.Equal(t, 200, res.StatusCode)
}

// between returns what stands between two marks of a page.
func between(t *testing.T, body, before, after string) string {
	t.Helper()
	_, rest, ok := strings.Cut(body, before)
	require.True(t, ok, "no %q on the page", before)
	value, _, ok := strings.Cut(rest, after)
	require.True(t, ok)
	return value
}
