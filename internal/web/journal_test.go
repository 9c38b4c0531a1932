package web_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/plan"
)

// shot is a made-up photograph of one colour.
func shot(t *testing.T, c color.Color) []byte {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 40, 30))
	for i := range 40 * 30 {
		m.Set(i%40, i/40, c)
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, m, nil))
	return b.Bytes()
}

// sendPhotos uploads files as photographs of a piece.
func (s *site) sendPhotos(piece int64, moment string, files map[string][]byte) *httptest.ResponseRecorder {
	s.t.Helper()
	var body bytes.Buffer
	w := multipart.NewWriter(&body)
	require.NoError(s.t, w.WriteField("coat", plan.FirstCoat))
	require.NoError(s.t, w.WriteField("moment", moment))
	for name, data := range files {
		part, err := w.CreateFormFile("photo", name)
		require.NoError(s.t, err)
		_, err = part.Write(data)
		require.NoError(s.t, err)
	}
	require.NoError(s.t, w.Close())
	r := httptest.NewRequestWithContext(s.t.Context(), http.MethodPost,
		fmt.Sprintf("http://localhost/pieces/%d/photos", piece), &body)
	r.Header.Set("Content-Type", w.FormDataContentType())
	answer := httptest.NewRecorder()
	s.h.ServeHTTP(answer, r)
	return answer
}

// A result card: photographs are kept and those that are none are named, what is
// typed is kept, what cannot be is said with all that was typed still there, and the
// journal finds it.
func TestAResultOverForms(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Saltmarsh"})
	w := s.sendPhotos(p.ID, "wet", map[string][]byte{"a.jpg": shot(t, color.Gray{118}), "b.txt": []byte("no picture")})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "1 saved, 1 not: b.txt")
	w = s.sendPhotos(p.ID, "cured", map[string][]byte{"c.jpg": shot(t, color.RGBA{120, 110, 90, 255})})
	assert.Equal(t, http.StatusSeeOther, w.Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.sendPhotos(p.ID, "wet", nil).Code)
	assert.Equal(t, http.StatusOK,
		s.do(http.MethodGet, fmt.Sprintf("/pieces/%d/photos/1/small.jpg", p.ID), nil, false).Code)
	assert.Equal(t, http.StatusNotFound,
		s.do(http.MethodGet, fmt.Sprintf("/pieces/%d/photos/99/shown.jpg", p.ID), nil, false).Code)

	at := fmt.Sprintf("/pieces/%d/result", p.ID)
	typed := map[string]string{"coat": plan.FirstCoat, "rev": "0", "pair.0": "laced", "cells.0": "8 mm", "mark": "4",
		"again": "yes", "sentence": "laced like frost <b>",
		"face.flat": "yes", "wet": "1", "cured": "2", "spots": "0.5,0.5", "grey-wet": "", "seen": "21", "hides": "90"}
	bad := func(field, value, says string) {
		was := typed[field]
		typed[field] = value
		w := s.post(at, typed)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, field)
		assert.Contains(t, w.Body.String(), says)
		assert.Contains(t, w.Body.String(), "laced like frost &lt;b&gt;", "what was typed is still there")
		typed[field] = was
	}
	bad("cells.0", "wide", "wide")
	bad("spots", "7,7", "two shares of the picture")
	bad("seen", "soon", "is not a number")
	bad("mark", "9", "from 1 to 5")
	bad("seen", "21", "has not been poured")
	require.NoError(t, s.Agenda.Mark(t.Context(), p.ID, plan.PourKey(plan.FirstCoat), time.Now().Add(-time.Hour)))
	w = s.post(at, typed)
	require.Equal(t, http.StatusSeeOther, w.Code, w.Body.String())
	page := s.get(at)
	assert.Contains(t, page, `value="8 mm"`)
	assert.Contains(t, page, "Spot 1 differs by")
	assert.Contains(t, page, `name="rev" value="1"`)
	w = s.post(at, typed)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "sent twice")
	assert.Contains(t, w.Body.String(), "changed on another page")

	found := s.get("/journal?q=frost")
	assert.Contains(t, found, "Saltmarsh")
	assert.Contains(t, found, "laced like frost &lt;b&gt;")
	for _, q := range []string{`"`, "*", "NEAR", "a OR", "((", "zzz"} {
		assert.Contains(t, s.get("/journal?q="+url.QueryEscape(q)), "Nothing found")
	}
	assert.Contains(t, s.do(http.MethodGet, "/jump?q=frost", nil, true).Body.String(), "/pieces/1/result?coat=first")
	assert.Contains(t, s.get("/journal?kind=photo"), "small.jpg")
	assert.Contains(t, s.get("/findings"), "too few to say")
	assert.Contains(t, s.get(fmt.Sprintf("/pieces/%d/taught?coat=first", p.ID)), "too few to say")
	assert.Contains(t, s.get(fmt.Sprintf("/pieces/%d/journal", p.ID)), "laced like frost &lt;b&gt;")

	w = s.do(http.MethodGet, fmt.Sprintf("/pieces/%d/journal.zip", p.ID), nil, false)
	z, err := zip.NewReader(bytes.NewReader(w.Body.Bytes()), int64(w.Body.Len()))
	require.NoError(t, err)
	names := []string{}
	for _, f := range z.File {
		names = append(names, f.Name)
		r, err := f.Open()
		require.NoError(t, err)
		data, err := io.ReadAll(r)
		require.NoError(t, err)
		if f.Name == "README.md" {
			assert.Contains(t, string(data), "laced like frost &lt;b>")
		}
	}
	assert.Equal(t, []string{"README.md", "journal.json", "photos/first-1-wet.jpg", "photos/first-2-cured.jpg"}, names)
}

// From what is seen to causes, the question, the answer and work in the plan.
func TestAFaultOverPages(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Saltmarsh"})
	at := fmt.Sprintf("/pieces/%d/faults", p.ID)
	page := s.get(at + "?seen=fish-eyes&coat=first")
	assert.Contains(t, page, "Face not degreased")
	assert.Contains(t, page, "Wipe it off while wet")
	yes := s.get(at + "?seen=fish-eyes&coat=first&yes=touched-face")
	assert.Contains(t, yes, "undo")
	w := s.post(at+"/remedy", map[string]string{"coat": "first", "remedy": "wipe-off", "seen": "fish-eyes"})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Contains(t, s.get(strings.TrimSuffix(w.Header().Get("Location"), "#causes")), "It is in the plan now")
	assert.Contains(t, s.get(fmt.Sprintf("/pieces/%d?part=layers", p.ID)), "Wipe it off while wet")
	w = s.post(at+"/confirm", map[string]string{"coat": "first", "cause": "not-degreased", "seen": "fish-eyes"})
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Contains(t, s.get("/journal?kind=fault"), "Fish eyes: Face not degreased")
	for _, wrong := range []string{"/faults?seen=gremlins", "/faults?seen=mud&yes=who"} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.do(http.MethodGet, wrong, nil, false).Code, wrong)
	}
	assert.Equal(t, http.StatusNotFound, s.do(http.MethodGet, "/faults/gremlins", nil, false).Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(at+"/remedy", map[string]string{"coat": "first",
		"remedy": "prayer"}).Code)
	for _, f := range diagnose.Faults {
		assert.Contains(t, s.get("/faults/"+f.ID), f.Name)
	}
	for _, id := range []string{"swipe", "slab", "flood", "lines"} {
		lesson := s.get("/techniques/" + id)
		assert.Contains(t, lesson, "Usual mistakes")
		assert.True(t, strings.Contains(lesson, "What it looks like when it is time"), id)
	}
}
