package plan

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Lot is one mixed batch of a coat: its own place on the clock, and the cups
// it feeds.
type Lot struct {
	Volume units.Volume
	A, B   resin.Part
	Feeds  []Feed
	Met    float64 // minutes after the parts of the first lot met
	Poured float64 // when the last of it leaves its cups
	UseBy  float64 // minutes it lasts in its jug
}

// A Feed is how much of a cup comes from a lot.
type Feed struct {
	Cup    string
	Name   string
	Volume units.Volume
}

// Takes is how long the lot stands, from mixing until it is poured.
func (l Lot) Takes() float64 { return l.Poured - l.Met }

// Split reports whether the cups of the coat are filled out of a mixed jug.
func (c *Coat) Split() bool { return c.Mixing == MixingJug && len(c.Cups) > 1 }

// leastLot is the smallest lot worth mixing (common practice); smaller ones are
// not weighed true.
const leastLot units.Volume = 20

// lots cuts the coat into lots that are used before they age in the jug: none
// larger than the product allows, nor than what is poured while it keeps.
func (p *Plan) lots(c *Coat) error {
	c.LotMax = c.Product.MaxLot
	clock := c.clockIn(cure.Constant(c.Room))
	for {
		if err := p.cut(c); err != nil {
			return err
		}
		p.timeline(c, clock)
		worst := -1
		for i, l := range c.Lots {
			if l.Takes() > l.UseBy && l.Volume > leastLot {
				worst = i
			}
		}
		if worst < 0 || c.LotMax <= leastLot {
			return nil
		}
		c.LotMax, c.LotAges = max(min(c.LotMax, c.Lots[worst].Volume)*0.8, leastLot), true
	}
}

// clockIn returns the clock of the coat in a room: a deep layer goes by its own
// warmth.
func (c *Coat) clockIn(room cure.Room) *cure.Clock {
	layer := c.layer(room)
	clock, err := c.Product.Kinetics.ClockIn(layer)
	if w, warmed := c.Warmed(); warmed {
		clock, err = c.Product.Kinetics.ClockWarmed(layer, w)
	}
	if err != nil { // it does not gel within a year
		return cure.NewClock(c.Product.Kinetics, room)
	}
	return clock
}

// Warmed returns how warm a coat is mixed whose bottles stood in warm water, false
// for one at the room's temperature.
func (c *Coat) Warmed() (cure.Warmed, bool) {
	spec := c.Layer.Coat
	if spec.Warm == 0 || spec.Warm <= c.Room {
		return cure.Warmed{}, false
	}
	w := cure.Warmed{Start: spec.Warm}
	for _, s := range c.Technique.Steps { // what is done in the jug and the cups
		if s.Mixes || s.Colours {
			w.Poured += s.Minutes(technique.Job{Cups: len(c.Cups), Mix: c.Product.MixMinutes, People: c.People})
		}
	}
	return w, true
}

// begins is how warm a lot is when its parts meet.
func (c *Coat) begins() units.Temperature {
	if w, warmed := c.Warmed(); warmed {
		return w.Start
	}
	return c.Room
}

func (c *Coat) layer(room cure.Room) cure.Slab {
	return cure.Slab{Depth: c.Film, Faces: c.Faces, Start: room.At(0), Room: room}
}

// volumes are those of the lots: equal ones by the marks of a jug, or one for
// each cup, in the order they are poured.
func (p *Plan) volumes(c *Coat) ([]units.Volume, error) {
	step := min(p.Context.JugStep, c.Total)
	if c.Mixing != MixingCups {
		return resin.Stages(c.Total, max(c.LotMax, step), step)
	}
	var out []units.Volume
	for _, s := range c.servings() {
		n := math.Ceil(float64(s.cup.Volume/max(c.LotMax, step)) - 1e-9)
		for range int(max(1, n)) {
			out = append(out, s.cup.Volume/units.Volume(max(1, n)))
		}
	}
	return out, nil
}

// cut divides the coat into lots.
func (p *Plan) cut(c *Coat) error {
	volumes, err := p.volumes(c)
	if err != nil {
		return &Refusal{"coat." + c.ID + ".amount", err}
	}
	c.Lots = make([]Lot, len(volumes))
	for i, v := range volumes {
		b, err := c.Product.Volume(v)
		if err != nil {
			return &Refusal{"coat." + c.ID + ".amount", err}
		}
		f, err := c.Product.Kinetics.InCup(v.Weighing(c.Product.Density()), c.begins(), c.Room)
		if err != nil {
			return &Refusal{"coat." + c.ID + ".product", err}
		}
		c.Lots[i] = Lot{Volume: v, A: b.A, B: b.B, UseBy: f.UseBy}
	}
	return nil
}

// serving is a stretch of a coat in the order it is poured.
type serving struct {
	pour int // place among the steps that pour
	cup  Cup
}

// servings returns the cups in the order they are poured; what is kept ready
// comes last.
func (c *Coat) servings() []serving {
	var out []serving
	pours := max(1, len(c.Technique.Pourings()))
	for place := range pours {
		for _, cup := range c.Cups {
			if cup.Colour.ID != reserveCup && c.Technique.PourOf(cup.Colour.Role) == place {
				out = append(out, serving{place, cup})
			}
		}
	}
	for _, cup := range c.Cups {
		if cup.Colour.ID == reserveCup {
			out = append(out, serving{pours - 1, cup})
		}
	}
	return out
}

// timeline lays the coat's steps on the clock, each lot mixed just before what
// it feeds.
func (p *Plan) timeline(c *Coat, clock *cure.Clock) {
	job := p.job(c)
	servings := c.servings()
	pours := max(1, len(c.Technique.Pourings()))
	of := make([]float64, pours) // of each pouring step, all lots together
	batches := make([]technique.Batch, len(c.Lots))
	for i := range batches {
		batches[i].Feeds = make([]float64, pours)
		c.Lots[i].Feeds = nil
	}
	k, left := 0, c.Lots[0].Volume
	for _, s := range servings {
		need := s.cup.Volume
		for need > 1e-9 {
			if left <= 1e-9 && k < len(c.Lots)-1 {
				k++
				left = c.Lots[k].Volume
			}
			take := need
			if k < len(c.Lots)-1 { // the last lot takes what is left
				take = min(need, left)
			}
			c.Lots[k].Feeds = append(c.Lots[k].Feeds, Feed{s.cup.Colour.ID, s.cup.Colour.Name, take})
			batches[k].Feeds[s.pour] += float64(take)
			of[s.pour] += float64(take)
			if s.cup.Colour.Role.Rule().Tints && take == need {
				batches[k].Cups++
			}
			need -= take
			left -= take
		}
	}
	for i := range batches {
		for s := range pours {
			if of[s] > 0 {
				batches[i].Feeds[s] /= of[s]
			} else if i == 0 {
				batches[i].Feeds[s] = 1 // a step that pours nothing still takes its time
			}
		}
	}
	job.Lots = batches
	c.Fit = c.Technique.Lay(job, clock)
	c.Clock = clock
	for i := range c.Lots {
		if i < len(c.Fit.Lots) {
			c.Lots[i].Met, c.Lots[i].Poured = c.Fit.Lots[i].Met, c.Fit.Lots[i].Poured
		}
	}
}

// job is what a coat's times depend on.
func (p *Plan) job(c *Coat) technique.Job {
	n := 0
	for _, cup := range c.Cups {
		if cup.Colour.Role.Rule().Tints {
			n++
		}
	}
	return technique.Job{Face: p.Face, Cups: n, Mix: c.Product.MixMinutes, Ahead: c.Mixing == MixingCups, People: c.People}
}
