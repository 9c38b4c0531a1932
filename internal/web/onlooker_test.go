package web_test

import (
	"bufio"
	"fmt"
	"html"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
	"jevvo/internal/web/frame"
)

var localLink = regexp.MustCompile(`\b(?:href|hx-get|src)="(/[^"#]*)`)

// From page to page by its links, a device meets nothing it may not open; who only looks
// is told neither clients nor what they pay.
func TestADeviceIsLedOnlyWhereItMayGo(t *testing.T) {
	testsize.Sequential(t)
	n := onNetwork(t)
	res := n.post("/commissions", map[string]string{"name": "Two for the stair", "client": "Wren Ottery"})
	require.Equal(t, http.StatusSeeOther, res.Code)
	board := n.post(res.Header().Get("Location")+"/boards", nil).Header().Get("Location")
	require.True(t, strings.HasPrefix(board, "/pieces/"))
	require.Equal(
		t,
		http.StatusSeeOther,
		n.post(board+"/price", map[string]string{"rev": "0", "method": "own", "own": "731.40"}).Code,
	)
	secrets := []string{"Wren Ottery", "731.40", "731,40"}
	require.True(t, strings.Contains(n.get(board+"/price"), "731.40"))
	for _, role := range []access.Role{access.Look, access.Bench} {
		d := n.paired(role)
		pages := []string{"/"}
		for i := 0; i < len(pages) && i < 120; i++ {
			w, body := d.ask(http.MethodGet, pages[i], nil)
			assert.NotEqual(t, http.StatusForbidden, w.StatusCode, "%s is led to %s", role, pages[i])
			if !strings.Contains(w.Header.Get("Content-Type"), "html") {
				continue
			}
			for _, secret := range secrets[:map[access.Role]int{access.Look: 3}[role]] {
				assert.False(t, strings.Contains(body, secret), "%s: %s tells %s", role, pages[i], secret)
			}
			for _, link := range localLink.FindAllStringSubmatch(body, -1) {
				if at := html.UnescapeString(link[1]); !slices.Contains(pages, at) && !strings.HasPrefix(at, "/static/") {
					pages = append(pages, at)
				}
			}
		}
		t.Logf("%s: %d pages", role, len(pages))
	}
}

// Nor does a part of a screen that is streamed to it lead where it may not go.
func TestAStreamLeadsOnlyWhereItMayGo(t *testing.T) {
	n := onNetwork(t)
	p := n.piece(map[string]string{})
	b, err := n.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 60, bench.Answers{Anyway: true})
	require.NoError(t, err)
	at := fmt.Sprintf("/rehearsals/%d", b.ID)
	for range 200 {
		if strings.Contains(n.get(at), "Run it again") {
			break
		}
		n.post(at+"/skip", nil)
	}
	d := n.paired(access.Look)
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, n.address+"/streams?of="+at, nil)
	require.NoError(t, err)
	res, err := d.Do(r)
	require.NoError(t, err)
	defer res.Body.Close()
	lines, ended := bufio.NewScanner(res.Body), false
	for begun := false; lines.Scan() && !(begun && lines.Text() == ""); {
		begun = begun || strings.HasPrefix(lines.Text(), "event:")
		ended = ended || strings.Contains(lines.Text(), "Run it again")
		for _, link := range localLink.FindAllStringSubmatch(lines.Text(), -1) {
			w, _ := d.ask(http.MethodGet, html.UnescapeString(link[1]), nil)
			assert.NotEqual(t, http.StatusForbidden, w.StatusCode, link[1])
		}
	}
	assert.True(t, ended, "the day's last screen")
}

// A screen at the scale is told to pour one batch before the next is mixed, by its page and by what is streamed to it.
func TestTheScaleWaitsForThePour(t *testing.T) {
	n := onNetwork(t)
	p := n.piece(map[string]string{"size": "90 x 60 cm", pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
	w, err := n.Bench.StartWeighing(t.Context(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	at, by := fmt.Sprintf("/weighings/%d", w.ID), studiotest.Painter{Way: w.Tares}
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, n.address+"/streams?of="+at, nil)
	require.NoError(t, err)
	res, err := n.paired(access.Look).Do(r)
	require.NoError(t, err)
	defer res.Body.Close()
	room := &studiotest.Room{T: t, Studio: n.Studio}
	for w = by.Once(room, w); w.PourFirst() == 0; {
		w = by.Once(room, w)
	}
	const said = "pour it before you mix batch 2"
	assert.Contains(t, n.get(at), said)
	lines, told := bufio.NewScanner(res.Body), false
	for !told && lines.Scan() {
		told = strings.Contains(lines.Text(), said)
	}
	assert.True(t, told)
}

// What takes a core for seconds is named as it is registered, or it would have no limit.
func TestHeavyRoutesAreRoutes(t *testing.T) {
	var paths []string
	for _, at := range open(t).frame.Addresses() {
		paths = append(paths, at[1])
	}
	assert.Subset(t, paths, frame.HeavyRoutes)
}
