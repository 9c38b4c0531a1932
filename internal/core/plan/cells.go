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
	// Near and Far bound how far apart the cells are; 0 when none can grow.
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

// cell ranges over the unknown: the soonest and closest cells, then the latest
// and widest.
func (c *Coat) cell(l Lying, liquid film.Liquid, own Calibration) CellForecast {
	out := CellForecast{Upper: *l.Upper, Lower: *l.Lower, UpperFilm: l.UpperFilm, LowerFilm: l.LowerFilm,
		Soon: math.Inf(1), Near: units.Length(math.Inf(1))}
	low, high := c.Tensions()
	for _, u := range []struct {
		film    units.Length
		heavier units.Density
		tension float64
	}{{thinner, densityUnknown, low}, {thicker, densityUnknown, low}, {thinner, -densityUnknown, high}, {thicker,
		-densityUnknown, high}} {
		stack := film.Stack{
			Lower: film.Layer{Film: l.LowerFilm, Viscosity: liquid.Viscosity, Density: l.Lower.Look.Density},
			Upper: film.Layer{Film: l.UpperFilm * u.film, Viscosity: liquid.Viscosity,
				Density: l.Upper.Look.Density + u.heavier},
			InterfaceTension: u.tension, SurfaceTension: liquid.SurfaceTension,
		}
		found, err := stack.Fastest()
		if err != nil || found.Spacing <= 0 {
			out.Late = math.Inf(1)
			continue
		}
		seen := firstSeen(c.Clock, found.Growth, c.Fit.LastPour(), liquid)
		out.Near, out.Far = min(out.Near, found.Spacing), max(out.Far, found.Spacing)
		out.Soon, out.Late = min(out.Soon, seen), max(out.Late, seen)
	}
	if out.Far == 0 {
		out.Near = 0
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
