// Package renders says how the boards of a piece look: as their preview shows them where
// that was played, otherwise as they are drawn.
package renders

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"math"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/exchange/raster"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/preview"
)

// Source is where a look comes from.
type Source string

// The sources.
const (
	Previewed Source = "preview"
	Drawn     Source = "drawing"
)

// A Look is one board.
type Look struct {
	Picture       image.Image
	Width, Height float64 // of the board, in mm
	From          Source
}

// A Service makes looks.
type Service struct{ preview *preview.Service }

// New returns the service.
func New(p *preview.Service) *Service { return &Service{p} }

// mostSide is the longer side of a look in pixels.
const mostSide = 512

// Of returns the boards of a piece after its last coat that has colour. A piece that
// cannot be calculated has none.
func (s *Service) Of(ctx context.Context, v agenda.View) ([]Look, error) {
	if v.Plan == nil || v.Broken != nil || len(v.Plan.Coats) == 0 {
		return nil, nil
	}
	c := Coloured(v.Plan)
	stills, err := s.preview.Stills(ctx, v.ID)
	if err != nil {
		return nil, err
	}
	out := make([]Look, 0, len(v.Plan.Boards))
	for i, b := range v.Plan.Boards {
		box := b.Bounds()
		l := Look{Width: float64(box.Width()), Height: float64(box.Height()), From: Drawn}
		if i == 0 && stills[v.ID].Address(v.ID, v.Plan, c) != "" {
			if l.Picture, err = s.still(ctx, v.ID, c.ID); err != nil {
				return nil, err
			}
			l.From = Previewed
		}
		if l.Picture == nil {
			l.Picture, l.From = draw(v.Plan, c, i), Drawn
		}
		out = append(out, l)
	}
	return out, nil
}

func (s *Service) still(ctx context.Context, piece int64, coat string) (image.Image, error) {
	data, err := s.preview.StillPicture(ctx, piece, coat)
	if err != nil {
		return nil, err
	}
	return png.Decode(bytes.NewReader(data))
}

// Coloured is the last coat of a plan that is more than clear.
func Coloured(p *plan.Plan) *plan.Coat {
	best := &p.Coats[0]
	for i := range p.Coats {
		for _, cup := range p.Coats[i].Layer.Coat.Colours {
			if cup.Role != technique.Clear && cup.Role.Rule().Tints {
				best = &p.Coats[i]
			}
		}
	}
	return best
}

// draw paints a board coat by coat, clear resin left out.
func draw(p *plan.Plan, c *plan.Coat, board int) image.Image {
	b := p.Boards[board]
	box := b.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	ground := p.Spec.Ground
	if ground == "" {
		ground = surface.BareGround
	}
	shape := loops(b.Loops())
	fills := []raster.Fill{{Loops: shape, Colour: ground}}
	for k := range c.Place + 1 {
		under := &p.Coats[k]
		colours := under.Fills()
		clear := map[string]bool{}
		for _, cup := range under.Layer.Coat.Colours {
			clear[cup.ID] = k > 0 && !cup.Role.Rule().Tints
		}
		for _, r := range p.Sketch(under, board) {
			if !clear[r.Colour] {
				fills = append(fills, raster.Fill{Loops: loops(r.Loops), Colour: colours[r.Colour]})
			}
		}
	}
	return raster.Paint(w, h, mostSide/math.Max(w, h), shape, fills)
}

func loops(in [][]geom.Point) [][]raster.Point {
	out := make([][]raster.Point, len(in))
	for i, loop := range in {
		out[i] = make([]raster.Point, len(loop))
		for k, p := range loop {
			out[i][k] = raster.Point{X: p.X, Y: p.Y}
		}
	}
	return out
}
