// Package simulated holds stand-ins for the instruments of a bench, so that
// everything can be tried, taught and tested without hardware. They are wired
// by the demo, by tests, and where a person switches one on knowingly.
package simulated

import (
	"context"
	"math"
	"math/rand/v2"
	"sync"
	"time"

	"jevvo/internal/core/units"
	"jevvo/internal/device"
)

// A Scale behaves like a cheap bench scale: it lags, flickers,
// drifts and reads in steps, and a lever pours onto it. Two scales with the
// same seed that are advanced alike read alike.
type Scale struct {
	mu      sync.Mutex
	random  *rand.Rand
	step    units.Mass
	load    float64 // g truly on the pan
	felt    float64 // g as the cell has felt it so far (lag)
	drift   float64 // g
	tare    float64
	lever   float64 // 0..1
	flow    float64 // g/s, follows the lever with its own lag
	still   float64 // s since the reading last moved
	reading float64
}

// Behaviour of the simulated scale.
const (
	scaleLag   = 0.35  // s, time constant of the load cell
	scaleNoise = 0.2   // steps, standard deviation
	scaleDrift = 0.002 // g per √s, random walk
	pourFlow   = 22.0  // g/s at full lever
	pourLag    = 0.45  // s, a stream starts and stops late
	tick       = 0.05  // s, internal step
	settled    = 0.5   // s without a change of more than a step
)

// NewScale returns a scale that reads to step.
func NewScale(seed uint64, step units.Mass) *Scale {
	return &Scale{random: rand.New(rand.NewPCG(seed, 0x7ea)), step: step}
}

// Step returns what the scale reads to.
func (s *Scale) Step() units.Mass {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.step
}

// SetStep makes the scale read to another step, as a studio's settings say.
func (s *Scale) SetStep(step units.Mass) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.step = step
}

// Advance lets the time pass.
func (s *Scale) Advance(d time.Duration) {
	s.mu.Lock()
	defer s.mu.Unlock()
	for left := d.Seconds(); left > 1e-9; left -= tick {
		s.advance(math.Min(tick, left))
	}
}

func (s *Scale) advance(dt float64) {
	s.flow += (s.lever*pourFlow - s.flow) * (1 - math.Exp(-dt/pourLag))
	if s.lever == 0 && s.flow < 0.05 {
		s.flow = 0
	}
	s.load += s.flow * dt
	s.felt += (s.load - s.felt) * (1 - math.Exp(-dt/scaleLag))
	s.drift += s.random.NormFloat64() * scaleDrift * math.Sqrt(dt)
	raw := s.felt + s.drift + s.random.NormFloat64()*scaleNoise*float64(s.step)
	shown := math.Round(raw/float64(s.step)) * float64(s.step)
	if math.Abs(shown-s.reading) > float64(s.step)*1.01 {
		s.still = 0
	} else {
		s.still += dt
	}
	s.reading = shown
}

// Read returns what the display shows.
func (s *Scale) Read() device.Weight {
	s.mu.Lock()
	defer s.mu.Unlock()
	net := math.Round((s.reading-s.tare)/float64(s.step)) * float64(s.step)
	return device.Weight{Grams: units.Mass(net), Stable: s.still >= settled}
}

// Tare sets the display to zero.
func (s *Scale) Tare() {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.tare = s.reading
}

// Lever sets how far the jug is tipped, 0 to 1.
func (s *Scale) Lever(position float64) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if !(position >= 0) {
		position = 0
	}
	s.lever = math.Min(position, 1)
}

// Place puts something on the pan, or takes it off when negative.
func (s *Scale) Place(m units.Mass) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.load = math.Max(0, s.load+float64(m))
}

// Clear takes everything off the pan.
func (s *Scale) Clear() {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.load, s.lever, s.flow = 0, 0, 0
}

// Run advances the scale with the wall clock until ctx ends. A machine that
// slept resumes where it was: at most a second passes at once.
func (s *Scale) Run(ctx context.Context) {
	const every = 50 * time.Millisecond
	t := time.NewTicker(every)
	defer t.Stop()
	last := time.Now()
	for {
		select {
		case <-ctx.Done():
			return
		case now := <-t.C:
			s.Advance(min(now.Sub(last), time.Second))
			last = now
		}
	}
}
