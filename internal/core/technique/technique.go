// Package technique is the library of ways to make a coat: what each needs,
// how much of it runs off, and its steps with times taken from the board.
//
// A technique is a table entry, never a branch in code.
package technique

import (
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
		w := clock.Window(s.Window)
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

// Find returns the technique with the id.
func Find(id string) (Technique, bool) {
	for _, t := range Library {
		if t.ID == id {
			return t, true
		}
	}
	return Technique{}, false
}
