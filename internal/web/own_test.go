package web_test

import (
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/testsize"
	"jevvo/internal/words"
)

// A painter's text that reads like one of the program's, and what that says in German.
const (
	reads = "choose a resin"
	says  = "wähle ein harz"
)

var number = regexp.MustCompile(`\d+`)

// goes are forms that take something away or lock the studio.
var goes = []string{"/remove", "/delete", "/archive", "/passphrase", "/clear", "/withdraw", "/lock"}

// What a painter typed is printed as it was typed, in every field of every form that takes
// free text, though it may read like a text of the program's.
func TestAPaintersTextIsNeverTranslated(t *testing.T) {
	testsize.Sequential(t)
	s := demoSite(t)
	kept, tried := 0, map[string]bool{}
	for _, f := range s.sheets() {
		if slices.ContainsFunc(goes, func(end string) bool { return strings.Contains(f.action, end) }) {
			continue
		}
		for _, x := range f.fields {
			if number.MatchString(x.value) || x.kind != "" && x.kind != "text" || len(x.choices) > 0 {
				continue
			}
			kind := number.ReplaceAllString(f.action+" "+x.name, "0") // one piece stands for all
			if tried[kind] {
				continue
			}
			tried[kind] = true
			if f.with(s, x.name, reads).Code < 400 {
				kept++
			}
		}
	}
	require.Greater(t, kept, 30)
	_, _, err := s.Setup.Edit(t.Context(), map[string]string{"language": string(words.German)})
	require.NoError(t, err)
	require.Contains(t, s.get("/pieces"), "Werke")
	found := 0
	s.walk(func(page, body string) {
		found += strings.Count(body, reads)
		for rest := body; ; {
			i := strings.Index(strings.ToLower(rest), says)
			if i < 0 {
				return
			}
			assert.Fail(t, page, "%s", rest[max(0, i-160):min(len(rest), i+60)])
			rest = rest[i+len(says):]
		}
	})
	assert.Greater(t, found, 50)
}

// with sends a form as it stands, but for one field.
func (f sheet) with(s *site, name, value string) *httptest.ResponseRecorder {
	values := url.Values{}
	for _, x := range f.fields {
		if x.kind != "file" && x.kind != "checkbox" && x.name != "once" {
			values.Set(x.name, x.value)
		}
	}
	values.Set(name, value)
	r := httptest.NewRequestWithContext(s.t.Context(), http.MethodPost, "http://localhost"+f.action,
		strings.NewReader(values.Encode()))
	return s.answered(r, "application/x-www-form-urlencoded")
}
