// Package preview makes a scene of a planned coat: its board, its cups with what
// they look like and weigh, what is poured when, and what its technique does to
// the film. package flow plays it.
package preview

import (
	"cmp"
	"math"
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Options are a preview's settings besides the plan.
type Options struct {
	Cells  int     // on the longer side; 0 for Usual
	Seed   uint64  // which of the possible draws
	Plain  bool    // without the technique's own moves
	Turned bool    // colours poured in the reverse order, beds apart
	Bed    float64 // how much more of what is spread over the whole face; 0 for as planned
	Wide   float64 // how much wider ribbons are poured; 0 for as planned
	Powder bool    // metal powder at hand, whether the coat has it or not
	// Order are cups, by their colour's id: what is poured on the bed comes down in this
	// order, at the moments there are; nil for the order as planned.
	Order []string
	Lean  int // by how many quarter turns the board is tipped otherwise than planned
	Doubt Doubt
}

// A Doubt is how something that nobody knows may be, other than it is taken to be.
type Doubt struct {
	EdgeFactor float64 // times as high as the edge of a film is taken to stand; 0 for as it is
	Warmer     float64 // the room, K
	Apart      bool    // two colours part as hard as they may
}

// Across is how many points of what shows are kept along the longer side of the board.
const Across = 1232

// How many cells a preview has on the longer side of the board: usually, and at least where a slow
// machine is spared.
const (
	Usual = 112
	Least = 32
)

// A Scene is a coat ready to be played.
type Scene struct {
	flow.Scene
	Painter     *flow.Painter
	Cups        []plan.Cup // as the scene numbers them
	Acts        []Act
	From, Until float64 // s since mixing began: first pour, end
	RunOff      float64 // of one board, as the plan counts on it, m³
	Box         geom.Box
	Windows     []cure.Window
	Unshown     []msg.Text // steps of which it shows nothing
}

// An Act is a step of the technique on the time line.
type Act struct {
	Name     msg.Text
	From, To float64 // s
}

// rests is how long a preview goes on after the last step, and longest how long
// it is at most, in s.
const (
	rests   = 20 * 60.0
	longest = 3 * 3600.0
)

// Of returns the scene of a coat.
func Of(p *plan.Plan, c *plan.Coat, o Options) (*Scene, error) {
	board := p.Boards[0]
	s := &Scene{Box: board.Bounds(), Windows: c.Clock.Windows()}
	cells := o.Cells
	if cells == 0 {
		cells = Usual
	}
	face := func(q geom.Point) bool { return board.Inside(s.board(q)) }
	grid, err := flow.NewGrid(float64(s.Box.Width()), float64(s.Box.Height()), cells, face)
	if err != nil {
		return nil, err
	}
	grid = grid.Cut(s.outline(board), float64(board.Area()))
	clock := c.Clock
	if o.Doubt.Warmer != 0 {
		clock = c.ClockIn(cure.Constant(c.Room + units.Temperature(o.Doubt.Warmer)))
	}
	s.Scene = flow.Scene{
		Grid:    grid,
		Contact: flow.Contact{EdgeHeight: c.Puddle.Height.Metres() * cmp.Or(o.Doubt.EdgeFactor, 1)},
		Edge:    c.Puddle.Pinned.Metres(),
		Free:    c.Puddle.Pinned.Metres(),
		Depth:   p.Spec.Depth.Metres(),
		Tension: 0.04,
		Density: float64(c.Product.Density()),
		Room:    float64(c.Room) + o.Doubt.Warmer,
		Clock:   Clock{clock, c.Product.Viscosity, c.Product.Density()},
		Seed:    o.Seed,
		Uneven:  uneven,
		Cells:   true,
		Points:  max(1, Across/cells),
		Face:    face,
	}
	if p.Spec.Dammed() {
		s.Edge = math.Max(wall(p), s.Edge)
	}
	low, high := c.Tensions()
	if s.Between = low; o.Doubt.Apart {
		s.Between = high
	}
	if err := s.cups(p, c, o.Powder); err != nil {
		return nil, err
	}
	s.RunOff = 1e-6 * float64(c.Amount.RunOff) / float64(len(p.Boards))
	s.pours(p, c)
	if o.Turned {
		s.turn()
	}
	s.order(o.Order)
	s.scale(o)
	if !o.Plain {
		s.dusts(p, c)
		s.technique(p, c)
		if at, runs := p.LetGo(c); runs {
			s.Scene.Moves = append(s.Scene.Moves, flow.Move{Kind: flow.Unmask, At: 60 * at, Side: flow.AllRound})
		}
	}
	s.lean(o.Lean)
	s.span(c)
	return s, nil
}

// Add adds a move made by hand.
func (s *Scene) Add(m flow.Move) {
	s.Scene.Moves = append(s.Scene.Moves, m)
	s.From, s.Until = math.Min(s.From, m.At), math.Min(math.Max(s.Until, m.At+m.For+rests/2), s.From+longest)
	s.whole()
}

// Delay lets everything happen so many seconds later on the same clock.
func (s *Scene) Delay(seconds float64) {
	for k := range s.Scene.Moves {
		s.Scene.Moves[k].At += seconds
	}
	for k := range s.Acts {
		s.Acts[k].From += seconds
		s.Acts[k].To += seconds
	}
	s.From += seconds
	s.Until += seconds
	s.whole()
}

// uneven is by which share a hand holds a sheet or a stick otherwise than it means to (our
// reading of common practice).
const uneven = 0.06

// wall is how high the film is kept on the face.
func wall(p *plan.Plan) float64 {
	if p.Spec.Edge.Rule().Holds {
		return p.Spec.EdgeHeight.Metres()
	}
	return 0.4 // a mould
}

// board is a point of the grid, in mm from the lower left, as compositions have
// it: from the upper left.
func (s *Scene) board(p geom.Point) geom.Point { return geom.At(s.Box.MinX+p.X, s.Box.MaxY-p.Y) }

// outline is a board's as the grid has it.
func (s *Scene) outline(board surface.Shape) [][]geom.Point {
	out := make([][]geom.Point, len(board.Loops()))
	for k, loop := range board.Loops() {
		for _, p := range loop {
			out[k] = append(out[k], s.OnGrid(p))
		}
	}
	return out
}

// OnGrid is the way back: a point of a composition as moves have it.
func (s *Scene) OnGrid(p geom.Point) geom.Point { return geom.At(p.X-s.Box.MinX, s.Box.MaxY-p.Y) }

// A Clock is a resin's as a film has it, in seconds (see flow.Clock).
type Clock struct {
	Of      *cure.Clock
	Fresh   units.Viscosity
	Density units.Density
}

// Fluidity is ∫dt/ν from one second to another, in s²/m².
func (k Clock) Fluidity(from, to float64) float64 {
	return k.Of.Flow(from/60, to/60, k.Fresh, k.Density)
}

// Viscosity is that at a second, in Pa·s.
func (k Clock) Viscosity(at float64) float64 { return k.Of.Viscosity(at/60, k.Fresh).PascalSeconds() }

// cups numbers those of the coat, and the powder that is dusted on.
func (s *Scene) cups(p *plan.Plan, c *plan.Coat, powdered bool) error {
	var optics []colour.Optics
	for _, cup := range c.Cups {
		s.Cups = append(s.Cups, cup)
		optics = append(optics, cup.Look.Optics)
		s.Scene.Cups = append(s.Scene.Cups, flow.Cup{Density: float64(cup.Look.Density), Fluid: batchOf(c, cup.Colour.ID)})
	}
	if cup, has := Powder(p, c); has || powdered {
		if !has {
			cup = powder(p)
		}
		s.Cups, optics = append(s.Cups, cup), append(optics, colour.Cup(nil))
		s.Scene.Cups = append(s.Scene.Cups, flow.Cup{Density: float64(PowderDensity), Dry: true})
	}
	var err error
	if s.Painter, err = flow.NewPainter(c.Under(), optics, p.Context.Surface); err != nil {
		return err
	}
	if at := s.Index(metal); at >= 0 {
		swatch, err := p.Context.Spectra.Reflectance(s.Cups[at].Colour.Swatch)
		if err != nil {
			return err
		}
		s.Painter.Powder(at, p.Context.Surface.In(swatch), PowderCovers)
	}
	if ground, err := p.Context.Spectra.Reflectance(p.Spec.Ground); err == nil && c.Place == 0 {
		s.Painter.ShowBare(ground)
	}
	return nil
}

// batchOf is how much more fluid a cup of a later batch is than the first batch at the
// same moment.
func batchOf(c *plan.Coat, cup string) func(float64) float64 {
	if len(c.Fit.Batches) < 2 {
		return nil
	}
	batch := -1
	for _, st := range c.Fit.Steps {
		if st.Pours && st.Batch > batch && empties(st, cup) {
			batch = st.Batch
		}
	}
	if batch < 1 || batch >= len(c.Fit.Batches) {
		return nil
	}
	l, first := c.Fit.Batches[batch], c.Clock
	return func(at float64) float64 {
		minute := at / 60
		if minute <= l.Met {
			return 1
		}
		return float64(first.Viscosity(minute, 1000) / l.Clock.Viscosity(minute-l.Met, 1000))
	}
}

// span sets when the preview begins and ends, and its acts.
func (s *Scene) span(c *plan.Coat) {
	s.From, s.Until = math.Inf(1), 0
	for _, m := range s.Scene.Moves {
		s.From, s.Until = math.Min(s.From, m.At), math.Max(s.Until, m.At+m.For)
	}
	if math.IsInf(s.From, 0) {
		s.From = 0
	}
	s.Until = math.Min(math.Max(s.Until, 60*c.Fit.Ends)+rests, s.From+longest)
	for _, st := range c.Fit.Steps {
		if !st.BeforeMixing && !st.Mixes && !st.Colours {
			s.Acts = append(s.Acts, Act{st.Name, 60 * st.From, 60 * st.To})
		}
	}
	s.whole()
}

// minute is what a run's own clock goes by when nothing happens: a picture of a whole one
// costs no more than the run itself.
const minute = 60.0

// whole brings beginning and end to whole minutes.
func (s *Scene) whole() {
	s.From, s.Until = minute*math.Floor(s.From/minute), minute*math.Ceil(s.Until/minute)
}

// Frames are the seconds at which the preview is shown: every minute, or every second,
// third one and so on, so that there are no more than so many.
func (s *Scene) Frames(most int) []float64 {
	minutes := math.Round((s.Until - s.From) / minute)
	every := minute * math.Max(1, math.Ceil(minutes/float64(max(1, most-1))))
	var out []float64
	for at := s.From; at < s.Until-minute/2; at += every {
		out = append(out, at)
	}
	return append(out, s.Until)
}

// pours sets what is poured: things where they lie, or the technique's sketch.
func (s *Scene) pours(p *plan.Plan, c *plan.Coat) {
	view := p.Composition(c)
	if view.Sketch {
		s.sketch(p, c, view.Regions)
		return
	}
	loops := map[string]composition.Region{}
	for _, r := range view.Regions {
		loops[r.Thing] = r
	}
	for _, t := range view.Things {
		cup := s.Index(t.Cup)
		if cup < 0 || !t.Rule.Pours || t.Amount <= 0 {
			continue
		}
		s.thing(p, t, loops[t.ID], cup)
	}
}

// Index is the number of a cup by its colour's id; −1 for none.
func (s *Scene) Index(cup string) int {
	return slices.IndexFunc(s.Cups, func(c plan.Cup) bool { return c.Colour.ID == cup })
}

// thing pours one thing of a composition.
func (s *Scene) thing(p *plan.Plan, t plan.ThingView, r composition.Region, cup int) {
	at := 60 * t.At
	amount := float64(t.Amount) * 1e-6
	pour := func(kind flow.Kind, volume float64, points ...geom.Point) {
		on := make([]geom.Point, len(points))
		for i, q := range points {
			on[i] = s.OnGrid(q)
		}
		s.Scene.Moves = append(s.Scene.Moves, flow.Move{Kind: kind, At: at, Cup: cup, Volume: volume, Points: on})
	}
	copies := t.Copies(p.Boards[0])
	switch t.Kind {
	case composition.Bed, composition.Zone, composition.Edging:
		s.region(r, cup, float64(t.Amount), at)
	case composition.Puddle:
		for _, line := range copies {
			pour(flow.Puddle, amount/float64(len(copies)), line[0])
		}
	case composition.Dots:
		n := max(1, t.Count)
		for _, line := range copies {
			for k := range n {
				spot := geom.Part(line, (float64(k)+0.5)/float64(n), 1)[0]
				pour(flow.Puddle, amount/float64(n*len(copies)), spot)
			}
		}
	default:
		for _, line := range copies {
			pour(flow.Ribbon, amount/float64(len(copies)), line...)
		}
	}
}

// empties reports whether a step pours from a cup.
func empties(st technique.Timed, cup string) bool {
	return slices.ContainsFunc(st.Takes, func(t technique.Take) bool { return t.Cup == cup })
}
