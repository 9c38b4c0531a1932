package web_test

import (
	"fmt"
	"image/color"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/web/frame"
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

const pinForm = "2006-01-02T15:04"

// A task is laid at an hour, stays there when the rest is planned anew, and
// is let go again.
func TestATaskIsPinnedOverForms(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{"sealed": "yes"})
	was, ok := moveable(s.get("/days"))["1 first:pour"]
	require.True(t, ok)
	at, err := time.ParseInLocation(pinForm, was, time.Local)
	require.NoError(t, err)
	pin := time.Date(at.Year(), at.Month(), at.Day()+1, 11, 15, 0, 0, time.Local).Format(pinForm)
	typed := func(extra ...string) map[string]string {
		m := map[string]string{"piece": "1", "task": "first:pour"}
		for i := 0; i+1 < len(extra); i += 2 {
			m[extra[i]] = extra[i+1]
		}
		return m
	}
	require.Equal(t, http.StatusSeeOther, s.post("/days/pin", typed("at", pin)).Code)
	body := s.get("/days?from=" + pin[:10])
	assert.Equal(t, pin, moveable(body)["1 first:pour"])
	assert.Contains(t, body, "pinned")

	require.Equal(t, http.StatusSeeOther, s.post("/days/pin", typed()).Code)
	assert.Equal(t, was, moveable(s.get("/days"))["1 first:pour"], "let go, it lies where it lay")

	res := s.post("/days/pin", typed("at", "after lunch"))
	assert.Equal(t, http.StatusUnprocessableEntity, res.Code)
	assert.Contains(t, res.Body.String(), "after lunch")
	res = s.post("/days/pin", map[string]string{"piece": "1", "task": "ninth:pour", "at": pin})
	assert.GreaterOrEqual(t, res.Code, 400, "no such task")
}

// What was done is ticked off on the first page and can be taken back.
func TestATaskIsDoneOverForms(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{"sealed": "yes"})
	done := map[string]string{"piece": "1", "task": "first:pour"}
	require.Equal(t, "/", s.post("/days/done", done).Header().Get("Location"))
	assert.NotContains(t, moveable(s.get("/days")), "1 first:pour", "what is done cannot be moved")
	done["undo"] = "yes"
	require.Equal(t, http.StatusSeeOther, s.post("/days/done", done).Code)
	assert.Contains(t, moveable(s.get("/days")), "1 first:pour", "it is to be done again")
}

// A what-if is shown as one and keeps nothing.
func TestAWhatIfIsMarkedAsOne(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{})
	is := s.get("/days")
	assert.NotContains(t, is, "Nothing is saved.")
	would := s.get("/days?if=evening")
	assert.Contains(t, would, "Nothing is saved.")
	assert.Contains(t, would, "&amp;if=evening", "the weeks beside it are of the same plan")
	assert.Equal(t, moveable(is), moveable(s.get("/days")))
}

// Seven days from a Wednesday on end on the Tuesday after.
func TestAPrintedWeekHasSevenDays(t *testing.T) {
	s := open(t)
	body := s.get("/days/print?from=2026-11-25")
	assert.Contains(t, body, "Tuesday 1 December")
	assert.NotContains(t, body, "Wednesday 2 December")
}

// The calendar is the days in another dress: every task of the plan is an
// event, none at two times, lines folded as RFC 5545 asks.
func TestTheCalendarHoldsTheDays(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{})
	file := s.get("/days.ics")
	uids := map[string]bool{}
	for line := range strings.SplitSeq(file, "\r\n") {
		assert.LessOrEqual(t, len(line), 75, "RFC 5545 3.1")
		if uid, ok := strings.CutPrefix(line, "UID:"); ok {
			assert.False(t, uids[uid], "two events %q", uid)
			uids[uid] = true
		}
	}
	body := s.get("/days")
	for key := range moveable(body) {
		piece, task, _ := strings.Cut(key, " ")
		if !strings.Contains(task, "look") {
			assert.True(t, uids[fmt.Sprintf("%s-%s@jevvo", piece, task)], key)
		}
	}
	feed := "/calendar/" + between(t, body, "/calendar/", "<")
	assert.Equal(t, strings.Count(file, "BEGIN:VEVENT"), strings.Count(s.get(feed), "BEGIN:VEVENT"))
	assert.Equal(t, http.StatusSeeOther, s.post("/calendar/renew", nil).Code)
	assert.Equal(t, http.StatusNotFound, s.do(http.MethodGet, feed, nil, false).Code, "the old address stops")
}

// The coat plan is added to, reordered and put back to the usual one.
func TestTheCoatPlanOverForms(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	at := frame.Piece(p.ID, "/layers")
	names := func() (out []string) {
		got, err := s.Pieces.Piece(t.Context(), p.ID)
		require.NoError(t, err)
		for _, l := range got.Layers {
			out = append(out, string(l.Kind)+l.What)
		}
		return out
	}
	usual := names()
	require.Less(t, s.post(at, map[string]string{"what": "veil"}).Code, 400)
	more := names()
	require.Len(t, more, len(usual)+1)
	got, err := s.Pieces.Piece(t.Context(), p.ID)
	require.NoError(t, err)
	veil := ""
	for _, l := range got.Layers {
		if l.Kind == plan.Resin && l.What == "veil" {
			veil = l.ID
		}
	}
	require.NotEmpty(t, veil)
	for _, how := range []string{"up", "down", "remove"} {
		assert.Less(t, s.post(at+"/"+veil+"/"+how, nil).Code, 400, how)
	}
	assert.Equal(t, usual, names())
	assert.GreaterOrEqual(t, s.post(at, map[string]string{"what": "magic"}).Code, 400)
	for _, l := range got.Layers {
		s.post(at+"/"+l.ID+"/remove", nil)
	}
	assert.NotEmpty(t, names(), "a piece without any coat is none")
	assert.Less(t, s.post(at+"/usual", nil).Code, 400)
	s.get(frame.Piece(p.ID))
}

// A commission from the first letter to the boards, over plain forms.
func TestACommissionOverForms(t *testing.T) {
	s := open(t)
	res := s.post("/commissions", map[string]string{"name": "", "due": "soonish", "client": "<Wren>"})
	assert.Equal(t, http.StatusUnprocessableEntity, res.Code)
	for _, want := range []string{`value="soonish"`, `value="&lt;Wren&gt;"`} {
		assert.Contains(t, res.Body.String(), want)
	}
	res = s.post("/commissions",
		map[string]string{"name": "Two for the stair", "due": monday.AddDate(0, 2, 0).Format(time.DateOnly)})
	require.Equal(t, http.StatusSeeOther, res.Code)
	page := res.Header().Get("Location")

	res = s.upload(page+"/pictures", "picture", "stair.png",
		halves(t, color.NRGBA{1, 90, 9, 255}, color.NRGBA{200, 1, 1, 255}))
	require.Equal(t, http.StatusSeeOther, res.Code)
	s.get(page + "/pictures/1")
	res = s.upload(page+"/pictures", "picture", "stair.png", []byte("GIF89a"))
	assert.Equal(t, http.StatusUnprocessableEntity, res.Code)

	for _, technique := range []string{"cell", "flow"} {
		res = s.post(page+"/tiles", map[string]string{"technique": technique})
		require.Equal(t, http.StatusSeeOther, res.Code, technique)
	}
	tile := strings.TrimPrefix(res.Header().Get("Location"), "/pieces/")
	res = s.post(page+"/from-tile", map[string]string{"size": "60 x 40 cm", "count": "2"})
	assert.Equal(t, http.StatusUnprocessableEntity, res.Code, "none is chosen yet")
	assert.NotEqual(t, http.StatusSeeOther, s.post(page+"/choose", map[string]string{"tile": "99"}).Code,
		"a piece that is no tile of it")
	require.Equal(t, http.StatusSeeOther,
		s.post(page+"/choose", map[string]string{"tile": tile, "why": "it keeps its edge"}).Code)
	res = s.post(page+"/from-tile", map[string]string{"size": "60 x 40 cm", "count": "2"})
	require.Equal(t, http.StatusSeeOther, res.Code)
	body := s.get(page)
	for _, want := range []string{"it keeps its edge", res.Header().Get("Location")} {
		assert.Contains(t, body, want)
	}

	assert.Contains(t, s.post(page+"/remove", nil).Header().Get("Location"), "/commissions?removed=")
	assert.NotContains(t, s.get("/commissions"), "Two for the stair")
	assert.Equal(t, page, s.post(page+"/restore", nil).Header().Get("Location"))
	assert.Contains(t, s.get("/commissions"), "Two for the stair")
}
