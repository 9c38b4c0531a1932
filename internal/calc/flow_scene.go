package calc

import (
	"errors"
	"fmt"
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/film"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/preview"
	"jevvo/internal/core/units"
)

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

// usualWave is how long a ripple is that is asked for without its length, in mm.
const usualWave = 100

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
	outline := make([][]geom.Point, len(shape.Loops()))
	for k, loop := range shape.Loops() {
		for _, p := range loop {
			outline[k] = append(outline[k], geom.At(p.X-box.MinX, p.Y-box.MinY))
		}
	}
	grid = grid.Cut(outline, float64(shape.Area()))
	s := &flowScene{Scene: flow.Scene{Grid: grid, Depth: r.Board.Side / 1000, Tension: r.Tension / 1000,
		Density: r.Density, Room: 25, Seed: r.Seed, Cells: r.Cells}}
	if s.Clock, s.Room, err = r.clock(); err != nil {
		return nil, err
	}
	r.edges(s)
	if err := r.pours(s); err != nil {
		return nil, err
	}
	if b := r.Begun; b != nil && b.Film > 0 {
		wave := b.Wave
		if wave == 0 { // a pointer has no defaults of its own
			wave = usualWave
		}
		s.begun = func(x float64) float64 {
			return math.Max(0, b.Film+b.Ripple*math.Cos(2*math.Pi*x/wave)) / 1000
		}
	}
	return s, nil
}

// edges are how high a film stands at its own edge and at the board's.
func (r flowRequest) edges(s *flowScene) {
	if r.Contact > 0 {
		stands := func(angle float64) float64 {
			p, err := film.PuddleHeight(units.Angle(angle),
				film.Liquid{SurfaceTension: r.Tension, Density: units.Density(r.Density)})
			if err != nil { // no tension holds nothing
				return 0
			}
			return p.Height.Metres()
		}
		s.Contact.EdgeHeight, s.Free = stands(r.Contact), stands(90)
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
	return preview.Clock{Of: cure.NewClock(k, room), Fresh: units.Viscosity(r.Product.Viscosity),
		Density: units.Density(r.Density)}, float64(room.At(0)), nil
}
