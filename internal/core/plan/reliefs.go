package plan

import (
	"math"
	"slices"

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
	try := func(r Relief, trial Coat, face units.Area) Relief {
		q := *p
		q.Face = face
		r.Holds, r.Spare = q.fits(&trial)
		return r
	}
	out := []Relief{p.secondLot(c)}
	if t, ok := p.coolerRoom(c); ok {
		out = append(out, try(Relief{Kind: ReliefRoom, Room: t}, c.in(t), p.Face))
	}
	out = append(out, try(Relief{Kind: ReliefZones}, *c, units.Area(0.7*float64(p.Face))))
	for _, id := range slices.Sorted(func(yield func(int64) bool) {
		for id := range p.Context.Products {
			if !yield(id) {
				return
			}
		}
	}) {
		other := p.Context.Products[id]
		if !other.Retired && id != c.Product.ID && other.WorkingMinutes > c.Product.WorkingMinutes {
			out = append(out, try(Relief{Kind: ReliefResin, Resin: other.Name}, withResin(*c, other), p.Face))
		}
	}
	return append(out, try(Relief{Kind: ReliefHalves}, *c, p.Face/2))
}

// fits cuts a coat anew and reports whether its moves then fall in their windows.
func (p *Plan) fits(trial *Coat) (holds bool, spare float64) {
	if err := p.lots(trial); err != nil {
		return false, math.Inf(-1)
	}
	return trial.Fit.Holds(), trial.Fit.Spare
}

// withResin is the coat poured with another product.
func withResin(c Coat, other Product) Coat {
	c.Product = other
	return c
}

// in is the coat poured in another room.
func (c *Coat) in(room units.Temperature) Coat {
	trial := *c
	trial.Room = room
	return trial
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
	if least := c.in(coldest); c.Room > coldest {
		if holds, _ := p.fits(&least); !holds {
			return 0, false
		}
	}
	for t := c.Room - 1; t >= coldest; t-- {
		trial := c.in(t)
		if holds, _ := p.fits(&trial); holds {
			return t, true
		}
	}
	return 0, false
}
