package plan

import (
	"math"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/heat"
	"jevvo/internal/core/material"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Forecast is the forecast of a coat left alone and under heat.
type Forecast struct {
	Marks   []MarkForecast
	Tilted  MarkForecast // the wave that a corrected tilt leaves from edge to edge
	Walks   units.Length // of the pattern on a board off level by TiltOf, until it holds
	Bubble  units.Length // smallest that leaves by itself before the resin is stringy
	Torch   []TorchForecast
	Settles []SettleForecast
	Cells   []CellForecast
	Sides   []SideAt
	Drops   []SiliconeDose
	Wall    film.Meniscus // against a rim or a dam
}

// TiltOf is a board that a spirit level calls level (common practice).
const TiltOf units.Angle = 0.1

// A MarkForecast is a tool mark of a width, half a wave, and how it levels.
type MarkForecast struct {
	Across units.Length
	Left   float64 // share of it that stays when the resin gels
	Gone   float64 // minutes until a tenth is left; +Inf when never
}

// A TorchForecast is a pass over the board.
type TorchForecast struct {
	Name msg.ID
	heat.Pass
}

// Drift is which way a pigment goes before the resin gels.
type Drift string

// The drifts.
const (
	Sinks       Drift = "sinks"
	SinksLittle Drift = "sinks-little"
	Rises       Drift = "rises"
	Stays       Drift = "stays"
)

// A SettleForecast is how far a pigment sinks before the resin gels.
type SettleForecast struct {
	Pigment material.Pigment
	Way     units.Length // positive down; of flakes the longest
	Least   units.Length // and the shortest: equal for grains
	Drift   Drift
}

// flakes is how much slower than a sphere of its width a flake sinks, by its form: a
// thin disc of radius a and thickness t falls broadside at π·Δρ·g·a·t/16μ, 0.88·t/a of
// the sphere's, and half as fast again edgeways (Happel & Brenner 1965, ch. 5; widths
// over thickness of 30 to 100 for mica and 10 to 50 for metals from memory).
var flakes = map[colour.Form][2]float64{colour.Mica: {0.018, 0.09}, colour.MetalPowder: {0.035, 0.27},
	colour.Chrome: {0.035, 0.27}}

// A SideAt is the film left on a side that is untaped at a minute.
type SideAt struct {
	Minute float64
	Film   units.Length
}

// A SiliconeDose is how many drops go into a cup that should open.
type SiliconeDose struct {
	Cup   Cup
	Drops int
}

// Heat as painters use it (from memory): flux in kW/m², the spot it covers and
// the time over each place.
var torches = []struct {
	name  msg.ID
	flux  float64
	spot  units.Length
	dwell float64
}{
	{"Torch held high, for bubbles", 25, 60, 0.8},
	{"Torch low and close, for lacing", 60, 40, 0.5},
	{"Hot air", 8, 80, 3},
}

// markWidths are the marks of a stick and of a spreader.
var markWidths = []units.Length{10, 20, 100}

// usualDrops of silicone go into siliconeCup of a colour (common practice: 1 to 3
// in 30 mL).
const (
	usualDrops               = 2
	siliconeCup units.Volume = 30
)

// SiliconeDrops is how many drops a cup of the coat that should open gets.
func (c *Coat) SiliconeDrops(v units.Volume) int {
	return max(1, int(math.Round(float64(c.drops())*float64(v/siliconeCup))))
}

// drops is how many go into siliconeCup of a colour that should open.
func (c *Coat) drops() int {
	if spec := c.Layer.Coat; spec.Drops > 0 {
		return spec.Drops
	}
	return usualDrops
}

// SiliconeDose is how many drops the coat's colours get in 30 mL, 0 without silicone.
func (c *Coat) SiliconeDose() int {
	if !c.Silicone() {
		return 0
	}
	return c.drops()
}

// SiliconeIn is how many drops go into a cup of the coat, 0 for one that gets none.
func (c *Coat) SiliconeIn(cup Cup) int {
	if !c.Layer.Coat.Silicone || !opens(cup.Colour.Role) {
		return 0
	}
	return c.SiliconeDrops(cup.Volume)
}

// opens reports whether cups of the role get silicone: never the bed.
func opens(r technique.Role) bool { rule := r.Rule(); return rule.Tints && !rule.Under }

// liquid is the coat's resin as the film sums want it.
func (c *Coat) liquid() film.Liquid {
	l := film.DefaultLiquid
	l.Viscosity, l.Density = c.Product.Viscosity, c.Product.Density()
	return l
}

// Forecast calculates what the coat at i will do.
func (p *Plan) Forecast(i int) Forecast {
	var f Forecast
	c := &p.Coats[i]
	liquid := c.liquid()
	ends, gel := c.Fit.Ends, c.Clock.Gel()
	flow := func(from, to float64) float64 { return c.Clock.Flow(from, to, liquid.Viscosity, liquid.Density) }
	poured := c.Fit.LastPour()
	f.marks(c, liquid, flow, gel)
	f.Tilted = mark(p.longest(), c.Film, liquid, flow, ends, gel)
	f.Walks, _ = film.Drift(c.Film, TiltOf, flow(poured, c.Clock.Window(cure.Holding).To))
	f.Bubble, _ = film.SmallestEscaping(c.Film, flow(poured, c.Clock.Window(cure.Stringy).From))
	for _, t := range torches {
		if pass, err := heat.PassOver(t.flux, t.dwell, t.spot, c.Film, p.Face, c.Room); err == nil {
			f.Torch = append(f.Torch, TorchForecast{t.name, pass})
		}
	}
	f.settles(p, c, flow(poured, gel))
	f.Cells = p.cells(i, liquid)
	for _, m := range []float64{ends, ends + 30, ends + 60, ends + 120} {
		if p.Spec.Depth > 0 && m < c.Clock.Window(cure.Stringy).From && !p.Spec.Dammed() {
			if h, err := film.MeanSide(flow(m, gel), p.Spec.Depth); err == nil {
				f.Sides = append(f.Sides, SideAt{m, min(h, c.Film)})
			}
		}
	}
	if p.Spec.Dammed() {
		f.Wall, _ = film.AgainstWall(film.DefaultContactAngle, liquid)
	}
	for _, cup := range c.Cups {
		if n := c.SiliconeIn(cup); n > 0 {
			f.Drops = append(f.Drops, SiliconeDose{cup, n})
		}
	}
	return f
}

// longest is the longer side of the first board.
func (p *Plan) longest() units.Length {
	box := p.Boards[0].Bounds()
	return max(box.Width(), box.Height())
}

func (f *Forecast) marks(c *Coat, liquid film.Liquid, flow func(a, b float64) float64, gel float64) {
	for _, w := range markWidths {
		f.Marks = append(f.Marks, mark(w, c.Film, liquid, flow, c.Fit.Ends, gel))
	}
}

// mark follows a mark, which is half a wave, from a minute until gel.
func mark(across, h units.Length, liquid film.Liquid, flow func(a, b float64) float64, from, gel float64) MarkForecast {
	left := func(at float64) float64 {
		l, err := film.LeftOf(2*across, h, liquid, flow(from, at))
		if err != nil {
			return 1
		}
		return l
	}
	m := MarkForecast{Across: across, Left: left(gel), Gone: math.Inf(1)}
	if m.Left < 0.1 {
		m.Gone = numeric.First(from, gel, 0.01, func(at float64) bool { return left(at) <= 0.1 }) - from
	}
	return m
}

// settles says which pigments sink, stay or float.
func (f *Forecast) settles(p *Plan, c *Coat, flow float64) {
	done := map[int64]bool{}
	for _, cup := range c.Cups {
		for _, d := range cup.Colour.Doses() {
			pigment, ok := p.Context.Pigments[d.Pigment]
			if !ok || done[d.Pigment] {
				continue
			}
			done[d.Pigment] = true
			way, err := film.Travelled(pigment.Particle, pigment.Density, c.Product.Density(), flow)
			if err != nil {
				continue
			}
			s := SettleForecast{Pigment: pigment, Way: way, Least: way, Drift: Stays}
			if slower, flake := flakes[pigment.Form]; flake {
				s.Least, s.Way = way*units.Length(slower[0]), way*units.Length(slower[1])
				way = s.Way
			}
			switch part := float64(way / c.Film); {
			case part > 0.5:
				s.Drift = Sinks
			case part > 0.1:
				s.Drift = SinksLittle
			case part < -0.1:
				s.Drift = Rises
			}
			f.Settles = append(f.Settles, s)
		}
	}
}
