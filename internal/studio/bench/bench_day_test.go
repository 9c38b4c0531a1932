package bench_test

import (
	"fmt"
	"math"
	"os"
	"slices"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/device/simulated"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
	"jevvo/internal/words"
)

func TestMain(m *testing.M) { os.Exit(testsize.Draws(m)) }

func TestTwoScreensDoNotDoubleAStep(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{}, 0)
	var wg sync.WaitGroup
	errs := make([]error, 8)
	for i := range errs {
		wg.Go(func() {
			_, errs[i] = r.Bench.Log().Press(r.Ctx(), b.ID, b.Rev, false, session.StepDone)
		})
	}
	wg.Wait()
	done := 0
	for _, err := range errs {
		if err == nil {
			done++
		} else {
			assert.ErrorIs(t, err, session.ErrStale)
		}
	}
	assert.Equal(t, 1, done)
	assert.Equal(t, 1, r.Look(b).Past)
}

func TestUndoSkipNoteAndSecondBatch(t *testing.T) {
	r := studiotest.Open(t)
	log := r.Bench.Log()
	b := r.Day(map[string]string{}, 0)
	for len(r.Look(b).Mixed) == 0 {
		b = r.Press(b, time.Minute)
	}
	b, err := log.Press(r.Ctx(), b.ID, b.Rev, false, session.TakeBack)
	require.NoError(t, err)
	assert.Empty(t, r.Look(b).Mixed, "the clock is taken back too")
	b = r.Press(b, time.Minute)
	b, err = log.Press(r.Ctx(), b.ID, b.Rev, false, session.StepSkipped)
	require.NoError(t, err)
	r.Clock.T = r.Clock.T.Add(20 * time.Minute)
	b, err = log.Press(r.Ctx(), b.ID, b.Rev, false, session.PartsMeet)
	require.NoError(t, err)
	v := r.Look(b)
	require.Len(t, v.Mixed, 2)
	assert.InDelta(t, 20, v.Mixed[0].Minutes-v.Mixed[1].Minutes, 0.1)
	_, err = r.Bench.Note(r.Ctx(), b.ID, false, "lacing well")
	require.NoError(t, err)
	assert.Equal(t, "lacing well", r.Look(b).Notes[0].Text)
	_, err = r.Bench.Note(r.Ctx(), b.ID, false, "  ")
	assert.Error(t, err)
	again, err := r.Bench.Start(r.Ctx(), b.PieceID, plan.FirstCoat, 0, bench.Answers{})
	require.NoError(t, err)
	assert.Equal(t, b.ID, again.ID, "a bench day that goes on is not begun twice")
}

// A board that nobody prepared is not poured on unawares.
func TestAnUnpreparedBoardIsSaid(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"sealed": "no"})
	_, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{})
	var refused *form.Refused
	require.ErrorAs(t, err, &refused)
	_, err = r.Bench.Start(r.Ctx(), p.ID, plan.SecondCoat, 0, bench.Answers{})
	require.ErrorAs(t, err, &refused, "nor a second coat over one that was never poured")
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	assert.NotEmpty(t, b.StartedAnyway(), "what was open is kept")
}

// Each open point is answered: done now is marked for the days as well, what is
// not needed says why, and what is left open is kept as such.
func TestOpenPointsAreAnswered(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"sealed": "no"})
	v := r.Plan(p)
	guards, err := r.Bench.Guards(r.Ctx(), v, plan.FirstCoat)
	require.NoError(t, err)
	a := bench.Answers{How: map[string]session.Answer{}, Why: map[string]string{}}
	for _, g := range guards {
		a.How[g.Key] = session.DoneNow
	}
	require.Contains(t, a.How, "prime:1")
	require.Contains(t, a.How, "level", "nobody has read the level")
	a.How["level"] = session.Unneeded
	_, err = r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, a)
	require.ErrorContains(t, err, "why it is not needed")
	a.Why["level"] = "the table is ground flat"
	delete(a.How, "mask:1")
	_, err = r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, a)
	require.ErrorContains(t, err, "Mask the back is not ticked off")
	a.How["mask:1"] = session.Anyway
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, a)
	require.NoError(t, err)
	assert.Equal(t, []string{"Mask the back is not ticked off"}, b.StartedAnyway())
	assert.Contains(t, b.Guards,
		session.Guard{What: "The board's level was not read; this film allows 0.32 mm from corner to corner",
			How: session.Unneeded, Why: "the table is ground flat"})
	happened := r.Plan(p).Timing.Happened
	assert.True(t, happened["prime:1"].Done && happened["prime:2"].Done, "the days know it too")
	assert.False(t, happened["mask:1"].Done)
}

// One press says that everything was done, but for what was answered otherwise.
func TestAllIsDoneInOnePress(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"sealed": "no"})
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0,
		bench.Answers{AllDone: true, How: map[string]session.Answer{"mask:1": session.Anyway}})
	require.NoError(t, err)
	assert.Equal(t, []string{"Mask the back is not ticked off"}, b.StartedAnyway())
	happened := r.Plan(p).Timing.Happened
	assert.True(t, happened["prime:1"].Done && happened["prime:2"].Done)
	assert.False(t, happened["mask:1"].Done)
}

func TestNoFlameOverWhatIsWet(t *testing.T) {
	r := studiotest.Open(t)
	log := r.Bench.Log()
	b := r.Day(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): "mist"}, 0)
	for r.Look(b).Current.FlashOff == 0 {
		b = r.Press(b, time.Minute)
	}
	b = r.Press(b, time.Minute)
	v := r.Look(b)
	require.True(t, v.Flame.On)
	for !r.Look(b).Current.Heats { // straight on to the first step with a flame
		b, _ = log.Bench(r.Ctx(), b.ID, false)
		var err error
		b, err = log.Press(r.Ctx(), b.ID, b.Rev, false, session.StepSkipped)
		require.NoError(t, err)
	}
	assert.True(t, r.Look(b).Current.Locked)
	_, err := log.Press(r.Ctx(), b.ID, b.Rev, false, session.StepDone)
	assert.ErrorContains(t, err, "no flame")
	r.Clock.T = r.Clock.T.Add(time.Duration(v.Flame.Left+1) * time.Minute)
	assert.False(t, r.Look(b).Flame.On)
	_, err = log.Press(r.Ctx(), b.ID, b.Rev, false, session.StepDone)
	assert.NoError(t, err)
}

// A program that is killed goes on with every step, and a clock that was set
// back turns none of them round.
func TestARestartLosesNothing(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{}, 0)
	for range 3 {
		b = r.Press(b, 20*time.Minute)
	}
	past := r.Look(b).Past
	r.Clock.T = r.Clock.T.Add(-time.Hour) // the clock was set back meanwhile
	r.Restart()
	assert.Equal(t, past, r.Look(b).Past)
	b = r.Press(b, 0)
	for i := 1; i < len(b.Events); i++ {
		assert.False(t, b.Events[i].At.Before(b.Events[i-1].At))
	}
}

func TestTheRoomMovesTheClock(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{"room": "21 C"}, 0)
	_, err := r.Bench.TypeRoom(r.Ctx(), "21 °C", "")
	require.NoError(t, err)
	for len(r.Look(b).Mixed) == 0 {
		b = r.Press(b, 0)
	}
	at21 := r.Look(b).Mixed[0].Closes
	_, err = r.Bench.TypeRoom(r.Ctx(), "86F", "") // 30 °C
	require.NoError(t, err)
	r.Clock.T = r.Clock.T.Add(time.Minute)
	warm := r.Look(b)
	assert.Less(t, warm.Mixed[0].Closes, 0.7*at21, "a warm room hurries the resin")
	assert.Equal(t, bench.FromTyped, warm.RoomAt.Source)
	_, err = r.Bench.TypeRoom(r.Ctx(), "400 C", "")
	assert.Error(t, err)
}

func TestASensorIsNotBelievedBlindly(t *testing.T) {
	r := studiotest.Open(t)
	sensor := simulated.NewRoom(21, r.Clock.Now)
	r.Bench.Devices().ConnectRoom(sensor, true)
	now, err := r.Bench.LookAtRoom(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, bench.FromSimulated, now.Source, "a stand-in is called what it is")
	good := now.Temperature
	sensor.Break()
	now, err = r.Bench.LookAtRoom(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, good, now.Temperature)
	assert.Contains(t, msg.Say(now.Words, msg.English), "85 °C, which cannot be")
	sensor.Break()
	sensor.Silence()
	r.Clock.T = r.Clock.T.Add(20 * time.Minute)
	now, err = r.Bench.LookAtRoom(r.Ctx())
	require.NoError(t, err)
	assert.Contains(t, msg.Say(now.Words, msg.English), "silent")
}

// A rehearsal is scored and kept apart from what is real.
func TestRehearsalsAreKeptApart(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{}, 60)
	for !r.Look(b).Finished() {
		b = r.Press(b, time.Second)
	}
	v := r.Look(b)
	require.NotNil(t, v.Score)
	assert.InDelta(t, 50, float64(v.Score.Points), 50)
	real, err := r.Bench.Log().BenchesOf(r.Ctx(), b.PieceID, false)
	require.NoError(t, err)
	assert.Empty(t, real)
	p, err := r.Pieces.Piece(r.Ctx(), b.PieceID)
	require.NoError(t, err)
	assert.False(t, r.Plan(p).Coats[0].Made)
}

// What was poured moves the rest of the plan, everywhere.
func TestWhatHappenedMovesTheRest(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"start": "2026-03-09T09:00"})
	planned := r.Plan(p).Coat(plan.SecondCoat).Start
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	for !r.Look(b).PastHands() {
		b = r.Press(b, 2*time.Minute)
	}
	v := r.Plan(p)
	assert.True(t, v.Coats[0].Made)
	assert.Equal(t, 2, v.Coats[0].Met.Day())
	assert.True(t, v.Coat(plan.SecondCoat).Start.Before(planned))
}

// Weighing by typed readings: too much of B asks for a correction of A, and the
// cup is within the product's tolerance in the end.
func TestWeighOutCorrectsAnOvershoot(t *testing.T) {
	r := studiotest.Open(t)
	w, err := r.Bench.StartWeighing(r.Ctx(), r.Piece(map[string]string{}).ID, plan.FirstCoat)
	require.NoError(t, err)
	first := true
	for range 100 {
		if w.Done {
			break
		}
		if w.Stage == weighing.Tare {
			w, err = r.Bench.Tare(r.Ctx(), w.ID, w.Rev, "")
			require.NoError(t, err)
			continue
		}
		grams := w.Look(0, true).Target
		if first && w.Current().A > 0 && w.Current().B == 0 {
			grams, first = grams*1.1, false
		}
		w, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev, form.MassText(grams))
		require.NoError(t, err)
	}
	require.True(t, w.Done)
	split := units.Mass(0)
	for _, c := range w.Report() {
		assert.True(t, c.Finished)
		if c.Split == 0 {
			assert.LessOrEqual(t, math.Abs(w.Product.OffRatio(c.A, c.B)), w.Product.Tolerance+1e-9, c.Name)
			assert.Zero(t, c.Pigment, "pigment goes into the cups, not into the jug")
			continue
		}
		split += c.Mixed
		assert.Zero(t, c.A+c.B, "a split cup is filled from the jug")
		assert.Positive(t, float64(c.Pigment))
	}
	assert.Len(t, w.Cups[0].Pours, 3, "A, B, a correction of A")
	assert.LessOrEqual(t, float64(split), float64(w.Cups[0].Resin()), "the jug holds what its cups get")
	assert.InEpsilon(t, 1.10, float64(w.Cups[0].A/w.Cups[0].PlanA), 2e-2,
		"ten per cent too much B asks for ten per cent more A")
	_, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev-1, "50")
	assert.ErrorIs(t, err, session.ErrStale, "a late screen does nothing twice")
}

// A studio that mixes each cup on its own weighs A and B into every cup, mixes
// as often, and its clock has as many batches.
func TestEachCupOnItsOwn(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"coat.first.mixing": school.MixingCups})
	c := r.Plan(p).Coat(plan.FirstCoat)
	require.Len(t, c.Batches, len(c.Cups))
	mixes := 0
	for _, s := range c.Fit.Steps {
		if s.Mixes {
			mixes++
			assert.InDelta(t, c.Product.MixMinutes, s.To-s.From, 1e-9, "every lot has its own mix time")
		}
	}
	assert.Equal(t, len(c.Cups), mixes)
	w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	require.Len(t, w.Cups, len(c.Cups))
	for _, cup := range w.Cups {
		assert.Zero(t, cup.Split)
		assert.Positive(t, float64(cup.PlanA))
	}
}

// Any presses in any order are kept as they were pressed.
func TestAPressOnAnOldScreenIsStale(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{}, 0)
	old := b.Rev
	b = r.Press(b, time.Minute)
	for _, press := range []session.Press{session.StepDone, session.StepSkipped, session.TakeBack, session.PartsMeet,
		session.Close} {
		got, err := r.Bench.Log().Press(r.Ctx(), b.ID, old, false, press)
		require.ErrorIs(t, err, session.ErrStale)
		assert.Equal(t, b.Rev, got.Rev, "the late screen gets the newer state")
	}
}

// Uses that were recorded correct the next estimate of the technique from three of a
// kind on: one may have been a slip.
func TestRecordedUsesTeach(t *testing.T) {
	testsize.Sequential(t)
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	before := r.Plan(p).Coats[0]
	used := form.VolumeText(before.Total*1.2, units.Metric)
	for n := range 3 {
		assert.InDelta(t, float64(before.Total), float64(r.Plan(p).Coats[0].Total), 1e-6, "%d are too few", n)
		_, err := r.Bench.RecordUse(r.Ctx(), r.Piece(map[string]string{"name": fmt.Sprint("Study ", n)}).ID, plan.FirstCoat,
			used)
		require.NoError(t, err)
	}
	after := r.Plan(p).Coats[0]
	assert.InEpsilon(t, 1.2, float64(after.Total/before.Total), 0.01)
	require.NoError(t, r.Materials.ResetLearning(r.Ctx(), "swipe"))
	assert.InDelta(t, float64(before.Total), float64(r.Plan(p).Coats[0].Total), 1e-6)
}

// A coat that is made stays as it was planned, whatever later uses of its technique
// teach.
func TestAMadeCoatStaysAsItWasPlanned(t *testing.T) {
	r := studiotest.Open(t)
	b := r.UntilMet(r.Begin(map[string]string{}))
	made := r.ReadPiece(b.PieceID)
	before := r.Plan(made).Coats[0]
	r.Clock.T = r.Clock.T.Add(24 * time.Hour)
	for n := range 3 {
		_, err := r.Bench.RecordUse(r.Ctx(), r.Piece(map[string]string{"name": fmt.Sprint("Study ", n)}).ID, plan.FirstCoat,
			form.VolumeText(before.Total*1.3, units.Metric))
		require.NoError(t, err)
	}
	assert.InDelta(t, float64(before.Total), float64(r.Plan(made).Coats[0].Total), 1e-6)
	assert.Greater(t, r.Plan(r.Piece(map[string]string{"name": "Next"})).Coats[0].Total, before.Total,
		"the next one is planned with it")
}

// What uses teach never plans less than face and sides need.
func TestLittleUseNeverStarvesTheFace(t *testing.T) {
	testsize.Sequential(t)
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	before := r.Plan(p).Coats[0]
	for n := range 3 {
		_, err := r.Bench.RecordUse(r.Ctx(), r.Piece(map[string]string{"name": fmt.Sprint("Study ", n)}).ID, plan.FirstCoat,
			form.VolumeText(before.Total*0.6, units.Metric))
		require.NoError(t, err)
	}
	after := r.Plan(p).Coats[0]
	assert.GreaterOrEqual(t, float64(after.Poured), float64(after.Amount.OnBoard())-1e-9)
	assert.Less(t, after.Total, before.Total)
}

// A studio that measures by volume is asked for marks of a jug.
func TestMeasuringByVolume(t *testing.T) {
	r := studiotest.Open(t)
	for way, byVolume := range map[string]bool{school.MeasureWeigh: false, school.MeasureVolume: true} {
		_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"school.measure": way})
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
		w, err := r.Bench.StartWeighing(r.Ctx(), r.Piece(map[string]string{"name": way}).ID, plan.FirstCoat)
		require.NoError(t, err)
		assert.Equal(t, byVolume, w.ByVolume, way)
		w, err = r.Bench.Tare(r.Ctx(), w.ID, w.Rev, "")
		require.NoError(t, err)
		if byVolume {
			d := w.Look(0, true)
			assert.InDelta(t, float64(d.Target/units.Mass(d.Density)*1000), d.Mark.Millilitres(), 1e-6)
		}
	}
}

// What was to be done before a pour that is made without it is asked for no longer: no
// back is masked and no dam is built under resin. The next coat's is.
func TestWhatAPourOvertookIsNotAskedFor(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Day(map[string]string{"edge": "dam", "sides": "taped"}, 0)
	open := func() (keys []string) {
		a, err := r.Agenda.Current(r.Ctx())
		require.NoError(t, err)
		for _, task := range a.Tasks {
			if task.PieceID == b.PieceID && task.Kind == plan.TaskPrepare {
				keys = append(keys, task.Key)
			}
		}
		return keys
	}
	before, of := open(), []string{"mask:1", "tape:1", "dam:1"}
	require.Subset(t, before, of)
	r.Poured(b)
	assert.Equal(t, slices.DeleteFunc(before, func(k string) bool { return slices.Contains(of, k) }), open())
}

// A day that was begun in one language is named in the one it is read in; of days of before, of
// which a bare text was kept, it stays as it was.
func TestADayIsNamedInTheReadersLanguage(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{})
	read, err := r.Bench.Log().Bench(r.Ctx(), b.ID, false)
	require.NoError(t, err)
	german := words.In(words.German)
	assert.Equal(t, "First pour", read.Name.String())
	assert.Equal(t, "Erster Guss", read.Name.In(german))
	running, err := r.Bench.Log().Running(r.Ctx())
	require.NoError(t, err)
	require.Len(t, running, 1)
	assert.Equal(t, "Erster Guss", running[0].Name.In(german), "in the bar of every page too")
	before, err := session.DecodeBench(store.Session{Setup: []byte(`{"Name": "First pour"}`)}, false)
	require.NoError(t, err)
	assert.Equal(t, "First pour", before.Name.In(german))
	w, err := r.Bench.StartWeighing(r.Ctx(), b.PieceID, plan.FirstCoat)
	require.NoError(t, err)
	w, err = r.Bench.Log().Weighing(r.Ctx(), w.ID)
	require.NoError(t, err)
	assert.Equal(t, "Erster Guss", w.Name.In(german))
	assert.Equal(t, "First pour", w.Listed)
	w, err = weighing.Decode(store.Session{Setup: []byte(`{"Name": "First pour"}`)})
	require.NoError(t, err)
	assert.Equal(t, "First pour", w.Name.In(german))
}
