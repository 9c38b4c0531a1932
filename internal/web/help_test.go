package web_test

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"github.com/stretchr/testify/assert"
)

// The pictures of the help are in the reader's language; where there is none of it, in English.
func TestHelpIsPicturedInTheReadersLanguage(t *testing.T) {
	s := open(t)
	get := func(query string) string {
		r := httptest.NewRequestWithContext(t.Context(), http.MethodGet, "http://localhost/help/bench/picture.jpg"+query, nil)
		w := s.answered(r, "image/jpeg")
		assert.Equal(t, http.StatusOK, w.Code, query)
		return w.Body.String()
	}
	english := get("?in=en")
	assert.NotEqual(t, english, get("?in=de"))
	for _, in := range []string{"", "?in=en-US", "?in=nl", "?in=../templates", "?in=de/.."} {
		assert.Equal(t, english, get(in), in)
	}
	assert.Contains(t, s.get("/help/bench"), `/help/bench/picture.jpg?in=en`)
}
