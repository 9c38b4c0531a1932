package wet

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/heat"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// An Option is a work that mends a complaint on this film.
type Option struct {
	Work
	Why    msg.ID
	Opens  float64 // minutes until it works; 0 for now
	Closes float64 // minutes until it works no more
	Doubt  msg.ID  // what this film does under it; "" for nothing
}

// A Refusal is a work that does not help here.
type Refusal struct {
	Work
	Why  msg.ID
	Late bool // it would have, earlier
}

// An Advice is the answer to a complaint.
type Advice struct {
	Complaint
	Now    []Option
	Never  []Refusal
	Course []Course
}

// Advise answers a complaint about a film: what still works there and until when, what
// does not, and what a next coat can do.
func Advise(c Complaint, f Film) Advice {
	a := Advice{Complaint: c, Course: f.Courses()}
	for _, m := range c.Mends {
		w, _ := FindWork(m.Work)
		o := Option{Work: w, Why: m.Why, Opens: math.Max(0, f.opens(w.From)), Closes: f.closes(w.To), Doubt: f.doubt(w)}
		if w.Heats {
			o.Opens = math.Max(o.Opens, f.Flash)
			if f.PassesLeft() == 0 {
				a.Never = append(a.Never, Refusal{Work: w, Why: "it was heated often enough there", Late: true})
				continue
			}
		}
		if o.Closes <= o.Opens || o.Closes < w.Minutes {
			a.Never = append(a.Never, Refusal{Work: w, Why: "the film there no longer allows it", Late: true})
			continue
		}
		a.Now = append(a.Now, o)
	}
	slices.SortStableFunc(a.Now, func(x, y Option) int { // a doubt comes last, what waits behind what works now
		return rank(x) - rank(y)
	})
	for _, m := range c.Worse {
		w, _ := FindWork(m.Work)
		a.Never = append(a.Never, Refusal{Work: w, Why: m.Why})
	}
	return a
}

func rank(o Option) int {
	switch {
	case o.Doubt != "":
		return 2
	case o.Opens > 0:
		return 1
	}
	return 0
}

// doubt is the film's response to a work meant for thicker or thinner ones.
func (f Film) doubt(w Work) msg.ID {
	switch {
	case w.Least > 0 && f.Depth < w.Least:
		return w.Thin
	case w.Thick != "" && f.EdgeHeight > 0 && f.Depth >= f.EdgeHeight:
		return w.Thick
	}
	return ""
}

// Heat of one pass, and how often a place takes one (common practice: a flame brings
// some 20 kJ/m² to a place in passing; six passes over one place are plenty, and from
// half an hour on of heating again and again only small flames).
const (
	PassHeat   = 20.0 // kJ/m²
	mostPasses = 6
	smallFrom  = 30.0 // minutes
	repeated   = 3    // passes
	flame      = 60.0 // kW/m², of a torch held close
)

// PassesLeft is how many more passes of heat the place takes now: none when hands have
// to be off, and no more than still leave the film lacing.
func (f Film) PassesLeft() int {
	n, most := 0, mostPasses-len(f.Passes)
	g := f
	g.Passes = slices.Clone(f.Passes)
	for n < most && g.closes(cure.Lacing) > 0 {
		g.Passes = append(g.Passes, cure.Pass{Minute: g.Minute, Heat: PassHeat})
		g.Minute++ // a minute between two passes
		n++
	}
	return n
}

// FlameOff is in how many minutes no flame may come near the place any more.
func (f Film) FlameOff() float64 {
	if f.PassesLeft() == 0 {
		return 0
	}
	return math.Max(0, f.closes(cure.Lacing))
}

// Small reports whether only a small flame may still be used: resin that is heated
// over and over ages, and smokes.
func (f Film) Small() bool { return f.Minute >= smallFrom && len(f.Passes) >= repeated }

// Longest is for how many seconds a close flame may stay over one spot, from how warm
// the film is now.
func (f Film) Longest() float64 {
	s, err := heat.MaxDwell(flame, f.Temperature())
	if err != nil {
		return 0
	}
	return s
}

// Warmed is the heat of seconds of flame spread over a place, in kJ/m²; a press without
// a time is one pass.
func Warmed(seconds float64, place units.Area) float64 {
	if seconds <= 0 || place <= 0 {
		return PassHeat
	}
	return math.Min(seconds*flame*spot/place.SquareMetres(), mostHeat)
}

// spot is what a flame covers, and mostHeat what a press can bring (common practice: a
// hand's breadth; no hand stays longer over one place).
const (
	spot     = 0.00785 // m²
	mostHeat = 200.0   // kJ/m²
)
