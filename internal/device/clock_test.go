package device

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

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
	c.Follow()
	assert.Zero(t, c.Jumped(), "it goes by what was set")
	assert.Equal(t, wall, c.Now())
	pass(time.Minute)
	assert.Equal(t, wall, c.Now())
	blind := newSteadyClock(func() time.Time { return wall }, func() (time.Duration, bool) { return 0, false })
	assert.Equal(t, wall, blind.Now())
	real := NewSteadyClock()
	assert.WithinDuration(t, time.Now(), real.Now(), time.Second)
}
