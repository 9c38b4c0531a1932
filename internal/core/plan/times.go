package plan

import (
	"math"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// curveDays is how many days of the expected room a coat's clock follows; the
// rest of a cure does not hang on the nights.
const curveDays = 10

// maxMinutes is beyond any window worth a date.
const maxMinutes = 50 * 365 * 24 * 60

// Minutes turns a span in minutes into a duration.
func Minutes(m float64) time.Duration {
	return time.Duration(min(m, maxMinutes) * float64(time.Minute))
}

// applyTimes puts the coats on their clocks and the tasks in their order.
func (p *Plan) applyTimes(t Timing) {
	p.Timing, p.verdicts = t, &verdicts{}
	start := p.Spec.Start
	for i := range p.Coats {
		c := &p.Coats[i]
		if at, ok := t.Starts[c.ID]; ok {
			start = at
		}
		p.time(c, start)
		if i+1 < len(p.Coats) {
			start = p.next(c, &p.Coats[i+1])
		}
	}
	last := p.Coats[len(p.Coats)-1]
	p.Deliver = p.Context.Calendar.Slot(last.Windows[cure.Cured].From, 0)
	p.HeatSafe = last.Windows[cure.HeatReady].From
	p.Tasks = tasksOf(p)
	if h, ok := t.Happened[DeliverKey]; ok && !h.Start.IsZero() {
		p.Deliver = h.Start
	} else if at, ok := t.Starts[DeliverKey]; ok {
		p.Deliver = at
	}
}

// time lays one coat's steps on its clock, from the moment the gloves go on.
func (p *Plan) time(c *Coat, start time.Time) {
	c.Prep = 0
	job := p.job(c)
	for _, s := range p.Preparation(c) {
		c.Prep += Minutes(s.Minutes(job))
	}
	at, begun := p.Timing.Happened[PourKey(c.ID)]
	if begun && !at.Start.IsZero() {
		start = at.Start
		if !at.Met.IsZero() {
			c.Prep = at.Met.Sub(start)
		}
	}
	otherwise := at.Film > 0 && at.Film != c.planned
	if c.Film = c.planned; otherwise {
		c.Film = at.Film
	}
	c.Start, c.Met = start, start.Add(c.Prep)
	room := p.Context.Calendar.Warmth(c.Met, c.Room, p.night(c), curveDays)
	if m := p.Context.Measured; m != nil {
		room = m.At(c.Met)
	}
	if p.night(c) != 0 || !c.timed || otherwise || p.Context.Measured != nil && !p.Context.Measured.Room.Steady() {
		p.timeline(c, c.ClockIn(room))
		c.timed, c.Side = true, p.sides(c)
	}
	c.Covered = c.Met.Add(Minutes(c.Fit.Ends))
	c.Begun, c.Made = begun && !at.Start.IsZero(), false
	if at.Done {
		c.Covered, c.Made = at.End, true
	}
	c.windows()
}

// night is how warm the shut studio is where the coat lies; 0 for as by day.
func (p *Plan) night(c *Coat) units.Temperature {
	if p.Context.Night == 0 || p.Context.Night == p.Context.Room {
		return 0
	}
	return p.Context.Night + (c.Room - p.Context.Room)
}

// windows turns the phases into clock time: a phase of the coat is open from
// when the newest batch has come to it until the oldest leaves it.
func (c *Coat) windows() {
	c.Windows = map[cure.Phase]Span{}
	newest := 0.0
	if n := len(c.Fit.Batches); n > 0 {
		newest = c.Fit.Batches[n-1].Met
	}
	late := c.Clock.Later(newest).Windows()
	for i, w := range c.Clock.Windows() {
		span := Span{From: c.Met.Add(Minutes(newest + late[i].From))}
		if w.To < maxMinutes {
			span.To = c.Met.Add(Minutes(w.To))
			if span.To.Before(span.From) {
				span.To = span.From
			}
		}
		c.Windows[w.Phase] = span
	}
}

// castOn reports whether a coat is one more layer of the same cast: nobody
// reaches into the mould to scuff it.
func (p *Plan) castOn(c *Coat) bool {
	return c.Place > 0 && c.Technique.Cast && p.Coats[c.Place-1].Technique.Cast
}

// cool is the moment a layer of a cast carries the next: tacky, and past its own
// warmth.
func (c *Coat) cool() time.Time {
	at := c.Windows[cure.Tacky].From
	if c.Deep != nil {
		if cooled := c.Met.Add(Minutes(c.Deep.Cooled)); cooled.After(at) {
			return cooled
		}
	}
	return at
}

// scuffed reports whether a coat goes over a hard one that is scuffed first: in a
// studio of that school, in one of the tacky hours when those cannot be kept, and
// always over silicone.
func (p *Plan) scuffed(c *Coat) bool {
	if c.Place == 0 || p.castOn(c) {
		return false
	}
	way := p.Context.Schools.Way(school.Recoat)
	return way == school.RecoatScuff || (way == school.RecoatTacky && p.Timing.LooseRecoat) ||
		p.Coats[c.Place-1].Silicone()
}

// worked returns the place among the layers of the first work without resin
// between a coat and the one below; −1 for none.
func (p *Plan) worked(c *Coat) int {
	first, at := -1, slices.IndexFunc(p.Layers, func(l Layer) bool { return l.ID == c.ID })
	for i := at - 1; i >= 0 && p.Layers[i].Kind != Resin; i-- {
		if p.Layers[i].Kind == Between {
			first = i
		}
	}
	return first
}

// Scuffs reports whether a layer begins by scuffing the coat below it. That is
// the first layer on it: paint, leaf and tint are never sanded over.
func (p *Plan) Scuffs(layer string) bool {
	for i := range p.Coats {
		c := &p.Coats[i]
		if !p.scuffed(c) {
			continue
		}
		first := p.worked(c)
		if first < 0 && c.ID == layer || first >= 0 && p.Layers[first].ID == layer {
			return true
		}
	}
	return false
}

// Preparation returns what is done before the parts of a coat meet.
func (p *Plan) Preparation(c *Coat) []technique.Step {
	all := c.Technique.Preparation(p.Scuffs(c.ID))
	return slices.DeleteFunc(all, func(s technique.Step) bool { return s.Dry > 0 }) // days before, see tasks
}

// bonds is when the next coat may go on a coat by the studio's school where the
// tacky hours are over: scuffed once it is firm, as it is once it is hard.
func (p *Plan) bonds(c, next *Coat) time.Time {
	if p.scuffed(next) {
		return c.Windows[cure.Firm].From
	}
	return c.Windows[cure.Hard].From
}

// next returns when the coat after c could start if nothing else were in hand,
// by the studio's school.
func (p *Plan) next(c, then *Coat) time.Time {
	job := p.job(then)
	prep := 0.0
	for _, s := range p.Preparation(then) {
		prep += s.Minutes(job)
	}
	whole := Minutes(prep + then.Fit.Ends)
	if p.castOn(then) {
		return p.Context.Calendar.Slot(c.cool(), whole)
	}
	hard := p.Context.Calendar.Slot(p.bonds(c, then), whole)
	if p.Context.Schools.Way(school.Recoat) == school.RecoatTacky && !p.Timing.LooseRecoat {
		tacky := c.Windows[cure.Tacky]
		start := p.Context.Calendar.Slot(tacky.From.Add(-Minutes(prep)), whole)
		if start.Add(Minutes(prep)).Before(tacky.To) {
			return start
		}
	}
	return hard
}

// A SideForecast is the film left on the sides by resin that runs over them.
type SideForecast struct {
	Top, Bottom, Mean units.Length // film at a tenth of the depth, at the bottom, on average
	SeeThrough        bool
	Hold              float64 // minute until which a dam must hold for a covering film; 0 when none
}

// coveringSide is the film from which a colour hides a side (common
// practice); thinner ones are see-through.
const coveringSide = 0.30 * units.Millimetre

// sides forecasts the film left on the sides once the resin has stopped.
func (p *Plan) sides(c *Coat) SideForecast {
	let, runs := p.LetGo(c)
	if c.Place > 0 && !runs || p.Spec.Depth <= 0 || !p.coversSides(c) {
		return SideForecast{}
	}
	released := c.Fit.Ends
	if runs {
		released = let
	}
	forecast := func(from float64) (f SideForecast, ok bool) {
		flow := c.Clock.Flow(from, c.Clock.Gel(), c.Product.Viscosity, c.Product.Density())
		var err [3]error
		f.Top, err[0] = film.SideAfter(flow, p.Spec.Depth/10)
		f.Bottom, err[1] = film.SideAfter(flow, p.Spec.Depth)
		f.Mean, err[2] = film.MeanSide(flow, p.Spec.Depth)
		f.Top, f.Bottom, f.Mean = min(f.Top, c.Film), min(f.Bottom, c.Film), min(f.Mean, c.Film)
		f.SeeThrough = f.Mean < coveringSide
		return f, err == [3]error{}
	}
	f, ok := forecast(released)
	if !ok {
		return SideForecast{}
	}
	if f.SeeThrough { // the later an edge is let go, the more stays on it
		covers := func(m float64) bool {
			g, ok := forecast(m)
			return ok && !g.SeeThrough
		}
		if last := c.Clock.Window(cure.Stringy).From; last > released && covers(last) { // hands are off from then on
			f.Hold = math.Ceil(numeric.First(released, last, 0.01, covers)/5) * 5
		}
	}
	return f
}

// Taped reports whether tape has to come off: of the sides or of a dam.
func (b Board) Taped() bool { return b.Sides == surface.SidesTaped || b.Edge.Rule().Taped }
