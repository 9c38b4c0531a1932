package session_test

import (
	"bytes"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/studiotest"
	"jevvo/internal/words"
)

// A room with a piece of two batches, and the log of its days.
type room struct {
	*studiotest.Room
	log   *session.Log
	piece pieces.Piece
	coat  *plan.Coat
	plan  *plan.Plan
}

func open(t *testing.T) *room {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "90 x 60 cm", pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
	v := r.Plan(p)
	c := v.Plan.Coat(plan.FirstCoat)
	require.GreaterOrEqual(t, len(c.Batches), 2)
	return &room{r, r.Bench.Log(), p, c, v.Plan}
}

// setUp is a day of the piece's first coat, as it is planned.
func (r *room) setUp() session.Bench {
	return session.Bench{Piece: r.piece.Name, Name: msg.Store(msg.Own("Flood")), Technique: msg.Preset("Flood"),
		Way:      r.coat.Layer.What,
		Kinetics: r.coat.Product.Kinetics, Film: r.coat.Film, Room: 21,
		Batches: session.Batches(r.coat),
		Steps:   session.Steps(r.plan, r.coat, r.named, units.Metric), Cups: session.Cups(r.plan, r.coat),
		Takes: stock.Takes(r.plan, r.coat, nil), Speed: 10}
}

func (r *room) named(s plan.Step) msg.Text { return words.Step(s, len(r.coat.Batches)) }

func (r *room) start(rehearsal bool, done ...string) session.Bench {
	r.T.Helper()
	b, err := r.log.StartBench(r.Ctx(), r.piece.ID, plan.FirstCoat, r.setUp(), rehearsal, done)
	require.NoError(r.T, err)
	return b
}

func (r *room) press(b session.Bench, after time.Duration, p session.Press) session.Bench {
	r.T.Helper()
	r.Clock.T = r.Clock.T.Add(after)
	b, err := r.log.Press(r.Ctx(), b.ID, b.Rev, b.Rehearsal, p)
	require.NoError(r.T, err)
	return b
}

func (r *room) resin() float64 {
	r.T.Helper()
	l, err := r.Stock.Ledger(r.Ctx())
	require.NoError(r.T, err)
	return l.Have(studiotest.ResinOf(r.piece.Spec))
}

func (r *room) weigh(batches int) weighing.Weighing {
	r.T.Helper()
	w, err := r.log.StartWeighing(r.Ctx(), r.piece.ID, plan.FirstCoat,
		weighing.New(r.plan, r.coat, msg.ID("Flood"), msg.English, units.Metric))
	require.NoError(r.T, err)
	by := studiotest.Painter{Way: w.Tares}
	for w.BatchesMixed() < batches && !w.Done {
		r.Clock.T = r.Clock.T.Add(20 * time.Second)
		w = by.Once(r.Room, w)
	}
	return w
}

// A day goes on where it is: who begins it again gets the same one. A rehearsal is one more each time.
func TestADayIsBegunOnce(t *testing.T) {
	r := open(t)
	b := r.start(false, "wax")
	assert.Equal(t, b.ID, r.start(false).ID)
	assert.NotEqual(t, r.start(true).ID, r.start(true).ID)
	open, err := r.log.OpenBenches(r.Ctx())
	require.NoError(t, err)
	require.Len(t, open, 1)
	marks, err := r.DB.TaskMarks(r.Ctx())
	require.NoError(t, err)
	require.Len(t, marks, 1, "what was done just now")
	assert.Equal(t, "wax", marks[0].Task)
	b = r.press(b, time.Minute, session.Close)
	again := r.start(false)
	assert.NotEqual(t, b.ID, again.ID, "that day is over")
	days, err := r.log.BenchesOf(r.Ctx(), r.piece.ID, false)
	require.NoError(t, err)
	require.Len(t, days, 2)
	assert.Equal(t, again.ID, days[0].ID, "the newest first")
	running, err := r.log.Running(r.Ctx())
	require.NoError(t, err)
	assert.Len(t, running, 1)
	all, err := r.log.AllBenches(r.Ctx())
	require.NoError(t, err)
	assert.Len(t, all[r.piece.ID], 2)
}

// A press on what a screen showed before another pressed does nothing, and hands the newer state back.
func TestAnotherScreenWasFaster(t *testing.T) {
	r := open(t)
	b := r.start(false)
	changes, stop := r.log.WatchBench(b.ID, false)
	defer stop()
	newer := r.press(b, time.Minute, session.StepDone)
	<-changes
	got, err := r.log.Press(r.Ctx(), b.ID, b.Rev, false, session.StepDone)
	require.ErrorIs(t, err, session.ErrStale)
	assert.Equal(t, newer.Events, got.Events)
	select {
	case <-changes:
		t.Fatal("nothing changed")
	default:
	}
	got, err = r.log.Press(r.Ctx(), b.ID, 0, false, session.SkippedAt(99))
	require.Error(t, err)
	assert.Equal(t, newer.Rev, got.Rev, "what is refused changes nothing")
	_, err = r.log.Press(r.Ctx(), b.ID+70, 0, false, session.StepDone)
	assert.Error(t, err)
}

// What arrives late counts from when it was pressed, up to a day, and says who pressed it.
func TestPressedWithoutTheStudio(t *testing.T) {
	r := open(t)
	b := r.start(false)
	r.Clock.T = r.Clock.T.Add(time.Hour)
	ctx := session.By(session.Late(r.Ctx(), 50*time.Minute), "Ada")
	b, err := r.log.Press(ctx, b.ID, 0, false, session.StepDone)
	require.NoError(t, err)
	assert.WithinDuration(t, r.Clock.T.Add(-50*time.Minute), b.Events[0].At, 0)
	assert.Equal(t, "Ada", b.Events[0].By)
	assert.Equal(t, r.Clock.T.Add(-24*time.Hour), r.log.When(session.Late(r.Ctx(), 90*time.Hour)))
	assert.Equal(t, r.Clock.T, r.log.When(session.Late(r.Ctx(), -time.Hour)))
	assert.Equal(t, r.Clock.T, r.log.When(r.Ctx()))
}

// The stock goes with the parts of the first batch: once, back when that is taken back, and by what was mixed
// once the day is over. A rehearsal takes nothing.
func TestWhatADayTakes(t *testing.T) {
	r := open(t)
	rehearsal := r.start(true)
	for range 4 {
		rehearsal = r.press(rehearsal, time.Minute, session.StepDone)
	}
	assert.Zero(t, r.resin())
	b := r.start(false)
	for len(b.BatchesMixed()) == 0 {
		assert.Zero(t, r.resin())
		b = r.press(b, time.Minute, session.StepDone)
	}
	total := float64(r.coat.Total)
	assert.InDelta(t, -total, r.resin(), 1e-6)
	b = r.press(b, 0, session.TakeBack)
	assert.InDelta(t, 0, r.resin(), 1e-6)
	b = r.press(b, time.Minute, session.StepDone)
	b = r.press(b, time.Minute, session.Close)
	assert.InDelta(t, -total*float64(r.coat.Batches[0].Volume/b.Planned()), r.resin(), 0.01, "one batch of the plan's")
	again := r.start(false)
	for len(again.BatchesMixed()) == 0 {
		again = r.press(again, time.Minute, session.StepDone)
	}
	assert.InDelta(t, -total*(1+float64(r.coat.Batches[0].Volume/b.Planned())), r.resin(), 0.01,
		"poured twice it took twice")
}

// A photograph is kept once, with what it shows.
func TestAPhotographIsKeptOnce(t *testing.T) {
	r := open(t)
	b := r.start(false)
	for range 2 {
		got, err := r.log.AddPhoto(r.Ctx(), b.ID, []byte("a picture"), session.MomentWet)
		require.NoError(t, err)
		require.Len(t, got.Events, 1)
		assert.Equal(t, session.MomentWet, got.Events[0].Text)
		assert.Positive(t, got.Events[0].Photo)
	}
}

// The clock of a batch begins when its mixing begins on the scale, on the day that goes on or on the one that is
// begun after.
func TestTheScaleStartsTheClock(t *testing.T) {
	r := open(t)
	b := r.start(false)
	w := r.weigh(1)
	b, err := r.log.Bench(r.Ctx(), b.ID, false)
	require.NoError(t, err)
	require.Len(t, b.BatchesMixed(), 1)
	assert.WithinDuration(t, w.Met()[0], b.BatchesMixed()[0], time.Second)
	assert.Equal(t, 1, w.BatchesMixed())

	r = open(t)
	w = r.weigh(1)
	r.Clock.T = r.Clock.T.Add(3 * time.Minute)
	b = r.start(false)
	require.Len(t, b.BatchesMixed(), 1)
	assert.WithinDuration(t, w.Met()[0], b.BatchesMixed()[0], time.Second)
	r.press(b, time.Minute, session.Close)
	assert.Empty(t, r.start(false).BatchesMixed(), "another day poured that")

	r = open(t)
	w = r.weigh(1)
	r.Clock.T = w.Met()[0].Add(plan.Minutes(r.setUp().Clock(cure.Constant(21)).Gel() + 1))
	assert.Empty(t, r.start(false).BatchesMixed(), "it has set in its cup")
}

// A batch is poured before the next is mixed, and the weigh-out says so; of a day that is begun when all is weighed
// nothing is poured yet.
func TestOneBatchIsPouredBeforeTheNext(t *testing.T) {
	r := open(t)
	w := r.weigh(1)
	by := studiotest.Painter{Way: w.Tares}
	for w.Stage != weighing.Tare {
		w = by.Once(r.Room, w)
	}
	assert.Equal(t, 1, w.PourFirst())
	b := r.start(false)
	assert.False(t, b.ReadyFor(2))
	for !b.ReadyFor(2) {
		b = r.press(b, time.Minute, session.StepDone)
	}
	assert.Equal(t, plan.StepMix, b.Steps[b.Cursor()].Kind)

	r = open(t)
	r.weigh(2)
	b = r.start(false)
	require.Len(t, b.BatchesMixed(), 2)
	assert.Equal(t, 1, b.Cursor(), "laid out, and no more")
	assert.False(t, b.ReadyFor(2))
}

// A weigh-out is of the day begun within half a day after it, and of its coat alone.
func TestWeighedBy(t *testing.T) {
	at := time.Date(2026, 3, 2, 20, 0, 0, 0, time.UTC)
	b := session.Bench{Coat: "first", At: at}
	for before, of := range map[time.Duration]bool{0: true, 12*time.Hour - time.Second: true, 12 * time.Hour: false} {
		assert.Equal(t, of, b.WeighedBy(weighing.Weighing{Coat: "first", At: at.Add(-before)}), before)
	}
	assert.False(t, b.WeighedBy(weighing.Weighing{Coat: "top", At: at}))
}

// What is weighed is booked when it is all weighed, by the readings, and taken back with the last of them.
func TestWhatAWeighOutTakes(t *testing.T) {
	r := open(t)
	w := r.weigh(99)
	require.True(t, w.Done)
	took := w.Took()[studiotest.ResinOf(r.piece.Spec)]
	assert.InDelta(t, float64(r.coat.Total), took, float64(r.coat.Total)*0.01)
	assert.InDelta(t, -took, r.resin(), 1e-6)
	w, err := r.log.UndoWeighing(r.Ctx(), w.ID, w.Rev)
	require.NoError(t, err)
	assert.Less(t, w.Took()[studiotest.ResinOf(r.piece.Spec)]-1e-9, took)
	assert.InDelta(t, -w.Took()[studiotest.ResinOf(r.piece.Spec)], r.resin(), 1e-6)
	list, err := r.log.WeighingsOf(r.Ctx(), r.piece.ID)
	require.NoError(t, err)
	assert.Len(t, list, 1)
	_, err = r.log.UndoWeighing(r.Ctx(), w.ID, w.Rev-1)
	assert.ErrorIs(t, err, session.ErrStale)
}

// The scale is zeroed another way from the next cup on, never while one is filled.
func TestZeroedAnotherWay(t *testing.T) {
	r := open(t)
	w, err := r.log.StartWeighing(r.Ctx(), r.piece.ID, plan.FirstCoat,
		weighing.New(r.plan, r.coat, msg.ID("Flood"), msg.English, units.Metric))
	require.NoError(t, err)
	_, err = r.log.SetTares(r.Ctx(), w.ID, w.Rev, "by thumb")
	require.ErrorContains(t, err, "by thumb")
	w, err = r.log.SetTares(r.Ctx(), w.ID, w.Rev, "each")
	require.NoError(t, err)
	w = (&studiotest.Painter{Way: w.Tares}).Once(r.Room, w)
	require.NotEqual(t, weighing.Tare, w.Stage)
	_, err = r.log.SetTares(r.Ctx(), w.ID, w.Rev, "each")
	require.ErrorContains(t, err, "finish this cup")
}

// A day reads the same after a restart.
func TestADayIsReadAgain(t *testing.T) {
	r := open(t)
	b := r.start(false)
	for range 5 {
		b = r.press(b, time.Minute, session.StepDone)
	}
	rows, err := r.DB.Session(r.Ctx(), "bench", b.ID)
	require.NoError(t, err)
	again, err := session.DecodeBench(rows, false)
	require.NoError(t, err)
	assert.Equal(t, b, again)
	rows.Setup = bytes.TrimSuffix(rows.Setup, []byte("}"))
	_, err = session.DecodeBench(rows, false)
	assert.Error(t, err)
}
