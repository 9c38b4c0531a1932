package web_test

import (
	"bytes"
	"context"
	"image/color"
	"image/jpeg"
	"image/png"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// revOf reads the revision a bench screen carries.
func revOf(t *testing.T, body string) string {
	t.Helper()
	return between(t, body, `id="bench-body" data-rev="`, `"`)
}

// attend begins a bench day or a rehearsal of the first coat and returns its
// address and page.
func (s *site) attend(piece, speed string) (address, body string) {
	s.t.Helper()
	res, _ := s.post("/pieces/"+piece+"/bench/first", url.Values{"speed": {speed}})
	require.Equal(s.t, 303, res.StatusCode)
	address = res.Header.Get("Location")
	_, body = s.get(address)
	return address, body
}

// A bench day goes through every step by plain forms, ends, and is recorded on
// the piece.
func TestABenchDayOverForms(t *testing.T) {
	s := open(t)
	address, body := s.attend("2", "")
	require.True(t, strings.HasPrefix(address, "/benches/"))
	seen := map[string]bool{}
	for i := 0; ; i++ {
		require.Less(t, i, 200, "the day ends")
		if strings.Contains(body, "This coat is done.") {
			break
		}
		step := between(t, body, `<p class="bench-step">`, `</p>`)
		press := "/done"
		if i > 0 && strings.Contains(body, "knuckle\" data-confirm disabled") {
			press = "/skip" // a flame over what is wet stays locked
		} else if strings.Contains(body, ">Parts meet<") || strings.Contains(body, "The parts meet now") {
			press = "/met"
		}
		seen[step] = true
		rev := revOf(t, body)
		var res *http.Response
		res, body = s.post(address+press, url.Values{"rev": {rev}}, "HX-Request", "true")
		require.Equal(t, 200, res.StatusCode)
		require.NotEqual(t, rev, revOf(t, body), "%s did nothing at %q", press, step)
	}
	assert.Greater(t, len(seen), 4)
	assert.Contains(t, body, "recorded with its actual times")
	_, list := s.get("/pieces/2/bench")
	assert.Contains(t, list, address)
	_, open := s.get("/bench")
	assert.NotContains(t, open, address, "what is over is not offered again")
	res, body := s.post(address+"/undo", url.Values{"rev": {revOf(t, body)}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.NotContains(t, body, "This coat is done.", "even the last press can be taken back")
}

// Two screens press the same step: one counts, the other is told and shown
// where the bench is.
func TestTwoBenchScreens(t *testing.T) {
	s := open(t)
	address, body := s.attend("1", "")
	rev := revOf(t, body)
	res, _ := s.post(address+"/done", url.Values{"rev": {rev}})
	assert.Equal(t, 303, res.StatusCode, "without scripts the screen is loaded again")
	res, body = s.post(address+"/done", url.Values{"rev": {rev}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, `<p class="wrong" role="alert">`)
	assert.NotEqual(t, rev, revOf(t, body))
	res, _ = s.post(address+"/done", url.Values{"rev": {"many"}}, "HX-Request", "true")
	assert.Less(t, res.StatusCode, 500)
}

// The other screen hears of a press by the stream.
func TestBenchStream(t *testing.T) {
	s := open(t)
	address, body := s.attend("1", "")
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, "GET", s.server.URL+address+"/stream", nil)
	require.NoError(t, err)
	stream, err := s.server.Client().Do(req)
	require.NoError(t, err)
	defer stream.Body.Close()
	assert.Equal(t, "text/event-stream", stream.Header.Get("Content-Type"))
	heard := make(chan string, 1)
	go func() {
		text, buffer := "", make([]byte, 64<<10)
		for !strings.Contains(text, "bench-actions") {
			n, err := stream.Body.Read(buffer)
			if text += string(buffer[:n]); err != nil {
				break
			}
		}
		heard <- text
	}()
	_, body = s.post(address+"/done", url.Values{"rev": {revOf(t, body)}}, "HX-Request", "true")
	text := <-heard
	assert.Contains(t, text, "event: body")
	assert.Contains(t, text, `data-rev="`+revOf(t, body)+`"`)
}

// Notes and photographs are kept with the hour and shown; what is no
// photograph is said.
func TestNotesAndPhotographsAtTheBench(t *testing.T) {
	s := open(t)
	address, _ := s.attend("1", "")
	res, body := s.post(address+"/note", url.Values{"note": {"<i>cells</i> open at the rim"}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "&lt;i&gt;cells&lt;/i&gt; open at the rim")
	res, _ = s.post(address+"/note", url.Values{"note": {"   "}})
	assert.Equal(t, 422, res.StatusCode)

	img, err := png.Decode(bytes.NewReader(halves(t, color.NRGBA{9, 99, 199, 255}, color.NRGBA{250, 250, 250, 255})))
	require.NoError(t, err)
	var jpg bytes.Buffer
	require.NoError(t, jpeg.Encode(&jpg, img, nil))
	res, _ = s.upload(address+"/photo", "photo", "now.jpg", jpg.Bytes())
	require.Equal(t, 303, res.StatusCode)
	_, body = s.get(address)
	photo := between(t, body, `<img src="`, `"`)
	res, data := s.get(photo)
	assert.Equal(t, "image/jpeg", res.Header.Get("Content-Type"))
	kept, err := jpeg.Decode(strings.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, img.Bounds(), kept.Bounds())

	res, body = s.upload(address+"/photo", "photo", "now.jpg", []byte("no photograph"))
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `role="alert"`)
	res, _ = s.post(address+"/photo", nil)
	assert.Equal(t, 422, res.StatusCode)
}

// A rehearsal runs beside the work: it is listed apart and records nothing.
func TestARehearsalOverForms(t *testing.T) {
	s := open(t)
	address, body := s.attend("1", "60")
	require.True(t, strings.HasPrefix(address, "/rehearsals/"))
	assert.Contains(t, body, "rehearsal, 60×")
	res, _ := s.get(strings.Replace(address, "rehearsals", "benches", 1))
	assert.Equal(t, 404, res.StatusCode, "it is no bench day")
	_, open := s.get("/bench")
	assert.NotContains(t, open, `href="`+address)
	res, body = s.post(address+"/close", url.Values{"rev": {revOf(t, body)}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "The rehearsal is over.")
	assert.Contains(t, body, "of 100")
	today, err := s.studio.Today(t.Context())
	require.NoError(t, err)
	assert.Empty(t, today.Wet, "nothing cures after a rehearsal")
}

// The room is typed or sensed; each form leads back to a page of this program
// only.
func TestTheRoomOverForms(t *testing.T) {
	s := open(t)
	res, _ := s.post("/room", url.Values{"room": {"24 °C"}, "back": {"/pieces/1"}})
	assert.Equal(t, "/pieces/1", res.Header.Get("Location"))
	for _, back := range []string{"//elsewhere.invalid", `/\elsewhere.invalid`, "https://elsewhere.invalid/", ""} {
		res, _ = s.post("/room", url.Values{"room": {"24"}, "back": {back}})
		assert.Equal(t, "/bench", res.Header.Get("Location"), back)
	}
	res, body := s.post("/room", url.Values{"room": {"boiling"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, "boiling")
	for _, what := range []string{"door", "heater", "silent", "broken"} {
		res, _ = s.post("/room/"+what, nil)
		assert.Equal(t, 303, res.StatusCode, what)
	}
	address, body := s.attend("1", "")
	assert.Contains(t, body, `role="alert"`, "a spoiled sensor is said at the bench")
	assert.NotContains(t, body, "85.0 °C", address)
}

// A technique of one's own starts as a copy; the ones that came with the
// program are left alone.
func TestOwnTechniquesOverForms(t *testing.T) {
	s := open(t)
	res, _ := s.post("/techniques/swipe", url.Values{"name": {"Mine now"}})
	assert.NotEqual(t, 303, res.StatusCode, "what came along stays as it is")
	res, _ = s.post("/techniques/swipe/copy", nil)
	require.Equal(t, 303, res.StatusCode)
	own := res.Header.Get("Location")
	_, body := s.get(own)
	rev := between(t, body, `name="rev" value="`, `"`)
	res, _ = s.post(own, url.Values{"rev": {rev}, "name": {"Slack-water swipe"}})
	require.Equal(t, 303, res.StatusCode)
	_, list := s.get("/techniques")
	assert.Contains(t, list, "Slack-water swipe")
	_, piece := s.get("/pieces/new")
	assert.Contains(t, piece, "Slack-water swipe", "a piece can be made with it")
	res, body = s.post(own, url.Values{"rev": {rev}, "name": {"Behind"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="Behind"`)
	_, before := s.get(own)
	n := strings.Count(before, own+"/steps/")
	for _, how := range []string{"after", "up", "remove"} {
		res, _ = s.post(own+"/steps/1/"+how, nil)
		assert.Equal(t, 303, res.StatusCode, how)
	}
	_, after := s.get(own)
	assert.Equal(t, n, strings.Count(after, own+"/steps/"), "one more, moved, and one less")
	res, _ = s.post(own+"/steps/99/remove", nil)
	assert.Equal(t, 404, res.StatusCode)
	res, _ = s.post(own+"/steps/1/burn", nil)
	assert.NotEqual(t, 303, res.StatusCode)
}
