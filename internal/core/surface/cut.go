package surface

import (
	"fmt"
	"math"
	"strings"

	"jevvo/internal/core/units"
)

// A Cut is what is left of a face after cutting it along straight lines. Its
// points are measured from the corner of the board's box.
type Cut struct {
	loops [][]Point
	signs []float64 // −1 for a hole
}

// Whole returns the face before any cut.
func (s Shape) Whole() Cut {
	c := Cut{loops: make([][]Point, len(s.lines)), signs: make([]float64, len(s.lines))}
	corner := Point{s.box.MinX, s.box.MinY}
	for i, line := range s.lines {
		c.signs[i] = 1
		if depth(s.lines, i)%2 == 1 {
			c.signs[i] = -1
		}
		c.loops[i] = make([]Point, len(line))
		for j, p := range line {
			c.loops[i][j] = p.sub(corner)
		}
	}
	return c
}

// Left keeps what lies to the left of the line from a to b, as seen on the
// board with y growing down (Sutherland & Hodgman 1974, one edge).
func (c Cut) Left(a, b Point) Cut {
	out := Cut{loops: make([][]Point, len(c.loops)), signs: c.signs}
	way := b.sub(a)
	side := func(p Point) float64 { return -way.cross(p.sub(a)) }
	for i, line := range c.loops {
		var kept []Point
		for j, p := range line {
			q := line[(j+1)%len(line)]
			sp, sq := side(p), side(q)
			if sp >= 0 {
				kept = append(kept, p)
			}
			if (sp >= 0) != (sq >= 0) {
				kept = append(kept, lerp(p, q, sp/(sp-sq)))
			}
		}
		out.loops[i] = kept
	}
	return out
}

// Area returns how large it is.
func (c Cut) Area() units.Area {
	sum := 0.0
	for i, line := range c.loops {
		twice := 0.0
		for j, p := range line {
			twice += p.cross(line[(j+1)%len(line)])
		}
		sum += c.signs[i] * math.Abs(twice) / 2
	}
	return units.Area(math.Max(0, sum))
}

// Loops returns its outlines.
func (c Cut) Loops() [][]Point { return c.loops }

// PathOf returns outlines as SVG path data in mm.
func PathOf(loops [][]Point) string {
	var b strings.Builder
	for _, line := range loops {
		for i, p := range line {
			fmt.Fprintf(&b, "%c%.1f %.1f", "ML"[min(i, 1)], p.X, p.Y)
		}
		if len(line) > 0 {
			b.WriteByte('Z')
		}
	}
	return b.String()
}

// Inside reports whether a point measured from the corner of the box lies on
// the face.
func (s Shape) Inside(p Point) bool {
	p = p.add(Point{s.box.MinX, s.box.MinY})
	in := false
	for _, line := range s.lines {
		if contains(line, p) {
			in = !in
		}
	}
	return in
}

// Inset returns the outlines drawn in by d mm towards the middle of the face,
// measured from the corner of the box: each point moves along the average of
// its edges' normals, true to the eye for the narrow bands it is used for.
func (s Shape) Inset(d float64) [][]Point {
	var out [][]Point
	whole := s.Whole()
	for i, line := range whole.loops {
		twice := 0.0
		for j, p := range line {
			twice += p.cross(line[(j+1)%len(line)])
		}
		way := math.Copysign(d, twice) * whole.signs[i]
		in := make([]Point, len(line))
		for j, p := range line {
			before, after := line[(j+len(line)-1)%len(line)], line[(j+1)%len(line)]
			n := normal(before, p).add(normal(p, after))
			if l := n.length(); l > 1e-9 {
				n = n.scale(math.Min(2, 2/l) / l) // mitre, no longer than twice
			}
			in[j] = p.add(n.scale(way))
		}
		out = append(out, in)
	}
	return out
}

// normal is the unit normal to the right of the way from p to q on the page.
func normal(p, q Point) Point {
	d := q.sub(p)
	l := d.length()
	if l < 1e-12 {
		return Point{}
	}
	return Point{-d.Y / l, d.X / l}
}
