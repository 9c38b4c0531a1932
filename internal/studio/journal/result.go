package journal

import (
	"math"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// A Result is the result of a coat, with how it was made as far as findings need it:
// it stays as it was whatever becomes of the plan.
type Result struct {
	Rev int64     `json:"-"`
	At  time.Time `json:"-"`

	Made  Made
	Pairs []Pair
	Took  []string // cups that took over
	Lost  []string // cups that got lost
	Face  []string // ids of Faces
	Edges string
	// Moments are mistakes and what happened, in the painter's words.
	Moments  string
	Mark     int    // out of five; 0 for none
	Again    string // an id of Agains
	Sentence string
	Figures  Figures
	Wet      int64 // photographs
	Cured    int64
	Spots    []Spot
	Preview  int    // how good the preview was, out of five; 0 for none
	Told     string // Words, for the journal
}

// Filled reports whether there is one.
func (r Result) Filled() bool { return r.Rev > 0 }

// Made is how a coat was made.
type Made struct {
	Product   int64
	Resin     string
	Technique msg.Preset
	Way       string // id of the technique
	Room      units.Temperature
	Drops     int // of silicone in 30 mL
	Film      units.Length
	Own       plan.Calibration // that forecasts were made with
}

// A Pair is two cups of which one lay on the other, and what they did.
type Pair struct {
	Upper, Under Cup
	What         string // an id of Outcomes; "" for not looked at
	Cells        units.Length
	// Near, Far and Soon, Late are what was forecast: mm apart, minutes.
	Near, Far  units.Length
	Soon, Late float64
}

// A Cup is one of a coat, as it was.
type Cup struct {
	ID      string
	Name    string
	Pigment int64
}

// Figures are the measurements; 0 for none.
type Figures struct {
	Seen    float64 // minute cells were first seen, and what was forecast
	SeenFor float64
	Work    float64 // minutes it could be worked
	WorkFor float64
	Tape    float64 // minute the tape came off clean
	TapeFor float64
	RunOff  float64 // share that ran off
	RunFor  float64
	Hides   float64 // share of the ground that the main colour hid
	HideFor float64
}

// A Spot is one place in both photographs, in shares of their width and height, with
// its colour wet and cured in CIELAB, D65.
type Spot struct {
	Name       string
	X, Y       float64
	Wet, Cured [3]float64
}

// A Choice is one of the words a result can say.
type Choice struct {
	ID   string
	Name msg.Text
}

// Outcomes are the outcomes of a pair; those that count as opened come first.
var Outcomes = []Choice{{"laced", msg.ID("laced")}, {"cells", msg.ID("opened cells")},
	{"spread", msg.ID("spread over")},
	{"stayed", msg.ID("stayed apart")}, {"sank", msg.ID("sank")}, {"vanished", msg.ID("vanished")},
	{"mud", msg.ID("turned to mud")}}

// Opened are the outcomes in which cells or lacing came.
var Opened = []string{"laced", "cells"}

// Faces are how a surface can be.
var Faces = []Choice{{"flat", msg.ID("flat")}, {"dust", msg.ID("dust")}, {"pits", msg.ID("pits")},
	{"waves", msg.ID("waves")}, {"bubbles", msg.ID("bubbles")},
	{"sticky", msg.ID("sticky")}}

// Agains are the answers to “again?”.
var Agains = []Choice{{"yes", msg.ID("yes, as it is")}, {"changed", msg.ID("yes, changed")}, {"no", msg.ID("no")}}

func known(of []Choice, id string) bool {
	return id == "" || slices.ContainsFunc(of, func(c Choice) bool { return c.ID == id })
}

// longest is how long a text may be.
const longest = 2000

// check returns what is wrong with a result, at its field.
func (r Result) check() error {
	for k, p := range r.Pairs {
		if !known(Outcomes, p.What) {
			return form.Refusef("pairs", "pair %d has no outcome %q", k+1, p.What)
		}
		if !(p.Cells >= 0 && p.Cells <= 500) {
			return form.Refusef("pairs", "cells must be more than 0 and at most 50 cm wide")
		}
	}
	for _, f := range r.Face {
		if !known(Faces, f) {
			return form.Refusef("face", "a face is not %q", f)
		}
	}
	for field, text := range map[string]string{"edges": r.Edges, "moments": r.Moments, "sentence": r.Sentence} {
		if len(text) > longest {
			return form.Refusef(field, "at most %d characters", longest)
		}
	}
	switch {
	case r.Mark < 0 || r.Mark > 5:
		return form.Refusef("mark", "a mark is from 1 to 5")
	case r.Preview < 0 || r.Preview > 5:
		return form.Refusef("preview", "a mark is from 1 to 5")
	case !known(Agains, r.Again):
		return form.Refusef("again", "again is yes, changed or no")
	case !r.Figures.possible():
		return form.Refusef("figures", "minutes and shares cannot be negative")
	}
	return nil
}

func (f Figures) possible() bool {
	for _, v := range []float64{f.Seen, f.Work, f.Tape} {
		if !(v >= 0 && v <= 24*60) {
			return false
		}
	}
	for _, v := range []float64{f.RunOff, f.Hides} {
		if !(v >= 0 && v <= 1) {
			return false
		}
	}
	return true
}

// Blank is a result with what the plan knows, for a coat of which none was filled in.
func Blank(p *plan.Plan, c *plan.Coat) Result {
	r := Result{Made: Made{Product: c.Product.ID, Resin: c.Product.Name, Technique: c.Technique.Name, Way: c.Technique.ID,
		Room: c.Room, Drops: c.SiliconeDose(), Film: c.Film, Own: p.Context.Own}}
	cup := func(k plan.Cup) Cup { return Cup{k.Colour.ID, k.Colour.Name, k.Colour.Pigment} }
	forecast := p.Forecast(c.Place)
	for _, n := range p.Neighbours(c.Place) {
		pair := Pair{Upper: cup(n.A), Under: cup(n.B)}
		if n.Stack != nil {
			pair.Upper, pair.Under = cup(*n.Stack.Upper), cup(*n.Stack.Lower)
		}
		for _, f := range forecast.Cells {
			if f.Upper.Colour.ID == pair.Upper.ID && f.Lower.Colour.ID == pair.Under.ID && f.Far > 0 {
				pair.Near, pair.Far, pair.Soon = f.Near, f.Far, known0(f.Soon)
				pair.Late = known0(f.Late)
			}
		}
		r.Pairs = append(r.Pairs, pair)
	}
	r.Figures.foretell(c, r.Pairs)
	return r
}

// foretell notes what was forecast beside what will be measured.
func (f *Figures) foretell(c *plan.Coat, pairs []Pair) {
	for _, p := range pairs {
		if p.Soon > 0 && (f.SeenFor == 0 || p.Soon < f.SeenFor) {
			f.SeenFor = p.Soon
		}
	}
	f.WorkFor = known0(c.Clock.Window(cure.Lacing).To)
	f.TapeFor = known0(c.Clock.Gel())
	f.RunFor = c.RunOff
	for _, cup := range c.Cups {
		if f.HideFor == 0 && cup.Look.Known {
			f.HideFor = cup.Look.Contrast
		}
	}
}

// known0 is a figure, or 0 for one that has no bound.
func known0(v float64) float64 {
	if math.IsInf(v, 0) || math.IsNaN(v) {
		return 0
	}
	return v
}

// Words are a result in one line.
func (r Result) Words() msg.Text {
	var parts []msg.Text
	if r.Mark > 0 {
		parts = append(parts, msg.F("%s with %s, %d of 5", r.Made.Technique, r.Made.Resin, r.Mark))
	}
	for _, p := range r.Pairs {
		for _, o := range Outcomes {
			if p.What == o.ID && p.What != "stayed" {
				parts = append(parts, msg.F("%s on %s %s", words.Filled(p.Upper.Name), words.Filled(p.Under.Name), o.Name))
			}
		}
	}
	if r.Sentence != "" {
		parts = append(parts, msg.Own(r.Sentence))
	}
	return msg.Join("; ", parts...)
}

// Well reports whether a coat went well, and whether anybody judged it: by its mark,
// else by whether it would be done so again.
func (r Result) Well() (well, judged bool) {
	switch {
	case r.Mark > 0:
		return r.Mark >= 4, true
	case r.Again != "":
		return r.Again != "no", true
	}
	return false, false
}
