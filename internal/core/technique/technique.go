// Package technique is the library of ways to make a coat: what each needs,
// how much of it runs off, and its steps with times taken from the board.
//
// A technique is a table entry, never a branch in code.
package technique

import (
	"errors"
	"fmt"
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// A Technique is one way to make a coat. All times are common practice.
type Technique struct {
	ID, Name string
	Summary  string
	Bed      string
	RunOff   RunOff // share lost from an open board
	Steps    []Step
	Layout   Layout
	Tools    []string
	Between  bool // done on a hard coat, without resin
	Own      bool // the studio's, not built in
	Cast     bool // poured into a mould
}

// RunOff is the range of run-off from an open edge; plans take Usual.
type RunOff struct{ Low, Usual, High float64 }

// Dammed is the run-off behind a rim or a dam, whatever the technique.
var Dammed = RunOff{0, 0.02, 0.03}

// Layout names the drawing a composition starts from.
type Layout string

// The layouts.
const (
	LayoutStripes Layout = "stripes" // accents in lanes over the bed
	LayoutCells   Layout = "cells"   // accents as pools in the base
	LayoutRibbons Layout = "ribbons" // colours side by side, bent by tilting
)

// A Step is one thing to do, with its length made up of a fixed part, a part
// for each cup and a part for the face.
type Step struct {
	Name         string
	Do           string
	Fixed        float64 // minutes
	PerCup       float64 // minutes a coloured cup
	PerM2        float64 // minutes a square metre of face
	Mixes        bool    // takes the product's mix time besides
	Window       cure.Phase
	Safety       []string // keys of the safety notes
	BeforeMixing bool
	Waiting      bool // hands free
	Pours        bool // empties the cups
	Heats        bool // flame or hot air
	LookFor      string
	// ZoneM2 is how large a zone is that is worked by itself, beat by beat; 0
	// for a step that takes the whole face at once.
	ZoneM2 float64
	Beats  []Beat
	// FlashOff is how many minutes what the step lays stays flammable.
	FlashOff float64
}

// A Beat is one move of a zone; parts of a zone's time add up to 1.
type Beat struct {
	Name, Do string
	Part     float64
	Heats    bool
}

// A Job is what the times depend on.
type Job struct {
	Face units.Area
	Cups int
	Mix  float64 // minutes the product wants to be mixed
}

// Minutes returns how long the step takes on this job.
func (s Step) Minutes(j Job) float64 {
	m := s.Fixed + s.PerCup*float64(j.Cups) + s.PerM2*j.Face.SquareMetres()
	if s.Mixes {
		m += j.Mix
	}
	return m
}

// Zones returns in how many zones the step is worked, at least one.
func (s Step) Zones(j Job) int {
	if s.ZoneM2 <= 0 {
		return 1
	}
	return max(1, int(math.Ceil(j.Face.SquareMetres()/s.ZoneM2-1e-9)))
}

// A Timed step has its place on the lot's clock: minutes after the parts met.
type Timed struct {
	Step
	From, To float64
	Window   cure.Window
	// Late is how many minutes of the step fall after its window closes.
	Late float64
	// Early is how many minutes the step would have to wait for its window.
	Early float64
}

// Fit is a technique laid on a clock.
type Fit struct {
	Steps []Timed
	Ends  float64 // minute the last hands-on step ends
	Spare float64 // least time between a step's end and its window's close
	Tight Timed   // the step that has least to spare
}

// Holds reports whether every step falls inside its window.
func (f Fit) Holds() bool { return f.Spare >= 0 }

// Lay puts the steps one after another on the clock, starting when the parts
// meet. A step whose window has not opened waits for it.
func (t Technique) Lay(j Job, clock *cure.Clock) Fit {
	fit := Fit{Spare: math.Inf(1)}
	at := 0.0
	for _, s := range t.Steps {
		if s.BeforeMixing {
			continue
		}
		w := cure.Window{To: math.Inf(1)} // work without resin has no window
		if s.Window != "" {
			w = clock.Window(s.Window)
		}
		early := math.Max(0, w.From-at)
		ts := Timed{Step: s, From: at + early, To: at + early + s.Minutes(j), Window: w, Early: early}
		ts.Late = math.Max(0, ts.To-math.Max(w.To, ts.From))
		if w.To < ts.From {
			ts.Late = ts.To - ts.From
		}
		if spare := w.To - ts.To; spare < fit.Spare {
			fit.Spare, fit.Tight = spare, ts
		}
		at = ts.To
		fit.Steps = append(fit.Steps, ts)
	}
	fit.Ends = at
	return fit
}

// Preparation returns the steps done before the parts meet.
func (t Technique) Preparation() []Step {
	var out []Step
	for _, s := range t.Steps {
		if s.BeforeMixing {
			out = append(out, s)
		}
	}
	return out
}

// A Book is the techniques a studio has: the library and its own.
type Book []Technique

// Find returns the technique with the id.
func (b Book) Find(id string) (Technique, bool) {
	for _, t := range b {
		if t.ID == id {
			return t, true
		}
	}
	return Technique{}, false
}

// Coats returns the techniques that pour resin, the clear flood last.
func (b Book) Coats() Book {
	var out Book
	for _, t := range b {
		if !t.Between && t.ID != TopCoat.ID {
			out = append(out, t)
		}
	}
	return append(out, TopCoat)
}

// Between returns what is done between coats, on a hard one.
func (b Book) Between() Book {
	var out Book
	for _, t := range b {
		if t.Between {
			out = append(out, t)
		}
	}
	return out
}

// Find returns the built-in technique with the id.
func Find(id string) (Technique, bool) { return Library.Find(id) }

// Check reports what is wrong with a technique a studio wrote itself.
func (t Technique) Check() error {
	mixes := 0
	for _, s := range t.Steps {
		switch {
		case s.Name == "" || s.Do == "":
			return errors.New("every step needs a name and what to do")
		case !(s.Fixed >= 0 && s.PerCup >= 0 && s.PerM2 >= 0) || s.Fixed+s.PerCup+s.PerM2 > 24*60:
			return fmt.Errorf("the times of %s lie between nothing and a day", s.Name)
		case !t.Between && !s.BeforeMixing && (cure.Window{}) == cure.NewClock(cure.Kinetics{K: 1e-4, N: 3}, cure.Constant(25)).Window(s.Window):
			return fmt.Errorf("%s needs the window it works in", s.Name)
		}
		if s.Mixes {
			mixes++
		}
	}
	switch {
	case t.Name == "":
		return errors.New("a technique needs a name")
	case len(t.Steps) == 0:
		return errors.New("a technique needs at least one step")
	case !t.Between && mixes != 1:
		return errors.New("a coat is mixed once: exactly one step starts the clock")
	}
	return nil
}
