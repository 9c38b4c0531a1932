package studio_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
)

// made is a rehearsal of two zones in which the events are given.
func made(t *testing.T, events ...session.Event) session.Bench {
	t.Helper()
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	met := time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)
	b := session.Bench{Rehearsal: true, Kinetics: k, Film: 1.6, Room: 25, Steps: []session.Step{
		{Name: "Mix", Kind: plan.StepMix, Window: cure.Runny, Minutes: 3},
		{Name: "Warm", Kind: plan.StepHands, Window: cure.Lacing, Minutes: 1, Heats: true, Zone: 1, Zones: 2},
		{Name: "Draw the sheet", Kind: plan.StepHands, Window: cure.Lacing, Minutes: 2, Zone: 1, Zones: 2},
		{Name: "Warm", Kind: plan.StepHands, Window: cure.Lacing, Minutes: 1, Heats: true, Zone: 2, Zones: 2},
		{Name: "Let it rest", Kind: plan.StepRest, Window: cure.Lacing, Minutes: 10},
	}}
	b.Events = append(b.Events, session.Event{At: met, What: session.Met, Lot: 1})
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
	all := strings.Join(bad.Words, " ")
	assert.Contains(t, all, "Zone 1. Warm")
	assert.Contains(t, all, "too early")
	assert.Contains(t, all, "Zone 2. Warm")
	assert.Contains(t, all, "too late")

	short := bench.ScoreOf(made(t, did(0, 1), did(1, 7), did(2, 9), did(3, 10), did(4, 12)))
	said := ""
	for _, h := range short.Habits {
		said += h.Words + " "
	}
	assert.Contains(t, said, "Mixed too short")
	assert.Contains(t, said, "Rests broken off")
	assert.Zero(t, bench.ScoreOf(session.Bench{}).Points, "nothing was mixed")
}
