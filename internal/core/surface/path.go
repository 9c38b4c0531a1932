package surface

import (
	"math"
	"strconv"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// maxPathBytes bounds typed or uploaded path data.
const maxPathBytes = 8 << 20

// ErrOpen is returned for an outline that does not come back to its start.
var ErrOpen = refusal.New("the outline is open; close it with Z")

// parsePath reads SVG path data (SVG 2, section 9.3) into closed loops.
func parsePath(data string) ([]loop, error) {
	if len(data) > maxPathBytes {
		return nil, refusal.New("the outline is too long; simplify it")
	}
	p := pathReader{data: data}
	for {
		done, err := p.command()
		if err != nil {
			return nil, err
		}
		if done {
			break
		}
	}
	if err := p.finish(false); err != nil {
		return nil, err
	}
	if len(p.loops) == 0 {
		return nil, refusal.New("the outline is empty; it starts with M and ends with Z")
	}
	return p.loops, nil
}

// pathReader is the state while reading: pen position, start of the current
// loop, and the control point a smooth curve mirrors.
type pathReader struct {
	data    string
	i       int
	last    byte
	pen     geom.Point
	start   geom.Point
	control geom.Point
	current loop
	loops   []loop
}

// command reads one drawing command, implied repeats included one at a time.
func (r *pathReader) command() (done bool, err error) {
	r.space()
	if r.i >= len(r.data) {
		return true, nil
	}
	c := r.data[r.i]
	if isLetter(c) {
		r.i++
	} else {
		switch r.last {
		case 0, 'Z', 'z':
			return false, refusal.New("%q does not belong at position %d of the outline", string(c), r.i+1)
		case 'M':
			c = 'L'
		case 'm':
			c = 'l'
		default:
			c = r.last
		}
	}
	if r.last == 0 && c != 'M' && c != 'm' {
		return false, refusal.New("an outline starts with M")
	}
	previous := r.last
	r.last = c
	return false, r.draw(c, previous)
}

func (r *pathReader) draw(c, previous byte) error {
	relative := c >= 'a'
	base := geom.Point{}
	if relative {
		base = r.pen
	}
	switch upper(c) {
	case 'Z':
		return r.finish(true)
	case 'M':
		to, err := r.point(base)
		if err != nil {
			return err
		}
		if err := r.finish(false); err != nil {
			return err
		}
		r.pen, r.start = to, to
		return nil
	case 'L':
		to, err := r.point(base)
		return r.line(to, err)
	case 'H':
		x, err := r.number()
		return r.line(geom.At(base.X+x, r.pen.Y), err)
	case 'V':
		y, err := r.number()
		return r.line(geom.At(r.pen.X, base.Y+y), err)
	case 'C', 'S', 'Q', 'T':
		return r.curve(upper(c), upper(previous), base)
	case 'A':
		return r.arc(base)
	}
	return refusal.New("%q is not a drawing command", string(c))
}

func (r *pathReader) line(to geom.Point, err error) error {
	if err == nil && to != r.pen {
		r.current = append(r.current, lineSegment(r.pen, to))
		r.pen = to
	}
	return err
}

func (r *pathReader) curve(c, previous byte, base geom.Point) error {
	cubic := c == 'C' || c == 'S'
	first := r.pen // the mirrored control point of a smooth curve
	if (cubic && (previous == 'C' || previous == 'S')) || (!cubic && (previous == 'Q' || previous == 'T')) {
		first = r.pen.Scale(2).Sub(r.control)
	}
	var err error
	if c == 'C' || c == 'Q' {
		if first, err = r.point(base); err != nil {
			return err
		}
	}
	second := first
	if cubic {
		if second, err = r.point(base); err != nil {
			return err
		}
	}
	to, err := r.point(base)
	if err != nil {
		return err
	}
	if cubic {
		r.current = append(r.current, cubicSegment(r.pen, first, second, to))
	} else {
		r.current = append(r.current, quadraticSegment(r.pen, first, to))
	}
	r.control, r.pen = second, to
	return nil
}

// arc reads rx ry rotation large sweep x y and converts the end points to a
// centre (SVG 2, appendix B.2.4).
func (r *pathReader) arc(base geom.Point) error {
	var v [3]float64
	var err error
	for i := range v {
		if v[i], err = r.number(); err != nil {
			return err
		}
	}
	large, err := r.flag()
	if err != nil {
		return err
	}
	sweep, err := r.flag()
	if err != nil {
		return err
	}
	to, err := r.point(base)
	if err != nil {
		return err
	}
	if to == r.pen {
		return nil
	}
	rx, ry := math.Abs(v[0]), math.Abs(v[1])
	if rx == 0 || ry == 0 {
		return r.line(to, nil)
	}
	r.current = append(r.current, arcBetween(r.pen, to, rx, ry, v[2]*math.Pi/180, large, sweep))
	r.pen = to
	return nil
}

func arcBetween(from, to geom.Point, rx, ry, turn float64, large, sweep bool) segment {
	sin, cos := math.Sincos(turn)
	half := from.Sub(to).Scale(0.5)
	x1, y1 := cos*half.X+sin*half.Y, -sin*half.X+cos*half.Y
	if over := x1*x1/(rx*rx) + y1*y1/(ry*ry); over > 1 {
		rx, ry = rx*math.Sqrt(over), ry*math.Sqrt(over)
	}
	num := rx*rx*ry*ry - rx*rx*y1*y1 - ry*ry*x1*x1
	f := math.Sqrt(math.Max(0, num) / (rx*rx*y1*y1 + ry*ry*x1*x1))
	if large == sweep {
		f = -f
	}
	cx, cy := f*rx*y1/ry, -f*ry*x1/rx
	mid := geom.Lerp(from, to, 0.5)
	centre := geom.At(cos*cx-sin*cy+mid.X, sin*cx+cos*cy+mid.Y)
	a0 := math.Atan2((y1-cy)/ry, (x1-cx)/rx)
	a1 := math.Atan2((-y1-cy)/ry, (-x1-cx)/rx)
	delta := a1 - a0
	if sweep && delta < 0 {
		delta += 2 * math.Pi
	} else if !sweep && delta > 0 {
		delta -= 2 * math.Pi
	}
	return arcSegment(centre, geom.At(cos*rx, sin*rx), geom.At(-sin*ry, cos*ry), a0, delta)
}

// finish ends the current loop: by Z it is closed with a line, otherwise it
// must already be back at its start.
func (r *pathReader) finish(closed bool) error {
	if len(r.current) > 0 {
		gap := r.pen.Sub(r.start).Norm()
		if !closed && gap > 1e-6 {
			return ErrOpen
		}
		if gap > 1e-9 {
			r.current = append(r.current, lineSegment(r.pen, r.start))
		}
		r.loops = append(r.loops, r.current)
	}
	r.current, r.pen = nil, r.start
	return nil
}

func (r *pathReader) point(base geom.Point) (geom.Point, error) {
	x, err := r.number()
	if err != nil {
		return geom.Point{}, err
	}
	y, err := r.number()
	return geom.At(base.X+x, base.Y+y), err
}

func (r *pathReader) number() (float64, error) {
	r.space()
	start, i := r.i, r.i
	digits, dot := false, false
	if i < len(r.data) && (r.data[i] == '+' || r.data[i] == '-') {
		i++
	}
	for ; i < len(r.data); i++ {
		c := r.data[i]
		if c >= '0' && c <= '9' {
			digits = true
		} else if c == '.' && !dot {
			dot = true
		} else {
			break
		}
	}
	if digits && i+1 < len(r.data) && (r.data[i] == 'e' || r.data[i] == 'E') {
		j := i + 1
		if r.data[j] == '+' || r.data[j] == '-' {
			j++
		}
		if j < len(r.data) && r.data[j] >= '0' && r.data[j] <= '9' {
			for i = j; i < len(r.data) && r.data[i] >= '0' && r.data[i] <= '9'; {
				i++
			}
		}
	}
	v, err := strconv.ParseFloat(r.data[start:i], 64)
	if err != nil || math.Abs(v) > float64(maxSize) {
		return 0, refusal.New("a number is missing or out of reach at position %d of the outline", start+1)
	}
	r.i = i
	return v, nil
}

func (r *pathReader) flag() (bool, error) {
	r.space()
	if r.i < len(r.data) && (r.data[r.i] == '0' || r.data[r.i] == '1') {
		r.i++
		return r.data[r.i-1] == '1', nil
	}
	return false, refusal.New("an arc flag must be 0 or 1 at position %d of the outline", r.i+1)
}

func (r *pathReader) space() {
	for r.i < len(r.data) {
		switch r.data[r.i] {
		case ' ', ',', '\t', '\n', '\r', '\f':
			r.i++
		default:
			return
		}
	}
}

func isLetter(c byte) bool { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') }

func upper(c byte) byte {
	if c >= 'a' {
		return c - 'a' + 'A'
	}
	return c
}
