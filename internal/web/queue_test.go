package web_test

import (
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web/frame"
)

// What a device kept while the program was away arrives late, in order, with the times
// at which it was pressed; what arrives twice is done once, however much later.
func TestAQueueIsMerged(t *testing.T) {
	now := monday
	s := openWith(t, frame.Options{}, func() time.Time { return now })
	p := s.piece(map[string]string{})
	b, err := s.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	at := "/benches/1"
	now = now.Add(30 * time.Minute)
	send := func(path, once, late string, more map[string]string) int {
		form := map[string]string{"once": once, "late": late}
		for k, v := range more {
			form[k] = v
		}
		return s.post(at+path, form).Code
	}
	for _, again := range []string{"1500000", "1560000"} { // the answer to the first was lost
		assert.Equal(t, http.StatusSeeOther, send("/done", "a", again, map[string]string{"step": "0"}))
	}
	assert.Equal(t, http.StatusSeeOther, send("/note", "b", "600000", map[string]string{"note": "lacing early"}))
	assert.Equal(t, http.StatusSeeOther, send("/note", "b", "660000", map[string]string{"note": "lacing early"}))
	assert.Equal(t, http.StatusConflict, send("/done", "c", "60000", map[string]string{"step": "0"}),
		"another screen had done it")
	assert.Equal(t, http.StatusBadRequest, send("/note", "d", "later", map[string]string{"note": "x"}))

	b, err = s.Bench.Log().Bench(t.Context(), b.ID, false)
	require.NoError(t, err)
	require.Len(t, b.Events, 2)
	assert.Equal(t, monday.Add(5*time.Minute), b.Events[0].At.Local())
	assert.Equal(t, monday.Add(20*time.Minute), b.Events[1].At.Local())
	s.post("/room", map[string]string{"once": "r", "late": "600000", "room": "19"})
	readings, err := s.db.RoomSince(t.Context(), monday)
	require.NoError(t, err)
	require.NotEmpty(t, readings)
	assert.Equal(t, monday.Add(20*time.Minute), readings[len(readings)-1].At.Local(), "the thermometer was read then")
	send("/note", "e", "1800000", map[string]string{"note": "from another device"})
	b, err = s.Bench.Log().Bench(t.Context(), b.ID, false)
	require.NoError(t, err)
	assert.Equal(t, monday.Add(20*time.Minute), b.Events[2].At.Local(), "nothing turns round")
}

// Who pressed stands beside what was noted, and is found in the journal.
func TestWhoNoted(t *testing.T) {
	n := onNetwork(t)
	p := n.piece(map[string]string{})
	_, err := n.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	d := n.paired("bench") // used by Imke
	w, _ := d.ask(http.MethodPost, "/benches/1/note", map[string][]string{"note": {"cells at the rim"}})
	require.Equal(t, http.StatusSeeOther, w.StatusCode)
	assert.Contains(t, n.get("/benches/1"), `cells at the rim <span class="soft">Imke</span>`)
	assert.Contains(t, n.get("/journal?find=imke"), "cells at the rim")
}
