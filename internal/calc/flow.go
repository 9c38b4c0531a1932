package calc

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"io"
	"math"
	"slices"

	"github.com/creasty/defaults"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/preview"
	"jevvo/internal/core/units"
)

type flowRequest struct {
	Board     surfaceRequest `json:"board" required:"true"`
	Edge      string         `json:"edge" default:"open" enum:"open,dam"`
	Dam       float64        `json:"dam_mm" default:"5" exclusiveMinimum:"0" maximum:"200"`
	Cell      *float64       `json:"cell_mm,omitempty" nullable:"true" exclusiveMinimum:"0" maximum:"1000" description:"Default: 256 cells on the longer side."`
	Product   *Product       `json:"product,omitempty" description:"A resin that thickens; without it one of constant viscosity."`
	Viscosity float64        `json:"viscosity_mpas" default:"1000" exclusiveMinimum:"0" maximum:"1e9"`
	Density   float64        `json:"density_kg_m3" default:"1100" exclusiveMinimum:"0" maximum:"1e5"`
	Room      []roomReading  `json:"room,omitempty" maxItems:"1000" description:"Default: 25 °C."`
	Tension   float64        `json:"surface_tension_mn_m" default:"40" minimum:"0" maximum:"1000"`
	Contact   float64        `json:"contact_angle_deg" default:"50" minimum:"0" maximum:"90" description:"0: a wetted board, on which nothing pins."`
	Ground    string         `json:"ground_srgb" default:"#ffffff"`
	Begun     *flowStart     `json:"start,omitempty"`
	Moves     []flowMove     `json:"moves" maxItems:"400"`
	Samples   []float64      `json:"sample_s" required:"true" minItems:"1" maxItems:"200"`
	Probes    [][]float64    `json:"probes_mm,omitempty" maxItems:"500"`
	Seed      uint64         `json:"seed" default:"1"`
	Cells     bool           `json:"cells" default:"true" description:"Whether instabilities grow."`
}

type roomReading struct {
	At   float64 `json:"at_min" required:"true"`
	Temp float64 `json:"temp_c" required:"true" minimum:"-20" maximum:"80"`
}

type flowStart struct {
	Film   float64 `json:"film_mm" default:"0" minimum:"0" maximum:"200"`
	SRGB   string  `json:"srgb" default:"#808080"`
	Ripple float64 `json:"ripple_mm" default:"0" minimum:"0" maximum:"200"`
	Wave   float64 `json:"ripple_wavelength_mm" default:"100" exclusiveMinimum:"0" maximum:"20000"`
}

type flowMove struct {
	At      float64     `json:"at_s" minimum:"0" maximum:"604800"`
	Move    string      `json:"move" required:"true"`
	Points  [][]float64 `json:"points_mm,omitempty" maxItems:"5000"`
	Place   []float64   `json:"at_mm,omitempty" maxItems:"2"`
	From    []float64   `json:"from_mm,omitempty" maxItems:"2"`
	To      []float64   `json:"to_mm,omitempty" maxItems:"2"`
	Volume  float64     `json:"volume_ml,omitempty" minimum:"0"`
	For     float64     `json:"for_s,omitempty" minimum:"0"`
	Film    float64     `json:"film_mm,omitempty" minimum:"0"`
	Width   float64     `json:"width_mm,omitempty" minimum:"0"`
	Radius  float64     `json:"radius_mm,omitempty" minimum:"0"`
	Gap     float64     `json:"gap_mm,omitempty" minimum:"0"`
	Depth   float64     `json:"depth_mm,omitempty" minimum:"0"`
	Speed   float64     `json:"speed_mm_s,omitempty" minimum:"0"`
	Shear   float64     `json:"shear_pa,omitempty" minimum:"0"`
	ToC     float64     `json:"to_c,omitempty"`
	Count   int         `json:"count,omitempty" minimum:"0"`
	XDeg    float64     `json:"x_deg,omitempty"`
	YDeg    float64     `json:"y_deg,omitempty"`
	Side    string      `json:"side,omitempty"`
	SRGB    string      `json:"srgb,omitempty"`
	Density float64     `json:"density_kg_m3,omitempty" minimum:"0"`
	Hiding  *float64    `json:"hiding_per_mm,omitempty" minimum:"0" maximum:"10000"`
}

type flowAnswer struct {
	Samples []flowSample `json:"samples"`
	Cells   []flowCells  `json:"cells"`
	Grid    flowGrid     `json:"grid"`
	Steps   int          `json:"steps"`
}

type flowSample struct {
	At      float64            `json:"at_s"`
	OnBoard float64            `json:"on_board_ml"`
	RunOff  float64            `json:"run_off_ml"`
	Sides   float64            `json:"sides_ml"`
	Film    flowFilm           `json:"film_mm"`
	Probes  []flowProbe        `json:"probes"`
	Visible map[string]float64 `json:"visible"`
	Cups    map[string]float64 `json:"cups_ml" description:"On the board."`
}

type flowFilm struct {
	Min  float64 `json:"min"`
	Mean float64 `json:"mean"`
	Max  float64 `json:"max"`
}

type flowProbe struct {
	Film    float64    `json:"film_mm"`
	Surface [2]float64 `json:"surface_mm_s"`
	SRGB    string     `json:"srgb"`
}

type flowCells struct {
	Upper   string   `json:"upper"`
	Lower   string   `json:"lower"`
	Spacing float64  `json:"spacing_mm"`
	Seen    *float64 `json:"first_seen_s" nullable:"true" description:"null before any is seen"`
}

type flowGrid struct {
	NX   int     `json:"nx"`
	NY   int     `json:"ny"`
	Cell float64 `json:"cell_mm"`
}

// reckoning lets two flows be reckoned at once; others wait for their turn.
var reckoning = make(chan struct{}, 2)

// usualCells is how many cells a board has on its longer side.
const usualCells = 256

func runFlow(ctx context.Context, r flowRequest) (flowAnswer, error) {
	a, _, _, err := r.play(ctx)
	return a, err
}

// FlowPicture reckons a flow request and returns its answer with a picture of the
// board at the last sample, as wide as it says in mm.
func FlowPicture(ctx context.Context, in io.Reader, points int) (answer []byte, m image.Image, wide float64, err error) {
	var s *flowScene
	var run *flow.Run
	c := registry["flow"]
	c.run = func(ctx context.Context, body []byte) (any, error) {
		var r flowRequest
		if err := defaults.Set(&r); err != nil {
			return nil, err
		}
		if err := json.Unmarshal(body, &r); err != nil {
			return nil, err
		}
		var a flowAnswer
		a, s, run, err = r.play(ctx)
		return a, err
	}
	body, err := io.ReadAll(io.LimitReader(in, MaxBody))
	if err != nil {
		return nil, nil, 0, notJSON("the request could not be read")
	}
	if answer, err = c.Run(ctx, body); err != nil {
		return nil, nil, 0, err
	}
	scale := max(1, points/max(s.Grid.NX, s.Grid.NY))
	picture := &image.NRGBA{Pix: s.painter.Picture(run, scale), Stride: 4 * s.Grid.NX * scale, Rect: image.Rect(0, 0, s.Grid.NX*scale, s.Grid.NY*scale)}
	return answer, picture, float64(s.Grid.NX) * s.Grid.Cell * 1000, nil
}

// play reckons the samples of a request.
func (r flowRequest) play(ctx context.Context) (flowAnswer, *flowScene, *flow.Run, error) {
	select {
	case reckoning <- struct{}{}:
		defer func() { <-reckoning }()
	case <-ctx.Done():
		return flowAnswer{}, nil, nil, ctx.Err()
	}
	s, err := r.scene()
	if err != nil {
		return flowAnswer{}, nil, nil, err
	}
	run, err := s.start()
	if err != nil {
		return flowAnswer{}, nil, nil, err
	}
	a := flowAnswer{Samples: make([]flowSample, len(r.Samples)), Cells: []flowCells{}, Grid: flowGrid{s.Grid.NX, s.Grid.NY, 1000 * s.Grid.Cell}}
	order := make([]int, len(r.Samples))
	for k := range order {
		order[k] = k
	}
	slices.SortStableFunc(order, func(x, y int) int { return cmp.Compare(r.Samples[x], r.Samples[y]) })
	for _, k := range order {
		if err := run.To(ctx, r.Samples[k]); err != nil {
			return flowAnswer{}, nil, nil, at("sample_s", err)
		}
		a.Samples[k] = s.sample(run, r.Probes)
	}
	for _, o := range run.Openings() {
		c := flowCells{Upper: s.names[o.Upper], Lower: s.names[o.Under], Spacing: 1000 * o.Spacing}
		if !math.IsNaN(o.Seen) {
			c.Seen = &o.Seen
		}
		a.Cells = append(a.Cells, c)
	}
	a.Steps = run.Coat().Film().Steps()
	return a, s, run, nil
}

// A flowScene is a scene with the names and the colours of its cups.
type flowScene struct {
	flow.Scene
	names   []string
	painter *flow.Painter
	begun   func(x float64) float64 // film at the start, m
}

// start sets the scene up, with what lies there at 0 s.
func (s *flowScene) start() (*flow.Run, error) {
	run, err := flow.Start(s.Scene)
	if err != nil {
		var m flow.MoveError
		if errors.As(err, &m) {
			return nil, at(fmt.Sprintf("moves[%d]", m.Move), m.Err)
		}
		return nil, err
	}
	if s.begun != nil {
		err = run.Coat().Pour(0, func(i int) float64 { return s.begun(s.Grid.Middle(i).X) })
	}
	return run, at("start.film_mm", err)
}

func (r flowRequest) scene() (*flowScene, error) {
	shape, err := r.Board.shape()
	if err != nil {
		return nil, at("board", err)
	}
	box := shape.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	cells := float64(usualCells)
	if r.Cell != nil {
		cells = math.Ceil(math.Max(w, h) / *r.Cell - 1e-9)
	}
	grid, err := flow.NewGrid(w, h, int(math.Min(cells, 1e6)), func(p geom.Point) bool {
		return shape.Inside(geom.At(box.MinX+p.X, box.MinY+p.Y))
	})
	if err != nil {
		return nil, at("cell_mm", err)
	}
	s := &flowScene{Scene: flow.Scene{Grid: grid, Depth: r.Board.Side / 1000, Tension: r.Tension / 1000, Density: r.Density, Room: 25, Seed: r.Seed, Cells: r.Cells}}
	if s.Clock, s.Room, err = r.clock(); err != nil {
		return nil, err
	}
	r.edges(s)
	if err := r.pours(s); err != nil {
		return nil, err
	}
	if b := r.Begun; b != nil && b.Film > 0 {
		s.begun = func(x float64) float64 {
			return math.Max(0, b.Film+b.Ripple*math.Cos(2*math.Pi*x/b.Wave)) / 1000
		}
	}
	return s, nil
}

// edges are how high a film stands at its own edge and at the board's.
func (r flowRequest) edges(s *flowScene) {
	if r.Contact > 0 {
		stands := func(angle float64) float64 {
			p, err := film.PuddleHeight(units.Angle(angle), film.Liquid{SurfaceTension: r.Tension, Density: units.Density(r.Density)})
			if err != nil { // no tension holds nothing
				return 0
			}
			return p.Height.Metres()
		}
		s.Contact.Stands, s.Free = stands(r.Contact), stands(90)
	}
	s.Edge = s.Free
	if r.Edge == "dam" {
		s.Edge = r.Dam / 1000
	}
}

// clock is how the resin thickens, and how warm the room is at the pour.
func (r flowRequest) clock() (flow.Clock, float64, error) {
	readings := make([]cure.Reading, len(r.Room))
	for i, x := range r.Room {
		readings[i] = cure.Reading{Minute: x.At, Temperature: units.Temperature(x.Temp)}
	}
	room := cure.Constant(25)
	if len(readings) > 0 {
		var err error
		if room, err = cure.NewRoom(readings); err != nil {
			return nil, 0, at("room", err)
		}
	}
	if r.Product == nil {
		return flow.Constant{Viscous: r.Viscosity / 1000, Density: r.Density}, float64(room.At(0)), nil
	}
	k, err := r.Product.kinetics()
	if err != nil {
		return nil, 0, err
	}
	return thickening{cure.NewClock(k, room), units.Viscosity(r.Product.Viscosity), units.Density(r.Density)}, float64(room.At(0)), nil
}

// thickening is a resin's clock in seconds.
type thickening struct {
	clock   *cure.Clock
	fresh   units.Viscosity
	density units.Density
}

func (t thickening) Fluidity(from, to float64) float64 {
	return t.clock.Flow(from/60, to/60, t.fresh, t.density)
}

func (t thickening) Viscosity(at float64) float64 {
	return float64(t.clock.Viscosity(at/60, t.fresh)) / 1000
}

// sides of the board by the letters of the compass.
var sides = map[string]flow.Side{"n": flow.North, "e": flow.East, "s": flow.South, "w": flow.West}

// pours sets the cups and the moves.
func (r flowRequest) pours(s *flowScene) error {
	ground, err := reflectance("ground_srgb", r.Ground)
	if err != nil {
		return err
	}
	cups := flowCups{surface: colour.Finish(1), of: map[string]int{}, flakes: map[int]colour.Spectrum{}}
	if r.Begun != nil {
		if _, err := cups.index(r.Begun.SRGB, r.Density, nil, false); err != nil {
			return at("start.srgb", err)
		}
	}
	for k, m := range r.Moves {
		field := fmt.Sprintf("moves[%d]", k)
		cup := 0
		if m.SRGB != "" {
			density := m.Density
			if density == 0 {
				density = r.Density
			}
			if cup, err = cups.index(m.SRGB, density, m.Hiding, m.Move == string(flow.Dust)); err != nil {
				return at(field+".srgb", err)
			}
		} else if m.pours() {
			return FieldError{field + ".srgb", "is missing: what is poured has a colour"}
		}
		move, err := m.core(cup)
		if err != nil {
			return at(field, err)
		}
		s.Moves = append(s.Moves, move)
	}
	if len(cups.names) == 0 {
		return FieldError{"moves", "pour nothing"}
	}
	s.names, s.Cups = cups.names, cups.cups
	if s.painter, err = flow.NewPainter(cups.surface.In(ground), cups.optics, cups.surface); err != nil {
		return at("moves", err)
	}
	for k, flake := range cups.flakes {
		s.painter.Powder(k, flake, preview.PowderCovers)
	}
	s.painter.ShowBare(ground)
	return nil
}

// flowCups are the cups of a scene: one of each colour.
type flowCups struct {
	surface colour.Surface
	of      map[string]int
	names   []string
	cups    []flow.Cup
	optics  []colour.Optics
	flakes  map[int]colour.Spectrum
}

// hidingUsual is the scattering of a cup that says nothing of it, in 1/mm.
const hidingUsual = 4.0

func (c *flowCups) index(srgb string, density float64, hiding *float64, dry bool) (int, error) {
	name := srgb
	if dry {
		name = "dusted " + srgb // beside a cup of resin of the same colour
	}
	if k, ok := c.of[name]; ok {
		return k, nil
	}
	swatch, err := reflectance("", srgb)
	if err != nil {
		return 0, err
	}
	scatter := hidingUsual
	if hiding != nil {
		scatter = *hiding
	}
	o := colour.Cup(nil)
	if dry {
		c.flakes[len(c.names)] = c.surface.In(swatch)
	} else if scatter > 0 {
		if o, err = colour.FromMasstone(swatch, scatter/100, c.surface); err != nil {
			return 0, err
		}
	}
	c.of[name] = len(c.names)
	c.names, c.cups, c.optics = append(c.names, name), append(c.cups, flow.Cup{Density: density, Dry: dry}), append(c.optics, o)
	return c.of[name], nil
}

func reflectance(field, srgb string) (colour.Spectrum, error) {
	c, err := colour.ParseHex(srgb)
	if err != nil {
		return colour.Spectrum{}, at(field, err)
	}
	r, err := c.Reflectance()
	return r, at(field, err)
}

func (m flowMove) pours() bool {
	switch flow.Kind(m.Move) {
	case flow.Bed, flow.Ribbon, flow.Puddle, flow.Drops, flow.Mist, flow.Dust:
		return true
	}
	return false
}

// core is the move in the core's units.
func (m flowMove) core(cup int) (flow.Move, error) {
	all := slices.Clone(m.Points)
	for _, p := range [][]float64{m.Place, m.From, m.To} {
		if p != nil {
			all = append(all, p)
		}
	}
	points := make([]geom.Point, len(all))
	for i, p := range all {
		if len(p) != 2 {
			return flow.Move{}, errors.New("a place is two numbers, [x, y]")
		}
		points[i] = geom.At(p[0], p[1])
	}
	return flow.Move{
		Kind: flow.Kind(m.Move), At: m.At, For: m.For, Cup: cup, Points: points, Volume: m.Volume * 1e-6, Film: m.Film / 1000,
		Width: m.Width / 1000, Radius: m.Radius / 1000, Gap: m.Gap / 1000, Depth: m.Depth / 1000, Speed: m.Speed / 1000,
		Shear: m.Shear, To: m.ToC, Count: m.Count, TiltX: m.XDeg, TiltY: m.YDeg, Side: sides[m.Side],
	}, nil
}

// sample is what is told at a moment.
func (s *flowScene) sample(run *flow.Run, probes [][]float64) flowSample {
	b := run.Sample()
	out := flowSample{At: b.At, Film: flowFilm{1000 * b.Thinnest, 1000 * b.Mean, 1000 * b.Deepest}, Probes: []flowProbe{}, Visible: map[string]float64{}, Cups: map[string]float64{}}
	visible, _ := s.painter.Visible(run)
	for k, name := range s.names {
		out.OnBoard += 1e6 * b.OnBoard[k]
		out.Sides += 1e6 * b.Sides[k]
		out.RunOff += 1e6 * b.Below[k]
		out.Visible[name] = visible[k]
		out.Cups[name] = 1e6 * b.OnBoard[k]
	}
	for _, p := range probes {
		out.Probes = append(out.Probes, s.probe(run, p))
	}
	return out
}

func (s *flowScene) probe(run *flow.Run, p []float64) flowProbe {
	if len(p) != 2 {
		return flowProbe{}
	}
	at := geom.At(p[0], p[1])
	i := s.Grid.CellAt(at)
	if i < 0 {
		return flowProbe{}
	}
	x, y := run.SurfaceSpeed(i)
	c := s.painter.Colour(run, i)
	return flowProbe{1000 * run.FilmAt(at), [2]float64{1000 * x, 1000 * y}, fmt.Sprintf("#%02x%02x%02x", c[0], c[1], c[2])}
}

func init() {
	defineLong("flow", "What the film on a board does", runFlow)
}
