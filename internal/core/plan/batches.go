package plan

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Batch is one mixed batch of a coat: its own place on the clock, and the cups
// it feeds.
type Batch struct {
	Volume  units.Volume
	A, B    resin.Part
	Feeds   []Feed
	Met     float64 // minutes after the parts of the first batch met
	From    float64 // when the first of it is poured
	Poured  float64 // when the last of it leaves its cups
	UseBy   float64 // minutes it can stand, from mixing, with a margin for doubt
	Overdue float64 // minutes of it beyond that; 0 for one that keeps
}

// A Feed is how much of a cup comes from a batch.
type Feed struct {
	Cup    string
	Name   string
	Volume units.Volume
}

// Takes is how long the batch stands, from mixing until it is poured.
func (l Batch) Takes() float64 { return l.Poured - l.Met }

// Until is the minute, after the parts of the first batch met, until which it keeps.
func (l Batch) Until() float64 { return l.Met + l.UseBy }

// Split reports whether the cups of the coat are filled out of a mixed jug.
func (c *Coat) Split() bool { return c.Mixing == school.MixingJug && len(c.Cups) > 1 }

// LeastBatch is the smallest batch that is weighed true (common practice: 15 g
// and 5 g are the least that is mixed).
const LeastBatch units.Volume = 18

// KeepMargin is the part of the time a batch keeps that nobody plans for: a working
// time is said to five minutes and a room to a degree or two (common practice).
const KeepMargin = 0.12

// UsualJug is the largest mixing cup a studio has that says nothing of it
// (common practice: a cup of a quart).
const UsualJug units.Volume = 950

// batches cuts the coat into its batches: the fewest that are poured while they
// keep, none larger than the product allows or than the largest mixing cup, as
// equal as possible, and parted between two cups rather than within one where
// that costs nothing. With several people at the bench fewer may mix beside the
// work where that is better.
func (p *Plan) batches(c *Coat) error {
	clock := c.ClockIn(cure.Constant(c.Room))
	people := c.People
	var best *cutting
	for crew := people; crew >= 1; crew-- {
		k := &cutting{plan: p, coat: *c, clock: clock}
		k.coat.People, k.coat.Hands = crew, 0
		if err := k.solve(); err != nil {
			return err
		}
		if best == nil || k.better(best) {
			best = k
		}
	}
	*c = best.coat
	c.Hands, c.People = c.People, people
	return nil
}

// ClockIn returns the clock of the coat in a room: a deep layer goes by its own
// warmth.
func (c *Coat) ClockIn(room cure.Room) *cure.Clock {
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

// begins is how warm a batch is when its mixing begins.
func (c *Coat) begins() units.Temperature {
	if w, warmed := c.Warmed(); warmed {
		return w.Start
	}
	return c.Room
}

func (c *Coat) layer(room cure.Room) cure.Slab {
	return cure.Slab{Depth: c.Film, Faces: c.Faces, Start: room.At(0), Room: room}
}

// A serving is a part of a cup in the order it is poured.
type serving struct {
	pour   int // place among the steps that pour
	cup    Cup
	Volume units.Volume
}

// servings returns what is poured in the order it is poured; what is kept ready,
// and what no move pours, comes with the last pour.
func (c *Coat) servings() []serving {
	var out []serving
	left := map[string]float64{}
	for _, cup := range c.Cups {
		left[cup.Colour.ID] = 1
	}
	place := 0
	for _, s := range c.Technique.Steps {
		if !s.Pours {
			continue
		}
		for _, t := range s.Takes {
			if cup := c.Cup(t.Cup); cup != nil && left[t.Cup] > 1e-9 {
				part := math.Min(t.Part, left[t.Cup])
				left[t.Cup] -= part
				out = append(out, serving{place, *cup, cup.Volume * units.Volume(part)})
			}
		}
		place++
	}
	for _, cup := range c.Cups {
		if part := left[cup.Colour.ID]; part > 1e-9 {
			out = append(out, serving{max(0, place-1), cup, cup.Volume * units.Volume(part)})
		}
	}
	return out
}

// Kept is the part of a cup that no move pours.
func (c *Coat) Kept(cup string) float64 {
	left := 1.0
	for _, s := range c.Technique.Steps {
		for _, t := range s.Takes {
			if s.Pours && t.Cup == cup {
				left -= t.Part
			}
		}
	}
	return left
}

// perPour is how much each step that pours takes, and how many there are.
func (c *Coat) perPour(servings []serving) (of []float64, pours int) {
	for _, s := range c.Technique.Steps {
		if s.Pours {
			pours++
		}
	}
	pours = max(1, pours)
	of = make([]float64, pours)
	for _, s := range servings {
		of[s.pour] += float64(s.Volume)
	}
	return of, pours
}

// timeline lays the coat's steps on the clock, each batch mixed just before what
// it feeds.
func (p *Plan) timeline(c *Coat, clock *cure.Clock) {
	job := p.job(c)
	servings := c.servings()
	of, pours := c.perPour(servings)
	batches := make([]technique.Batch, len(c.Batches))
	for i := range batches {
		batches[i].Feeds = make([]float64, pours)
		c.Batches[i].Feeds = nil
	}
	k, left := 0, c.Batches[0].Volume
	for _, s := range servings {
		need := s.Volume
		for need > 1e-9 {
			if left <= 1e-9 && k < len(c.Batches)-1 {
				k++
				left = c.Batches[k].Volume
			}
			take := need
			if k < len(c.Batches)-1 { // the last batch takes what is left
				take = min(need, left)
			}
			c.Batches[k].Feeds = append(c.Batches[k].Feeds, Feed{s.cup.Colour.ID, s.cup.Colour.Name, take})
			batches[k].Feeds[s.pour] += float64(take) / of[s.pour]
			need -= take
			left -= take
		}
	}
	for i := range batches {
		c.Batches[i].Feeds = byCup(c.Batches[i].Feeds)
		batches[i].Cups = len(c.Tinted(i))
		for s := range pours {
			if of[s] == 0 && i == 0 {
				batches[i].Feeds[s] = 1 // a step that pours nothing still takes its time
			}
		}
	}
	job.Batches = batches
	c.Fit = c.Technique.Lay(job, clock)
	c.Clock = clock
	for i := range c.Batches {
		if i < len(c.Fit.Batches) {
			at := c.Fit.Batches[i]
			c.Batches[i].Met, c.Batches[i].From, c.Batches[i].Poured = at.Met, at.From, at.Poured
		}
	}
}

// Tinted are the cups that are coloured from the batch at i.
func (c *Coat) Tinted(i int) []string {
	var out []string
	for _, f := range c.Batches[i].Feeds {
		if cup := c.Cup(f.Cup); cup != nil && cup.Colour.Role.Rule().Tints {
			out = append(out, f.Cup)
		}
	}
	return out
}

// job holds the quantities a coat's times depend on.
func (p *Plan) job(c *Coat) technique.Job {
	n := 0
	for _, cup := range c.Cups {
		if cup.Colour.Role.Rule().Tints {
			n++
		}
	}
	return technique.Job{Face: p.Face, Cups: n, Mix: c.Product.MixMinutes, Ahead: c.Mixing == school.MixingCups,
		People: c.crew()}
}

// crew is how many work at once: fewer than are there, where that is better.
func (c *Coat) crew() int {
	if c.Hands > 0 {
		return c.Hands
	}
	return c.People
}
