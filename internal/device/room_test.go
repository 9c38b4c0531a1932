package device

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTheRoomHasADayAndADoor(t *testing.T) {
	now := time.Date(2026, 3, 2, 15, 30, 0, 0, time.Local)
	r := NewSimulatedRoom(21, func() time.Time { return now })
	afternoon := r.Read().Temperature
	now = now.Add(-12 * time.Hour)
	assert.InDelta(t, 2*dayswing, float64(afternoon-r.Read().Temperature), 0.11, "the night is colder")
	before := r.Read().Temperature
	r.Door()
	assert.InDelta(t, draughtDrop, float64(before-r.Read().Temperature), 0.11)
	now = now.Add(time.Hour)
	assert.InDelta(t, float64(before), float64(r.Read().Temperature), 0.3, "it recovers")
	assert.True(t, r.Silence())
	assert.False(t, r.Read().OK)
	r.Silence()
	r.Break()
	assert.Greater(t, float64(r.Read().Temperature), 50.0)
	r.Break()
	cold := r.Read().Temperature
	r.Heater()
	assert.GreaterOrEqual(t, r.Read().Temperature, cold)
}

func TestTheSteadyClockIgnoresJumpsAndCountsSleep(t *testing.T) {
	wall := time.Date(2026, 3, 29, 1, 30, 0, 0, time.UTC)
	run := time.Duration(0)
	c := newSteadyClock(func() time.Time { return wall }, func() (time.Duration, bool) { return run, true })
	pass := func(d time.Duration) { wall, run = wall.Add(d), run+d }
	start := c.Now()
	pass(10 * time.Minute)
	assert.Equal(t, 10*time.Minute, c.Now().Sub(start))
	assert.Zero(t, c.Jumped())
	wall = wall.Add(time.Hour) // somebody sets the clock
	assert.Equal(t, 10*time.Minute, c.Now().Sub(start))
	assert.Equal(t, time.Hour, c.Jumped())
	pass(2 * time.Hour) // sleep: both have gone on
	assert.Equal(t, 130*time.Minute, c.Now().Sub(start))
	wall = wall.Add(-3 * time.Hour)
	assert.Equal(t, -2*time.Hour, c.Jumped())
	blind := newSteadyClock(func() time.Time { return wall }, func() (time.Duration, bool) { return 0, false })
	assert.Equal(t, wall, blind.Now())
	real := NewSteadyClock()
	assert.WithinDuration(t, time.Now(), real.Now(), time.Second)
}
