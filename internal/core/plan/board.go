package plan

import (
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

// Shape returns the outline of one board of the piece, the corner of its box at the origin:
// all that lies on the board is counted from there.
func (b Board) Shape() (surface.Shape, error) {
	s, err := b.outline()
	if err != nil {
		return s, err
	}
	return s.AtOrigin()
}

func (b Board) outline() (surface.Shape, error) {
	switch b.Outline {
	case Round:
		return surface.Circle(b.Width)
	case Oval:
		return surface.Ellipse(b.Width, b.Height)
	case Regular:
		return surface.Regular(b.Corners, b.Width)
	case Polygon:
		if len(b.Points) == 0 {
			return surface.Shape{}, refusal.New("type the corners of the board, for example 0,0 300,0 150,200")
		}
		return surface.Polygon(b.Points)
	case Drawn:
		if b.Path == "" {
			return surface.Shape{}, refusal.New("type the outline or upload an SVG drawing of it")
		}
		drawn, err := surface.Outline(b.Path)
		if err != nil || b.Width <= 0 {
			return drawn, err
		}
		return drawn.Scaled(float64(b.Width / drawn.Bounds().Width()))
	}
	return surface.Rectangle(b.Width, b.Height)
}

// Boards returns all boards of the piece, the equal ones first.
func (b Board) Boards() ([]surface.Shape, error) {
	first, err := b.Shape()
	if err != nil {
		return nil, err
	}
	var boards []surface.Shape
	for range max(1, b.Count) {
		boards = append(boards, first)
	}
	for _, m := range b.More {
		r, err := surface.Rectangle(m.Width, m.Height)
		if err != nil {
			return nil, err
		}
		for range max(1, m.Count) {
			boards = append(boards, r)
		}
	}
	return boards, nil
}

// mould returns the cavity of a cast piece, 0 for any other.
func (b Board) mould(boards []surface.Shape) (units.Volume, error) {
	if !b.Support.Rule().Cast {
		return 0, nil
	}
	if b.MouldWater > 0 {
		v, err := surface.MouldByWater(b.MouldWater)
		return v * units.Volume(len(boards)), err
	}
	var sum units.Volume
	for _, s := range boards {
		v, err := surface.MouldByDepth(s, b.MouldDepth)
		if err != nil {
			return 0, err
		}
		sum += v
	}
	return sum, nil
}
