package bench_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
	"jevvo/internal/studiotest"
)

// made is a rehearsal of two zones in which the events are given.
func made(t *testing.T, events ...session.Event) session.Bench {
	t.Helper()
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	met := time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)
	b := session.Bench{Rehearsal: true, Kinetics: k, Film: 1.6, Room: 25, Steps: []session.Step{
		{Name: msg.Store(msg.Preset("Mix")), Kind: plan.StepMix, Window: cure.Runny, Minutes: 3},
		{Name: msg.Store(msg.Preset("Warm")), Kind: plan.StepHands, Window: cure.Lacing, Minutes: 1, Heats: true, Zone: 1,
			Zones: 2},
		{Name: msg.Store(msg.Preset("Draw the sheet")), Kind: plan.StepHands, Window: cure.Lacing, Minutes: 2, Zone: 1,
			Zones: 2},
		{Name: msg.Store(msg.Preset("Warm")), Kind: plan.StepHands, Window: cure.Lacing, Minutes: 1, Heats: true, Zone: 2,
			Zones: 2},
		{Name: msg.Store(msg.Preset("Let it rest")), Kind: plan.StepRest, Window: cure.Lacing, Minutes: 10},
	}}
	b.Events = append(b.Events, session.Event{At: met, What: session.Met, BatchNo: 1})
	for _, e := range events {
		e.At = met.Add(e.At.Sub(time.Time{}))
		b.Events = append(b.Events, e)
	}
	return b
}

func did(step int, minute float64) session.Event {
	return session.Event{What: session.Did, Step: step, At: time.Time{}.Add(plan.Minutes(minute))}
}

// A perfect run has nothing to do better; a bad one is told zone by zone, and the
// habits that cost most come first, three at most.
func TestARehearsalSaysWhatToDoBetter(t *testing.T) {
	good := bench.ScoreOf(made(t, did(0, 3), did(1, 6.2), did(2, 8.2), did(3, 9.2), did(4, 20)))
	assert.Equal(t, 100, good.Points)
	assert.Empty(t, good.Habits)
	assert.Empty(t, good.Words)

	bad := bench.ScoreOf(made(t, did(0, 1), did(1, 2), did(2, 20), did(3, 200), did(4, 201)))
	assert.Less(t, bad.Points, 60)
	require.Len(t, bad.Habits, 3)
	for i := 1; i < len(bad.Habits); i++ {
		assert.GreaterOrEqual(t, bad.Habits[i-1].Points, bad.Habits[i].Points)
	}
	all := msg.Join(" ", bad.Words...).In(msg.English)
	assert.Contains(t, all, "Zone 1. Warm")
	assert.Contains(t, all, "too early")
	assert.Contains(t, all, "Zone 2. Warm")
	assert.Contains(t, all, "too late")

	short := bench.ScoreOf(made(t, did(0, 1), did(1, 7), did(2, 9), did(3, 10), did(4, 12)))
	assert.Contains(t, habits(short), "Mixed too short")
	assert.Contains(t, habits(short), "Rests cut short")
	assert.Zero(t, bench.ScoreOf(session.Bench{}).Points, "nothing was mixed")
}

// A look half an hour early is early, whatever the window of the resin says.
func TestALookHalfAnHourEarlyIsEarly(t *testing.T) {
	look := func(minute float64) bench.Score {
		b := made(t, did(0, 3), did(1, 6.2), did(2, 8.2), did(3, 9.2), did(4, 20))
		b.Steps = append(b.Steps, session.Step{Name: msg.Store(msg.Preset("Look for bubbles")), Kind: plan.StepLook,
			Window:  cure.Holding,
			Minutes: 2, After: 45})
		e := did(5, minute)
		e.At = b.Events[0].At.Add(plan.Minutes(minute))
		b.Events = append(b.Events, e)
		return bench.ScoreOf(b)
	}
	assert.Equal(t, 100, look(66).Points, "45 min after the last work, at 20")
	early := look(36)
	assert.Less(t, early.Hit, early.Windows)
	assert.Contains(t, msg.Join(" ", early.Words...).In(msg.English), "too early")
}

// A rehearsal throws complaints and a spilt cup at who rehearses; what is decided in
// time counts, what is not is said.
func TestTrialsOfARehearsal(t *testing.T) {
	again, other := wet.Trials(7, []string{"c1", "c2"}), wet.Trials(8, []string{"c1", "c2"})
	assert.Equal(t, wet.Trials(7, []string{"c1", "c2"}), again)
	assert.NotEqual(t, again, other, "others each time")
	spilt := 0
	for _, x := range again {
		if x.Cup != "" {
			spilt++
			continue
		}
		_, ok := wet.FindComplaint(x.Complaint)
		assert.True(t, ok)
	}
	assert.Equal(t, 1, spilt)

	r := studiotest.Open(t)
	b := r.Day(map[string]string{}, 1)
	require.NotEmpty(t, b.Trials)
	b = r.Poured(b)
	assert.Nil(t, r.Look(b).Trial, "not at once")
	r.Clock.T = r.Clock.T.Add(plan.Minutes(b.Trials[0].Minute))
	v := r.Look(b)
	require.NotNil(t, v.Trial)
	a, _, err := r.Bench.Advice(r.Ctx(), b.ID, true, v.Trial.Complaint, v.Trial.Place)
	require.NoError(t, err)
	require.NotEmpty(t, a.Now)
	b, err = r.Bench.Mend(r.Ctx(), b.ID, true, v.Trial.Complaint, v.Trial.Place, a.Now[0].ID)
	require.NoError(t, err)
	assert.Nil(t, r.Look(b).Trial, "it is decided")
	for !b.Finished() {
		b = r.Press(b, 5*time.Minute)
	}
	score := bench.ScoreOf(b)
	assert.Equal(t, len(b.Trials), score.Trials)
	assert.Equal(t, 1, score.Met, "one was decided, the others were not looked at")
	assert.Contains(t, habits(score), "Left undecided")
}

func habits(s bench.Score) string {
	said := ""
	for _, h := range s.Habits {
		said += h.Words.In(msg.English) + " "
	}
	return said
}
