package plan

import (
	"math"
	"slices"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Composition is one coat's drawing with all that follows from it.
type Composition struct {
	Coat    *Coat
	Things  []ThingView
	Regions []composition.Region
	Below   []composition.Region // of the coat under it
	Under   *Coat
	Starts  []composition.Start
	Sketch  bool // nothing is placed: the technique's sketch is shown
}

// A ThingView is one thing with its volume, its size and its moment.
type ThingView struct {
	composition.Thing
	Rule   composition.KindRule
	Colour Colour
	Swatch string
	Part   float64 // of the coat
	Amount units.Volume
	Width  units.Length
	Length units.Length
	Step   msg.Text
	At     float64 // minutes after mixing began
	When   time.Time
	Spread []SpreadAt
	// DryStop is where it stops by itself on a board without a bed; 0 on a bed.
	DryStop units.Length
}

// A SpreadAt is how wide a line or how far across a puddle has run by itself.
type SpreadAt struct {
	After float64 // minutes since it was poured
	Width units.Length
}

// spreadMinutes are the looks at a line after it was poured.
var spreadMinutes = []float64{0.5, 2, 5, 10}

// Composition returns the drawing of a coat on one board.
func (p *Plan) Composition(c *Coat) Composition {
	out := Composition{Coat: c, Regions: p.Sketch(c, 0), Starts: composition.StartsFor(c.Technique.Layout),
		Sketch: len(c.Things) == 0}
	if c.Place > 0 {
		out.Under = &p.Coats[c.Place-1]
		out.Below = p.Sketch(out.Under, 0)
	}
	shares, _ := composition.Shares(c.Things)
	bed := slices.ContainsFunc(c.Things, func(t composition.Thing) bool { return t.Kind == composition.Bed })
	fills := c.Fills()
	perBoard := c.OnFirst()
	moments := c.moments()
	for i, t := range c.Things {
		rule, _ := composition.RuleOf(t.Kind)
		v := ThingView{Thing: t, Rule: rule, Swatch: fills[t.Cup], Part: t.Share / (1 + c.Over)}
		if col := c.Layer.Coat.Colour(t.Cup); col != nil {
			v.Colour = *col
		}
		if t.Kind == composition.Bed {
			v.Part = shares[t.Cup]
		}
		v.Width, v.Length = t.Width(p.Boards[0]), t.Length(p.Boards[0])
		if rule.Pours {
			v.Amount = perBoard * units.Volume(v.Part)
		}
		v.Step, v.At = moments[i].step, moments[i].at
		v.When = c.Met.Add(Minutes(v.At))
		p.spread(&v, c, bed)
		out.Things = append(out.Things, v)
	}
	return out
}

// OnFirst is the volume poured onto the first board of the piece.
func (c *Coat) OnFirst() units.Volume { return c.Poured * units.Volume(c.firstBoard) }

// spread forecasts how far a line or puddle runs as the clock runs.
func (p *Plan) spread(t *ThingView, c *Coat, bed bool) {
	isLine := t.Kind == composition.Ribbon || t.Kind == composition.Stripe || t.Kind == composition.Vein
	if !(isLine || t.Kind == composition.Puddle) || t.Amount <= 0 {
		return
	}
	pools := 1.0
	if !isLine {
		pools = math.Max(1, math.Round(t.Part*float64(p.Boards[0].Area())/(math.Pi/4*float64(t.Width*t.Width))))
	}
	for _, after := range spreadMinutes {
		flow := c.Clock.Flow(t.At, t.At+after, c.Product.Viscosity, c.Product.Density())
		var half units.Length
		var err error
		if isLine {
			half, err = film.LineAfter(t.Amount, t.Length, flow)
		} else {
			half, err = film.PuddleAfter(t.Amount/units.Volume(pools), flow)
		}
		if err == nil {
			t.Spread = append(t.Spread, SpreadAt{after, 2 * half})
		}
	}
	if bed {
		return
	}
	stop := c.Puddle.Height
	if isLine && t.Length > 0 {
		t.DryStop = units.Length(float64(t.Amount) * 1000 / float64(t.Length) / float64(stop))
	} else if !isLine {
		t.DryStop = units.Length(2 * math.Sqrt(float64(t.Amount)*1000/pools/math.Pi/float64(stop)))
	}
}
