package plan

import (
	"time"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/material"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Context is a plan's view of the studio. It is loaded once and not
// changed; plans keep a pointer to it.
type Context struct {
	Calendar  calendar.Calendar
	Room      units.Temperature
	Night     units.Temperature // of the shut studio; 0 for as by day
	ScaleStep units.Mass
	JugStep   units.Volume
	Jug       units.Volume // largest mixing cup; 0 for the usual one
	Measured  *Measured    // what the room does, where that is known; nil for as the calendar says
	CupLoss   units.Volume
	Moulds    []SmallMould
	Schools   school.Answers
	Products  map[int64]material.Product
	Pigments  map[int64]material.Pigment
	Book      technique.Book
	Learned   map[string]History                   // by technique
	Paces     map[string]map[string]technique.Pace // by technique and step
	Spectra   *colour.Memo
	Surface   colour.Surface // of a finished film, as it is looked at
	Humidity  float64        // of the room's air, 0 to 1; 0 where nobody knows
	People    int            // at the bench; 0 is one
	Machine   float64        // minutes a mixing machine takes; 0 for none
	Own       Calibration    // of forecasts, by this studio's results
}

// Measured is a room's temperature along the time from a moment on.
type Measured struct {
	From time.Time
	Room cure.Room
}

// At is the room as a coat has it whose mixing begins at a moment.
func (m Measured) At(met time.Time) cure.Room { return m.Room.Since(met.Sub(m.From).Minutes()) }

// Calibration is by how much this studio's coats differ from what is calculated; 0 for
// as calculated.
type Calibration struct {
	Spacing float64 `json:",omitempty"` // how far apart cells are, times
	Seen    float64 `json:",omitempty"` // when they are first seen, times
}

// Factor is a calibration as a factor.
func Factor(v float64) float64 {
	if v <= 0 {
		return 1
	}
	return v
}

// A SmallMould is a little thing set ready for what is left.
type SmallMould struct {
	Name   string
	Volume units.Volume
	Count  int
}

// Learned is this studio's own ratio of used to planned for a technique.
type Learned struct {
	Planned, Used units.Volume
	Pours         int
}

// A History is the recorded use of a technique's coats, oldest first.
type History struct {
	Uses  []Taken
	Reset time.Time // what was recorded until then is forgotten
}

// A Taken is the recorded use of one coat.
type Taken struct {
	At            time.Time
	Planned, Used units.Volume
}

// Until returns what was known at a moment, all of it for the zero time: what is
// recorded later does not change a coat that is made.
func (h History) Until(at time.Time) Learned {
	var l Learned
	for _, u := range h.Uses {
		late := !at.IsZero() && !u.At.Before(at)
		forgotten := !u.At.After(h.Reset) && (at.IsZero() || !h.Reset.After(at))
		if late || forgotten {
			continue
		}
		l.Planned, l.Used, l.Pours = l.Planned+u.Planned, l.Used+u.Used, l.Pours+1
	}
	return l
}

// The ratio is held within these bounds: a typing slip must not double every
// later batch.
const (
	leastRatio = 0.5
	mostRatio  = 2.0
)

// learnsFrom is how many pours of a kind teach something: one may have been a slip
// (common practice).
const learnsFrom = 3

// Ratio returns used over planned, 1 while fewer than three pours were recorded.
func (l Learned) Ratio() float64 {
	if l.Pours < learnsFrom || l.Planned <= 0 {
		return 1
	}
	return min(max(float64(l.Used/l.Planned), leastRatio), mostRatio)
}
