package web_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/words"
)

// What the program filled in, the names of cups nobody named and of steps nobody changed, is in the language of the
// studio on every page: none shows a name as it is kept.
func TestWhatIsFilledInIsTranslated(t *testing.T) {
	s := open(t)
	_, n, err := s.Setup.Edit(t.Context(), map[string]string{"language": "de"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	for _, way := range []string{"swipe", "zones"} {
		p := s.piece(map[string]string{"name": "Werk " + way, "size": "30 x 30 cm",
			pieces.CoatKey(plan.FirstCoat, "technique"): way})
		_, err = s.Bench.StartWeighing(t.Context(), p.ID, plan.FirstCoat)
		require.NoError(t, err)
		_, err = s.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
		require.NoError(t, err)
	}
	german := words.In(words.German)
	elsewhere := map[string]bool{"Spray": true, "Binder": true, "bucket": true} // words of other sentences too
	kept := map[string]*regexp.Regexp{}
	for _, preset := range technique.Presets() {
		text := string(preset)
		if said := german.Text(text); len(text) > 5 && !elsewhere[text] && !strings.Contains(said, text) {
			kept[text] = regexp.MustCompile(`(^|\W)` + regexp.QuoteMeta(text) + `(\W|$)`)
		}
	}
	require.Greater(t, len(kept), 50)
	bad := map[string]bool{}
	s.walk(func(page, body string) {
		root, err := html.Parse(strings.NewReader(body))
		require.NoError(t, err)
		for node := range root.Descendants() {
			if node.Type != html.TextNode || node.Parent.Data == "script" || node.Parent.Data == "style" {
				continue
			}
			for text, is := range kept {
				if strings.Contains(node.Data, text) && is.MatchString(node.Data) {
					bad[fmt.Sprintf("%s: %q in %q", page, text, strings.TrimSpace(node.Data))] = true
				}
			}
		}
	})
	for at := range bad {
		assert.Fail(t, at)
	}
}
