package studio_test

import (
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/device"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

func (b *bench) start(t *testing.T, change func(*studio.Spec), speed float64) studio.Bench {
	t.Helper()
	p := newPiece(t, b.Studio, change)
	d, err := b.StartBench(ctx, p.ID, "first", speed)
	require.NoError(t, err)
	return d
}

func (b *bench) look(t *testing.T, d studio.Bench) studio.BenchView {
	t.Helper()
	d, err := b.Bench(ctx, d.ID, d.Rehearsal)
	require.NoError(t, err)
	v, err := b.LookAtBench(ctx, d)
	require.NoError(t, err)
	return v
}

// press does the step in hand after some minutes.
func (b *bench) press(t *testing.T, d studio.Bench, after time.Duration) studio.Bench {
	t.Helper()
	b.now = b.now.Add(after)
	d, err := b.Bench(ctx, d.ID, d.Rehearsal)
	require.NoError(t, err)
	d, err = b.StepDone(ctx, d.ID, d.Rev, d.Rehearsal)
	require.NoError(t, err)
	return d
}

func TestABenchDayIsLedThrough(t *testing.T) {
	b := open(t)
	d := b.start(t, func(s *studio.Spec) { s.Edge, s.EdgeHeight = surface.Dam, 3 }, 0)
	v := b.look(t, d)
	require.Equal(t, "Lay out", v.Current.Name)
	assert.Empty(t, v.Lots)
	d = b.press(t, d, 10*time.Minute)
	v = b.look(t, d)
	assert.Equal(t, "The parts meet now", v.Current.Button)
	d = b.press(t, d, time.Minute) // parts meet
	require.Len(t, b.look(t, d).Lots, 1)
	met := b.look(t, d).Lots[0].Met
	assert.True(t, met.Equal(b.now))
	for b.look(t, d).Current.Zone == 0 { // mix, colour, bed, stripes, bubbles
		d = b.press(t, d, 2*time.Minute)
	}
	v = b.look(t, d)
	assert.Equal(t, "Warm", v.Current.Name)
	assert.Equal(t, 3, v.Current.Zones, "0.16 m² in zones of 0.06")
	assert.Equal(t, studio.WindowOpen, v.Current.State)
	assert.InDelta(t, 10, v.Lots[0].Minutes, 0.1, "mix, colour, bed, stripes, bubbles")
	for b.look(t, d).Current.Zone > 0 {
		d = b.press(t, d, 40*time.Second)
	}
	d = b.press(t, d, time.Minute) // cover
	v = b.look(t, d)
	require.Equal(t, studio.StepBubbles, v.Current.Kind)
	assert.Equal(t, studio.WindowEarly, v.Current.State)
	assert.InDelta(t, 15, v.Current.Left, 0.1, "the first look is a quarter of an hour after the pour")
	for b.look(t, d).Current.Kind == studio.StepBubbles {
		d = b.press(t, d, 15*time.Minute)
	}
	v = b.look(t, d)
	require.Equal(t, "Pull the tape", v.Current.Name)
	assert.Equal(t, studio.WindowEarly, v.Current.State)
	b.now = b.now.Add(time.Duration(v.Current.Left*float64(time.Minute)) + time.Minute)
	assert.Equal(t, studio.WindowOpen, b.look(t, d).Current.State)
	d = b.press(t, d, 0)
	assert.True(t, d.Done)
	open, err := b.OpenBenches(ctx)
	require.NoError(t, err)
	assert.Empty(t, open)
}

// Two screens pressing at once: one step is done, once, and the other is told.
func TestTwoScreensDoNotDoubleAStep(t *testing.T) {
	b := open(t)
	d := b.start(t, nil, 0)
	var wg sync.WaitGroup
	errs := make([]error, 8)
	for i := range errs {
		wg.Add(1)
		go func() {
			defer wg.Done()
			_, errs[i] = b.StepDone(ctx, d.ID, d.Rev, false)
		}()
	}
	wg.Wait()
	done := 0
	for _, err := range errs {
		if err == nil {
			done++
		} else {
			assert.ErrorIs(t, err, studio.ErrStale)
		}
	}
	assert.Equal(t, 1, done)
	assert.Equal(t, 1, b.look(t, d).Past)
}

func TestUndoSkipNoteAndSecondLot(t *testing.T) {
	b := open(t)
	d := b.start(t, nil, 0)
	d = b.press(t, d, 0)
	d = b.press(t, d, time.Minute)
	require.Len(t, b.look(t, d).Lots, 1)
	d, err := b.UndoBench(ctx, d.ID, d.Rev, false)
	require.NoError(t, err)
	assert.Empty(t, b.look(t, d).Lots, "the clock is taken back too")
	d = b.press(t, d, time.Minute)
	d, err = b.StepSkipped(ctx, d.ID, d.Rev, false)
	require.NoError(t, err)
	b.now = b.now.Add(20 * time.Minute)
	d, err = b.PartsMet(ctx, d.ID, d.Rev, false)
	require.NoError(t, err)
	v := b.look(t, d)
	require.Len(t, v.Lots, 2)
	assert.InDelta(t, 20, v.Lots[0].Minutes, 0.1)
	assert.InDelta(t, 0, v.Lots[1].Minutes, 0.1)
	_, err = b.NoteBench(ctx, d.ID, false, "lacing well")
	require.NoError(t, err)
	assert.Equal(t, "lacing well", b.look(t, d).Notes[0].Text)
	_, err = b.NoteBench(ctx, d.ID, false, "  ")
	assert.Error(t, err)
	again, err := b.StartBench(ctx, d.PieceID, "first", 0)
	require.NoError(t, err)
	assert.Equal(t, d.ID, again.ID, "a bench day that goes on is not begun twice")
}

func TestNoFlameOverWhatIsWet(t *testing.T) {
	b := open(t)
	d := b.start(t, func(s *studio.Spec) { s.Technique = "mist" }, 0)
	for b.look(t, d).Current.Name != "Mist or dot" {
		d = b.press(t, d, time.Minute)
	}
	d = b.press(t, d, time.Minute)
	v := b.look(t, d)
	require.True(t, v.Flame.On)
	assert.InDelta(t, 5, v.Flame.Left, 0.1)
	for b.look(t, d).Current.Kind != studio.StepBubbles { // straight on to the first step with a flame
		d, _ = b.Bench(ctx, d.ID, false)
		var err error
		d, err = b.StepSkipped(ctx, d.ID, d.Rev, false)
		require.NoError(t, err)
	}
	assert.True(t, b.look(t, d).Current.Locked)
	_, err := b.StepDone(ctx, d.ID, d.Rev, false)
	assert.ErrorContains(t, err, "no flame")
	b.now = b.now.Add(6 * time.Minute)
	assert.False(t, b.look(t, d).Flame.On)
	_, err = b.StepDone(ctx, d.ID, d.Rev, false)
	assert.NoError(t, err)
}

// A program that is killed goes on with every step, and a clock that was set
// back turns none of them round.
func TestARestartLosesNothing(t *testing.T) {
	path := filepath.Join(t.TempDir(), "jevvo.db")
	now := time.Date(2026, 10, 25, 0, 50, 0, 0, time.Local)
	run := func() (*studio.Studio, *store.Store) {
		db, err := store.Open(ctx, path)
		require.NoError(t, err)
		st, err := studio.New(ctx, db, device.NewSimulatedScale(1, 0.1), func() time.Time { return now })
		require.NoError(t, err)
		return st, db
	}
	st, db := run()
	p := newPiece(t, st, nil)
	d, err := st.StartBench(ctx, p.ID, "first", 0)
	require.NoError(t, err)
	for range 3 {
		d, err = st.StepDone(ctx, d.ID, d.Rev, false)
		require.NoError(t, err)
		now = now.Add(20 * time.Minute)
	}
	db.Close()
	now = now.Add(-time.Hour) // the clock was set back meanwhile
	st, db = run()
	defer db.Close()
	d, err = st.Bench(ctx, d.ID, false)
	require.NoError(t, err)
	v, err := st.LookAtBench(ctx, d)
	require.NoError(t, err)
	assert.Equal(t, 2, v.Past)
	d, err = st.StepDone(ctx, d.ID, d.Rev, false)
	require.NoError(t, err)
	for i := 1; i < len(d.Events); i++ {
		assert.False(t, d.Events[i].At.Before(d.Events[i-1].At))
	}
}

func TestTheRoomMovesTheClock(t *testing.T) {
	b := open(t)
	d := b.start(t, func(s *studio.Spec) { s.Room = 21 }, 0)
	_, err := b.TypeRoom(ctx, "21 °C")
	require.NoError(t, err)
	d = b.press(t, d, 0)
	d = b.press(t, d, 0)
	at21 := b.look(t, d).Lots[0].Closes
	_, err = b.TypeRoom(ctx, "86F") // 30 °C
	require.NoError(t, err)
	b.now = b.now.Add(time.Minute)
	warm := b.look(t, d)
	assert.Less(t, warm.Lots[0].Closes, 0.7*at21, "a warm room hurries the resin")
	assert.Equal(t, studio.RoomTyped, warm.RoomAt.Source)
	_, err = b.TypeRoom(ctx, "400 C")
	assert.Error(t, err)
}

func TestASensorIsNotBelievedBlindly(t *testing.T) {
	b := open(t)
	room := device.NewSimulatedRoom(21, func() time.Time { return b.now })
	b.ConnectRoom(room)
	r, err := b.LookAtRoom(ctx)
	require.NoError(t, err)
	assert.Equal(t, studio.RoomSensor, r.Source)
	good := r.Temperature
	room.Break()
	r, err = b.LookAtRoom(ctx)
	require.NoError(t, err)
	assert.Equal(t, good, r.Temperature)
	assert.Contains(t, r.Words, "85 °C, which cannot be")
	room.Break()
	room.Silence()
	b.now = b.now.Add(20 * time.Minute)
	r, err = b.LookAtRoom(ctx)
	require.NoError(t, err)
	assert.Contains(t, r.Words, "silent")
	r, err = b.RoomNow(ctx)
	require.NoError(t, err)
	assert.Contains(t, r.Words, "Nothing new")
	_, err = b.TypeRoom(ctx, "19")
	require.NoError(t, err)
	r, err = b.LookAtRoom(ctx)
	require.NoError(t, err)
	assert.InDelta(t, 19, float64(r.Temperature), 1e-9, "typing always works")
}

// A rehearsal at sixty times the speed, done step by step in time, scores
// full marks; idled away it does not, and neither is among the real ones.
func TestRehearsalsAreScoredAndKeptApart(t *testing.T) {
	b := open(t)
	run := func(idle time.Duration) *studio.Score {
		d := b.start(t, nil, 60)
		for i := 0; ; i++ {
			require.Less(t, i, 200)
			v := b.look(t, d)
			if v.Current == nil {
				return v.Score
			}
			wait := v.Current.Minutes
			if v.Current.State == studio.WindowEarly {
				wait = v.Current.Left + 0.1
			}
			d = b.press(t, d, time.Duration(wait*float64(time.Minute)/60)+idle)
		}
	}
	good := run(0)
	assert.Equal(t, good.Windows, good.Hit, good.Words)
	assert.Greater(t, good.Points, 95)
	slow := run(4 * time.Second) // four minutes of resin at every step
	assert.Less(t, slow.Points, good.Points-20)
	assert.NotEmpty(t, slow.Words)
	open, err := b.OpenBenches(ctx)
	require.NoError(t, err)
	assert.Empty(t, open, "rehearsals are not wet")
	_, err = b.StartBench(ctx, 1, "first", 500)
	assert.Error(t, err)
}

func TestWeighingStartsTheClock(t *testing.T) {
	b := open(t)
	d := b.start(t, nil, 0)
	w, err := b.StartWeighing(ctx, d.PieceID, "first")
	require.NoError(t, err)
	w, err = b.TareWeighing(ctx, w.ID, w.Rev)
	require.NoError(t, err)
	for range 2 {
		need := w.Need()
		w, err = b.ConfirmTyped(ctx, w.ID, w.Rev, units.Fixed(float64(need.Target), 2))
		require.NoError(t, err)
	}
	v := b.look(t, d)
	require.Len(t, v.Lots, 1, "the clock runs from the moment B met A")
	assert.Equal(t, "Mix", v.Current.Name)
}

func TestForecastsAndReliefs(t *testing.T) {
	b := open(t)
	p := newPiece(t, b.Studio, func(s *studio.Spec) { s.Technique, s.Silicone = "cell", true })
	shelf, err := b.Pigments(ctx)
	require.NoError(t, err)
	for _, x := range shelf {
		if x.Name == "Lacing white" {
			_, err = b.Dose(ctx, p.ID, "first", "c4", x.ID, "2 g")
			require.NoError(t, err)
		}
	}
	pl := plan(t, b.Studio, p.ID)
	f := pl.Forecast(pl.Coats[0])
	require.NotEmpty(t, f.Cells, "white is heavier than what it lies on")
	assert.Equal(t, "Lacing white", f.Cells[0].Upper.Colour.Name)
	assert.Greater(t, float64(f.Cells[0].Spacing), 3.0, "silicone spreads the cells (handbook: 8.5 mm against 2.2)")
	assert.NotEmpty(t, f.Drops)
	assert.Len(t, f.Marks, 3)
	assert.True(t, f.Bubble > 0.01 && f.Bubble < 1, "%g mm", float64(f.Bubble))

	large := newPiece(t, b.Studio, func(s *studio.Spec) { s.Width, s.Height = 1500, 1000 })
	pl = plan(t, b.Studio, large.ID)
	require.False(t, pl.Coats[0].Fit.Holds())
	products, err := b.Products(ctx)
	require.NoError(t, err)
	ways := pl.Reliefs(pl.Coats[0], products)
	names := map[string]studio.Relief{}
	for _, w := range ways {
		names[w.Name] = w
	}
	assert.Contains(t, names, "A second lot for the later steps")
	assert.Contains(t, names, "Fewer, larger zones")
	half := names["Two coats, half the face each"]
	assert.Greater(t, half.Spare, pl.Coats[0].Fit.Spare, "half the face takes half the swiping")
	assert.Empty(t, plan(t, b.Studio, p.ID).Reliefs(plan(t, b.Studio, p.ID).Coats[0], products), "what fits needs no relief")
}

func TestOwnTechniquesAndOwnTimes(t *testing.T) {
	b := open(t)
	id, err := b.CopyTechnique(ctx, "swipe")
	require.NoError(t, err)
	own, rev, err := b.Technique(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "Swipe, our way", own.Name)
	_, n, err := b.SaveTechnique(ctx, id, rev, map[string]string{"name": "Slow swipe", "step.6.m2": "96 min", "step.3.name": ""})
	require.NoError(t, err)
	assert.Len(t, n.Errors, 1)
	_, n, err = b.SaveTechnique(ctx, id, rev, map[string]string{"name": "Slow swipe", "step.6.m2": "96 min"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	_, _, err = b.SaveTechnique(ctx, "swipe", 0, map[string]string{"name": "x"})
	assert.Error(t, err, "what is built in stays")
	require.NoError(t, b.ChangeStep(ctx, id, 3, "after"))
	assert.Error(t, b.ChangeStep(ctx, id, 1, "remove"), "a coat without its mix cannot be")
	p := newPiece(t, b.Studio, func(s *studio.Spec) { s.Technique = id })
	with := plan(t, b.Studio, p.ID)
	assert.Equal(t, "Slow swipe", with.Technique.Name)
	usual := plan(t, b.Studio, newPiece(t, b.Studio, nil).ID)
	assert.Greater(t, with.Coats[0].Fit.Ends, usual.Coats[0].Fit.Ends)

	resin := usual.Product
	_, n, err = b.Observe(ctx, resin.ID, map[string]string{"sign": "lacing-over", "after": "20 min", "seen_room": "25 C"})
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	_, n, err = b.Observe(ctx, resin.ID, map[string]string{"sign": "smell", "after": "soon", "seen_room": "hot"})
	require.NoError(t, err)
	assert.Len(t, n.Errors, 3)
	require.NoError(t, b.UseOwnTimes(ctx, resin.ID, true))
	hurried := plan(t, b.Studio, p.ID)
	assert.Less(t, hurried.Coats[0].Fit.Spare, with.Coats[0].Fit.Spare, "this studio's resin is faster than its sheet")
	require.NoError(t, b.ForgetSeen(ctx, resin.ID, 0))
}

func BenchmarkForecast(b *testing.B) {
	db, err := store.Open(ctx, filepath.Join(b.TempDir(), "jevvo.db"))
	require.NoError(b, err)
	defer db.Close()
	st, err := studio.New(ctx, db, device.NewSimulatedScale(1, 0.1), time.Now)
	require.NoError(b, err)
	spec, err := st.Draft(ctx)
	require.NoError(b, err)
	spec.Name, spec.Technique = "Cells", "cell"
	p, err := st.AddPiece(ctx, spec)
	require.NoError(b, err)
	pl, err := st.Plan(ctx, p.ID)
	require.NoError(b, err)
	for b.Loop() {
		pl.Forecast(pl.Coats[0])
	}
}
