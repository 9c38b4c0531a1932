package surface

import (
	"math"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/units"
)

// A Cut is the part of a face left after cutting along straight lines. Its
// points are measured from the corner of the board's box.
type Cut struct {
	loops [][]geom.Point
	signs []float64 // −1 for a hole
}

// Whole returns the face before any cut.
func (s Shape) Whole() Cut {
	c := Cut{loops: make([][]geom.Point, len(s.lines)), signs: make([]float64, len(s.lines))}
	corner := geom.At(s.box.MinX, s.box.MinY)
	for i, line := range s.lines {
		c.signs[i] = 1
		if depth(s.lines, i)%2 == 1 {
			c.signs[i] = -1
		}
		c.loops[i] = make([]geom.Point, len(line))
		for j, p := range line {
			c.loops[i][j] = p.Sub(corner)
		}
	}
	return c
}

// Left keeps what lies to the left of the line from a to b, as seen on the
// board with y growing down (Sutherland & Hodgman 1974, one edge).
func (c Cut) Left(a, b geom.Point) Cut {
	out := Cut{loops: make([][]geom.Point, len(c.loops)), signs: c.signs}
	way := b.Sub(a)
	side := func(p geom.Point) float64 { return -way.Cross(p.Sub(a)) }
	for i, line := range c.loops {
		var kept []geom.Point
		for j, p := range line {
			q := line[(j+1)%len(line)]
			sp, sq := side(p), side(q)
			if sp >= 0 {
				kept = append(kept, p)
			}
			if (sp >= 0) != (sq >= 0) {
				kept = append(kept, geom.Lerp(p, q, sp/(sp-sq)))
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
			twice += p.Cross(line[(j+1)%len(line)])
		}
		sum += c.signs[i] * math.Abs(twice) / 2
	}
	return units.Area(math.Max(0, sum))
}

// Loops returns its outlines.
func (c Cut) Loops() [][]geom.Point { return c.loops }

// Inside reports whether a point measured from the corner of the box lies on
// the face.
func (s Shape) Inside(p geom.Point) bool {
	p = p.Add(geom.At(s.box.MinX, s.box.MinY))
	return geom.Inside(s.lines, p)
}

// Inset returns the outlines drawn in by d mm towards the middle of the face,
// measured from the corner of the box: each point moves along the average of
// its edges' normals, true to the eye for the narrow bands it is used for.
func (s Shape) Inset(d float64) [][]geom.Point {
	var out [][]geom.Point
	whole := s.Whole()
	for i, line := range whole.loops {
		way := math.Copysign(d, geom.SignedArea(line)) * whole.signs[i]
		in := make([]geom.Point, len(line))
		for j, p := range line {
			before, after := line[(j+len(line)-1)%len(line)], line[(j+1)%len(line)]
			n := normal(before, p).Add(normal(p, after))
			if l := n.Norm(); l > 1e-9 {
				n = n.Scale(math.Min(2, 2/l) / l) // mitre, no longer than twice
			}
			in[j] = p.Add(n.Scale(way))
		}
		out = append(out, in)
	}
	return out
}

// normal is the unit normal to the right of the way from p to q on the page.
func normal(p, q geom.Point) geom.Point {
	d := q.Sub(p)
	l := d.Norm()
	if l < 1e-12 {
		return geom.Point{}
	}
	return geom.At(-d.Y/l, d.X/l)
}
