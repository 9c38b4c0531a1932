package surface

import (
	"math"

	"jevvo/internal/core/geom"

	"gonum.org/v1/gonum/integrate/quad"
)

// maxPoints bounds the polyline of one outline, so that a hostile drawing
// cannot take the memory or the evening.
const maxPoints = 200_000

// A loop is one closed run of segments.
type loop []segment

// A segment is a straight line, a cubic Bézier curve or an elliptic arc.
//
//	line  p(t) = p0 + t(p1 − p0)
//	cubic p(t) = Bernstein form of p0..p3
//	arc   p(t) = c + u·cos φ + v·sin φ, φ = φ0 + t·Δφ
//
// Quadratic curves are raised to cubics, exactly.
type segment struct {
	kind       segmentKind
	p          [4]geom.Point // line: p0, p1; cubic: p0..p3; arc: c, u, v
	phi, sweep float64
}

type segmentKind uint8

const (
	lineKind segmentKind = iota
	cubicKind
	arcKind
)

func lineSegment(a, b geom.Point) segment { return segment{p: [4]geom.Point{a, b}} }
func cubicSegment(a, b, c, d geom.Point) segment {
	return segment{kind: cubicKind, p: [4]geom.Point{a, b, c, d}}
}
func quadraticSegment(a, b, c geom.Point) segment {
	return cubicSegment(a, geom.Lerp(a, b, 2./3), geom.Lerp(c, b, 2./3), c)
}
func arcSegment(c, u, v geom.Point, phi, sweep float64) segment {
	return segment{kind: arcKind, p: [4]geom.Point{c, u, v}, phi: phi, sweep: sweep}
}

// at returns the point at parameter t of 0..1.
func (s segment) at(t float64) geom.Point {
	switch s.kind {
	case cubicKind:
		m := 1 - t
		return s.p[0].Scale(m * m * m).Add(s.p[1].Scale(3 * m * m * t)).Add(s.p[2].Scale(3 * m * t * t)).Add(
			s.p[3].Scale(t * t * t))
	case arcKind:
		sin, cos := math.Sincos(s.phi + t*s.sweep)
		return s.p[0].Add(s.p[1].Scale(cos)).Add(s.p[2].Scale(sin))
	}
	return geom.Lerp(s.p[0], s.p[1], t)
}

// slope returns dp/dt.
func (s segment) slope(t float64) geom.Point {
	switch s.kind {
	case cubicKind:
		m := 1 - t
		return s.p[1].Sub(s.p[0]).Scale(3 * m * m).Add(s.p[2].Sub(s.p[1]).Scale(6 * m * t)).Add(
			s.p[3].Sub(s.p[2]).Scale(3 * t * t))
	case arcKind:
		sin, cos := math.Sincos(s.phi + t*s.sweep)
		return s.p[1].Scale(-sin * s.sweep).Add(s.p[2].Scale(cos * s.sweep))
	}
	return s.p[1].Sub(s.p[0])
}

func (s segment) scaled(f float64) segment {
	for i := range s.p {
		s.p[i] = s.p[i].Scale(f)
	}
	return s
}

// area returns the segment's part of Green's integral ½∮(x dy − y dx).
func (s segment) area() float64 {
	switch s.kind {
	case cubicKind:
		// A polynomial of degree 5 in t: three Gauss–Legendre points are exact.
		return quad.Fixed(func(t float64) float64 { return s.at(t).Cross(s.slope(t)) }, 0, 1, 3, nil, 0) / 2
	case arcKind:
		chord := s.at(1).Sub(s.at(0))
		return (s.p[1].Cross(s.p[2])*s.sweep + s.p[0].Cross(chord)) / 2
	}
	return s.p[0].Cross(s.p[1]) / 2
}

// length returns the arc length: exact for lines, otherwise Gauss–Legendre
// with halving until 10 and 20 points agree to 1 part in 10¹⁰.
func (s segment) length() float64 {
	if s.kind == lineKind {
		return s.p[1].Sub(s.p[0]).Norm()
	}
	return s.lengthBetween(0, 1, 16)
}

func (s segment) lengthBetween(a, b float64, depth int) float64 {
	speed := func(t float64) float64 { return s.slope(t).Norm() }
	rough := quad.Fixed(speed, a, b, 10, nil, 0)
	fine := quad.Fixed(speed, a, b, 20, nil, 0)
	if depth == 0 || math.Abs(rough-fine) <= 1e-10*math.Abs(fine) {
		return fine
	}
	m := (a + b) / 2
	return s.lengthBetween(a, m, depth-1) + s.lengthBetween(m, b, depth-1)
}

// steps returns how many chords stay within tol of the curve. The sagitta of
// a chord over parameter step h is at most h²·max|p″|/8.
func (s segment) steps(tol float64) int {
	var bend float64
	switch s.kind {
	case lineKind:
		return 1
	case cubicKind:
		bend = 6 * math.Max(
			s.p[0].Sub(s.p[1].Scale(2)).Add(s.p[2]).Norm(),
			s.p[1].Sub(s.p[2].Scale(2)).Add(s.p[3]).Norm())
	case arcKind:
		bend = math.Max(s.p[1].Norm(), s.p[2].Norm()) * s.sweep * s.sweep
	}
	return int(math.Min(4096, math.Max(2, math.Ceil(math.Sqrt(bend/(8*tol))))))
}

func (l loop) area() float64 {
	sum := 0.0
	for _, s := range l {
		sum += s.area()
	}
	return sum
}

func (l loop) length() float64 {
	sum := 0.0
	for _, s := range l {
		sum += s.length()
	}
	return sum
}

// flatten returns the loop as a polyline without repeated points.
func (l loop) flatten(tol float64) []geom.Point {
	line := make([]geom.Point, 0, len(l))
	for _, s := range l {
		n := s.steps(tol)
		for i := range n {
			p := s.at(float64(i) / float64(n))
			if len(line) == 0 || line[len(line)-1] != p {
				line = append(line, p)
			}
		}
	}
	return line
}
