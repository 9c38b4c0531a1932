package studio_test

import (
	"bytes"
	"fmt"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/device"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

func (b *bench) days(t *testing.T) studio.Days {
	t.Helper()
	d, err := b.Days(ctx)
	require.NoError(t, err)
	return d
}

func (b *bench) set(t *testing.T, values map[string]string) {
	t.Helper()
	_, n, err := b.EditSettings(ctx, values)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
}

func task(t *testing.T, d studio.Days, key string) studio.PlannedTask {
	t.Helper()
	for _, x := range d.Tasks {
		if x.Key == key {
			return x
		}
	}
	require.Fail(t, "no task "+key)
	return studio.PlannedTask{}
}

// Every planned task lies in opening hours, after what it waits for, one at a
// time; paint dries a day before resin (common practice).
func TestDaysKeepTheRulesOfTheTrade(t *testing.T) {
	b := open(t) // Monday 2 March 2026, 07:00
	newPiece(t, b.Studio, func(s *studio.Spec) { s.Edge, s.EdgeHeight = surface.Dam, 3 })
	newPiece(t, b.Studio, func(s *studio.Spec) { s.Name, s.Sides = "Other", surface.SidesRunOver })
	d := b.days(t)
	require.Empty(t, d.LeftOut)
	require.Len(t, d.Pieces, 2)
	var last time.Time
	for _, x := range d.Tasks {
		assert.NotEqual(t, time.Sunday, x.Start.Weekday(), x.Name)
		if x.Hands > 0 {
			assert.False(t, x.Start.Before(last), "%s begins before the hands are free", x.Name)
			last = x.End
			assert.True(t, x.Start.Hour() >= 8 && (x.End.Hour() < 20 || (x.End.Hour() == 20 && x.End.Minute() == 0)), "%s %s", x.Name, x.Start)
		}
	}
	sides := task(t, d, "sides:2")
	for _, x := range d.Tasks {
		if x.PieceID == sides.PieceID && x.Key == "first:pour" {
			assert.GreaterOrEqual(t, x.Start.Sub(sides.End), 24*time.Hour)
		}
	}
	tape := task(t, d, "first:tape")
	pour := task(t, d, "first:pour")
	wait := tape.Start.Sub(pour.End).Hours()
	assert.True(t, wait > 3 && wait < 9, "tape at soft set, 4–6 h at 25 °C and later in a cooler room: %g h", wait)
	assert.NotEmpty(t, task(t, d, "deliver"))
}

func TestPinsAndMarksMoveTheRest(t *testing.T) {
	b := open(t)
	p := newPiece(t, b.Studio, nil)
	d := b.days(t)
	pour := task(t, d, "first:pour")
	pin := time.Date(2026, 3, 6, 10, 0, 0, 0, time.Local)
	require.NoError(t, b.PinTask(ctx, p.ID, pour.Key, pin))
	d = b.days(t)
	assert.True(t, task(t, d, "first:pour").Start.Equal(pin))
	assert.True(t, task(t, d, "first:pour").Pinned)
	assert.True(t, task(t, d, "second:pour").Start.After(pin.Add(20*time.Hour)), "the rest follows")
	var refused *studio.RefusedError
	assert.ErrorAs(t, b.PinTask(ctx, p.ID, pour.Key, pin.Add(14*time.Hour)), &refused, "at midnight")
	assert.ErrorAs(t, b.PinTask(ctx, p.ID, pour.Key, pin.AddDate(0, 0, -9)), &refused, "in the past")
	// A pin that its waits do not allow is let go, and said.
	require.NoError(t, b.PinTask(ctx, p.ID, "top:pour", pin.Add(time.Hour)))
	d = b.days(t)
	assert.NotEmpty(t, d.Reasons)
	require.NoError(t, b.PinTask(ctx, p.ID, "top:pour", time.Time{}))
	require.NoError(t, b.PinTask(ctx, p.ID, "first:pour", time.Time{}))

	b.now = b.now.Add(2 * time.Hour)
	first := task(t, b.days(t), "sides:1")
	require.NoError(t, b.MarkTask(ctx, p.ID, first.Key, b.now))
	assert.True(t, task(t, b.days(t), "sides:1").Done)
	require.NoError(t, b.MarkTask(ctx, p.ID, first.Key, time.Time{}))
	assert.False(t, task(t, b.days(t), "sides:1").Done)
}

func TestWhatHappenedMovesTheRest(t *testing.T) {
	b := open(t)
	d := b.start(t, func(s *studio.Spec) { s.Edge, s.EdgeHeight, s.Start = surface.Dam, 3, b.now.AddDate(0, 0, 4) }, 0)
	planned := task(t, b.days(t), "second:pour").Start
	b.now = b.now.Add(5 * time.Hour) // the pour happens at noon, days before its plan
	for b.look(t, d).Current.Kind != studio.StepBubbles {
		d = b.press(t, d, 2*time.Minute)
	}
	days := b.days(t)
	pour := task(t, days, "first:pour")
	assert.True(t, pour.Done)
	assert.Equal(t, 12, pour.End.Hour())
	assert.True(t, task(t, days, "second:pour").Start.Before(planned))
	piece := plan(t, b.Studio, d.PieceID)
	assert.True(t, piece.Coats[0].Made)
	assert.Equal(t, 12, piece.Coats[0].Met.Hour())

	b.now = b.now.Add(20 * time.Hour) // the tape was forgotten over night
	days = b.days(t)
	require.NotEmpty(t, days.Repairs)
	assert.Contains(t, days.Repairs[0], "warm the edge")
	assert.False(t, task(t, days, "first:tape").Done)
}

func TestLateIsExplainedAndCured(t *testing.T) {
	b := open(t)
	b.set(t, map[string]string{"days_off": "sat, sun"})
	due := time.Date(2026, 3, 9, 0, 0, 0, 0, time.Local)
	for i := range 3 {
		p := newPiece(t, b.Studio, func(s *studio.Spec) {
			s.Name, s.Due, s.Start = fmt.Sprint("Board ", i), due, time.Date(2026, 3, 5, 9, 0, 0, 0, time.Local)
		})
		_ = p
	}
	d := b.days(t)
	require.Positive(t, d.Late)
	require.NotEmpty(t, d.Reasons)
	ways, err := b.WaysOut(ctx)
	require.NoError(t, err)
	require.NotEmpty(t, ways)
	for _, w := range ways {
		assert.Positive(t, w.Saves, w.Name)
		then, name, err := b.WhatIf(ctx, w.Key)
		require.NoError(t, err)
		assert.Equal(t, w.Name, name)
		assert.Equal(t, w.Late, time.Duration(then.Late)*time.Minute, "each way is proved by planning with it")
	}
	assert.Equal(t, d.Late, b.days(t).Late, "a what-if keeps nothing")
}

func TestImpossibleStudiosAreSaid(t *testing.T) {
	b := open(t)
	b.set(t, map[string]string{"open_from": "08:00", "open_to": "09:05", "shelf": "1 of 20 x 20 cm"})
	newPiece(t, b.Studio, func(s *studio.Spec) { s.Width, s.Height = 1200, 900 })
	d := b.days(t)
	assert.NotEmpty(t, append(d.LeftOut, d.Reasons...), "an hour a day is not enough for a board of a square metre")
	assert.Contains(t, strings.Join(append(d.LeftOut, d.Reasons...), " "), "longer than the studio is ever open")
	_, n, err := b.EditSettings(ctx, map[string]string{"days_off": "mon tue wed thu fri sat sun", "shelf": "many", "closed": "yuletide", "school.tape": "never"})
	require.NoError(t, err)
	assert.Len(t, n.Errors, 4)
}

// The night the clocks change, waits are of hours that really pass.
func TestDaysOverDaylightSaving(t *testing.T) {
	berlin, err := time.LoadLocation("Europe/Berlin")
	require.NoError(t, err)
	was := time.Local
	time.Local = berlin
	defer func() { time.Local = was }()
	b := open(t)
	b.now = time.Date(2026, 3, 28, 7, 0, 0, 0, berlin)
	b.set(t, map[string]string{"days_off": ""})
	newPiece(t, b.Studio, func(s *studio.Spec) { s.Sides, s.BackMask, s.Start = surface.SidesPainted, false, time.Time{} })
	d := b.days(t)
	pour, second := task(t, d, "first:pour"), task(t, d, "second:pour")
	assert.Equal(t, 28, pour.Start.Day())
	hard := plan(t, b.Studio, pour.PieceID).Coats[0]
	least := hard.Windows["Hard"].From.Sub(hard.Covered)
	assert.GreaterOrEqual(t, second.Start.Sub(pour.End), least-time.Minute)
	assert.GreaterOrEqual(t, second.Start.Hour(), 8, "by the clock on the wall")
}

func TestCoatPlansAreEditedAndChecked(t *testing.T) {
	b := open(t)
	p := newPiece(t, b.Studio, nil)
	_, err := b.ChangeLayers(ctx, p.ID, "add", "", map[string]string{"what": "leaf"})
	require.NoError(t, err)
	pl := plan(t, b.Studio, p.ID)
	var ids []string
	for _, l := range pl.LayerViews() {
		ids = append(ids, l.ID)
	}
	assert.Equal(t, []string{"sides", "mask", "first", "second", "leaf", "top", "drips", "finish-sides", "hang", "photograph"}, ids, "leaf before the coat that seals it")
	assert.Equal(t, studio.Settled, pl.Worst(studio.PartDays), "%v", pl.Of(studio.PartDays))
	leaf := task(t, b.days(t), "leaf:1")
	assert.True(t, leaf.Start.After(task(t, b.days(t), "second:pour").End.Add(18*time.Hour)), "on a hard coat")

	for range 2 {
		_, err = b.ChangeLayers(ctx, p.ID, "down", "leaf", nil)
		require.NoError(t, err)
	}
	pl = plan(t, b.Studio, p.ID)
	assert.Equal(t, studio.Trouble, pl.Worst(studio.PartDays), "leaf that is not sealed")
	_, err = b.ChangeLayers(ctx, p.ID, "add", "", map[string]string{"what": "veil"})
	require.NoError(t, err)
	pl = plan(t, b.Studio, p.ID)
	require.Len(t, pl.Coats, 4)
	assert.Equal(t, "veil", pl.Coats[2].Technique.ID)
	assert.Len(t, pl.Coats[2].Cups, 2, "clear and a thin white")
	_, err = b.ChangeLayers(ctx, p.ID, "remove", "first", nil)
	assert.Error(t, err)
	_, err = b.ChangeLayers(ctx, p.ID, "edit", "veil", map[string]string{"film": "0.8 mm", "keeps": "the rust"})
	require.NoError(t, err)
	_, err = b.ChangeLayers(ctx, p.ID, "usual", "", nil)
	require.NoError(t, err)
	assert.Len(t, plan(t, b.Studio, p.ID).Coats, 3)
	for _, x := range technique.Preparations {
		assert.Len(t, technique.SafetyNotes(x.Safety...), len(x.Safety), x.ID)
	}
}

func TestACommissionGoesItsWay(t *testing.T) {
	b := open(t)
	c, n, err := b.SaveCommission(ctx, 0, 0, map[string]string{"name": "Three panels", "client": "Maren Quill", "due": "2026-05-01"})
	require.NoError(t, err)
	require.True(t, n.OK())
	tile, err := b.AddTile(ctx, c.ID, "", "cell")
	require.NoError(t, err)
	other, err := b.AddTile(ctx, c.ID, "", "flow")
	require.NoError(t, err)
	assert.Equal(t, "Three panels, tile 2", other.Name)
	assert.True(t, tile.Tile)
	_, _, err = b.BoardsFromTile(ctx, c.ID, map[string]string{"size": "60 x 90 cm"})
	assert.Error(t, err, "before one was chosen")
	assert.Error(t, b.ChooseTile(ctx, c.ID, newPiece(t, b.Studio, nil).ID, ""), "a piece that is no tile of it")
	require.NoError(t, b.ChooseTile(ctx, c.ID, tile.ID, "the calmest"))
	boards, n, err := b.BoardsFromTile(ctx, c.ID, map[string]string{"size": "60 x 90 cm", "count": "3"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	assert.Equal(t, 3, boards.Count)
	assert.Equal(t, "cell", boards.Technique)
	assert.Equal(t, tile.Film, boards.Film)
	assert.Equal(t, time.May, boards.Due.Month())
	c, err = b.Commission(ctx, c.ID)
	require.NoError(t, err)
	assert.Equal(t, studio.CommissionMaking, c.State)
	assert.Equal(t, "the calmest", c.Why)
	_, n, err = b.SaveCommission(ctx, c.ID, c.Rev-1, map[string]string{"client": "Late"})
	require.NoError(t, err)
	assert.False(t, n.OK(), "another page was faster")
	_, n, err = b.SaveCommission(ctx, c.ID, c.Rev, map[string]string{"state": "handed over", "handed": "with care notes"})
	require.NoError(t, err)
	require.True(t, n.OK())
	pieces, err := b.PiecesOf(ctx, c.ID)
	require.NoError(t, err)
	require.Len(t, pieces, 3)
	for _, p := range pieces {
		assert.Equal(t, studio.StateDone, p.State, "what was handed over is no longer planned")
	}
	require.NoError(t, b.AddCommissionPicture(ctx, c.ID, picture(t)))
	ids, err := b.CommissionPictures(ctx, c.ID)
	require.NoError(t, err)
	assert.Len(t, ids, 1)
	_, n, err = b.SaveCommission(ctx, 0, 0, map[string]string{"name": " ", "due": "soon"})
	require.NoError(t, err)
	assert.Len(t, n.Errors, 2)
}

func TestTodayTheLetterAndTheFeed(t *testing.T) {
	b := open(t)
	folder := t.TempDir()
	b.ConnectMail(device.Post{Outbox: folder})
	empty, err := b.Today(ctx)
	require.NoError(t, err)
	assert.True(t, empty.Empty)
	require.NoError(t, b.Remind(ctx))
	newPiece(t, b.Studio, func(s *studio.Spec) { s.Width, s.Height = 900, 900; s.Due = b.now.AddDate(0, 0, 9) })
	today, err := b.Today(ctx)
	require.NoError(t, err)
	assert.NotEmpty(t, today.Do)
	assert.Len(t, today.Due, 1)
	assert.NotEmpty(t, today.Low, "three coats of 0.81 m² take more than two kits")

	b.now = time.Date(2026, 3, 2, 6, 59, 0, 0, time.Local)
	require.NoError(t, b.Remind(ctx))
	letters, err := b.Letters(ctx)
	require.NoError(t, err)
	assert.Empty(t, letters, "not before the hour")
	b.now = b.now.Add(2 * time.Minute)
	for range 3 {
		require.NoError(t, b.Remind(ctx))
	}
	letters, err = b.Letters(ctx)
	require.NoError(t, err)
	require.Len(t, letters, 1, "once a day")
	assert.Contains(t, letters[0].Body, "08:00")
	files, err := filepath.Glob(filepath.Join(folder, "*.eml"))
	require.NoError(t, err)
	assert.Len(t, files, 1)

	secret, err := b.FeedSecret(ctx, false)
	require.NoError(t, err)
	var ics bytes.Buffer
	require.NoError(t, b.Feed(ctx, secret, &ics))
	assert.Contains(t, ics.String(), "UID:1-first:pour@jevvo")
	assert.ErrorIs(t, b.Feed(ctx, "guess", &bytes.Buffer{}), store.ErrNotFound)
	fresh, err := b.FeedSecret(ctx, true)
	require.NoError(t, err)
	assert.NotEqual(t, secret, fresh)
	assert.ErrorIs(t, b.Feed(ctx, secret, &bytes.Buffer{}), store.ErrNotFound, "the old address stops")
}

func TestChangesSinceYesterdayAreSaid(t *testing.T) {
	b := open(t)
	p := newPiece(t, b.Studio, func(s *studio.Spec) { s.Start = time.Time{} })
	b.days(t)
	b.now = b.now.AddDate(0, 0, 1)
	require.NoError(t, b.PinTask(ctx, p.ID, "first:pour", time.Date(2026, 3, 12, 9, 0, 0, 0, time.Local)))
	d := b.days(t)
	assert.Equal(t, "2026-03-02", d.Since)
	require.NotEmpty(t, d.Changed)
}

// Nights that are colder than days move the windows.
func TestTheNightIsReckonedWith(t *testing.T) {
	b := open(t)
	newPiece(t, b.Studio, nil)
	warm := task(t, b.days(t), "deliver").Start
	b.set(t, map[string]string{"night": "12 C"})
	cold := task(t, b.days(t), "deliver").Start
	assert.True(t, cold.After(warm), "cold nights put the cure off: %s, %s", warm, cold)
}

// studioOf fills a studio with many open pieces for the benchmarks.
func studioOf(b *testing.B, n int) (*studio.Studio, *time.Time) {
	db, err := store.Open(ctx, filepath.Join(b.TempDir(), "jevvo.db"))
	require.NoError(b, err)
	b.Cleanup(func() { db.Close() })
	now := time.Date(2026, 3, 2, 7, 0, 0, 0, time.Local)
	st, err := studio.New(ctx, db, device.NewSimulatedScale(1, 0.1), func() time.Time { return now })
	require.NoError(b, err)
	for i := range n {
		spec, err := st.Draft(ctx)
		require.NoError(b, err)
		spec.Name, spec.Start, spec.Second = fmt.Sprint("Board ", i), time.Time{}, studio.SecondNone
		spec.Due = now.AddDate(0, 0, 20+i)
		if _, err := st.AddPiece(ctx, spec); err != nil {
			b.Fatal(err)
		}
	}
	return st, &now
}

// BenchmarkReplanStudio is the whole plan of 40 pieces after one event: a task
// was done.
func BenchmarkReplanStudio(b *testing.B) {
	st, now := studioOf(b, 40)
	_, err := st.Days(ctx)
	require.NoError(b, err)
	i := 0
	for b.Loop() {
		*now = now.Add(time.Minute)
		require.NoError(b, st.MarkTask(ctx, int64(1+i%40), "sides:1", *now))
		i++
		d, err := st.Days(ctx)
		require.NoError(b, err)
		b.ReportMetric(float64(len(d.Tasks)), "tasks")
	}
}
