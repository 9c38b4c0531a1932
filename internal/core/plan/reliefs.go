package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// ReliefKind is a way to make a coat fit its windows.
type ReliefKind string

// The reliefs.
const (
	ReliefLot    ReliefKind = "second-lot"
	ReliefRoom   ReliefKind = "cooler-room"
	ReliefZones  ReliefKind = "larger-zones"
	ReliefResin  ReliefKind = "slower-resin"
	ReliefHalves ReliefKind = "two-halves"
)

// A Relief is a way to make a coat fit its windows, reckoned again.
type Relief struct {
	Kind  ReliefKind
	Holds bool
	Spare float64
	Room  units.Temperature
	Resin string
	Step  string
}

// Reliefs reckons what would help a coat whose steps fall outside their
// windows: each is laid on the clock anew.
func (p *Plan) Reliefs(i int) []Relief {
	c := &p.Coats[i]
	if c.Fit.Holds() || c.Made {
		return nil
	}
	try := func(r Relief, clock *cure.Clock, face units.Area) Relief {
		trial := *c
		trial.Lots = slices.Clone(c.Lots)
		q := *p
		q.Face = face
		q.timeline(&trial, clock)
		r.Holds, r.Spare = trial.Fit.Holds(), trial.Fit.Spare
		return r
	}
	out := []Relief{p.secondLot(c)}
	if t, ok := p.coolerRoom(c); ok {
		out = append(out, try(Relief{Kind: ReliefRoom, Room: t}, c.clockIn(cure.Constant(t)), p.Face))
	}
	out = append(out, try(Relief{Kind: ReliefZones}, c.Clock, units.Area(0.7*float64(p.Face))))
	for _, id := range slices.Sorted(func(yield func(int64) bool) {
		for id := range p.Context.Products {
			if !yield(id) {
				return
			}
		}
	}) {
		other := p.Context.Products[id]
		if !other.Retired && id != c.Product.ID && other.WorkingMinutes > c.Product.WorkingMinutes {
			out = append(out, try(Relief{Kind: ReliefResin, Resin: other.Name}, withResin(*c, other).clockIn(cure.Constant(c.Room)), p.Face))
		}
	}
	return append(out, try(Relief{Kind: ReliefHalves}, c.Clock, p.Face/2))
}

// withResin is the coat poured with another product.
func withResin(c Coat, other Product) *Coat {
	c.Product = other
	return &c
}

// secondLot starts a fresh clock at the first step that is late.
func (p *Plan) secondLot(c *Coat) Relief {
	r := Relief{Kind: ReliefLot, Spare: math.Inf(1)}
	at := -1.0
	for _, s := range c.Fit.Steps {
		if at < 0 && s.Late > 0 {
			at, r.Step = s.From, s.Name
		}
		if at < 0 || s.Step.Window == "" {
			continue
		}
		w := c.Clock.Window(s.Step.Window)
		begin := math.Max(s.From-at+c.Product.MixMinutes, w.From)
		r.Spare = math.Min(r.Spare, w.To-begin-(s.To-s.From))
	}
	r.Holds = r.Spare >= 0
	return r
}

// coldest is the coolest room that is proposed in °C (common practice: below it
// bubbles stay and resin hardens badly).
const coldest = 15

// coolerRoom returns the warmest cooler room in which a coat fits.
func (p *Plan) coolerRoom(c *Coat) (units.Temperature, bool) {
	trial := *c
	for t := c.Room - 1; t >= coldest; t-- {
		trial.Lots = slices.Clone(c.Lots)
		if p.timeline(&trial, c.clockIn(cure.Constant(t))); trial.Fit.Holds() {
			return t, true
		}
	}
	return 0, false
}
