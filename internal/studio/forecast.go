package studio

import (
	"fmt"
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/heat"
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

// A SettleForecast is how far a pigment sinks before the resin gels.
type SettleForecast struct {
	Pigment Pigment
	Way     units.Length // positive down
	Words   string
}

// A CellForecast is what happens where a heavier cup lies on a lighter one.
type CellForecast struct {
	Upper, Lower CupPlan
	Spacing      units.Length
	Seen         float64 // minute after the parts met; +Inf when never
	InTime       bool    // before the working window closes
	Words        string
}

// A SideAt is what stays on a side when the edge is let go at a minute.
type SideAt struct {
	Minute float64
	Film   units.Length
}

// A SiliconeDose is how many drops go into a cup that should open.
type SiliconeDose struct {
	Cup   CupPlan
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

// siliconeTension is the tension silicone leaves between two cups in mN/m
// (illustrative).
const siliconeTension = 0.5

// Forecast reckons what a coat will do.
func (p Plan) Forecast(c CoatPlan) Forecast {
	var f Forecast
	liquid := film.DefaultLiquid
	liquid.Viscosity, liquid.Density = p.Product.Viscosity, p.Product.Density()
	ends := c.Fit.Ends
	flow := func(from, to float64) float64 { return c.Clock.Flow(from, to, liquid.Viscosity, liquid.Density) }
	gel := c.Clock.Gel()
	whole := flow(ends, gel)
	f.marks(c, liquid, flow, ends, gel)
	f.Bubble, _ = film.SmallestEscaping(c.Film, whole)
	for _, t := range torches {
		if pass, err := heat.PassOver(t.flux, t.dwell, t.spot, p.Face, p.Piece.Room); err == nil {
			f.Torch = append(f.Torch, TorchForecast{t.name, pass})
		}
	}
	f.settles(p, c, flow(lastPour(c), gel))
	f.cells(p, c, liquid)
	for _, m := range []float64{ends, ends + 30, ends + 60, ends + 120} {
		if p.Piece.Depth > 0 && m < gel {
			if h, err := film.MeanSide(flow(m, gel), p.Piece.Depth); err == nil {
				f.Sides = append(f.Sides, SideAt{m, h})
			}
		}
	}
	if p.Piece.Silicone {
		for _, cup := range c.Cups {
			if cup.Colour.Role == RoleAccent || cup.Colour.Role == RoleWhite {
				f.Drops = append(f.Drops, SiliconeDose{cup, max(1, int(math.Round(float64(cup.Volume)*siliconePer)))})
			}
		}
	}
	return f
}

func (f *Forecast) marks(c CoatPlan, liquid film.Liquid, flow func(a, b float64) float64, from, gel float64) {
	for _, w := range markWidths {
		left, err := film.LeftOf(w, c.Film, liquid, flow(from, gel))
		if err != nil {
			continue
		}
		m := MarkForecast{Across: w, Left: left, Gone: math.Inf(1)}
		if left < 0.1 {
			m.Gone = when(from, gel, func(at float64) bool {
				l, err := film.LeftOf(w, c.Film, liquid, flow(from, at))
				return err == nil && l <= 0.1
			}) - from
		}
		f.Marks = append(f.Marks, m)
	}
}

// when finds the first minute between two at which a condition that stays true
// once it is true becomes so.
func when(from, to float64, holds func(float64) bool) float64 {
	for to-from > 0.01 { // to the second
		if m := (from + to) / 2; holds(m) {
			to = m
		} else {
			from = m
		}
	}
	return to
}

// settles says which pigments sink, stay or float.
func (f *Forecast) settles(p Plan, c CoatPlan, flow float64) {
	done := map[int64]bool{}
	for _, cup := range c.Cups {
		for _, d := range cup.Colour.Doses() {
			pigment, ok := p.pigments[d.Pigment]
			if !ok || done[d.Pigment] {
				continue
			}
			done[d.Pigment] = true
			way, err := film.Travelled(pigment.Particle, pigment.Density, p.Product.Density(), flow)
			if err != nil {
				continue
			}
			s := SettleForecast{Pigment: pigment.Pigment, Way: way}
			switch {
			case float64(way) > 0.5*float64(c.Film):
				s.Words = "sinks to the bottom before the resin gels; dust it on instead, or pour it late"
			case float64(way) > 0.1*float64(c.Film):
				s.Words = "sinks a little"
			case float64(way) < -0.1*float64(c.Film):
				s.Words = "rises"
			default:
				s.Words = "stays where it is"
			}
			f.Settles = append(f.Settles, s)
		}
	}
}

// bedPart is how much of the film lies under a colour poured on a bed (common
// practice; three quarters of it).
const bedPart = 0.75

// cells forecasts the pattern of every pair of neighbours of which the heavier
// lies on the lighter.
func (f *Forecast) cells(p Plan, c CoatPlan, liquid film.Liquid) {
	if c.Key != firstCoat {
		return
	}
	cups := map[string]CupPlan{}
	for _, cup := range c.Cups {
		cups[cup.Colour.Name] = cup
	}
	tension := 0.0
	if p.Piece.Silicone {
		tension = siliconeTension
	}
	poured := lastPour(c)
	for _, n := range p.Neighbours {
		upper, okU := cups[n.Heavier]
		lower, okL := cups[n.Lighter]
		if !okU || !okL {
			continue
		}
		stack := film.Stack{
			Lower:            film.Layer{Film: c.Film * bedPart, Viscosity: liquid.Viscosity, Density: lower.Look.density},
			Upper:            film.Layer{Film: c.Film * (1 - bedPart), Viscosity: liquid.Viscosity, Density: upper.Look.density},
			InterfaceTension: tension, SurfaceTension: liquid.SurfaceTension,
		}
		found, err := stack.Fastest()
		if err != nil {
			continue
		}
		cell := CellForecast{Upper: upper, Lower: lower, Spacing: found.Spacing, Seen: math.Inf(1)}
		if found.Spacing > 0 {
			cell.Seen = firstSeen(c.Clock, found.Growth, poured, liquid)
			cell.InTime = cell.Seen <= c.Clock.Window(cure.Lacing).To
		}
		cell.say(p.Settings.Units)
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
	return when(from, gel, grown)
}

func (c *CellForecast) say(sys units.System) {
	switch {
	case c.Spacing <= 0:
		c.Words = "no cells by themselves"
	case math.IsInf(c.Seen, 1):
		c.Words = fmt.Sprintf("cells of %s would need longer than the resin flows", c.Spacing.Film(sys))
	case c.InTime:
		c.Words = fmt.Sprintf("cells about %s apart, first seen %s after the parts met; there is time", c.Spacing.Film(sys), Spoken(c.Seen))
	default:
		c.Words = fmt.Sprintf("cells about %s apart only show after %s, when it no longer laces: warm it, or pour sooner", c.Spacing.Film(sys), Spoken(c.Seen))
	}
}

// A Relief is a way to make a coat fit its windows, reckoned again.
type Relief struct {
	Name  string
	Holds bool
	Spare float64
	Words string
}

// Reliefs reckons what would help a coat whose steps fall outside their
// windows: each is laid on the clock anew.
func (p Plan) Reliefs(c CoatPlan, shelf []Product) []Relief {
	if c.Fit.Holds() {
		return nil
	}
	job := p.job(c.Colours)
	var out []Relief
	add := func(name string, clock *cure.Clock, face units.Area, words string) {
		j := job
		j.Face = face
		fit := c.Technique.Lay(j, clock)
		out = append(out, Relief{name, fit.Holds(), fit.Spare, words})
	}
	out = append(out, p.secondLot(c))
	if t, ok := p.coolerRoom(c); ok {
		add("A room of "+t.Text(p.Settings.Units), cure.NewClock(p.Kinetics, cure.Constant(t)), job.Face, "cooler slows the resin; bubbles leave more slowly too")
	}
	add("Fewer, larger zones", c.Clock, units.Area(0.7*float64(job.Face)), "about seven tenths of the strokes: longer pulls with a wider sheet")
	for _, other := range shelf {
		if other.Retired || other.ID == p.Product.ID || other.WorkingMinutes <= p.Product.WorkingMinutes {
			continue
		}
		if k, err := other.Kinetics(); err == nil {
			add(other.Name, cure.NewClock(k, cure.Constant(p.Piece.Room)), job.Face, "a slower resin from the shelf")
		}
	}
	add("Two coats, half the face each", c.Clock, job.Face/2, "one half now under tape, the other when this is hard")
	return out
}

// secondLot starts a fresh clock at the first step that is late.
func (p Plan) secondLot(c CoatPlan) Relief {
	r := Relief{Name: "A second lot for the later steps", Spare: math.Inf(1), Holds: true}
	at := -1.0
	for _, s := range c.Fit.Steps {
		if at < 0 && s.Late > 0 {
			at = s.From
			r.Words = "mix it before you " + lower(s.Name)
		}
		if at < 0 {
			continue
		}
		w := s.Window
		begin := math.Max(s.From-at+p.Product.MixMinutes, w.From)
		r.Spare = math.Min(r.Spare, w.To-begin-(s.To-s.From))
	}
	r.Holds = r.Spare >= 0
	return r
}

// coolerRoom returns the warmest cooler room in which a coat fits.
func (p Plan) coolerRoom(c CoatPlan) (units.Temperature, bool) {
	for t := p.Piece.Room - 1; t >= 15; t-- {
		if c.Technique.Lay(p.job(c.Colours), cure.NewClock(p.Kinetics, cure.Constant(t))).Holds() {
			return t, true
		}
	}
	return 0, false
}

// Text prints how the relief comes out.
func (r Relief) Text() string {
	if r.Holds {
		return fmt.Sprintf("fits with %s to spare", Spoken(r.Spare))
	}
	return fmt.Sprintf("still %s short", Spoken(-r.Spare))
}
