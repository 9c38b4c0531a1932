package plan

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
)

// Deep is the self-heating of a coat deeper than a film, and the layers
// it can be poured in instead.
type Deep struct {
	cure.SlabForecast
	Safe  units.Length // deepest layer that stays under the safe peak
	Pours int          // layers of the coat that do; 1 for one as it is
	Each  units.Length
	Wait  float64 // minutes until the next layer may follow
}

// warms is a peak from which a layer is spoken of, in °C (common practice: warm
// to the hand).
const warms units.Temperature = 35

// deep returns what the warmth of the coat does; nil for a thin film.
func (c *Coat) deep() *Deep {
	if c.Film <= cure.ThinFilm {
		return nil
	}
	k, room := c.Product.Kinetics, cure.Constant(c.Room)
	f, err := k.InSlab(c.layer(room))
	if err != nil {
		return nil
	}
	d := &Deep{SlabForecast: f, Pours: 1, Each: c.Film}
	if d.Safe, err = k.SafeDepth(c.Faces, c.Room, room); err != nil || f.Peak < cure.SafePeak {
		return d
	}
	d.Pours = int(math.Ceil(float64(c.Film/d.Safe) - 1e-9))
	d.Each = c.Film / units.Length(d.Pours)
	if one, err := k.InSlab(cure.Slab{Depth: d.Each, Faces: c.Faces, Start: c.Room, Room: room}); err == nil {
		d.Wait = one.Cooled
	}
	return d
}

// mostPours is into how many layers anybody pours a cast.
const mostPours = 12

// deep says how warm deep coats get, and how casts shrink.
func (j *judge) deep() {
	for i := range j.plan.Coats {
		c := &j.plan.Coats[i]
		d := c.Deep
		if d == nil || c.Made {
			continue
		}
		args := verdict.Args{"film": c.Film, "peak": d.Peak, "at": d.PeakAt, "gel": d.Gel, "safe": d.Safe, "pours": d.Pours,
			"each": d.Each, "wait": d.Wait}
		switch {
		case d.Peak >= cure.SafePeak && d.Pours <= mostPours && d.Safe > cure.ThinFilm+0.1:
			j.say(verdict.DeepLayers, verdict.PartClock, verdict.Trouble, c, args)
		case d.Peak >= cure.SafePeak:
			j.say(verdict.DeepHot, verdict.PartClock, verdict.Trouble, c, args)
		case d.Peak >= warms:
			j.say(verdict.DeepWarm, verdict.PartClock, verdict.Mind, c, args)
		}
	}
	p := j.plan
	if p.Spec.Support.Rule().Cast && p.Mould > 0 {
		long := p.longest()
		j.say(verdict.CastShrinks, verdict.PartSurface, verdict.Settled, &p.Coats[0],
			verdict.Args{"least": long * leastShrink / 3, "most": long * mostShrink / 3})
	}
}

// Epoxy shrinks by 2 to 5 % of its volume (from memory), a third of it along
// each side.
const leastShrink, mostShrink = 0.02, 0.05

// air says when the cure stops short in a cool room and when a board blushes.
func (j *judge) air() {
	p := j.plan
	last := &p.Coats[len(p.Coats)-1]
	if r := p.Reach(cure.Cured); !r.Comes && !last.Made {
		j.say(verdict.CoolCured, verdict.PartDays, verdict.Mind, last,
			verdict.Args{"stops": r.Stops, "warm": r.Warm, "hours": r.Hours})
	}
	night := p.Context.Night
	if night == 0 {
		night = p.Context.Room
	}
	if p.Context.Humidity <= 0 {
		return
	}
	if dew, err := cure.DewPoint(p.Context.Room, p.Context.Humidity); err == nil && float64(night-dew) < cure.BlushMargin {
		j.say(verdict.Blush, verdict.PartDays, verdict.Mind, nil, verdict.Args{"dew": dew, "night": night})
	}
}

// Reach says whether the last coat comes to a phase in its room, and what
// warming does where it does not.
func (p *Plan) Reach(phase cure.Phase) cure.Reach {
	c := &p.Coats[len(p.Coats)-1]
	return c.Product.Kinetics.Reaches(cure.Begins(phase), c.Product.Glassy(), c.Clock.Warmest())
}

// tilted says when a planned tilt leaves less than was wanted.
func (j *judge) tilted() {
	for i := range j.plan.Coats {
		c := &j.plan.Coats[i]
		if c.Tilt != nil && c.Tilt.TooLong {
			j.say(verdict.TiltLong, verdict.PartSurface, verdict.Trouble, c,
				verdict.Args{"tilt": c.Layer.Coat.Tilt, "minutes": c.Layer.Coat.TiltFor, "stays": c.Tilt.Stays, "film": c.Film})
		}
	}
}
