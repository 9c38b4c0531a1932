// Package geom is plane geometry in millimetres: points, boxes, closed
// polylines and what lies inside them. x grows to the right and y down, as in
// a drawing.
//
// An area bounded by several loops is meant by the even-odd rule, so that an
// inner loop is a hole:
//
//	for y := top; y < bottom; y += cell {
//		for from, to := range geom.Spans(loops, y) { … }
//	}
package geom

import (
	"iter"
	"math"
	"slices"
	"strconv"
	"strings"

	"jevvo/internal/core/units"
)

// A Point is a place, or the way from one place to another.
type Point struct{ X, Y float64 }

// At returns the place at x, y.
func At(x, y float64) Point { return Point{x, y} }

// Sub returns the way from q to p.
func (p Point) Sub(q Point) Point { return Point{p.X - q.X, p.Y - q.Y} }

// Add returns the sum.
func (p Point) Add(q Point) Point { return Point{p.X + q.X, p.Y + q.Y} }

// Scale returns p times f.
func (p Point) Scale(f float64) Point { return Point{p.X * f, p.Y * f} }

// Cross returns p × q.
func (p Point) Cross(q Point) float64 { return p.X*q.Y - p.Y*q.X }

// Dot returns p · q.
func (p Point) Dot(q Point) float64 { return p.X*q.X + p.Y*q.Y }

// Norm returns how long p is.
func (p Point) Norm() float64 { return math.Hypot(p.X, p.Y) }

// Lerp returns the point at t of the way from p to q.
func Lerp(p, q Point, t float64) Point { return p.Add(q.Sub(p).Scale(t)) }

// A Box is an upright rectangle around something.
type Box struct{ MinX, MinY, MaxX, MaxY float64 }

// Width returns the extent along x.
func (b Box) Width() units.Length { return units.Length(b.MaxX - b.MinX) }

// Height returns the extent along y.
func (b Box) Height() units.Length { return units.Length(b.MaxY - b.MinY) }

// NoBox is the box around nothing.
func NoBox() Box { return Box{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)} }

// Cover widens the box until it holds p.
func (b *Box) Cover(p Point) {
	b.MinX, b.MaxX = math.Min(b.MinX, p.X), math.Max(b.MaxX, p.X)
	b.MinY, b.MaxY = math.Min(b.MinY, p.Y), math.Max(b.MaxY, p.Y)
}

// Length returns how long an open polyline is.
func Length(line []Point) float64 {
	sum := 0.0
	for i := 1; i < len(line); i++ {
		sum += line[i].Sub(line[i-1]).Norm()
	}
	return sum
}

// SignedArea returns the area inside a closed polyline by Gauss's shoelace
// formula, negative when it runs the other way round.
func SignedArea(loop []Point) float64 {
	twice := 0.0
	for i, p := range loop {
		twice += p.Cross(loop[(i+1)%len(loop)])
	}
	return twice / 2
}

// Contains reports whether p lies inside a closed polyline (even-odd ray
// cast).
func Contains(loop []Point, p Point) bool {
	inside := false
	for i, a := range loop {
		b := loop[(i+1)%len(loop)]
		if (a.Y > p.Y) != (b.Y > p.Y) && p.X < a.X+(p.Y-a.Y)/(b.Y-a.Y)*(b.X-a.X) {
			inside = !inside
		}
	}
	return inside
}

// Inside reports whether p lies inside the loops by the even-odd rule.
func Inside(loops [][]Point, p Point) bool {
	in := false
	for _, loop := range loops {
		in = in != Contains(loop, p)
	}
	return in
}

// Within is Inside for many points that lie in rows: where a row crosses the loops is found
// once. It is not safe for concurrent use.
func Within(loops [][]Point) func(Point) bool {
	rows := map[float64][]float64{}
	var recent [4]struct { // who asks cell by cell asks for the same few rows again
		y         float64
		crossings []float64
	}
	for k := range recent {
		recent[k].y = math.NaN()
	}
	next := 0
	row := func(y float64) []float64 {
		for k := range recent {
			if recent[k].y == y {
				return recent[k].crossings
			}
		}
		crossings, known := rows[y]
		if !known {
			crossings = Crossings(loops, y, nil)
			rows[y] = crossings
		}
		recent[next].y, recent[next].crossings = y, crossings
		next = (next + 1) % len(recent)
		return crossings
	}
	return func(p Point) bool {
		crossings := row(p.Y)
		left, _ := slices.BinarySearch(crossings, p.X)
		return (len(crossings)-left)%2 == 1
	}
}

// Crossings returns where the line at height y crosses the loops, in order.
// The result is appended to room, which may be nil.
func Crossings(loops [][]Point, y float64, room []float64) []float64 {
	for _, loop := range loops {
		for i, a := range loop {
			b := loop[(i+1)%len(loop)]
			if (a.Y > y) != (b.Y > y) {
				room = append(room, a.X+(y-a.Y)/(b.Y-a.Y)*(b.X-a.X))
			}
		}
	}
	slices.Sort(room)
	return room
}

// Spans yields the stretches of the line at height y that lie inside the
// loops.
func Spans(loops [][]Point, y float64) iter.Seq2[float64, float64] {
	return func(yield func(from, to float64) bool) {
		xs := Crossings(loops, y, nil)
		for i := 0; i+1 < len(xs); i += 2 {
			if !yield(xs[i], xs[i+1]) {
				return
			}
		}
	}
}

// Chord returns how much of the line at height y lies inside the loops.
func Chord(loops [][]Point, y float64) float64 {
	sum := 0.0
	for from, to := range Spans(loops, y) {
		sum += to - from
	}
	return sum
}

// Round returns a regular polygon of n corners around c.
func Round(c Point, radius float64, n int) []Point {
	out := make([]Point, n)
	for i := range out {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		out[i] = Point{c.X + radius*cos, c.Y + radius*sin}
	}
	return out
}

// Path returns loops as SVG path data, rounded to what a tolerance leaves to be seen: whole
// units from 1 on, else tenths.
func Path(loops [][]Point, tol float64) string {
	per := 10.0
	if tol >= 1 {
		per = 1
	}
	round := func(v float64) string { return strconv.FormatFloat(math.Round(v*per)/per, 'f', -1, 64) }
	var b strings.Builder
	for _, loop := range loops {
		for i, p := range loop {
			b.WriteByte("ML"[min(i, 1)])
			b.WriteString(round(p.X))
			b.WriteByte(' ')
			b.WriteString(round(p.Y))
		}
		if len(loop) > 0 {
			b.WriteByte('Z')
		}
	}
	return b.String()
}

// Part returns the part of a line between two shares of its length, at least a
// point of it.
func Part(line []Point, from, to float64) []Point {
	all := Length(line)
	if all == 0 {
		return line[:1]
	}
	var out []Point
	gone := 0.0
	for k := 1; k < len(line); k++ {
		n := line[k].Sub(line[k-1]).Norm()
		a, b := (from*all-gone)/n, (to*all-gone)/n
		gone += n
		if n == 0 || a > 1 || b < 0 {
			continue
		}
		if len(out) == 0 {
			out = append(out, Lerp(line[k-1], line[k], math.Max(0, a)))
		}
		out = append(out, Lerp(line[k-1], line[k], math.Min(1, b)))
	}
	if len(out) == 0 {
		return line[len(line)-1:]
	}
	return out
}

// FromSegment is how far a point is from the segment between two others.
func FromSegment(p, a, b Point) float64 {
	d := b.Sub(a)
	l := d.Dot(d)
	if l == 0 {
		return p.Sub(a).Norm()
	}
	t := math.Max(0, math.Min(1, p.Sub(a).Dot(d)/l))
	return p.Sub(Lerp(a, b, t)).Norm()
}
