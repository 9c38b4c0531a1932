package frame_test

import (
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studiotest"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// A script is asked for again after a minute, and not sent again while it is the same (RFC 9110, 13.1.2).
func TestScriptsAreSentOnceAndNeverStale(t *testing.T) {
	dir := t.TempDir()
	db, err := store.Open(t.Context(), filepath.Join(dir, studiotest.Database))
	require.NoError(t, err)
	defer db.Close()
	st, err := studio.New(t.Context(), db, studio.Options{Secrets: studiotest.Secrets(dir)})
	require.NoError(t, err)
	f, err := web.New(st, frame.Options{Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	require.NoError(t, err)
	ask := func(tag string) *http.Response {
		r := httptest.NewRequestWithContext(t.Context(), http.MethodGet, "http://localhost/static/jevvo.js", nil)
		r.Header.Set("If-None-Match", tag)
		w := httptest.NewRecorder()
		f.Handler().ServeHTTP(w, r)
		return w.Result()
	}
	first := ask("")
	assert.Equal(t, http.StatusOK, first.StatusCode)
	assert.Equal(t, "max-age=60", first.Header.Get("Cache-Control"))
	tag := first.Header.Get("ETag")
	require.NotEmpty(t, tag)
	assert.Equal(t, http.StatusNotModified, ask(tag).StatusCode)
	assert.Equal(t, http.StatusOK, ask(`"another"`).StatusCode)
}
