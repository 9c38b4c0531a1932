package plan

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/units"
)

// A CellForecast is the forecast where one cup lies on another, as a range over
// what nobody knows of them.
type CellForecast struct {
	Upper, Lower         Cup
	UpperFilm, LowerFilm units.Length
	// Near and Far bound how far apart the cells are, of those that show while the resin flows
	// where any do; 0 when none can grow.
	Near, Far units.Length
	// Soon and Late are minutes after mixing began at which they are first
	// seen; Late is +Inf when they may never be.
	Soon, Late float64
	InTime     Chance // before the working window closes
}

// Chance is how sure something is.
type Chance string

// The chances.
const (
	Surely  Chance = "surely"
	Perhaps Chance = "perhaps"
	Never   Chance = "never"
)

// efolds is how often a ripple must have grown by e to be seen (common
// practice).
const efolds = 5

// What is not known of two cups (from memory): how thick the upper one really
// lies where it was poured, the density of a bottle, and the tension between
// two pigmented resins in mN/m, which silicone raises.
const (
	thinner, thicker = 0.7, 1.4
	densityUnknown   = units.Density(10)
)

// Tensions bounds the tension between two cups, in mN/m.
func (c *Coat) Tensions() (low, high float64) {
	if c.Silicone() {
		return 0.25, 0.5
	}
	return 0, 0.5
}

// cells forecasts the pattern of every pair of which one lies on the other. A
// colour whose density nobody knows gets no forecast.
func (p *Plan) cells(i int, liquid film.Liquid) []CellForecast {
	c := &p.Coats[i]
	var out []CellForecast
	for _, n := range p.Neighbours(i) {
		if n.Stack == nil || !n.A.Look.Weighed || !n.B.Look.Weighed {
			continue
		}
		out = append(out, c.cell(*n.Stack, liquid, p.Context.Own))
	}
	return out
}

// cell ranges over the unknown: how thick the upper film lies, the densities, and the tension. What
// would never be seen bounds nothing: the widest cells are those of the highest tension at which they
// still show while the resin flows.
func (c *Coat) cell(l Lying, liquid film.Liquid, own Calibration) CellForecast {
	out := CellForecast{Upper: *l.Upper, Lower: *l.Lower, UpperFilm: l.UpperFilm, LowerFilm: l.LowerFilm,
		Soon: math.Inf(1)}
	low, high := c.Tensions()
	o := overturn{c, l, liquid, liquid.Viscosity.PascalSeconds() / float64(liquid.Density) *
		c.Clock.Flow(c.Fit.LastPour(), c.Clock.Gel(), liquid.Viscosity, liquid.Density)}
	var all, shown span
	for _, thick := range []units.Length{thinner, thicker} {
		for _, heavier := range []units.Density{densityUnknown, -densityUnknown} {
			first, last := o.cells(thick, heavier, low), o.cells(thick, heavier, high)
			out.Soon, out.Late = min(out.Soon, o.seen(first)), max(out.Late, o.seen(last))
			all.add(first, last)
			switch {
			case o.shows(last):
				shown.add(first, last)
			case o.shows(first) && thick == thicker: // cells of the thinner film are no wider
				shown.add(first, o.widest(thick, heavier, low, high))
			case o.shows(first):
				shown.add(first)
			}
		}
	}
	out.Near, out.Far = all.near, all.far
	if shown.far > 0 {
		out.Near, out.Far = shown.near, shown.far
	}
	out.calibrate(own)
	closes := c.Clock.Window(cure.Lacing).To
	switch {
	case out.Late <= closes:
		out.InTime = Surely
	case out.Soon <= closes:
		out.InTime = Perhaps
	default:
		out.InTime = Never
	}
	return out
}

// An overturn is one cup lying on another while the resin flows.
type overturn struct {
	*Coat
	lying  Lying
	liquid film.Liquid
	flows  float64 // seconds of the fresh resin's flow that are left, ν₀·∫dt/ν until gel
}

// cells is what grows fastest; nothing where none does.
func (o overturn) cells(thick units.Length, heavier units.Density, tension float64) film.Cells {
	upper := o.lying.Upper.Look.Density + heavier
	found, err := film.Stack{
		Lower: film.Layer{Film: o.lying.LowerFilm, Viscosity: o.liquid.Viscosity,
			Density: o.lying.Lower.Look.Density},
		Upper:            film.Layer{Film: o.lying.UpperFilm * thick, Viscosity: o.liquid.Viscosity, Density: upper},
		InterfaceTension: tension, SurfaceTension: o.liquid.SurfaceTension,
	}.Fastest()
	if err != nil {
		return film.Cells{}
	}
	return found
}

// shows reports whether cells have grown by efolds before the resin sets.
func (o overturn) shows(c film.Cells) bool { return c.Growth*o.flows >= efolds }

// seen is the minute cells are first seen, +Inf for those that never are.
func (o overturn) seen(c film.Cells) float64 {
	if !o.shows(c) {
		return math.Inf(1)
	}
	return firstSeen(o.Clock, c.Growth, o.Fit.LastPour(), o.liquid)
}

// tensionSteps is how finely the highest tension at which cells show is sought.
const tensionSteps = 8

// widest are the cells of the highest tension at which they show, between one at which they do and
// one at which they do not.
func (o overturn) widest(thick units.Length, heavier units.Density, shows, not float64) film.Cells {
	found := film.Cells{}
	for end := (not - shows) / tensionSteps; not-shows > end; {
		middle := (shows + not) / 2
		if c := o.cells(thick, heavier, middle); o.shows(c) {
			shows, found = middle, c
		} else {
			not = middle
		}
	}
	return found
}

// A span is from the nearest to the widest of some patterns, 0 for none.
type span struct{ near, far units.Length }

func (s *span) add(cells ...film.Cells) {
	for _, c := range cells {
		if c.Spacing <= 0 {
			continue
		}
		if s.far == 0 {
			s.near = c.Spacing
		}
		s.near, s.far = min(s.near, c.Spacing), max(s.far, c.Spacing)
	}
}

// calibrate brings a forecast to what this studio's coats did.
func (f *CellForecast) calibrate(own Calibration) {
	spacing, seen := Factor(own.Spacing), Factor(own.Seen)
	f.Near, f.Far = units.Length(spacing)*f.Near, units.Length(spacing)*f.Far
	f.Soon, f.Late = seen*f.Soon, seen*f.Late
}

// firstSeen returns the minute at which a ripple that grows at rate in 1/s in
// the fresh resin has grown by efolds since it was poured: both layers thicken
// alike, so growth goes with the fluidity, ∫σ dt = σ₀·ν₀·∫dt/ν.
func firstSeen(clock *cure.Clock, rate, from float64, liquid film.Liquid) float64 {
	nu := liquid.Viscosity.PascalSeconds() / float64(liquid.Density)
	grown := func(at float64) bool {
		return rate*nu*clock.Flow(from, at, liquid.Viscosity, liquid.Density) >= efolds
	}
	gel := clock.Gel()
	if !grown(gel) {
		return math.Inf(1)
	}
	return numeric.First(from, gel, 0.01, grown)
}
