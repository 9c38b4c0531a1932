package plan

import (
	"maps"
	"math"
	"slices"

	"jevvo/internal/core/material"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// ReliefKind is a way to make a coat fit its windows and its batches.
type ReliefKind string

// The reliefs.
const (
	ReliefEach   ReliefKind = "board-by-board"
	ReliefRoom   ReliefKind = "cooler-room"
	ReliefOption ReliefKind = "other-way"
	ReliefPeople ReliefKind = "second-person"
	ReliefResin  ReliefKind = "slower-resin"
	ReliefCups   ReliefKind = "own-batches"
	ReliefHalves ReliefKind = "smaller-board"
)

// A Relief is a way to make a coat fit, calculated again with it.
type Relief struct {
	Kind    ReliefKind
	Holds   bool
	Spare   float64
	Overdue float64 // minutes batches would still stand too long
	Room    units.Temperature
	Resin   int64  // among the materials
	Option  string // of the technique, and which choice of it
	Choice  string
	Name    msg.Text // of the resin or the choice
	People  int
}

// Reliefs calculates what would help a coat whose moves fall outside their windows
// or whose batches stand too long: each is cut and laid on the clock anew.
func (p *Plan) Reliefs(i int) []Relief {
	c := &p.Coats[i]
	if c.Made || c.Fit.Holds() && c.overdue() <= 0 {
		return nil
	}
	try := func(r Relief, trial Coat) Relief {
		r.Holds, r.Spare = p.fits(&trial)
		if r.Overdue = trial.overdue(); r.Overdue > 0 {
			r.Holds = false
		}
		return r
	}
	out := p.apart(i)
	if t, ok := p.coolerRoom(c); ok {
		out = append(out, try(Relief{Kind: ReliefRoom, Room: t}, c.in(t)))
	}
	out = append(out, p.otherWays(c, try)...)
	if c.People < mostHelpers {
		more := *c
		more.People++
		out = append(out, try(Relief{Kind: ReliefPeople, People: more.People}, more))
	}
	if c.Mixing == school.MixingJug && c.overdue() > 0 {
		apart := *c
		apart.Mixing = school.MixingCups
		out = append(out, try(Relief{Kind: ReliefCups}, apart))
	}
	for _, id := range slices.Sorted(maps.Keys(p.Context.Products)) {
		other := p.Context.Products[id]
		if !other.Retired && id != c.Product.ID && other.WorkingMinutes > c.Product.WorkingMinutes {
			out = append(out, try(Relief{Kind: ReliefResin, Resin: id, Name: msg.Own(other.Name)}, withResin(*c, other)))
		}
	}
	return p.smaller(out, i, ReliefHalves, 0.5)
}

// apart is how a coat of a set of equal boards fits when each is poured by itself; empty of one board, and
// of what was poured together.
func (p *Plan) apart(i int) []Relief {
	if p.Spec.Count < 2 || len(p.Spec.More) > 0 || p.Begun() {
		return nil
	}
	return p.smaller(nil, i, ReliefEach, 1)
}

// smaller adds how one board alone would fit, or one of so much of its face, where that can be planned.
func (p *Plan) smaller(out []Relief, i int, kind ReliefKind, part float64) []Relief {
	spec, k := p.Spec.Clone(), math.Sqrt(part)
	spec.Count, spec.More = 1, nil
	spec.Width, spec.Height = spec.Width*units.Length(k), spec.Height*units.Length(k)
	for n := range spec.Points {
		spec.Points[n] = spec.Points[n].Scale(k)
	}
	spec.Recompose(p.Spec)
	p.Onto(&spec, p.Boards[0].Area()*units.Area(part))
	q, err := Evaluate(spec, p.Context, p.Timing)
	if err != nil || i >= len(q.Coats) {
		return out
	}
	c := &q.Coats[i]
	r := Relief{Kind: kind, Spare: c.Fit.Spare, Overdue: c.overdue()}
	r.Holds = c.Fit.Holds() && r.Overdue <= 0
	return append(out, r)
}

// Begun reports whether a coat has been poured.
func (p *Plan) Begun() bool { return slices.ContainsFunc(p.Coats, func(c Coat) bool { return c.Made }) }

// Onto makes the amounts of a spec of this piece those of another face at equal film. An amount that was
// typed for a whole coat becomes the film it came to, and typed volumes and grams of cups grow with the face.
func (p *Plan) Onto(spec *Spec, face units.Area) {
	grow := float64(face / p.Face)
	for i := range spec.Layers {
		c := spec.Layers[i].Coat
		if c == nil {
			continue
		}
		if was := p.Coat(spec.Layers[i].ID); was != nil && (c.Amount.Volume > 0 || c.Amount.Mass > 0) {
			c.Amount = Amount{Film: was.Film}
		}
		for k := range c.Colours {
			c.Colours[k].Volume *= units.Volume(grow)
			c.Colours[k].Mass *= units.Mass(grow)
		}
	}
}

// mostHelpers is how many people a bench has at most.
const mostHelpers = 3

// otherWays tries the other choices of the coat's technique.
func (p *Plan) otherWays(c *Coat, try func(Relief, Coat) Relief) []Relief {
	t, ok := p.Context.Book.Find(c.Layer.What)
	if !ok {
		return nil
	}
	var out []Relief
	for _, o := range t.Options {
		for _, choice := range o.Choices {
			spec := *c.Layer.Coat
			if spec.Options[o.Key] == choice.Key {
				continue
			}
			if spec.Options = maps.Clone(spec.Options); spec.Options == nil {
				spec.Options = map[string]string{}
			}
			spec.Options[o.Key] = choice.Key
			trial := *c
			trial.Layer.Coat = &spec
			trial.Technique = p.chained(&trial, t)
			if r := try(Relief{Kind: ReliefOption, Option: o.Key, Choice: choice.Key, Name: choice.Words},
				trial); r.Holds {
				out = append(out, r)
			}
		}
	}
	return out
}

// fits cuts a coat anew and reports whether its moves then fall in their windows.
func (p *Plan) fits(trial *Coat) (holds bool, spare float64) {
	if err := p.batches(trial); err != nil {
		return false, math.Inf(-1)
	}
	return trial.Fit.Holds(), trial.Fit.Spare
}

// withResin is the coat poured with another product.
func withResin(c Coat, other material.Product) Coat {
	c.Product = other
	return c
}

// in is the coat poured in another room.
func (c *Coat) in(room units.Temperature) Coat {
	trial := *c
	trial.Room = room
	return trial
}

// coldest is the coolest room that is proposed in °C (common practice: below it
// bubbles stay and resin hardens badly).
const coldest = 15

// coolerRoom returns the warmest cooler room in which a coat fits.
func (p *Plan) coolerRoom(c *Coat) (units.Temperature, bool) {
	if least := c.in(coldest); c.Room > coldest {
		if holds, _ := p.fits(&least); !holds {
			return 0, false
		}
	}
	for t := c.Room - 1; t >= coldest; t-- {
		trial := c.in(t)
		if holds, _ := p.fits(&trial); holds && trial.overdue() <= 0 {
			return t, true
		}
	}
	return 0, false
}
