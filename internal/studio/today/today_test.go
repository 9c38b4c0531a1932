package today_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/studiotest"
)

// The week ahead has the days with work alone, each with its pours and what else there is,
// and all the minutes that are not today's or later than a week.
func TestTheWeekAhead(t *testing.T) {
	r := studiotest.Open(t)
	r.Piece(map[string]string{"name": "Ebb", "start": r.Clock.T.AddDate(0, 0, 2).Format("2006-01-02T15:04")})
	now, err := r.Today.Today(r.Ctx())
	require.NoError(t, err)
	require.NotEmpty(t, now.Week)
	hands, pours := 0.0, 0
	for i, day := range now.Week {
		assert.Greater(t, day.Hands, 0.0)
		assert.True(t, day.Date.After(now.Agenda.Base))
		if i > 0 {
			assert.True(t, day.Date.After(now.Week[i-1].Date))
		}
		hands += day.Hands
		pours += len(day.Pours)
		for _, p := range day.Pours {
			assert.Equal(t, plan.TaskPour, p.Kind)
			assert.Equal(t, day.Date.YearDay(), p.Start.In(day.Date.Location()).YearDay())
		}
	}
	want, last := 0.0, now.Agenda.Base.AddDate(0, 0, 8)
	for _, task := range now.Agenda.Tasks {
		if !task.Done && !task.Start.Before(now.Agenda.Base.AddDate(0, 0, 1)) && task.Start.Before(last) {
			want += float64(task.Hands)
		}
	}
	assert.InDelta(t, want, hands, 1e-9)
	assert.Positive(t, pours)
}

// A coat that was poured is watched until it is hard: in which phase it is and when the next begins.
func TestAPouredCoatIsWatchedUntilItIsHard(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"name": "Ebb"})
	poured := r.Clock.T.Add(-10 * time.Hour)
	require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, plan.PourKey(plan.FirstCoat), poured))
	now, err := r.Today.Today(r.Ctx())
	require.NoError(t, err)
	require.Len(t, now.Curing, 1)
	c := now.Curing[0]
	assert.Equal(t, p.ID, c.Piece)
	assert.Equal(t, c.Coat.Windows[c.Phase].From, latest(c.Coat, r.Clock.T))
	assert.True(t, c.Until.After(r.Clock.T))
	assert.False(t, c.Until.After(c.Hard))

	r.Clock.T = c.Hard.Add(time.Minute)
	now, err = r.Today.Today(r.Ctx())
	require.NoError(t, err)
	assert.Empty(t, now.Curing)
}

// latest is when the newest of a coat's phases began.
func latest(c *plan.Coat, at time.Time) (began time.Time) {
	for phase, w := range c.Windows {
		if phase != cure.HeatReady && !w.From.After(at) && w.From.After(began) {
			began = w.From
		}
	}
	return began
}
