package calc

import (
	"fmt"
	"slices"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/preview"
	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

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
			return FieldError{field + ".srgb", msg.ID("is missing: what is poured has a colour")}
		}
		move, err := m.core(cup)
		if err != nil {
			return at(field, err)
		}
		s.Moves = append(s.Moves, move)
	}
	if len(cups.names) == 0 {
		return FieldError{"moves", msg.ID("pour nothing")}
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
	c.names, c.cups, c.optics = append(c.names, name), append(c.cups,
		flow.Cup{Density: density, Dry: dry}), append(c.optics, o)
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
			return flow.Move{}, refusal.New("a place is two numbers, [x, y]")
		}
		points[i] = geom.At(p[0], p[1])
	}
	return flow.Move{
		Kind: flow.Kind(m.Move), At: m.At, For: m.For, Cup: cup, Points: points, Volume: m.Volume * 1e-6, Film: m.Film / 1000,
		Width: m.Width / 1000, Radius: m.Radius / 1000, Gap: m.Gap / 1000, Depth: m.Depth / 1000, Speed: m.Speed / 1000,
		Shear: m.Shear, To: m.ToC, Count: m.Count, TiltX: m.XDeg, TiltY: m.YDeg, Side: sides[m.Side],
	}, nil
}
