package plan

import (
	"jevvo/internal/core/film"
	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
)

// A TapeForecast is the film's behaviour when the first side is untaped while the
// others are still held.
type TapeForecast struct {
	First      Compass
	Minute     float64      // after the first mixing began
	EdgeHeight units.Length // what an edge that is wetted keeps by itself
	film.EdgeRun
	Volume units.Volume // over that side
}

// TapeForecast calculates the first side of a coat's tape; nil where nothing is held
// back, or none was chosen.
func (p *Plan) TapeForecast(c *Coat) *TapeForecast {
	first := c.Layer.Coat.TapeFirst
	if !p.Spec.Taped() || first == "" {
		return nil
	}
	f := TapeForecast{First: first, EdgeHeight: c.Puddle.Height}
	for _, s := range p.watch(c) {
		if s.Kind == StepTape {
			f.Minute = s.From
		}
	}
	flow := c.Clock.Flow(f.Minute, c.Clock.Gel(), c.Product.Viscosity, c.Product.Density())
	run, err := film.OverEdge(c.Film, f.EdgeHeight, flow)
	if err != nil {
		return nil
	}
	f.EdgeRun = run
	f.Volume = p.side(first).Times(c.Film).Times(run.Runs)
	return &f
}

// side is the length of the first board on a side.
func (p *Plan) side(s Compass) units.Length {
	box := p.Boards[0].Bounds()
	if s == North || s == South {
		return box.Width()
	}
	return box.Height()
}

// LetGo returns the minute at which a coat's tape comes off while the resin still
// runs; false where it does not.
func (p *Plan) LetGo(c *Coat) (float64, bool) { return c.Fit.Ends + c.Layer.Coat.TapeAfter, p.letGo(c) }

// letGo reports whether a coat's tape comes off while the resin still runs, so
// that it covers the sides.
func (p *Plan) letGo(c *Coat) bool {
	return p.Spec.Taped() && !p.Spec.Edge.Rule().Stays && !p.Spec.Support.Rule().Cast && p.tapeWay(c) == school.TapeRuns
}

// coversSides reports whether resin of a coat goes down the sides.
func (p *Plan) coversSides(c *Coat) bool {
	return p.letGo(c) || p.Spec.Sides == surface.SidesRunOver && !p.Spec.Dammed()
}

// tapedCoats are so many coats behind tape that what stands at it builds up
// (common practice).
const tapedCoats = 3

// tape says when tape would lock in or build a ridge.
func (j *judge) tape(i int) {
	p := j.plan
	c := &p.Coats[i]
	dammed := p.Spec.Edge.Rule().Taped
	if !p.Spec.Taped() || p.Spec.Edge.Rule().Stays {
		return
	}
	purpose := technique.ForTape
	if dammed {
		purpose = technique.ForDam
	}
	if i > 0 && !p.preparedFor(purpose, i) && !dammed {
		j.say(verdict.TapeLocked, verdict.PartDays, verdict.Mind, c, verdict.Args{"coats": i + 1})
	}
	if i+1 == tapedCoats {
		rise, err := film.AgainstWall(film.DefaultContactAngle, c.liquid())
		if err == nil {
			j.say(verdict.TapeBuilds, verdict.PartSurface, verdict.Mind, c,
				verdict.Args{"coats": len(p.Coats), "ridge": rise.Climbs})
		}
	}
	if c.Layer.Coat.TapeFirst != "" && p.tapeWay(c) != school.TapeNext {
		if f := p.TapeForecast(c); f != nil && f.Drift > 0 {
			j.say(verdict.TapeDrifts, verdict.PartSurface, verdict.Settled, c,
				verdict.Args{"side": msg.ID(f.First), "drift": f.Drift, "runs": f.Volume})
		} else if f != nil {
			j.say(verdict.TapeStands, verdict.PartSurface, verdict.Settled, c,
				verdict.Args{"film": c.Film, "stands": f.EdgeHeight})
		}
	}
}
