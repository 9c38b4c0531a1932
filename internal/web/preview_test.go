package web_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/testsize"
)

var playKey = regexp.MustCompile(`data-key="([0-9a-f]+)"`)

// The preview's page names its play; the stream tells every frame once, with its
// pictures, and a play that is not held says so.
func TestThePreviewTellsItsFrames(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"size": "10 x 10 cm"})
	page := s.get(fmt.Sprintf("/pieces/%d/preview", p.ID))
	key := playKey.FindStringSubmatch(page)
	require.NotNil(t, key, page)
	stream := s.get("/preview/" + key[1] + "/events")
	frames := strings.Count(stream, "event: frame")
	assert.Contains(t, page, fmt.Sprintf(`data-frames="%d"`, frames), "a minute each")
	assert.Greater(t, frames, 20)
	last := fmt.Sprintf("/preview/%s/frames/%d/", key[1], frames-1)
	assert.Contains(t, stream, "event: whole")
	assert.NotContains(t, stream, "NaN")
	for _, what := range []string{"picture.png", "relief.png", "still.png"} {
		w := s.do(http.MethodGet, last+what, nil, false)
		assert.Equal(t, http.StatusOK, w.Code)
		assert.Equal(t, "image/png", w.Header().Get("Content-Type"))
	}
	assert.Contains(t, s.get(last+"layers?x=50&y=50"), `"film"`)
	assert.Equal(t, "[]", strings.TrimSpace(s.get(last+"layers?x=900&y=50")))
	for _, none := range []string{"/preview/abc/events", "/preview/abc/frames/0/picture.png",
		"/preview/" + key[1] + "/frames/999/picture.png", "/preview/" + key[1] + "/frames/x/picture.png",
		"/preview/" + key[1] + "/frames/1/sound.mp3"} {
		w := s.do(http.MethodGet, none, nil, false)
		assert.GreaterOrEqual(t, w.Code, 400, none)
		assert.Less(t, w.Code, 500, none)
	}
}

// A move that cannot be is said at the form, what was typed is still there, and the
// page goes on; one that can be is listed and makes another play.
func TestMovesByHandOnThePage(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"size": "10 x 10 cm"})
	at := fmt.Sprintf("/pieces/%d/preview", p.ID)
	before := playKey.FindStringSubmatch(s.get(at))[1]
	w := s.do(http.MethodPost, at+"/moves", map[string]string{"kind": "tilt", "minute": "soon", "tilt_x": "5"}, true)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "is not a number")
	assert.Contains(t, w.Body.String(), `value="soon"`)
	w = s.do(http.MethodPost, at+"/moves", map[string]string{"kind": "tilt", "minute": "14", "tilt_x": "5"}, true)
	require.Equal(t, http.StatusOK, w.Code)
	assert.Contains(t, w.Body.String(), "Board tilted at 14 min")
	assert.NotEqual(t, before, playKey.FindStringSubmatch(w.Body.String())[1])
	w = s.do(http.MethodPost, at+"/undo", map[string]string{}, true)
	assert.Equal(t, before, playKey.FindStringSubmatch(w.Body.String())[1], "the same play again")
	w = s.do(http.MethodPost, at+"/redo", map[string]string{}, true)
	assert.Contains(t, w.Body.String(), "Board tilted at 14 min")
	w = s.do(http.MethodPost, at+"/set", map[string]string{"later": "10", "own": "no", "seed": "2"}, true)
	assert.Equal(t, http.StatusOK, w.Code)
	assert.Contains(t, w.Body.String(), `name="seed" inputmode="numeric" value="2"`)
}

// Other ways to play a coat are shown small; what cannot be is refused.
func TestOtherWaysAreShownSmall(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"size": "10 x 10 cm"})
	at := fmt.Sprintf("/pieces/%d/preview/small.png", p.ID)
	w := s.do(http.MethodGet, at+"?seed=3&turned=yes&own=no", nil, false)
	require.Equal(t, http.StatusOK, w.Code)
	assert.Equal(t, "image/png", w.Header().Get("Content-Type"))
	assert.Equal(t, http.StatusUnprocessableEntity, s.do(http.MethodGet, at+"?seed=-4", nil, false).Code)
	assert.Equal(t, http.StatusUnprocessableEntity, s.do(http.MethodGet, at+"?later=x", nil, false).Code)
	w = s.do(http.MethodPost, fmt.Sprintf("/pieces/%d/preview/apply", p.ID), map[string]string{}, true)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "Nothing was poured by hand")
}

// A move that was tried on a board that has become smaller since lies beside it: the
// small picture shows the board without it.
func TestAnOutdatedPreviewShowsThePlainBoard(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"size": "20 x 20 cm"})
	at := fmt.Sprintf("/pieces/%d/preview", p.ID)
	w := s.do(http.MethodPost, at+"/moves",
		map[string]string{"coat": "first", "kind": "puddle", "minute": "5", "cup": "c2", "amount": "5 mL",
			"points": "190,190"}, true)
	require.Equal(t, http.StatusOK, w.Code, w.Body.String())
	_, n, err := s.Pieces.Edit(t.Context(), p.ID, p.Rev, map[string]string{"size": "10 x 10 cm"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	w = s.do(http.MethodGet, at+"/small.png?coat=first&seed=1", nil, false)
	require.Equal(t, http.StatusOK, w.Code)
	assert.Equal(t, "image/png", w.Header().Get("Content-Type"))
}

// Beside a play stand its ranges, what would change it, and what shows most of a colour; a
// colour that none of the cups holds is refused.
func TestWhatIsToldBesideAPlay(t *testing.T) {
	testsize.Sequential(t)
	s := open(t)
	p := s.piece(map[string]string{"size": "10 x 10 cm", "coat.first.technique": "cell"})
	at := fmt.Sprintf("/pieces/%d/preview", p.ID)
	key := playKey.FindStringSubmatch(s.get(at))
	s.get("/preview/" + key[1] + "/events") // until it is whole
	var spread struct {
		Words, Ground, Off string
		Visible            []string
	}
	require.NoError(t, json.Unmarshal([]byte(s.get(at+"/ranges")), &spread))
	assert.NotEmpty(t, spread.Visible)
	assert.Contains(t, spread.Words, "runs on a coarse grid")
	for _, share := range spread.Visible {
		assert.Regexp(t, `^(\d+–)?\d+ %$`, share)
	}
	assert.Equal(t, "image/png", s.do(http.MethodGet, at+"/differing.png", nil, false).Header().Get("Content-Type"))
	helps := s.get(at + "/helps")
	assert.Contains(t, helps, "Show most of")
	colour := regexp.MustCompile(`<option value="([^"]+)"`).FindAllStringSubmatch(helps, -1)
	require.NotEmpty(t, colour)
	found := s.get(at + "/most?colour=" + colour[len(colour)-1][1])
	assert.Regexp(t, `orders and tilts`, found)
	assert.Equal(t, http.StatusUnprocessableEntity, s.do(http.MethodGet, at+"/most?colour=none", nil, false).Code)
}
