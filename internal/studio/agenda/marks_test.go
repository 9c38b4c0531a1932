package agenda_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studiotest"
)

var firstPour = plan.PourKey(plan.FirstCoat)

// A pin is a time to come, in opening hours, to five minutes, of a task there is.
func TestWhereATaskMayBePinned(t *testing.T) {
	r := studiotest.Open(t) // Monday 2 March 2026, 08:00
	p := r.Piece(map[string]string{})
	pin := func(task string, at time.Time) error { return r.Agenda.Pin(r.Ctx(), p.ID, task, at) }
	nine := time.Date(2026, 3, 6, 9, 0, 0, 0, time.Local)
	require.NoError(t, pin(firstPour, nine.Add(2*time.Minute)))
	assert.True(t, studiotest.TaskOf(t, r.Days(), firstPour).Start.Equal(nine), "to the nearest five minutes")
	require.NoError(t, pin(firstPour, time.Time{}))
	assert.False(t, studiotest.TaskOf(t, r.Days(), firstPour).Pinned)
	var refused *form.Refused
	assert.ErrorAs(t, pin(firstPour, r.Clock.T.Add(-time.Minute*5)), &refused, "five minutes ago")
	assert.NoError(t, pin(firstPour, r.Clock.T), "now")
	assert.ErrorIs(t, pin("pour/none", nine), store.ErrNotFound)
	assert.NoError(t, pin("pour/none", time.Time{}), "what is gone from the plan can be let go")
	assert.ErrorIs(t, r.Agenda.Pin(r.Ctx(), 4711, firstPour, time.Time{}), store.ErrNotFound)
	assert.ErrorIs(t, r.Agenda.Mark(r.Ctx(), p.ID, "pour/none", nine), store.ErrNotFound)
}

// A task that is ticked off ended then and took the hands it was planned for; taken back, it is to do.
func TestATickedTaskEndedThen(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	hands := studiotest.TaskOf(t, r.Days(), firstPour).Hands
	done := r.Clock.T.Add(3 * time.Hour)
	r.Clock.T = done
	require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, firstPour, done))
	c := r.Plan(p).Coats[0]
	assert.True(t, c.Made)
	assert.WithinDuration(t, done.Add(-time.Duration(hands)*time.Minute), c.Start, time.Second)
	require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, firstPour, time.Time{}))
	assert.False(t, r.Plan(p).Coats[0].Made)
}

// The plan is kept once a day; the next day says what moved, came and went since, in order of time.
func TestWhatMovedSinceYesterday(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"name": "Kept"})
	gone := r.Piece(map[string]string{"name": "Gone", "start": "2026-03-20T10:00"})
	moved, of, err := r.Agenda.Since(r.Ctx(), r.Days())
	require.NoError(t, err)
	assert.Empty(t, of, "no day was kept yet")
	assert.Empty(t, moved)
	require.NoError(t, r.Agenda.KeepDay(r.Ctx()))
	r.Edit(p, map[string]string{"start": "2026-03-09T10:00"})
	require.NoError(t, r.Agenda.KeepDay(r.Ctx()), "a second time on a day keeps the first")
	r.Clock.T = r.Clock.T.AddDate(0, 0, 1)
	require.NoError(t, r.Pieces.Remove(r.Ctx(), gone.ID, false))
	r.Piece(map[string]string{"name": "New"})
	a := r.Days()
	moved, of, err = r.Agenda.Since(r.Ctx(), a)
	require.NoError(t, err)
	assert.Equal(t, "2026-03-02", of)
	kinds := map[string][3]int{}
	last := time.Time{}
	for _, m := range moved {
		k := kinds[m.Piece]
		at := m.Is
		switch {
		case m.Is.IsZero():
			k[0]++
			at = m.Was
		case m.Was.IsZero():
			k[1]++
		default:
			k[2]++
			assert.False(t, m.Was.Equal(m.Is), m.Task)
		}
		kinds[m.Piece] = k
		assert.False(t, at.Before(last), "in order of time")
		last = at
	}
	assert.Positive(t, kinds["Gone"][0])
	assert.Zero(t, kinds["Gone"][1]+kinds["Gone"][2])
	assert.Positive(t, kinds["New"][1])
	assert.Zero(t, kinds["New"][0]+kinds["New"][2])
	assert.Positive(t, kinds["Kept"][2])
	assert.Zero(t, kinds["Kept"][0]+kinds["Kept"][1])
}

// Later moves the next coat by whole days from where it stands, and leaves what is poured alone.
func TestLaterByDays(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"due": "2026-06-01"})
	poured := r.Piece(map[string]string{"name": "Poured"})
	for _, l := range r.Plan(poured).Plan.Layers {
		if l.Coat != nil {
			require.NoError(t, r.Agenda.Mark(r.Ctx(), poured.ID, plan.PourKey(l.ID), r.Clock.T))
		}
	}
	was := r.Plan(p).Coats[0].Start
	var refused *form.Refused
	for _, bad := range []int{-1, 0, 367} {
		_, err := r.Agenda.Later(r.Ctx(), []int64{p.ID}, bad)
		assert.ErrorAs(t, err, &refused, "%d days", bad)
	}
	_, err := r.Agenda.Later(r.Ctx(), []int64{p.ID, poured.ID}, 10)
	require.NoError(t, err)
	now := r.ReadPiece(p.ID)
	y, m, d := was.Local().Date()
	assert.True(t, now.Start.Equal(time.Date(y, m, d+10, 0, 0, 0, 0, time.Local)), "%s", now.Start)
	assert.Equal(t, p.Due, now.Due, "the day it is due stays")
	assert.False(t, r.Plan(now).Coats[0].Start.Before(now.Start))
	assert.Equal(t, poured.Spec.Start, r.ReadPiece(poured.ID).Spec.Start)
	_, err = r.Agenda.Later(r.Ctx(), []int64{p.ID}, 366)
	assert.NoError(t, err, "a year")
	_, err = r.Agenda.Later(r.Ctx(), []int64{4711}, 1)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// A set that fits no place, and one of more boards than places, are planned without one and said.
func TestPlacesThatDoNotDo(t *testing.T) {
	r := studiotest.Open(t)
	_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"rack": "2 of 60 x 60 cm"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	wide := r.Piece(map[string]string{"name": "Wide", "size": "70 x 40 cm"})
	set := r.Piece(map[string]string{"name": "Three", "size": "30 x 30 cm", "count": "3"})
	r.Piece(map[string]string{"name": "Two", "size": "60 x 60 cm", "count": "2"})
	got := map[int64]agenda.Note{}
	for _, note := range r.Days().Notes {
		got[note.Piece] = note
	}
	require.Len(t, got, 2)
	assert.Equal(t, agenda.NoPlaceFits, got[wide.ID].Code)
	assert.Equal(t, agenda.FewPlaces, got[set.ID].Code)
	assert.Equal(t, [2]int{3, 2}, [2]int{got[set.ID].Need, got[set.ID].Have})
	for _, p := range []int64{wide.ID, set.ID} {
		assert.NotNil(t, r.Days().Of(p), "it is planned all the same")
	}
}

// A window that closed while its task was not done is given up, and its repair is said: the tape
// comes off with warm air, a coat waits for hard.
func TestMissedWindowsAreSaid(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"edge": "dam", "sides": "taped"})
	require.NoError(t, r.Agenda.Mark(r.Ctx(), p.ID, firstPour, r.Clock.T))
	codes := func() map[agenda.NoteCode]int {
		out := map[agenda.NoteCode]int{}
		for _, n := range r.Days().Notes {
			out[n.Code]++
		}
		return out
	}
	r.Clock.T = r.Clock.T.Add(time.Hour)
	assert.Zero(t, codes()[agenda.TapeMissed], "it is not soft set yet")
	r.Clock.T = r.Clock.T.AddDate(0, 0, 1)
	assert.Equal(t, 1, codes()[agenda.TapeMissed])
	for _, x := range r.Days().TasksOf(p.ID) {
		assert.False(t, x.Kind == plan.TaskLook && !x.Done && x.Start.Before(r.Clock.T), "it is too late to look for bubbles")
	}
}

// A coat that is asked for by an id there is none of is the first; what-ifs are known by their key.
func TestWhatIsNotThere(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	v, c, err := r.Agenda.Coat(r.Ctx(), p, plan.TopCoat)
	require.NoError(t, err)
	assert.Same(t, v.Plan.Coat(plan.TopCoat), c)
	v, c, err = r.Agenda.Coat(r.Ctx(), p, "none")
	require.NoError(t, err)
	assert.Same(t, &v.Plan.Coats[0], c)
	_, _, err = r.Agenda.WhatIf(r.Ctx(), "none")
	assert.ErrorIs(t, err, store.ErrNotFound)
	for _, w := range agenda.ToTry() {
		a, name, err := r.Agenda.WhatIf(r.Ctx(), w.Key)
		require.NoError(t, err, w.Key)
		assert.Equal(t, w.Name, name)
		assert.NotNil(t, a.Of(p.ID), w.Key)
	}
}
