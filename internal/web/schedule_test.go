package web_test

import (
	"fmt"
	"image/color"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var dayTask = regexp.MustCompile(`data-piece="(\d+)" data-task="([^"]+)" data-at="([^"]+)"`)

// moveable lists the tasks of a days page that can be moved, with their times.
func moveable(body string) map[string]string {
	out := map[string]string{}
	for _, m := range dayTask.FindAllStringSubmatch(body, -1) {
		out[m[1]+" "+m[2]] = m[3]
	}
	return out
}

// A task is laid at an hour, stays there when the rest is planned anew, and
// is let go again.
func TestATaskIsPinnedOverForms(t *testing.T) {
	s := open(t)
	_, body := s.get("/days")
	tasks := moveable(body)
	require.NotEmpty(t, tasks)
	was, ok := tasks["2 first:pour"]
	require.True(t, ok, "%v", tasks)
	at, err := time.ParseInLocation("2006-01-02T15:04", was, time.Local)
	require.NoError(t, err)
	for at = at.AddDate(0, 0, 1); at.Weekday() == time.Sunday; {
		at = at.AddDate(0, 0, 1)
	}
	pin := time.Date(at.Year(), at.Month(), at.Day(), 11, 15, 0, 0, time.Local).Format("2006-01-02T15:04")
	res, _ := s.post("/days/pin", url.Values{"piece": {"2"}, "task": {"first:pour"}, "at": {pin}})
	require.Equal(t, 303, res.StatusCode)
	where := "/days?from=" + pin[:10]
	_, body = s.get(where)
	assert.Equal(t, pin, moveable(body)["2 first:pour"])
	assert.Contains(t, body, "pinned")

	res, _ = s.post("/days/pin", url.Values{"piece": {"2"}, "task": {"first:pour"}, "back": {"/days?from=" + pin[:10]}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, res.Header.Get("HX-Location"), where)
	_, body = s.get("/days")
	assert.Equal(t, was, moveable(body)["2 first:pour"], "let go, it lies where it lay")

	res, body = s.post("/days/pin", url.Values{"piece": {"2"}, "task": {"first:pour"}, "at": {"after lunch"}})
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, "after lunch")
	res, _ = s.post("/days/pin", url.Values{"piece": {"2"}, "task": {"ninth:pour"}, "at": {pin}})
	assert.NotEqual(t, 303, res.StatusCode, "no such task")
}

// What was done is ticked off on the first page and can be taken back.
func TestATaskIsDoneOverForms(t *testing.T) {
	s := open(t)
	res, _ := s.post("/days/done", url.Values{"piece": {"3"}, "task": {"first:pour"}})
	require.Equal(t, "/", res.Header.Get("Location"))
	_, body := s.get("/days")
	assert.NotContains(t, moveable(body), "3 first:pour", "what is done cannot be moved")
	res, _ = s.post("/days/done", url.Values{"piece": {"3"}, "task": {"first:pour"}, "undo": {"yes"}})
	require.Equal(t, 303, res.StatusCode)
	found := false
	for from, i := time.Now(), 0; i < 3 && !found; i++ {
		_, body = s.get("/days?from=" + from.AddDate(0, 0, 7*i).Format(time.DateOnly))
		_, found = moveable(body)["3 first:pour"]
	}
	assert.True(t, found, "it is to be done again")
}

// A what-if is shown as one and keeps nothing.
func TestAWhatIfIsMarkedAsOne(t *testing.T) {
	s := open(t)
	_, is := s.get("/days")
	assert.NotContains(t, is, `class="what-if"`)
	_, would := s.get("/days?if=evening")
	assert.Contains(t, would, "Nothing is kept.")
	assert.Contains(t, would, "&amp;if=evening", "the weeks beside it are of the same plan")
	_, after := s.get("/days")
	assert.Equal(t, moveable(is), moveable(after))
}

// Seven days from a Wednesday on end on the Tuesday after.
func TestAPrintedWeekHasSevenDays(t *testing.T) {
	s := open(t)
	_, body := s.get("/days/print?from=2026-11-25")
	assert.Contains(t, body, "25 November to 1 December 2026")
	assert.Equal(t, 7, strings.Count(body, `<section class="coat-sheet">`))
	assert.Contains(t, body, "Tuesday 1 December")
	assert.NotContains(t, body, "Wednesday 2 December")
}

// The calendar is the days in another dress: every task of the plan is an
// event, none at two times, lines folded as RFC 5545 asks.
func TestTheCalendarHoldsTheDays(t *testing.T) {
	s := open(t)
	res, file := s.get("/days.ics")
	require.Equal(t, 200, res.StatusCode)
	assert.Equal(t, "text/calendar; charset=utf-8", res.Header.Get("Content-Type"))
	uids := map[string]bool{}
	for line := range strings.SplitSeq(file, "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "RFC 5545 3.1")
		if uid, ok := strings.CutPrefix(line, "UID:"); ok {
			assert.False(t, uids[uid], "two events %q", uid)
			uids[uid] = true
		}
	}
	_, body := s.get("/days")
	for key := range moveable(body) {
		piece, task, _ := strings.Cut(key, " ")
		if !strings.Contains(task, "look") {
			assert.True(t, uids[fmt.Sprintf("%s-%s@jevvo", piece, task)], key)
		}
	}
	feed := "/calendar/" + between(t, body, "<code>/calendar/", "<")
	res, fed := s.get(feed)
	assert.Equal(t, 200, res.StatusCode)
	assert.Equal(t, strings.Count(file, "BEGIN:VEVENT"), strings.Count(fed, "BEGIN:VEVENT"))
	res, _ = s.post("/calendar/renew", nil)
	assert.Equal(t, 303, res.StatusCode)
	res, _ = s.get(feed)
	assert.Equal(t, 404, res.StatusCode, "the old address stops")
}

// A letter on request stands in the outbox when there is no mail server.
func TestTheLetterStandsInTheOutbox(t *testing.T) {
	s := open(t)
	_, body := s.get("/outbox")
	assert.NotContains(t, body, "Night ferry")
	res, _ := s.post("/outbox", nil)
	require.Equal(t, "/outbox", res.Header.Get("Location"))
	_, body = s.get("/outbox")
	assert.Contains(t, body, "<pre")
	letters, err := s.studio.Letters(t.Context())
	require.NoError(t, err)
	require.Len(t, letters, 1)
	assert.Contains(t, letters[0].Body, "\n")
}

// The coat plan is added to, reordered and put back to the usual one.
func TestTheCoatPlanOverForms(t *testing.T) {
	s := open(t)
	names := func() []string {
		p, err := s.studio.Plan(t.Context(), 1)
		require.NoError(t, err)
		var out []string
		for _, l := range p.LayerViews() {
			out = append(out, l.Name)
		}
		return out
	}
	usual := names()
	require.NotEmpty(t, usual)
	res, _ := s.post("/pieces/1/layers", url.Values{"what": {"veil"}})
	require.Less(t, res.StatusCode, 400)
	more := names()
	require.Len(t, more, len(usual)+1)
	p, err := s.studio.Piece(t.Context(), 1)
	require.NoError(t, err)
	last := p.Layers[len(p.Layers)-1].ID
	for _, how := range []string{"up", "down", "remove"} {
		res, _ = s.post("/pieces/1/layers/"+last+"/"+how, nil)
		assert.Less(t, res.StatusCode, 400, how)
	}
	assert.Less(t, len(names()), len(more)+1)
	res, _ = s.post("/pieces/1/layers/usual", nil)
	assert.Less(t, res.StatusCode, 400)
	assert.Equal(t, usual, names())
	res, _ = s.post("/pieces/1/layers", url.Values{"what": {"magic"}})
	assert.GreaterOrEqual(t, res.StatusCode, 400)
	res, _ = s.post("/pieces/1/layers/first/remove", nil)
	assert.GreaterOrEqual(t, res.StatusCode, 400, "a piece without its first coat is none")
}

// A commission from the first letter to the boards, over plain forms.
func TestACommissionOverForms(t *testing.T) {
	s := open(t)
	res, body := s.post("/commissions", url.Values{"name": {""}, "due": {"soonish"}, "client": {"<Wren>"}})
	assert.Equal(t, 422, res.StatusCode)
	for _, want := range []string{`value="soonish"`, `value="&lt;Wren&gt;"`, `id="say-due"`} {
		assert.Contains(t, body, want)
	}
	res, _ = s.post("/commissions", url.Values{"name": {"Two for the stair"}, "due": {time.Now().AddDate(0, 2, 0).Format(time.DateOnly)}})
	require.Equal(t, 303, res.StatusCode)
	page := res.Header.Get("Location")

	res, _ = s.upload(page+"/pictures", "picture", "stair.png", halves(t, color.NRGBA{1, 90, 9, 255}, color.NRGBA{200, 1, 1, 255}))
	require.Equal(t, 303, res.StatusCode)
	res, _ = s.get(page + "/pictures/1")
	assert.Equal(t, "image/jpeg", res.Header.Get("Content-Type"))
	res, body = s.upload(page+"/pictures", "picture", "stair.png", []byte("GIF89a"))
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `role="alert"`)

	for _, technique := range []string{"cell", "flow"} {
		res, _ = s.post(page+"/tiles", url.Values{"technique": {technique}})
		require.Equal(t, 303, res.StatusCode, technique)
	}
	tile := strings.TrimPrefix(res.Header.Get("Location"), "/pieces/")
	res, body = s.post(page+"/from-tile", url.Values{"size": {"60 x 40 cm"}, "count": {"2"}})
	assert.Equal(t, 422, res.StatusCode, "none is chosen yet")
	assert.Contains(t, body, "60 x 40 cm", "what was typed is still there")
	res, _ = s.post(page+"/choose", url.Values{"tile": {"1"}})
	assert.NotEqual(t, 303, res.StatusCode, "a piece that is no tile of it")
	res, _ = s.post(page+"/choose", url.Values{"tile": {tile}, "why": {"it keeps its edge"}})
	require.Equal(t, 303, res.StatusCode)
	res, _ = s.post(page+"/from-tile", url.Values{"size": {"60 x 40 cm"}, "count": {"2"}})
	require.Equal(t, 303, res.StatusCode)
	_, body = s.get(page)
	for _, want := range []string{"it keeps its edge", res.Header.Get("Location"), "Two for the stair, tile 2"} {
		assert.Contains(t, body, want)
	}

	res, _ = s.post(page+"/remove", nil)
	assert.Contains(t, res.Header.Get("Location"), "/commissions?removed=")
	_, body = s.get("/commissions")
	assert.NotContains(t, body, "Two for the stair")
	res, _ = s.post(page+"/restore", nil)
	assert.Equal(t, page, res.Header.Get("Location"))
	_, body = s.get("/commissions")
	assert.Contains(t, body, "Two for the stair")
}
