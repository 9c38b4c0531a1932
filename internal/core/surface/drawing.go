package surface

import (
	"math"
	"strconv"
	"strings"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// An Affine maps (x, y) to (a·x + c·y + e, b·x + d·y + f), as in SVG.
type Affine [6]float64

// Identity leaves every point where it is.
var Identity = Affine{1, 0, 0, 1, 0, 0}

// Then returns the map that applies first and then m.
func (m Affine) Then(first Affine) Affine {
	return Affine{
		m[0]*first[0] + m[2]*first[1], m[1]*first[0] + m[3]*first[1],
		m[0]*first[2] + m[2]*first[3], m[1]*first[2] + m[3]*first[3],
		m[0]*first[4] + m[2]*first[5] + m[4], m[1]*first[4] + m[3]*first[5] + m[5],
	}
}

func (m Affine) point(p geom.Point) geom.Point {
	return geom.At(m[0]*p.X+m[2]*p.Y+m[4], m[1]*p.X+m[3]*p.Y+m[5])
}

func (m Affine) vector(p geom.Point) geom.Point {
	return geom.At(m[0]*p.X+m[2]*p.Y, m[1]*p.X+m[3]*p.Y)
}

// apply maps a segment exactly: arcs stay arcs, by their two half axes.
func (m Affine) apply(s segment) segment {
	if s.kind == arcKind {
		s.p[0], s.p[1], s.p[2] = m.point(s.p[0]), m.vector(s.p[1]), m.vector(s.p[2])
		return s
	}
	for i := range s.p {
		s.p[i] = m.point(s.p[i])
	}
	return s
}

// A Part is one outline of a drawing and where it stands.
type Part struct {
	Path string
	Map  Affine
}

// Compose returns the board inside all parts together: inner outlines are
// holes by the even-odd rule.
func Compose(parts []Part) (Shape, error) {
	var loops []loop
	for _, part := range parts {
		ls, err := parsePath(part.Path)
		if err != nil {
			return Shape{}, err
		}
		for _, v := range part.Map {
			if math.IsNaN(v) || math.Abs(v) > 1e9 {
				return Shape{}, refusal.New("a transformation in the drawing is out of reach")
			}
		}
		for _, l := range ls {
			mapped := make(loop, len(l))
			for i, s := range l {
				mapped[i] = part.Map.apply(s)
			}
			loops = append(loops, mapped)
		}
	}
	return build(loops)
}

// Data returns the outline as SVG path data in mm with the box's corner at
// the origin, curves kept as curves: arcs become cubics of an eighth of a
// turn, true to four parts in a million.
func (s Shape) Data() string {
	var b strings.Builder
	number := func(v float64) {
		b.WriteString(strconv.FormatFloat(v, 'f', -1, 64))
		b.WriteByte(' ')
	}
	point := func(p geom.Point) {
		number(math.Round((p.X-s.box.MinX)*1e4) / 1e4)
		number(math.Round((p.Y-s.box.MinY)*1e4) / 1e4)
	}
	for _, l := range s.loops {
		b.WriteByte('M')
		point(l[0].at(0))
		for _, seg := range l {
			switch seg.kind {
			case lineKind:
				b.WriteByte('L')
				point(seg.p[1])
			case cubicKind:
				b.WriteByte('C')
				point(seg.p[1])
				point(seg.p[2])
				point(seg.p[3])
			case arcKind:
				for _, c := range seg.cubics() {
					b.WriteByte('C')
					point(c.p[1])
					point(c.p[2])
					point(c.p[3])
				}
			}
		}
		b.WriteByte('Z')
	}
	return b.String()
}

// cubics returns an arc as cubic curves of at most an eighth of a turn.
func (s segment) cubics() []segment {
	n := max(1, int(math.Ceil(math.Abs(s.sweep)/(math.Pi/4)-1e-9)))
	out := make([]segment, n)
	h := 1 / float64(n)
	k := 4. / 3 * math.Tan(s.sweep*h/4) / (s.sweep * h) // handle length per unit of slope
	for i := range out {
		t0, t1 := float64(i)*h, float64(i+1)*h
		a, d := s.at(t0), s.at(t1)
		out[i] = cubicSegment(a, a.Add(s.slope(t0).Scale(k*h)), d.Sub(s.slope(t1).Scale(k*h)), d)
	}
	return out
}
