// Package device is where instruments meet the studio. Each instrument is an
// interface with real adapters; stand-ins have a room of their own,
// device/simulated, and are connected only where somebody asked for them.
package device

import "jevvo/internal/core/units"

// A Weight is one reading of a scale.
type Weight struct {
	Grams  units.Mass
	Stable bool // it has not moved by more than a step for half a second
	Lost   bool // it has dropped out: Grams is the last it said
}

// A Scale is a bench scale. It is safe for concurrent use.
type Scale interface {
	Read() Weight
	Tare()
	Step() units.Mass // what it reads to
}
