package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/heat"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Forecast is what a coat will do by itself, and what heat does to it.
type Forecast struct {
	Marks   []MarkForecast
	Bubble  units.Length // smallest that leaves by itself
	Torch   []TorchForecast
	Settles []SettleForecast
	Cells   []CellForecast
	Sides   []SideAt
	Drops   []SiliconeDose
}

// A MarkForecast is a tool mark of a width and how it levels.
type MarkForecast struct {
	Across units.Length
	Left   float64 // share of it that stays when the resin gels
	Gone   float64 // minutes until a tenth is left; +Inf when never
}

// A TorchForecast is a pass over the board.
type TorchForecast struct {
	Name string
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
	Pigment Pigment
	Way     units.Length // positive down
	Drift   Drift
}

// A CellForecast is what happens where a heavier cup lies on a lighter one.
type CellForecast struct {
	Upper, Lower Cup
	Spacing      units.Length // 0 when nothing grows
	Seen         float64      // minute after the parts met; +Inf when never
	InTime       bool         // before the working window closes
}

// A SideAt is what stays on a side when the edge is let go at a minute.
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
	name  string
	flux  float64
	spot  units.Length
	dwell float64
}{
	{"Flame high, for bubbles", 25, 60, 0.8},
	{"Flame low and close, for lacing", 60, 40, 0.5},
	{"Hot air", 8, 80, 3},
}

// markWidths are the marks of a stick and of a spreader.
var markWidths = []units.Length{10, 20, 100}

// efolds is how often a ripple must have grown by e to be seen (common
// practice).
const efolds = 5

// siliconePer is drops a cup of 30 mL (common practice: 1 to 3).
const siliconePer = 2.0 / 30

// SiliconeDrops is how many drops a cup that should open gets.
func SiliconeDrops(v units.Volume) int { return max(1, int(math.Round(float64(v)*siliconePer))) }

// opens reports whether cups of the role get silicone: never the bed.
func opens(r technique.Role) bool { rule := r.Rule(); return rule.Tints && !rule.Under }

// siliconeTension is the tension silicone leaves between two cups in mN/m
// (illustrative).
const siliconeTension = 0.5

// liquid is the coat's resin as the film sums want it.
func (c *Coat) liquid() film.Liquid {
	l := film.DefaultLiquid
	l.Viscosity, l.Density = c.Product.Viscosity, c.Product.Density()
	return l
}

// Forecast reckons what the coat at i will do.
func (p *Plan) Forecast(i int) Forecast {
	var f Forecast
	c := &p.Coats[i]
	liquid := c.liquid()
	ends, gel := c.Fit.Ends, c.Clock.Gel()
	flow := func(from, to float64) float64 { return c.Clock.Flow(from, to, liquid.Viscosity, liquid.Density) }
	f.marks(c, liquid, flow, ends, gel)
	f.Bubble, _ = film.SmallestEscaping(c.Film, flow(ends, gel))
	for _, t := range torches {
		if pass, err := heat.PassOver(t.flux, t.dwell, t.spot, c.Film, p.Face, c.Room); err == nil {
			f.Torch = append(f.Torch, TorchForecast{t.name, pass})
		}
	}
	f.settles(p, c, flow(c.Fit.LastPour(), gel))
	f.cells(p, i, liquid)
	for _, m := range []float64{ends, ends + 30, ends + 60, ends + 120} {
		if p.Spec.Depth > 0 && m < gel && !p.Spec.Dammed() {
			if h, err := film.MeanSide(flow(m, gel), p.Spec.Depth); err == nil {
				f.Sides = append(f.Sides, SideAt{m, h})
			}
		}
	}
	if c.Layer.Coat.Silicone {
		for _, cup := range c.Cups {
			if opens(cup.Colour.Role) {
				f.Drops = append(f.Drops, SiliconeDose{cup, SiliconeDrops(cup.Volume)})
			}
		}
	}
	return f
}

func (f *Forecast) marks(c *Coat, liquid film.Liquid, flow func(a, b float64) float64, from, gel float64) {
	for _, w := range markWidths {
		left, err := film.LeftOf(w, c.Film, liquid, flow(from, gel))
		if err != nil {
			continue
		}
		m := MarkForecast{Across: w, Left: left, Gone: math.Inf(1)}
		if left < 0.1 {
			m.Gone = numeric.First(from, gel, 0.01, func(at float64) bool {
				l, err := film.LeftOf(w, c.Film, liquid, flow(from, at))
				return err == nil && l <= 0.1
			}) - from
		}
		f.Marks = append(f.Marks, m)
	}
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
			s := SettleForecast{Pigment: pigment, Way: way, Drift: Stays}
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

// bedPart is how much of the film lies under a colour poured on a bed (common
// practice; three quarters of it).
const bedPart = 0.75

// cells forecasts the pattern of every pair of neighbours of which the heavier
// may lie on the lighter.
func (f *Forecast) cells(p *Plan, i int, liquid film.Liquid) {
	c := &p.Coats[i]
	tension := 0.0
	if c.Silicone() {
		tension = siliconeTension
	}
	poured := c.Fit.LastPour()
	for _, n := range p.Neighbours(i) {
		upper, lower := c.Cup(n.Heavier), c.Cup(n.Lighter)
		if upper == nil || lower == nil {
			continue
		}
		stack := film.Stack{
			Lower:            film.Layer{Film: c.Film * bedPart, Viscosity: liquid.Viscosity, Density: lower.Look.Density},
			Upper:            film.Layer{Film: c.Film * (1 - bedPart), Viscosity: liquid.Viscosity, Density: upper.Look.Density},
			InterfaceTension: tension, SurfaceTension: liquid.SurfaceTension,
		}
		found, err := stack.Fastest()
		if err != nil {
			continue
		}
		cell := CellForecast{Upper: *upper, Lower: *lower, Spacing: found.Spacing, Seen: math.Inf(1)}
		if found.Spacing > 0 {
			cell.Seen = firstSeen(c.Clock, found.Growth, poured, liquid)
			cell.InTime = cell.Seen <= c.Clock.Window(cure.Lacing).To
		}
		f.Cells = append(f.Cells, cell)
	}
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
		out = append(out, try(Relief{Kind: ReliefRoom, Room: t}, cure.NewClock(c.Product.Kinetics, cure.Constant(t)), p.Face))
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
			out = append(out, try(Relief{Kind: ReliefResin, Resin: other.Name}, cure.NewClock(other.Kinetics, cure.Constant(c.Room)), p.Face))
		}
	}
	return append(out, try(Relief{Kind: ReliefHalves}, c.Clock, p.Face/2))
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
		if p.timeline(&trial, cure.NewClock(c.Product.Kinetics, cure.Constant(t))); trial.Fit.Holds() {
			return t, true
		}
	}
	return 0, false
}
