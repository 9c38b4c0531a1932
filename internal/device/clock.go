package device

import (
	"sync"
	"time"
)

// A SteadyClock tells the hour the program began at plus what has really
// passed since, so that neither daylight saving nor a corrected computer clock
// moves a resin's time. Sleep counts: the resin cures on.
type SteadyClock struct {
	mu     sync.Mutex
	wall   func() time.Time
	passed func() (time.Duration, bool) // since any fixed moment, sleep included
	anchor time.Time
	from   time.Duration
}

// NewSteadyClock starts at the computer's hour.
func NewSteadyClock() *SteadyClock { return newSteadyClock(time.Now, sinceBoot) }

func newSteadyClock(wall func() time.Time, passed func() (time.Duration, bool)) *SteadyClock {
	c := &SteadyClock{wall: wall, passed: passed, anchor: wall().Round(0)}
	c.from, _ = passed()
	return c
}

// Now returns the steady hour. Where the machine cannot say how long it has
// run, it is the computer's.
func (c *SteadyClock) Now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	p, ok := c.passed()
	if !ok {
		return c.wall()
	}
	return c.anchor.Add(p - c.from)
}

// Follow goes by the computer's hour from now on, as it was set.
func (c *SteadyClock) Follow() {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.anchor = c.wall().Round(0)
	c.from, _ = c.passed()
}

// Jumped returns how far the computer's clock has been set away from the
// steady one, 0 below two seconds.
func (c *SteadyClock) Jumped() time.Duration {
	d := c.wall().Round(0).Sub(c.Now().Round(0))
	if d > -2*time.Second && d < 2*time.Second {
		return 0
	}
	return d.Round(time.Second)
}
