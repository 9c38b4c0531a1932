package web_test

import (
	"html"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/access"
)

var localLink = regexp.MustCompile(`\b(?:href|hx-get|src)="(/[^"#]*)`)

// From page to page by its links, a device meets nothing it may not open; who only looks
// is told neither clients nor what they pay.
func TestADeviceIsLedOnlyWhereItMayGo(t *testing.T) {
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
