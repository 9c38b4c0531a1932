package bench_test

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/session"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
)

// a board large enough for two batches.
var twoBatches = map[string]string{"size": "90 x 60 cm", pieces.CoatKey(plan.FirstCoat, "technique"): "flood"}

// Two batches whose mixing begins a quarter of an hour apart have windows a quarter of
// an hour apart, each with the cups it feeds.
func TestTwoBatchesAQuarterOfAnHourApart(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(twoBatches)
	require.GreaterOrEqual(t, len(b.Batches), 2)
	b, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.PartsMeet)
	require.NoError(t, err)
	r.Clock.T = r.Clock.T.Add(15 * time.Minute)
	b, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.PartsMeet)
	require.NoError(t, err)
	met := b.BatchesMixed()
	require.Len(t, met, 2)
	for _, phase := range []cure.Phase{cure.Runny, cure.Lacing, cure.Holding, cure.SoftSet} {
		var closes [2]time.Time
		for i, at := range met {
			closes[i] = at.Add(plan.Minutes(b.Clock(cure.Constant(b.Room)).Window(phase).To))
		}
		assert.Equal(t, 15*time.Minute, closes[1].Sub(closes[0]), phase)
	}
	v := r.Look(b)
	require.Len(t, v.Mixed, 2)
	assert.InDelta(t, 15, v.Mixed[0].Minutes-v.Mixed[1].Minutes, 1e-9)
	assert.NotEmpty(t, v.Mixed[0].Cups)
	assert.InDelta(t, 15, v.Mixed[1].Keeps-v.Mixed[0].Keeps, 3, "and the older one is nearer its end")
	r.Clock.T = r.Clock.T.Add(12 * time.Minute)
	assert.True(t, r.Look(b).Mixed[0].Old(), "a lot that stands too long in its jug is said")
}

// A pour is judged by what ends first: its window, or how long its batch keeps in the jug.
func TestAPourIsJudgedByItsBatchToo(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
	var err error
	for v := r.Look(b); !v.Current.Pours; v = r.Look(b) {
		b, err = r.At(b, v.Current.Index, v.Current.Says)
		require.NoError(t, err)
	}
	require.Greater(t, r.Look(b).Mixed[0].Keeps, 3.0)
	for _, left := range []float64{3, 0.3, -2} {
		v := r.Look(b)
		r.Clock.T = r.Clock.T.Add(plan.Minutes(v.Mixed[0].Keeps - left))
		v = r.Look(b)
		require.NotEqual(t, bench.WindowEarly, v.Current.State)
		assert.InDelta(t, max(left, 0), v.Current.Left, 1e-3)
		assert.EqualValues(t, "until the batch is too old to pour", v.Current.LeftWhat)
		want := map[bool]bench.WindowState{true: bench.WindowLate, false: bench.WindowTight}[left < 0]
		if left > v.Current.Minutes {
			want = bench.WindowOpen
		}
		assert.Equal(t, want, v.Current.State)
		assert.Contains(t, strings.ToLower(msg.Say(v.Current.Verdict, msg.English)), "batch 1")
	}
}

// One pours, another mixes the next batch beside it in time; neither can take the
// other's step, and a step is done once however many screens press it.
func TestAMixerWorksBesideThePourer(t *testing.T) {
	r := studiotest.Open(t)
	typed := map[string]string{pieces.CoatKey(plan.FirstCoat, "people"): "2"}
	for k, v := range twoBatches {
		typed[k] = v
	}
	alone := r.Plan(r.Piece(map[string]string{"name": "Alone", "size": "90 x 60 cm",
		pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})).Coats[0]
	b := r.Begin(typed)
	require.Equal(t, []string{"Pourer", "Mixer"}, b.People)
	crew := r.Plan(r.ReadPiece(b.PieceID)).Coats[0]
	assert.Less(t, crew.Fit.Ends, alone.Fit.Ends, "two pairs of hands are sooner done")
	mix := 0.0
	for _, s := range crew.Fit.Steps {
		if s.Mixes {
			mix = s.To - s.From
		}
	}
	assert.InDelta(t, alone.Product.MixMinutes, mix, 1e-9, "but nobody stirs faster")

	var err error
	for r.Look(b).Beside == nil {
		v := r.Look(b)
		require.NotNil(t, v.Current)
		b, err = r.At(b, v.Current.Index, v.Current.Says)
		require.NoError(t, err)
	}
	v := r.Look(b)
	assert.Equal(t, "Pourer", v.Current.Who)
	assert.Equal(t, "Mixer", v.Beside.Who)
	assert.Equal(t, 2, v.Beside.BatchNo)
	assert.Contains(t, msg.Say(v.Beside.Verdict, msg.English), "Mix")
	pour, batch := v.Current.Index, v.Beside.Index
	b, err = r.At(b, batch, session.SaidMet)
	require.NoError(t, err)
	assert.Len(t, b.BatchesMixed(), 2, "its clock runs from now")
	_, err = r.At(b, batch, session.SaidMet)
	assert.ErrorIs(t, err, session.ErrStale, "the same press from another screen")
	b, err = r.At(b, pour, session.SaidDone)
	require.NoError(t, err, "the pourer is not late because the mixer pressed")
	_, err = r.At(b, pour, session.SaidDone)
	assert.ErrorIs(t, err, session.ErrStale)
	v = r.Look(b)
	assert.Equal(t, batch, v.Current.Index, "the second pour waits for its lot")
	assert.Nil(t, v.Beside)
	_, err = r.At(b, len(b.Steps)-1, session.SaidDone)
	assert.ErrorIs(t, err, session.ErrStale, "nobody runs ahead")
}

// The events of a day, replayed from what was kept, give the same day.
func TestADayIsItsEvents(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(twoBatches)
	var err error
	for i := range 6 {
		r.Clock.T = r.Clock.T.Add(time.Duration(2+i) * time.Minute)
		v := r.Look(b)
		b, err = r.At(b, v.Current.Index, v.Current.Says)
		require.NoError(t, err)
	}
	b, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.TakeBack)
	require.NoError(t, err)
	b, err = r.Bench.Note(r.Ctx(), b.ID, false, "Bubbles")
	require.NoError(t, err)
	before, err := json.Marshal(r.Look(b).Bench)
	require.NoError(t, err)
	rev := b.Rev
	r.Restart()
	b, err = r.Bench.Log().Bench(r.Ctx(), b.ID, false)
	require.NoError(t, err)
	after, err := json.Marshal(r.Look(b).Bench)
	require.NoError(t, err)
	assert.JSONEq(t, string(before), string(after))
	assert.Equal(t, rev, b.Rev)
}

// A photograph says what it shows and is kept once, however often it is sent.
func TestPhotographsAreKeptOnce(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{})
	for range 2 {
		var err error
		b, err = r.Bench.Photo(r.Ctx(), b.ID, studiotest.Tide(t, 10), "")
		require.NoError(t, err)
	}
	b, err := r.Bench.Photo(r.Ctx(), b.ID, studiotest.Tide(t, 15), session.MomentCured)
	require.NoError(t, err)
	var shows []string
	for _, e := range b.Events {
		if e.What == session.Photo {
			shows = append(shows, e.Text)
		}
	}
	assert.Equal(t, []string{session.MomentBefore, session.MomentCured}, shows)
}

// A battery that slept for two hours and a clock that was set back an hour leave
// nothing doubled: what has happened stays, and the bench says what is too late.
func TestAfterASleepAndUnderAnotherClock(t *testing.T) {
	r := studiotest.Open(t)
	b := r.Begin(map[string]string{})
	for range 3 {
		v := r.Look(b)
		var err error
		b, err = r.At(b, v.Current.Index, v.Current.Says)
		require.NoError(t, err)
	}
	r.Clock.T = r.Clock.T.Add(2 * time.Hour)
	v := r.Look(b)
	assert.InDelta(t, 120, v.Mixed[0].Minutes, 1e-9, "the resin did not sleep")
	assert.Equal(t, bench.WindowLate, v.Current.State)
	r.Clock.T = r.Clock.T.Add(-3 * time.Hour)
	v = r.Look(b)
	assert.GreaterOrEqual(t, v.Mixed[0].Minutes, 0.0, "no lot is mixed in the future")
	b, err := r.At(b, v.Current.Index, v.Current.Says)
	require.NoError(t, err)
	last := time.Time{}
	for _, e := range b.Events {
		assert.False(t, e.At.Before(last), "events stay in order")
		last = e.At
	}
}

// What was left goes into a small mould as a piece of its own, with what is in it,
// and what the coat took by what was left corrects the next estimate.
func TestWhatWasLeft(t *testing.T) {
	r := studiotest.Open(t)
	b := r.UntilMet(r.Begin(map[string]string{}))
	b, err := r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.Close)
	require.NoError(t, err)
	parent := r.ReadPiece(b.PieceID)
	cups := []string{parent.First().Coat.Colours[1].ID, parent.First().Coat.Colours[3].ID}
	p, err := r.Bench.Leftover(r.Ctx(), b.ID, bench.Rest{Mould: "coaster", Cups: cups})
	require.NoError(t, err)
	assert.Contains(t, p.Brief, parent.First().Coat.Colours[1].Name)
	require.Len(t, p.First().Coat.Colours, 2)
	v := r.Plan(p)
	assert.True(t, v.Coats[0].Made, "it is poured")
	assert.InDelta(t, 25, v.Coats[0].Poured.Millilitres(), 0.6, "a coaster of 25 mL")
	for _, bad := range [][2]string{{"bathtub", cups[0]}, {"coaster", "none"}} {
		_, err := r.Bench.Leftover(r.Ctx(), b.ID, bench.Rest{Mould: bad[0], Cups: []string{bad[1]}})
		assert.Error(t, err, "%v", bad)
	}
	onto := bench.Rest{Count: "4", Size: "10 x 10 cm", Volume: "60 mL", Cups: cups}
	coasters, err := r.Bench.Leftover(r.Ctx(), b.ID, onto)
	require.NoError(t, err)
	v = r.Plan(coasters)
	assert.Equal(t, 4, coasters.Count)
	assert.InDelta(t, 60.0*1000/(4*100*100), float64(v.Coats[0].Film), 0.01, "mm: 60 mL over four faces of 10 cm")
	onto.Volume = "12 mL"
	_, err = r.Bench.Leftover(r.Ctx(), b.ID, onto)
	assert.ErrorContains(t, err, "enough for 2", "0.3 mm over four do not close")
	onto.Volume = "9 L"
	_, err = r.Bench.Leftover(r.Ctx(), b.ID, onto)
	assert.Error(t, err, "more than was mixed")

	before := r.Plan(parent).Coats[0].Total
	require.NoError(t, r.Bench.RecordLeft(r.Ctx(), b.ID, "80 mL"))
	assert.InDelta(t, float64(before), float64(r.Plan(r.ReadPiece(b.PieceID)).Coats[0].Total), 1e-9,
		"one day teaches nothing yet")
	assert.Error(t, r.Bench.RecordLeft(r.Ctx(), b.ID, "9 L"))
	assert.Error(t, r.Bench.RecordLeft(r.Ctx(), b.ID, "some"))
}

// What a step really took over three days stretches the plan by the median; one
// day alone does not, and a reset forgets them.
func TestOwnTimesCountFromThreeDays(t *testing.T) {
	testsize.Sequential(t)
	r := studiotest.Open(t)
	minutes := func() float64 {
		p := r.Piece(map[string]string{"name": "Fresh", pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
		for _, s := range r.Plan(p).Coats[0].Fit.Steps {
			if s.Name == "Flood" {
				return s.To - s.From
			}
		}
		t.Fatal("no flood")
		return 0
	}
	library := minutes()
	day := func(times float64) {
		b := r.Begin(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
		for !b.Done {
			v := r.Look(b)
			wait := 1.0
			if v.Current.Of == "flood" {
				wait = library * times
			}
			r.Clock.T = r.Clock.T.Add(plan.Minutes(wait))
			var err error
			b, err = r.At(b, v.Current.Index, v.Current.Says)
			require.NoError(t, err)
		}
	}
	day(2)
	day(1.5)
	assert.InDelta(t, library, minutes(), 1e-9, "two days are too few")
	day(4.5) // a bad afternoon
	assert.InEpsilon(t, 2*library, minutes(), 0.01, "the median of the three")
	require.NoError(t, r.Materials.ResetLearning(r.Ctx(), "flood"))
	assert.InDelta(t, library, minutes(), 1e-9)
}

// The looks of several wet pieces that fall together are one walk with the torch,
// done by one press.
func TestOneTorchRoundForAllThatIsWet(t *testing.T) {
	r := studiotest.Open(t)
	var days []session.Bench
	for range 3 {
		b := r.Begin(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
		for r.Look(b).Current.Kind != plan.StepLook {
			v := r.Look(b)
			r.Clock.T = r.Clock.T.Add(20 * time.Second)
			var err error
			b, err = r.At(b, v.Current.Index, v.Current.Says)
			require.NoError(t, err)
		}
		days = append(days, b)
	}
	round, ok, err := r.Bench.NextRound(r.Ctx())
	require.NoError(t, err)
	require.True(t, ok)
	assert.Len(t, round.Pieces, 3)
	assert.False(t, round.Due)
	r.Clock.T = round.At.Add(time.Second)
	round, _, err = r.Bench.NextRound(r.Ctx())
	require.NoError(t, err)
	assert.True(t, round.Due)
	require.NoError(t, r.Bench.RoundDone(r.Ctx()))
	for _, b := range days {
		v := r.Look(b)
		looked := 0
		for i, s := range v.Steps {
			if _, over := v.Over(i); over && s.Kind == plan.StepLook {
				looked++
			}
		}
		assert.Equal(t, 1, looked)
	}
	next, ok, err := r.Bench.NextRound(r.Ctx())
	require.NoError(t, err)
	require.True(t, ok)
	assert.InDelta(t, 15, next.At.Sub(round.At).Minutes(), 2, "the next is a quarter of an hour later")
}

// No batch is larger than the studio's largest mixing cup, nor than what the sheet
// lets stand.
func TestTheLargestCupBoundsABatch(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "60 x 60 cm", pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
	largest := func() (most units.Volume) {
		for _, batch := range r.Plan(p).Plan.Coats[0].Batches {
			most = max(most, batch.Volume)
		}
		return most
	}
	require.Greater(t, float64(largest()), 300.)
	_, n, err := r.Setup.Edit(r.Ctx(), map[string]string{"rev": "0", "jug": "250 mL"})
	require.NoError(t, err)
	require.True(t, n.OK())
	assert.LessOrEqual(t, float64(largest()), 250.)
}
