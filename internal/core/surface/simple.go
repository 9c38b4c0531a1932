package surface

import (
	"strconv"
	"strings"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// What an outline is kept as: one with more points than few is drawn by fewer, none
// farther from it than fine, in mm; one that still has more than most is refused.
const (
	fewPoints  = 2000
	finePoints = 0.1
	mostPoints = 20_000
)

// Simplified returns the shape with no more points than can be seen and cut. One of
// few points is returned as it is.
func (s Shape) Simplified() (Shape, error) {
	n := 0
	for _, l := range s.loops {
		n += len(l)
	}
	if n <= fewPoints {
		return s, nil
	}
	var b strings.Builder
	points := 0
	for _, line := range s.lines {
		short := geom.Simplify(append(line[:len(line):len(line)], line[0]), finePoints)
		short = short[:len(short)-1]
		if len(short) < 3 {
			continue // a hole too small to be seen
		}
		points += len(short)
		for i, p := range short {
			b.WriteByte("ML"[min(i, 1)])
			b.WriteString(strconv.FormatFloat(p.X, 'f', 3, 64) + " " + strconv.FormatFloat(p.Y, 'f', 3, 64))
		}
		b.WriteByte('Z')
	}
	if points > mostPoints {
		return Shape{}, refusal.New("the drawing has %d points that can be told apart; an outline has at most %d", points,
			mostPoints)
	}
	return Outline(b.String())
}
