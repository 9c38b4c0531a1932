// Package surface describes what is painted on: the outline of a board and
// its area, edges and sides, rims and dams, moulds, and how level it lies.
//
// A [Shape] is made by a constructor that refuses what cannot be cut from a
// board (open or self-crossing outlines, no area), so every Shape that exists
// has an area:
//
//	round, err := surface.Circle(300 * units.Millimetre)
//	clock, err := surface.Outline("M0 0H300V300H0Z M140 150a10 10 0 1 0 20 0a10 10 0 1 0 -20 0Z")
//
// Straight edges, Bézier curves and arcs are kept as such: areas come from
// Green's theorem in closed form, lengths of curves from Gauss–Legendre
// quadrature. Only crossing tests and drawings work on a polyline.
package surface

import (
	"errors"
	"math"
	"strconv"
	"strings"

	"gonum.org/v1/gonum/mathext"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// Limits of what is taken for a board: nothing smaller than 1 mm or larger
// than 20 m is poured.
const (
	minSize = 1 * units.Millimetre
	maxSize = 20 * units.Metre
)

// A Shape is the closed outline of one board face, holes included. The zero
// Shape is empty; use the constructors.
type Shape struct {
	loops     []loop
	lines     [][]geom.Point // the loops as polylines, for drawing and bands
	area      units.Area
	perimeter units.Length
	box       geom.Box
}

// Area returns the area of the face, holes taken out.
func (s Shape) Area() units.Area { return s.area }

// Perimeter returns the length of all edges, those of holes included: resin
// runs down every one of them.
func (s Shape) Perimeter() units.Length { return s.perimeter }

// SideArea returns the area of sides of the given depth.
func (s Shape) SideArea(depth units.Length) units.Area { return s.perimeter.Times(depth) }

// Bounds returns the upright box around the shape.
func (s Shape) Bounds() geom.Box { return s.box }

// Loops returns the outline as closed polylines (the last point is joined to
// the first), finely enough to draw.
func (s Shape) Loops() [][]geom.Point { return s.lines }

// IsZero reports whether the shape is empty.
func (s Shape) IsZero() bool { return len(s.loops) == 0 }

// Path returns the outline as SVG path data in mm with the box's corner at
// the origin.
func (s Shape) Path() string {
	var b strings.Builder
	for _, line := range s.lines {
		for i, p := range line {
			b.WriteByte("ML"[min(i, 1)])
			b.WriteString(strconv.FormatFloat(p.X-s.box.MinX, 'f', 2, 64))
			b.WriteByte(' ')
			b.WriteString(strconv.FormatFloat(p.Y-s.box.MinY, 'f', 2, 64))
		}
		b.WriteByte('Z')
	}
	return b.String()
}

// Scaled returns the shape enlarged by f about its corner.
func (s Shape) Scaled(f float64) (Shape, error) {
	if !(f > 0) || math.IsInf(f, 0) {
		return Shape{}, refusal.New("a shape cannot be scaled by %g", f)
	}
	loops := make([]loop, len(s.loops))
	for i, l := range s.loops {
		for _, seg := range l {
			loops[i] = append(loops[i], seg.scaled(f))
		}
	}
	return build(loops)
}

// Rectangle returns a board of width w and height h.
func Rectangle(w, h units.Length) (Shape, error) {
	if err := errors.Join(CheckSize("width", w), CheckSize("height", h)); err != nil {
		return Shape{}, err
	}
	return Polygon([]geom.Point{geom.At(0, 0), geom.At(float64(w), 0), geom.At(float64(w), float64(h)),
		geom.At(0, float64(h))})
}

// Circle returns a round board of diameter d.
func Circle(d units.Length) (Shape, error) {
	if err := CheckSize("diameter", d); err != nil {
		return Shape{}, err
	}
	return Ellipse(d, d)
}

// Ellipse returns an oval board with axes w and h. Its perimeter is
// 4a·E(1 − b²/a²), E the complete elliptic integral of the second kind (DLMF
// 19.9, published).
func Ellipse(w, h units.Length) (Shape, error) {
	if err := errors.Join(CheckSize("width", w), CheckSize("height", h)); err != nil {
		return Shape{}, err
	}
	a, b := float64(w)/2, float64(h)/2
	c := geom.At(a, b)
	s, err := build([]loop{{
		arcSegment(c, geom.At(a, 0), geom.At(0, b), 0, 2*math.Pi),
	}})
	if err != nil {
		return Shape{}, err
	}
	long, short := math.Max(a, b), math.Min(a, b)
	s.perimeter = units.Length(4 * long * mathext.CompleteE(1-short*short/(long*long)))
	return s, nil
}

// Regular returns a board with n equal sides that fits a circle of diameter
// d, one side down.
func Regular(n int, d units.Length) (Shape, error) {
	if n < 3 || n > 64 {
		return Shape{}, refusal.New("a regular board has 3 to 64 sides, not %d", n)
	}
	if err := CheckSize("diameter", d); err != nil {
		return Shape{}, err
	}
	points := make([]geom.Point, n)
	for i := range points {
		a := 2*math.Pi*(float64(i)+0.5)/float64(n) + math.Pi/2
		points[i] = geom.At(float64(d)/2*math.Cos(a), float64(d)/2*math.Sin(a))
	}
	return Polygon(points)
}

// Polygon returns the board inside the closed line through the points.
func Polygon(points []geom.Point) (Shape, error) {
	if n := len(points); n > 1 && points[0] == points[n-1] {
		points = points[:n-1]
	}
	if len(points) < 3 {
		return Shape{}, refusal.New("an outline needs at least three corners")
	}
	l := make(loop, 0, len(points))
	for i, p := range points {
		if math.IsNaN(p.X) || math.IsNaN(p.Y) || math.Abs(p.X) > float64(maxSize) || math.Abs(p.Y) > float64(maxSize) {
			return Shape{}, refusal.New("corner %d is not on any board", i+1)
		}
		if q := points[(i+1)%len(points)]; p != q {
			l = append(l, lineSegment(p, q))
		}
	}
	return build([]loop{l})
}

// Outline returns the board inside SVG path data in mm: lines, cubic and
// quadratic curves and arcs; inner outlines are holes by the even-odd rule.
func Outline(path string) (Shape, error) {
	loops, err := parsePath(path)
	if err != nil {
		return Shape{}, err
	}
	return build(loops)
}

// CheckSize says why a length cannot be the named measure of a board, nil when
// it can.
func CheckSize(what string, l units.Length) error {
	switch {
	case math.IsNaN(float64(l)) || l <= 0:
		return refusal.New("the %s must be above zero", what)
	case l < minSize:
		return refusal.New("a %s under 1 mm is no board", what)
	case l > maxSize:
		return refusal.New("a %s over 20 m is no board", what)
	}
	return nil
}

// build checks the loops against each other and sums them up.
func build(loops []loop) (Shape, error) {
	s := Shape{loops: loops, box: geom.NoBox()}
	if len(loops) == 0 {
		return Shape{}, refusal.New("the outline is empty")
	}
	rough := geom.NoBox()
	for _, l := range loops {
		for _, seg := range l {
			rough.Cover(seg.at(0))
			rough.Cover(seg.at(0.5))
		}
	}
	size := math.Max(float64(rough.Width()), float64(rough.Height()))
	if !(size >= float64(minSize)) || size > float64(maxSize) {
		return Shape{}, refusal.New("the outline must span between 1 mm and 20 m")
	}
	total := 0
	for _, l := range loops {
		line := l.flatten(size * 2e-4)
		if len(line) < 3 {
			return Shape{}, refusal.New("part of the outline encloses nothing")
		}
		if total += len(line); total > maxPoints {
			return Shape{}, refusal.New("the outline has more than %d points; simplify it", maxPoints)
		}
		s.lines = append(s.lines, line)
		for _, p := range line {
			s.box.Cover(p)
		}
	}
	if at, crossed := crossing(s.lines, s.box); crossed {
		return Shape{}, refusal.New("the outline crosses itself near x %.1f mm, y %.1f mm", at.X, at.Y)
	}
	area, perimeter := 0.0, 0.0
	for i, l := range loops {
		sign := 1.0
		if depth(s.lines, i)%2 == 1 {
			sign = -1
		}
		area += sign * math.Abs(l.area())
		perimeter += l.length()
	}
	if !(area > 1e-9*size*size) {
		return Shape{}, refusal.New("the outline encloses nothing")
	}
	s.area, s.perimeter = units.Area(area), units.Length(perimeter)
	return s, nil
}

// AtOrigin returns the shape with the corner of its box at the origin.
func (s Shape) AtOrigin() (Shape, error) {
	if s.box.MinX == 0 && s.box.MinY == 0 {
		return s, nil
	}
	move := Affine{1, 0, 0, 1, -s.box.MinX, -s.box.MinY}
	loops := make([]loop, len(s.loops))
	for i, l := range s.loops {
		for _, seg := range l {
			loops[i] = append(loops[i], move.apply(seg))
		}
	}
	moved, err := build(loops)
	moved.box.MinX, moved.box.MinY = 0, 0 // not a rounding beside it
	return moved, err
}
