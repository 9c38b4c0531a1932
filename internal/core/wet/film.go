// Package wet judges a film while it is wet, as a painter does who stands before it:
// what goes on in it by itself and for how long, which moves still work on it and
// until when, and what to do about a thing that is not liked.
//
// A [Film] is the resin at one place of the board: how thick, how old by the clock of
// its youngest resin, and what heat has passed over it. Every [Work] has its stretch of
// the cure and the films it is for; a [Complaint] names the works that mend it, those
// that make it worse, and what the next coat can do. All of it is common practice; the
// minutes follow from the clock.
package wet

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Film is the resin at one place of a board.
type Film struct {
	Depth      units.Length
	EdgeHeight units.Length // what an open edge keeps; 0 behind a dam
	Faces      int
	Clock      *cure.Clock // of its youngest resin
	Room       cure.Room
	Minute     float64     // now, after the parts of that resin met
	Passes     []cure.Pass // of heat over this place, on the same clock
	Flash      float64     // minutes until what burns on it has flashed off
}

// Age is how old the film is in minutes of its room: its own and those by which heat
// hurried it.
func (f Film) Age() float64 { return f.Minute + f.hurried() }

func (f Film) hurried() float64 {
	if len(f.Passes) == 0 {
		return 0
	}
	return cure.Hurried(f.Passes, f.Depth, max(1, f.Faces), f.Room, f.Minute)
}

// Temperature is how warm the film is now.
func (f Film) Temperature() units.Temperature {
	return f.Room.At(f.Minute) + cure.Excess(f.Passes, f.Depth, max(1, f.Faces), f.Minute)
}

// Thickened is how many times as thick as fresh the resin is; +Inf from gel.
func (f Film) Thickened() float64 { return cure.Thickening(f.Clock.Conversion(f.Age())) }

// opens and closes are in how many minutes a phase of the film opens and closes; it
// is past where closes is not positive.
func (f Film) opens(p cure.Phase) float64  { return f.Clock.Window(p).From - f.Age() }
func (f Film) closes(p cure.Phase) float64 { return f.Clock.Window(p).To - f.Age() }

// A Course is something the film does by itself, and for how many more minutes.
type Course struct {
	What msg.ID
	Left float64
}

// Courses are the processes in the film now.
func (f Film) Courses() []Course {
	var out []Course
	for _, c := range []struct {
		what  msg.ID
		until cure.Phase
	}{{"Cells and lace go on opening", cure.Lacing}, {"It levels, edges soften, small bubbles rise", cure.Holding}} {
		if left := f.closes(c.until); left > 0 {
			out = append(out, Course{c.what, left})
		}
	}
	return out
}

// HandsOff is in how many minutes hands and flame have to be off the film; 0 where
// they have to be now.
func (f Film) HandsOff() float64 { return math.Max(0, f.opens(cure.Stringy)) }
