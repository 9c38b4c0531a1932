package web_test

import (
	"regexp"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/testsize"
	"jevvo/internal/web/frame"
)

var outstanding = regexp.MustCompile(`class="button is-primary" href="([^"?]*)`)

// One action of a piece stands out at a time, in the order of work: compose it, play it,
// pour it on its day, go on with the pour, say what came of it; then nothing is left.
func TestOneActionOfAPieceStandsOut(t *testing.T) {
	testsize.Sequential(t)
	now := monday
	s := openWith(t, frame.Options{}, func() time.Time { return now })
	p := s.piece(map[string]string{"sides": "painted", "sealed": "yes", "back_mask": "no", "edge": "open"})
	at := frame.Piece(p.ID, "")
	next := func() string {
		found := outstanding.FindAllStringSubmatch(s.get(at), -1)
		require.LessOrEqual(t, len(found), 1)
		if len(found) == 0 {
			return ""
		}
		return found[0][1]
	}
	assert.Equal(t, at+"/composition", next())
	_, err := s.Pieces.StartComposition(t.Context(), p.ID, plan.FirstCoat, "lanes")
	require.NoError(t, err)
	assert.Equal(t, at+"/preview", next())
	v, err := s.Preview.View(t.Context(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	play, err := s.Preview.Play(v)
	require.NoError(t, err)
	require.NoError(t, play.End(t.Context()).Err)
	assert.Equal(t, at+"/bench", next(), "its day is today")

	b, err := s.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	assert.Equal(t, "/benches/1", next())
	for !b.Finished() {
		now = now.Add(2 * time.Minute)
		b, err = s.Bench.Log().Press(t.Context(), b.ID, b.Rev, false, session.StepDone)
		require.NoError(t, err)
	}
	for _, c := range s.view(read(t, s, p.ID)).Coats {
		require.NoError(t, s.Agenda.Mark(t.Context(), p.ID, plan.PourKey(c.ID), now))
	}
	assert.Equal(t, at+"/result", next())
	w, err := s.Journal.View(t.Context(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	w.Result.Mark = 4
	require.NoError(t, s.Journal.Keep(t.Context(), w, w.Result))
	assert.Empty(t, next())
	assert.Contains(t, plainText(s.get(at)), "Rated 4 of 5.")
}

func read(t *testing.T, s *site, id int64) pieces.Piece {
	t.Helper()
	p, err := s.Pieces.Piece(t.Context(), id)
	require.NoError(t, err)
	return p
}
