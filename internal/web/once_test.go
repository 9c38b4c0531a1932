package web_test

import (
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
)

var pageNumber = regexp.MustCompile(`name="once" value="([^"]+)"`)

// numberOf is the number of a page as it is sent.
func (s *site) numberOf(page string) string {
	s.t.Helper()
	found := pageNumber.FindStringSubmatch(s.get(page))
	require.NotNil(s.t, found, page)
	return found[1]
}

// A form that arrives again, at once or after going back, is done once and leads where
// it led; one with other texts, and one of a page opened anew, is another.
func TestFormsAreDoneOnce(t *testing.T) {
	s := open(t)
	many := func() int {
		_, n, err := s.Pieces.Pieces(t.Context(), "", 1, 0)
		require.NoError(t, err)
		return n
	}
	before := many()
	form := map[string]string{"name": "Saltmarsh", "once": s.numberOf("/pieces/new")}
	addresses := make([]string, 5)
	var wg sync.WaitGroup
	for i := range addresses {
		wg.Go(func() {
			w := s.post("/pieces", form)
			assert.Equal(t, http.StatusSeeOther, w.Code)
			addresses[i] = w.Header().Get("Location")
		})
	}
	wg.Wait()
	assert.Equal(t, before+1, many())
	for _, a := range addresses {
		assert.Equal(t, addresses[0], a)
	}
	form["name"] = "Saltmarsh again"
	assert.NotEqual(t, addresses[0], s.post("/pieces", form).Header().Get("Location"))
	assert.Equal(t, before+2, many())

	copyForm := addresses[0] + "/copy"
	first, second := s.numberOf(addresses[0]), s.numberOf(addresses[0])
	require.NotEqual(t, first, second, "a page that is remembered is numbered each time it is sent")
	one := s.post(copyForm, map[string]string{"once": first}).Header().Get("Location")
	assert.Equal(t, one, s.post(copyForm, map[string]string{"once": first}).Header().Get("Location"))
	assert.NotEqual(t, one, s.post(copyForm, map[string]string{"once": second}).Header().Get("Location"))
	assert.Equal(t, before+4, many())

	weigh := addresses[0] + "/weigh"
	start := weigh + "/" + plan.FirstCoat
	number := s.numberOf(weigh)
	w := s.post(start, map[string]string{"once": number}).Header().Get("Location")
	assert.Equal(t, w, s.post(start, map[string]string{"once": number}).Header().Get("Location"), "a double click")

	// What is refused keeps nothing back: put right, it goes through.
	refused := map[string]string{"name": "", "once": s.numberOf("/pieces/new")}
	require.Equal(t, http.StatusUnprocessableEntity, s.post("/pieces", refused).Code)
	require.Equal(t, http.StatusUnprocessableEntity, s.post("/pieces", refused).Code)
	refused["name"] = "Spit"
	require.Equal(t, http.StatusSeeOther, s.post("/pieces", refused).Code)
}

// Five starts at once make one bench day of a coat.
func TestFiveStartsMakeOneBenchDay(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Creek"})
	at := fmt.Sprintf("/pieces/%d/bench/", p.ID) + plan.FirstCoat
	addresses := make([]string, 5)
	var wg sync.WaitGroup
	for i := range addresses {
		wg.Go(func() {
			w := s.post(at, map[string]string{"anyway": "yes"})
			assert.Equal(t, http.StatusSeeOther, w.Code, w.Body)
			addresses[i] = w.Header().Get("Location")
		})
	}
	wg.Wait()
	for _, a := range addresses {
		assert.Equal(t, addresses[0], a)
	}
}

// A form with a file is done once too: by its number, its texts and what is in the file.
func TestFormsWithFilesAreDoneOnce(t *testing.T) {
	s := open(t)
	many := func() int {
		_, n, err := s.Colours.Palettes(t.Context(), 1, 0)
		require.NoError(t, err)
		return n
	}
	before := many()
	number := s.numberOf("/palettes")
	first := s.upload("/palettes", "picture", "shore.png", halves(t, shore[0], shore[1]), "once", number)
	require.Equal(t, http.StatusSeeOther, first.Code)
	again := s.upload("/palettes", "picture", "shore.png", halves(t, shore[0], shore[1]), "once", number)
	assert.Equal(t, first.Header().Get("Location"), again.Header().Get("Location"))
	assert.Equal(t, before+1, many(), "one press, one palette")
	s.upload("/palettes", "picture", "shore.png", halves(t, shore[1], shore[0]), "once", number)
	assert.Equal(t, before+2, many(), "another picture is another")
}

// Every plain form of a page that is sent has a number; one that is sent in place has
// none.
func TestEveryPlainFormHasANumber(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{"name": "Saltmarsh"})
	plain, found := regexp.MustCompile(
		`<form\b[^>]*\bmethod="post"[^>]*>(<input type="hidden" name="once" value="[^"]+">)?`), 0
	for _, page := range []string{"/", "/pieces/new", "/pieces/1", "/settings", "/days", "/materials", "/stock",
		"/palettes",
		"/commissions/new", "/pieces/1/bench", "/screens"} {
		for _, form := range plain.FindAllStringSubmatch(s.get(page), -1) {
			assert.Equal(t, !strings.Contains(form[0], "hx-post"), form[1] != "", "%s: %s", page, form[0])
			found++
		}
	}
	assert.Greater(t, found, 10)
}
