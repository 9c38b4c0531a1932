package frame_test

import (
	"bytes"
	"compress/gzip"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studiotest"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// A script under its hash is kept for good; otherwise it is asked for again after a minute, and not sent
// again while it is the same (RFC 9110, 13.1.2; RFC 8246; RFC 1952).
func TestScriptsAreSentOnceAndNeverStale(t *testing.T) {
	dir := t.TempDir()
	db, err := store.Open(t.Context(), filepath.Join(dir, studiotest.Database))
	require.NoError(t, err)
	defer db.Close()
	st, err := studio.New(t.Context(), db, studio.Options{Secrets: studiotest.Secrets(dir)})
	require.NoError(t, err)
	f, err := web.New(st, frame.Options{Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	require.NoError(t, err)
	ask := func(at, tag, takes string) *http.Response {
		r := httptest.NewRequestWithContext(t.Context(), http.MethodGet, "http://localhost"+at, nil)
		r.Header.Set("If-None-Match", tag)
		r.Header.Set("Accept-Encoding", takes)
		w := httptest.NewRecorder()
		f.Handler().ServeHTTP(w, r)
		return w.Result()
	}
	const script = "/static/built/page.js"
	first := ask(script, "", "")
	assert.Equal(t, http.StatusOK, first.StatusCode)
	assert.Equal(t, "max-age=60", first.Header.Get("Cache-Control"))
	tag := first.Header.Get("ETag")
	require.NotEmpty(t, tag)
	assert.Equal(t, http.StatusNotModified, ask(script, tag, "").StatusCode)
	assert.Equal(t, http.StatusOK, ask(script, `"another"`, "").StatusCode)
	assert.Equal(t, http.StatusNotFound, ask("/static/built/none.js", "", "").StatusCode)

	// A page names its files with their hashes, under which they are kept for good.
	page, err := io.ReadAll(ask("/pair", "", "").Body)
	require.NoError(t, err)
	named := regexp.MustCompile(regexp.QuoteMeta(script) + `\?v=[0-9a-f]{16}`).Find(page)
	require.NotNil(t, named)
	assert.Contains(t, ask(string(named), "", "").Header.Get("Cache-Control"), "immutable")
	assert.Equal(t, "max-age=60", ask(script+"?v=0123456789abcdef", "", "").Header.Get("Cache-Control"))

	// Packed for who takes it packed, the same once unpacked.
	packed := ask(script, "", "gzip")
	assert.Equal(t, "gzip", packed.Header.Get("Content-Encoding"))
	assert.Contains(t, packed.Header.Get("Vary"), "Accept-Encoding")
	small, err := io.ReadAll(packed.Body)
	require.NoError(t, err)
	unpacked, err := gzip.NewReader(bytes.NewReader(small))
	require.NoError(t, err)
	again, err := io.ReadAll(unpacked)
	require.NoError(t, err)
	plain, err := io.ReadAll(first.Body)
	require.NoError(t, err)
	assert.Equal(t, plain, again)
	assert.Less(t, len(small), len(plain)/2)
}
