package web_test

import (
	"bytes"
	"fmt"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/web/frame"
)

// A piece's file is given out under a name, and taken in by another studio's page.
func TestSharedOverForms(t *testing.T) {
	here, there := open(t), open(t)
	p := here.piece(map[string]string{"name": "Heron / mudflat"})
	w := here.do(http.MethodGet, frame.Piece(p.ID, "/share.json"), nil, false)
	require.Equal(t, http.StatusOK, w.Code)
	assert.Equal(t, `attachment; filename="heron---mudflat.jevvo.json"`, w.Header().Get("Content-Disposition"))
	take := func(data []byte) *httptest.ResponseRecorder {
		var b bytes.Buffer
		form := multipart.NewWriter(&b)
		if data != nil {
			part, err := form.CreateFormFile("file", "x.json")
			require.NoError(t, err)
			_, err = part.Write(data)
			require.NoError(t, err)
		}
		require.NoError(t, form.Close())
		r := httptest.NewRequestWithContext(t.Context(), http.MethodPost, "http://localhost/shared", &b)
		r.Header.Set("Content-Type", form.FormDataContentType())
		w := httptest.NewRecorder()
		there.h.ServeHTTP(w, r)
		return w
	}
	got := take(w.Body.Bytes())
	require.Equal(t, http.StatusSeeOther, got.Code, got.Body)
	assert.Contains(t, there.get(got.Header().Get("Location")), "Heron / mudflat")
	for _, bad := range [][]byte{nil, []byte("{}"), []byte("\x00")} {
		refused := take(bad)
		assert.Equal(t, http.StatusUnprocessableEntity, refused.Code)
		assert.Contains(t, refused.Body.String(), `class="say bad"`)
	}
	assert.Equal(t, http.StatusRequestEntityTooLarge, take(make([]byte, 6<<20)).Code)
	for _, path := range []string{"/pieces/99/share.json", "/materials/99/share.json", "/pigments/99/share.json",
		"/techniques/own-99/share.json"} {
		assert.Equal(t, http.StatusNotFound, here.do(http.MethodGet, path, nil, false).Code, path)
	}
	for _, path := range []string{"/materials/1", "/pigments/1", "/techniques/swipe"} {
		assert.Contains(t, here.get(path), fmt.Sprintf(`href="%s/share.json"`, path))
	}
}
