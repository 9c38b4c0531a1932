package session

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
)

var nine = time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)

// A day is a bench day that is pressed by hand, without a store.
type day struct {
	Bench
	t   *testing.T
	now time.Time
}

// Two batches: the first feeds both cups, the second white alone; lay out, mix, pour white, move, mix, pour
// blue and white, heat, cover, look, tape.
func steps() []Step {
	said := func(s string) msg.Stored { return msg.Store(msg.Own(s)) }
	return []Step{
		{Name: said("Lay out"), Kind: plan.StepBefore, Minutes: 4, Usual: 4, Of: "lay-out"},
		{Name: said("Mix"), Kind: plan.StepMix, BatchNo: 1, Mixing: true, Minutes: 3},
		{Name: said("Pour white"), Kind: plan.StepHands, Pours: true, BatchNo: 1, Minutes: 2, Usual: 2, Of: "pour",
			Move: technique.Puddle, Pourings: map[string]units.Volume{"white": 60}, FlashOff: 5},
		{Name: said("Tilt"), Kind: plan.StepHands, Move: technique.Tilt, Minutes: 2, Usual: 2, Of: "tilt"},
		{Name: said("Mix"), Kind: plan.StepMix, BatchNo: 2, Mixing: true, Minutes: 3},
		{Name: said("Pour both"), Kind: plan.StepHands, Pours: true, BatchNo: 2, Minutes: 2, Usual: 2, Of: "pour",
			Move: technique.Puddle, Pourings: map[string]units.Volume{"white": 30, "blue": 40}},
		{Name: said("Break bubbles"), Kind: plan.StepHands, Heats: true, Minutes: 1, Usual: 1, Of: "heat"},
		{Name: said("Cover"), Kind: plan.StepHands, Minutes: 1},
		{Name: said("Look"), Kind: plan.StepLook, After: 10, Round: 1},
		{Name: said("Pull the tape"), Kind: plan.StepTape, After: 240, Window: cure.Tacky},
	}
}

func aDay(t *testing.T) *day {
	b := Bench{ID: 7, PieceID: 3, Coat: "first", Way: "dutch", At: nine, Film: 1.5, Face: 0.09}
	b.planned.steps, b.planned.film = steps(), 1.5
	b.planned.batches = []Batch{
		{Volume: 100, Feeds: map[string]units.Volume{"white": 60, "blue": 40}},
		{Volume: 50, Feeds: map[string]units.Volume{"white": 50}},
	}
	b.Cups = []Cup{{ID: "white", Name: "White"}, {ID: "blue", Name: "Blue"}}
	b.replay()
	return &day{b, t, nine}
}

// try presses something some minutes later.
func (d *day) try(after float64, p Press) error {
	d.t.Helper()
	d.now = d.now.Add(plan.Minutes(after))
	events, err := p(d.Bench, d.now)
	if err != nil {
		return err
	}
	keep := make([]Event, len(events))
	for i, e := range events {
		keep[i] = d.kept(e)
	}
	for _, e := range keep {
		d.apply(e)
	}
	return nil
}

func (d *day) press(after float64, p Press) {
	d.t.Helper()
	require.NoError(d.t, d.try(after, p))
}

// until presses until a step of the name is in hand.
func (d *day) until(name string) {
	d.t.Helper()
	for range 30 {
		if i := d.Cursor(); i < len(d.Steps) && msg.Say(d.Steps[i].Name, msg.English) == name {
			return
		}
		d.press(2, StepDone)
	}
	d.t.Fatal("never at " + name)
}

func (d *day) left(cup string) float64 { return float64(d.LeftOf(cup).Left) }

// A mix is two presses: mixing begins, then it is mixed. A screen that said the other is told that
// another was faster.
func TestAMixIsTwoPresses(t *testing.T) {
	d := aDay(t)
	d.press(4, StepDone)
	assert.True(t, d.WaitsForParts(1))
	assert.ErrorIs(t, d.try(0, DoneAt(1, SaidDone)), ErrStale)
	d.press(1, DoneAt(1, SaidMet))
	assert.Equal(t, []time.Time{nine.Add(5 * time.Minute)}, d.BatchesMixed())
	assert.ErrorIs(t, d.try(0, DoneAt(1, SaidMet)), ErrStale)
	assert.Equal(t, 1, d.Cursor())
	d.press(3, DoneAt(1, SaidDone))
	assert.Equal(t, 2, d.Cursor())
	assert.ErrorIs(t, d.try(0, DoneAt(1, "")), ErrStale, "it was done meanwhile")
	assert.ErrorIs(t, d.try(0, SkippedAt(3)), ErrStale, "it is not in hand")
	assert.Error(t, d.try(0, DoneAt(77, "")))
}

// What was taken back is as if it was never pressed; what goes with a press goes with it.
func TestTakenBack(t *testing.T) {
	d := aDay(t)
	require.Error(t, d.try(0, TakeBack), "nothing has been done yet")
	d.press(1, Noted(Note, "a hair in it", 0))
	require.Error(t, d.try(0, TakeBack), "words stay")
	d.until("Pour white")
	d.press(1, TakeBack)
	assert.Equal(t, 1, d.Cursor())
	assert.Len(t, d.BatchesMixed(), 1, "the parts have met all the same")
	d.press(1, TakeBack)
	assert.Empty(t, d.BatchesMixed())
	d.until("Tilt")
	step := Step{Name: msg.Store(msg.Own("Blow")), Kind: plan.StepHands, Move: technique.Tilt}
	d.press(1, Mend("bubbles", "far-left", "blow", &step))
	require.Len(t, d.Steps, 11)
	d.press(1, TakeBack)
	assert.Len(t, d.Steps, 10, "the complaint goes with its step")
	assert.Empty(t, d.Mendeds())
	note, ok := d.Newest(Note)
	require.True(t, ok)
	assert.Equal(t, "a hair in it", note.Text)
}

// A cup holds what its batches put in, less what was poured of it; under a millilitre stays on the wall.
func TestWhatIsInACup(t *testing.T) {
	d := aDay(t)
	assert.Zero(t, d.left("white"))
	d.until("Pour white")
	assert.Equal(t, []float64{60, 40}, []float64{d.left("white"), d.left("blue")})
	d.press(2, StepDone)
	assert.Zero(t, d.left("white"))
	d.until("Pour both")
	assert.Equal(t, []float64{50, 40}, []float64{d.left("white"), d.left("blue")})
	assert.Equal(t, 2, d.LeftOf("white").BatchNo)
	assert.Equal(t, 1, d.LeftOf("blue").BatchNo)
	assert.Equal(t, d.BatchesMixed()[1], d.LeftOf("white").Met)
	d.press(0, HappenedSo(wet.FellOver, "white", 0))
	assert.Equal(t, []float64{0, 40}, []float64{d.left("white"), d.left("blue")})
	d.press(2, StepDone)
	assert.Equal(t, []float64{0, 0}, []float64{d.left("white"), d.left("blue")})

	d = aDay(t)
	d.until("Tilt")
	d.press(0, HappenedSo(wet.FellOver, "white", 0))
	d.until("Pour both")
	assert.EqualValues(t, 50, d.left("white"), "it was filled again")
	d.planned.steps[2].Pourings = map[string]units.Volume{"white": 59.2}
	d.replay()
	assert.InDelta(t, 50.8, d.left("white"), 1e-9)
	d.planned.batches[1].Feeds = nil
	d.replay()
	assert.Zero(t, d.left("white"), "0.8 mL are nothing")
	_, ok := d.Cup("red")
	assert.False(t, ok)
	assert.Equal(t, CupLeft{}, d.LeftOf("red"))
}

// No flame over what still burns, by a step or beside one; five minutes after it was laid it has gone.
func TestNoFlameOverWhatBurns(t *testing.T) {
	d := aDay(t)
	require.Error(t, d.try(0, Heat("", 0)), "nothing lies on the board")
	d.until("Tilt")
	laid := d.now
	assert.Equal(t, laid.Add(5*time.Minute), d.FlammableUntil())
	require.ErrorContains(t, d.try(1, Heat("", 0)), "no flame")
	d.now = laid
	d.press(0, StepDone)
	for i := d.Cursor(); i < 6; i++ {
		d.press(0, SkippedAt(d.Steps[i].ID))
	}
	require.ErrorContains(t, d.try(4.9, StepDone), "no flame")
	d.press(0.1, StepDone)
	d.press(0, Heat("far-left", 3))
}

// Liked as it is: the moves that are left go, and the batch that is not mixed; the looks, the tape and the cover stay.
func TestStopHere(t *testing.T) {
	d := aDay(t)
	require.ErrorContains(t, d.try(0, StopHere), "nothing is on the board")
	d.until("Tilt")
	assert.Equal(t, 3, d.MovesLeft(), "tilt, pour, heat")
	d.press(1, StopHere)
	at, ok := d.Stop()
	require.True(t, ok)
	assert.Equal(t, d.now, at)
	assert.Zero(t, d.MovesLeft())
	assert.Equal(t, "Cover", msg.Say(d.Steps[d.Cursor()].Name, msg.English))
	assert.Len(t, d.BatchesMixed(), 1)
	require.ErrorContains(t, d.try(1, StopHere), "no moves are left")
	d.press(1, TakeBack)
	assert.Equal(t, 3, d.MovesLeft(), "all of it is one press")
	_, ok = d.Stop()
	assert.False(t, ok)
}

// More is poured of what is in the cup where that is enough and keeps; else a batch is mixed for it, before
// those that are not mixed yet.
func TestMoreOfACup(t *testing.T) {
	keeps, sets := func(CupLeft) bool { return true }, func(CupLeft) bool { return false }
	pour := Step{Name: msg.Store(msg.Own("Pour more")), Kind: plan.StepHands, Pours: true, Move: technique.Puddle,
		Pourings: map[string]units.Volume{"blue": 40}}
	fresh := Fresh{Mix: Step{Kind: plan.StepMix, Mixing: true}, Pour: pour,
		Batch: Batch{Volume: 40, Feeds: map[string]units.Volume{"blue": 40}}}
	d := aDay(t)
	d.until("Tilt")
	d.press(1, MoreOf("blue", 40.5, pour, fresh, keeps))
	require.Len(t, d.Steps, 11, "half a millilitre is nothing")
	assert.Equal(t, 1, d.Steps[3].BatchNo)
	d.press(1, TakeBack)
	d.press(1, MoreOf("blue", 40.6, pour, fresh, keeps))
	require.Len(t, d.Steps, 12)
	d.press(0, TakeBack)
	d.press(1, MoreOf("blue", 40, pour, fresh, sets))
	require.Len(t, d.Steps, 12)
	assert.True(t, d.Steps[3].isMix())
	assert.Equal(t, []int{2, 2, 3}, []int{d.Steps[3].BatchNo, d.Steps[4].BatchNo, d.Steps[6].BatchNo},
		"the planned one is the third now")
	assert.Equal(t, 3, d.batchNow(2))
	assert.Equal(t, 1, d.batchNow(1))
	assert.Equal(t, []units.Volume{100, 40, 50}, []units.Volume{d.Batches[0].Volume, d.Batches[1].Volume,
		d.Batches[2].Volume})
	assert.Zero(t, d.MixedOver(150), "nothing more is mixed yet")
	d.press(1, StepDone)
	assert.EqualValues(t, 80, d.left("blue"))
	assert.EqualValues(t, 40, d.MixedOver(150))
	d.press(1, StepDone)
	d.press(1, StepDone)
	assert.EqualValues(t, 40, d.left("blue"))
	assert.Len(t, d.AddedDone(), 1, "the pour, not its mix")
	assert.EqualValues(t, 150, d.Planned())
}

// A day that ended early mixed a share of its plan.
func TestTheShareThatWasMixed(t *testing.T) {
	d := aDay(t)
	d.until("Tilt")
	assert.EqualValues(t, 1, d.mixedShare(), "while it goes on it is the plan's")
	d.press(1, StopHere)
	d.press(1, Close)
	require.True(t, d.Finished())
	assert.InDelta(t, 100.0/150, d.mixedShare(), 1e-12)
	assert.InDelta(t, -50, float64(d.MixedOver(150)), 1e-9)
	require.ErrorContains(t, d.try(1, Close), "closed already")
	require.Error(t, d.try(1, PartsMeet))
	require.Error(t, d.try(1, StepDone))
}

// A weigh-out starts the clock of its batch once; what comes before the mix is over by then.
func TestMetOnTheScale(t *testing.T) {
	d := aDay(t)
	d.press(6, MetOnScale(1))
	assert.Equal(t, 1, d.Cursor(), "it was laid out")
	assert.Equal(t, []time.Time{d.now}, d.BatchesMixed())
	before := len(d.Events)
	d.press(1, MetOnScale(1))
	assert.Len(t, d.Events, before, "once")
	d.press(2, MetOnScale(2))
	assert.Equal(t, 4, d.Cursor())
	assert.Len(t, d.BatchesMixed(), 2)
	d.Done = true
	d.press(1, MetOnScale(3))
	assert.Len(t, d.BatchesMixed(), 2, "the day is over")
}

// Batches are told by their numbers; one that was left out stands with the one before it.
func TestBatchesByNumber(t *testing.T) {
	at := func(m int) time.Time { return nine.Add(time.Duration(m) * time.Minute) }
	b := Bench{Events: []Event{{What: Met, BatchNo: 1, At: at(1)}, {What: Met, BatchNo: 4, At: at(9)},
		{What: Met, BatchNo: 2, At: at(4), Undone: true}}}
	assert.Equal(t, []time.Time{at(1), at(1), at(1), at(9)}, b.BatchesMixed())
	assert.True(t, b.hasMet(4))
	assert.False(t, b.hasMet(2))
	b = Bench{Events: []Event{{What: Met, At: at(1)}, {What: Met, At: at(5)}}} // of days before batches had numbers
	assert.Equal(t, []time.Time{at(1), at(5)}, b.BatchesMixed())
	assert.True(t, b.hasMet(2))
	assert.False(t, b.hasMet(3))
}

// One who mixes while another pours: two steps in hand, and no pour before its batch is made.
func TestTwoAtTheBench(t *testing.T) {
	d := aDay(t)
	d.People = Crew(2, []string{" Ada ", ""})
	assert.Equal(t, []string{"Ada", "Mixer"}, d.People)
	assert.Nil(t, Crew(1, []string{"Ada"}))
	assert.Len(t, Crew(9, nil), 3)
	assert.Len(t, []rune(Crew(2, []string{"An endless name of somebody at the bench"})[0]), 24)
	assert.Equal(t, []int{0}, d.InHand(), "laying out comes first")
	d.press(1, StepDone)
	assert.Equal(t, []int{1}, d.InHand(), "nothing to pour")
	d.press(1, StepDone)
	d.press(1, StepDone)
	assert.Equal(t, []int{2, 4}, d.InHand())
	assert.True(t, d.Beside(4))
	assert.False(t, d.Beside(2))
	d.press(1, StepDone)
	d.press(1, StepDone)
	assert.Equal(t, []int{4}, d.InHand(), "the second batch is not made")
	assert.True(t, d.Poured(1))
	assert.False(t, d.Poured(2))
	d.press(1, StepDone)
	d.press(1, StepDone)
	assert.Equal(t, []int{5}, d.InHand())
	for d.Cursor() < len(d.Steps) {
		d.press(6, StepDone)
	}
	assert.Empty(t, d.InHand())
}

// A rehearsal's clock runs as often faster; no clock runs backwards.
func TestTheTimeOfADay(t *testing.T) {
	d := aDay(t)
	d.press(30, StepDone)
	assert.Equal(t, nine.Add(30*time.Minute), d.Now(nine.Add(10*time.Minute)), "a clock that was set back")
	d.Rehearsal, d.Speed = true, 6
	assert.Equal(t, nine.Add(60*time.Minute), d.Now(nine.Add(10*time.Minute)))
}

// A pour is over with the last of its work; looks and tape are told by themselves.
func TestWhatHappened(t *testing.T) {
	d := aDay(t)
	assert.Empty(t, Happened([]Bench{d.Bench}))
	assert.True(t, d.PourEnded().IsZero())
	d.until("Pour both")
	h := Happened([]Bench{d.Bench})[plan.PourKey("first")]
	assert.False(t, h.Done)
	assert.Equal(t, d.BatchesMixed()[0], h.Met)
	assert.Equal(t, nine, h.Start)
	d.until("Look")
	ended := d.now
	d.press(10, HappenedSo(wet.PouredOther, "", 2.2))
	d.press(0, HappenedSo(wet.HardenerShort, "", 0.04))
	require.True(t, d.PastHands())
	all := Happened([]Bench{d.Bench})
	h = all[plan.PourKey("first")]
	assert.True(t, h.Done)
	assert.Equal(t, ended, h.End)
	assert.Equal(t, units.Length(2.2), h.Film)
	assert.Equal(t, 0.04, h.Short)
	assert.NotContains(t, all, plan.LookKey("first", 1))
	d.press(1, StepDone)
	d.press(230, StepDone)
	all = Happened([]Bench{d.Bench})
	assert.True(t, all[plan.LookKey("first", 1)].Done)
	assert.Equal(t, d.now, all[plan.TapeKey("first")].End)
	assert.Equal(t, ended, all[plan.PourKey("first")].End, "looking is no pouring")
	newest := aDay(t)
	newest.press(0, MetOnScale(1))
	assert.False(t, Happened([]Bench{newest.Bench, d.Bench})[plan.PourKey("first")].Done, "the newest of a coat counts")
	d.press(1, TakeBack)
	d.press(1, HappenedSo(wet.TapeMissed, "", 0))
	i := d.Place(9)
	assert.Equal(t, cure.Hard, d.Steps[i].Window)
	assert.Equal(t, []string{"hotair"}, d.Steps[i].Safety)
}

// Before rounds were kept there were four looks in two attendances.
func TestLooksOfBefore(t *testing.T) {
	assert.Equal(t, []int{1, 1, 2, 3}, []int{Step{After: 10}.round(), Step{After: 30}.round(), Step{After: 31}.round(),
		Step{After: 10, Round: 3}.round()})
}

// What hands did, by the presses: a step is as long as from the press before, five times its usual at most,
// and waits, looks and what was left out are nobody's work.
func TestHowLongItTook(t *testing.T) {
	d := aDay(t)
	d.press(6, StepDone)      // laid out: 6
	d.press(1, StepDone)      // met: 1 of the mix
	d.press(3, StepDone)      // mixed: 3
	d.press(3, StepDone)      // poured: 3 of 2
	d.press(100, StepDone)    // tilted: left lying, 10 of 2 at most
	d.press(1, StepSkipped)   // a batch that is not mixed
	d.press(1, StepDone)      // poured: 1 of 2
	d.press(7, StepDone)      // heated: 7 of 1
	d.press(1, StepDone)      // covered: 1
	d.press(10, StepDone)     // a look
	d.press(230, StepSkipped) // the tape
	require.True(t, d.Finished())
	assert.Equal(t, 6+1+3+3+10+1+5+1, int(d.Worked().Minutes()))
	took := map[string][2]float64{}
	for _, s := range d.Took() {
		took[s.Step] = [2]float64{s.Usual, s.Took}
		assert.Equal(t, "dutch", s.Technique)
		assert.EqualValues(t, 7, s.Session)
	}
	assert.Equal(t, map[string][2]float64{"pour": {4, 4}}, took,
		"the first press has none before it; what took more than five times its usual says nothing")
}

// A complaint stands with what was done and what came of it.
func TestComplaints(t *testing.T) {
	d := aDay(t)
	d.until("Tilt")
	require.ErrorIs(t, d.try(0, Outcome(Better)), ErrStale, "nothing was done against anything")
	step := Step{Kind: plan.StepHands, Move: technique.Tilt, Against: "muddy"}
	d.press(1, Mend("muddy", "far-right", "tilt-back", &step))
	_, asks := d.Asks()
	assert.False(t, asks, "it is not done yet")
	d.press(1, StepDone)
	i, asks := d.Asks()
	require.True(t, asks)
	assert.Equal(t, 3, i)
	d.press(1, Mend("bare", "near-left", "hands-off", nil))
	d.press(1, Outcome(Worse))
	_, asks = d.Asks()
	assert.False(t, asks)
	got := d.Mendeds()
	require.Len(t, got, 2)
	assert.Equal(t, []string{"muddy", "tilt-back", Worse}, []string{got[0].Complaint, got[0].Work, got[0].Outcome})
	assert.Equal(t, []string{"bare", "hands-off", ""}, []string{got[1].Complaint, got[1].Work, got[1].Outcome})
	assert.Empty(t, d.AddedDone(), "it stands with its complaint")
}

// A place is left alone, or free again.
func TestLeftAlone(t *testing.T) {
	d := aDay(t)
	d.press(1, LeaveAlone(technique.Spots[2]))
	d.press(1, LeaveAlone(technique.Spots[0]))
	assert.Equal(t, []technique.Place{technique.Spots[0], technique.Spots[2]}, d.Alone())
	d.press(1, LeaveAlone(technique.Spots[2]))
	d.press(1, TakeBack)
	d.press(1, LeaveAlone(technique.Spots[0]))
	assert.Equal(t, []technique.Place{technique.Spots[2]}, d.Alone())
}

// Heat at a place: the passes over it and over all of the board since a moment, of a ninth of the board.
func TestPassesOverAPlace(t *testing.T) {
	d := aDay(t)
	d.until("Tilt")
	since := d.now
	d.press(10, Heat("far-left", 9))
	d.press(1, Heat("", 9))
	d.until("Look")
	nw, se := d.Passes("far-left", since), d.Passes("near-right", since)
	require.Len(t, nw, 3)
	require.Len(t, se, 2)
	assert.Equal(t, 10.0, nw[0].Minute)
	assert.Equal(t, wet.Warmed(9, d.Face/9), nw[0].Heat)
	assert.Equal(t, wet.Warmed(9, d.Face), nw[1].Heat)
	assert.Equal(t, wet.PassHeat, nw[2].Heat)
	assert.Len(t, d.Passes("far-left", since.Add(10*time.Minute)), 3)
	assert.Len(t, d.Passes("far-left", since.Add(10*time.Minute+time.Second)), 2)
}

// What a photograph shows follows from the steps that are over.
func TestMoments(t *testing.T) {
	d := aDay(t)
	assert.Equal(t, MomentBefore, d.Moment())
	d.until("Tilt")
	assert.Equal(t, MomentWet, d.Moment())
	d.now = d.now.Add(time.Hour)
	d.until("Look")
	assert.Equal(t, MomentTorch, d.Moment())
	d.press(1, Close)
	assert.Equal(t, MomentCured, d.Moment())
}

// A rehearsal asks by its clock: what is answered in time is right, what nobody answers is past.
func TestTrials(t *testing.T) {
	d := aDay(t)
	d.Trials = []wet.Trial{{Minute: 4, Complaint: "muddy", Place: "far-right"}, {Minute: 6, Cup: "blue"}}
	assert.Empty(t, d.Answers(nine.Add(time.Hour)), "nothing was poured")
	d.until("Pour white")
	d.press(1, StepDone)
	first := d.now
	after := func(m float64) time.Time { return first.Add(plan.Minutes(m)) }
	_, ok := d.Trial(after(3.9))
	assert.False(t, ok)
	a, ok := d.Trial(after(4))
	require.True(t, ok)
	assert.Equal(t, "muddy", a.Complaint)
	_, ok = d.Trial(after(4 + 3*wet.TrialTime - 0.1))
	assert.True(t, ok)
	d.now = after(5)
	d.press(0, Mend("muddy", "near-left", "", nil))
	a, _ = d.Trial(after(5))
	assert.False(t, a.Done, "it was elsewhere")
	d.press(0.5, Mend("muddy", "far-right", "tilt-back", nil))
	all := d.Answers(after(7))
	require.Len(t, all, 2)
	assert.True(t, all[0].Right)
	assert.Equal(t, "tilt-back", all[0].Work)
	assert.InDelta(t, 1.5, all[0].Took, 1e-9)
	a, ok = d.Trial(after(7))
	require.True(t, ok)
	assert.Equal(t, "blue", a.Cup)
	d.now = after(8)
	d.press(0, AddStep(Step{Pours: true, Pourings: map[string]units.Volume{"blue": 10}}))
	_, ok = d.Trial(after(9))
	assert.False(t, ok)
	_, ok = d.Trial(after(6 + 3*wet.TrialTime))
	assert.False(t, ok)
}

// Lines of the day's notes are what was written, not liked or went otherwise, while they stand.
func TestLinesOfTheDay(t *testing.T) {
	var tells, gone []EventKind
	for _, k := range []EventKind{Met, Did, Skip, Note, Photo, Undo, Added, Stopped, Disliked, Heated, LeftAlone, Judged,
		Happening} {
		if (Event{What: k}).Tells() {
			tells = append(tells, k)
		}
		if (Event{What: k, Undone: true}).Tells() {
			gone = append(gone, k)
		}
	}
	assert.Equal(t, []EventKind{Note, Photo, Stopped, Disliked, LeftAlone, Happening}, tells)
	assert.Equal(t, []EventKind{Note, Photo}, gone)
}

// A step is known by the technique's step it belongs to, a move of the bench's own by its kind.
func TestWhatWasMade(t *testing.T) {
	d := aDay(t)
	d.until("Tilt")
	did, has := d.Made(Step{Of: "pour"})
	assert.True(t, did && has)
	did, has = d.Made(Step{Of: "tilt"})
	assert.True(t, !did && has)
	_, has = d.Made(Step{Of: "swipe"})
	assert.False(t, has)
	_, has = d.Made(Step{Move: technique.Tilt})
	assert.False(t, has, "the day's tilt is the technique's")
	assert.Equal(t, []string{"wax"}, Bench{Open: []string{"wax"}, Guards: []Guard{{What: "level", How: DoneNow}}}.
		StartedAnyway())
	assert.Equal(t, []string{"level"}, Bench{Guards: []Guard{{What: "level", How: Anyway}, {What: "x", How: Unneeded}}}.
		StartedAnyway())
}

// The edge height of a day is stored under the name that earlier versions gave it.
func TestADayOfBeforeKeepsItsEdgeHeight(t *testing.T) {
	var b Bench
	require.NoError(t, json.Unmarshal([]byte(`{"Stands": 1.65}`), &b))
	assert.InDelta(t, 1.65, float64(b.EdgeHeight), 1e-12)
	stored, err := json.Marshal(b)
	require.NoError(t, err)
	assert.Contains(t, string(stored), `"Stands":1.65`)
}
