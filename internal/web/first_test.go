package web_test

import (
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/materials"
	"jevvo/internal/web/frame"
)

// Too many colours for a tile are refused with their count, and before any example is copied:
// the page offers again all that it did.
func TestTooManyColoursForATileCopyNothing(t *testing.T) {
	s := openIn(t, t.TempDir(), frame.Options{}, func() time.Time { return monday })
	all, err := materials.AllExamples()
	require.NoError(t, err)
	form := url.Values{"product": {all.Resins[0].Name}, "technique": {"swipe"}}
	for _, p := range all.Pigments[:8] {
		form.Add("pigment", p.Name)
	}
	r := httptest.NewRequestWithContext(t.Context(), http.MethodPost, "http://localhost/first/tile",
		strings.NewReader(form.Encode()))
	r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "8 pigments are chosen; a tile has room for 5")
	book, err := s.Materials.Book(t.Context())
	require.NoError(t, err)
	assert.Zero(t, len(book.Paints))
	assert.Contains(t, w.Body.String(), all.Pigments[20].Name)
}
