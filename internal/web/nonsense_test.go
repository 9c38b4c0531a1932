package web_test

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/testsize"
	"jevvo/internal/web/frame"
)

// nonsense are values that no field expects.
var nonsense = []string{"", "-5", "1e400", "NaN", "\x00", "%zz", "../../etc", strings.Repeat("9", 400), "🎨", "<b>",
	"' OR 1=1 --", "\xff\xfe"}

// Every address takes nonsense in its path, its query and its form and answers with
// words: no inner failure, no panic.
func TestNonsenseIsAnsweredInWords(t *testing.T) {
	testsize.Sequential(t)
	s := open(t)
	s.piece(map[string]string{})
	for n, at := range s.frame.Addresses() {
		method, path := at[0], at[1]
		if strings.Contains(path, "*") || strings.HasSuffix(path, "/events") || method == http.MethodHead {
			continue
		}
		if strings.HasSuffix(path, "/ranges") || strings.HasSuffix(path, "/differing.png") {
			continue // ten plays each, whatever is asked besides
		}
		few := testsize.Of(t, "JEVVO_NONSENSE", 3)
		for k, v := range nonsense {
			if (n+k)%len(nonsense) >= few { // each address is asked some of it
				continue
			}
			id := "1"
			if k%2 == 1 {
				id = url.PathEscape(v)
			}
			parts := strings.Split(path, "/")
			for i, p := range parts {
				if strings.HasPrefix(p, ":") {
					parts[i] = id
					if id == "" {
						parts[i] = "x"
					}
				}
			}
			target := "http://localhost" + strings.Join(parts, "/")
			fields := url.Values{"coat": {v}, "name": {v}, "kind": {v}, "thing": {v}, "share": {v}, "piece": {v}, "rev": {"1"},
				"what": {v}, "seen": {v}, "points": {v}, "amount": {v}, "back": {v}, "cup": {v}, "room": {v}}
			r := httptest.NewRequestWithContext(t.Context(), method, target, nil)
			if method == http.MethodPost {
				r = httptest.NewRequestWithContext(t.Context(), method, target, strings.NewReader(fields.Encode()))
				r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
			} else {
				r.URL.RawQuery = fields.Encode()
			}
			w := httptest.NewRecorder()
			s.h.ServeHTTP(w, r)
			assert.Less(t, w.Code, 500, "%s %s with %q: %s", method, path, v, brief(w.Body.String()))
		}
	}
}

func brief(text string) string { return text[:min(len(text), 200)] }

// A form that is none is answered with 400, and nothing is changed.
func TestFormsThatAreNone(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Mudflat"})
	post := func(body string) int {
		r := httptest.NewRequestWithContext(t.Context(), http.MethodPost,
			fmt.Sprintf("http://localhost/pieces/%d/edit", p.ID), strings.NewReader(body))
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		w := httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		return w.Code
	}
	var many strings.Builder
	for k := range 10_000 {
		fmt.Fprintf(&many, "f%d=1&", k)
	}
	for _, body := range []string{"name=%zz", "a;b", "name=a%00b", "name=%ff%fe", many.String()} {
		assert.Equal(t, http.StatusBadRequest, post(body), brief(body))
	}
	assert.Contains(t, s.get(fmt.Sprintf("/pieces/%d", p.ID)), "Mudflat")
}

// An address that was sent along is followed only within the program.
func TestAddressesSentAlong(t *testing.T) {
	for _, ours := range []string{"/", "/pieces/1?coat=first#clock", "/days"} {
		assert.Equal(t, ours, frame.Local(ours, "/other"))
	}
	for _, foreign := range []string{"", "pieces", "//evil.example", `/\evil.example`, "/\t/evil.example",
		"/\n/evil.example", "https://evil.example/", "/%zz", `/a\b`} {
		assert.Equal(t, "/other", frame.Local(foreign, "/other"), "%q", foreign)
	}
}
