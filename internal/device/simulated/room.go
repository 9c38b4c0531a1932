package simulated

import (
	"math"
	"sync"
	"time"

	"jevvo/internal/core/units"
	"jevvo/internal/device"
)

// A Room is a studio on an ordinary day: it warms until the middle of
// the afternoon, a heater lifts it in turns, and a door that is opened lets the
// cold in for a while.
type Room struct {
	mu      sync.Mutex
	now     func() time.Time
	mean    float64
	heater  bool
	silent  bool
	broken  bool
	draught time.Time // when a door was last opened
}

// Behaviour of the simulated room.
const (
	dayswing    = 1.6  // K up and down over the day
	warmest     = 15.5 // hour
	heaterLift  = 2.0  // K
	heaterTurn  = 40.0 // min, on and off
	draughtDrop = 3.5  // K, at the moment the door is opened
	draughtEnds = 9.0  // min, time constant of the recovery
)

// NewRoom returns a room around a mean temperature.
func NewRoom(mean units.Temperature, now func() time.Time) *Room {
	return &Room{now: now, mean: float64(mean)}
}

// Read returns the temperature now.
func (r *Room) Read() device.Climate {
	r.mu.Lock()
	defer r.mu.Unlock()
	switch {
	case r.silent:
		return device.Climate{}
	case r.broken:
		return device.Climate{Temperature: 85, OK: true} // what a loose probe reads
	}
	t := r.now().Local()
	hour := float64(t.Hour()) + float64(t.Minute())/60
	v := r.mean + dayswing*math.Cos(2*math.Pi*(hour-warmest)/24)
	if r.heater {
		v += heaterLift * (0.5 + 0.5*math.Sin(2*math.Pi*float64(t.Unix())/60/heaterTurn))
	}
	if !r.draught.IsZero() {
		v -= draughtDrop * math.Exp(-t.Sub(r.draught).Minutes()/draughtEnds)
	}
	return device.Climate{Temperature: units.Temperature(math.Round(v*10) / 10), OK: true}
}

// Door opens the door for a moment.
func (r *Room) Door() {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.draught = r.now()
}

// Heater switches the heater on or off and returns whether it is on.
func (r *Room) Heater() bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.heater = !r.heater
	return r.heater
}

// Silence makes the sensor say nothing, or speak again.
func (r *Room) Silence() bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.silent = !r.silent
	return r.silent
}

// Break loosens the probe, or mends it.
func (r *Room) Break() bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.broken = !r.broken
	return r.broken
}
