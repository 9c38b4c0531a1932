package svgoutline

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/surface"
)

// pathOf returns the path data of a drawn element, empty for one that is no
// outline.
func pathOf(name string, attrs map[string]string) (string, error) {
	n := func(key string) float64 {
		v, err := strconv.ParseFloat(strings.TrimSuffix(attrs[key], "px"), 64)
		if err != nil || math.IsNaN(v) {
			return 0
		}
		return v
	}
	switch name {
	case "path":
		return attrs["d"], nil
	case "rect":
		if n("rx") > 0 || n("ry") > 0 {
			return roundedRect(n("x"), n("y"), n("width"), n("height"), n("rx"), n("ry")), nil
		}
		return fmt.Sprintf("M%g %gh%gv%gh%gZ", n("x"), n("y"), n("width"), n("height"), -n("width")), nil
	case "circle":
		return oval(n("cx"), n("cy"), n("r"), n("r")), nil
	case "ellipse":
		return oval(n("cx"), n("cy"), n("rx"), n("ry")), nil
	case "polygon":
		return "M" + attrs["points"] + "Z", nil
	case "line", "polyline":
		return "", refusal.New("the drawing holds an open line; an outline must be closed")
	}
	return "", nil
}

func oval(cx, cy, rx, ry float64) string {
	return fmt.Sprintf("M%g %ga%g %g 0 1 0 %g 0a%g %g 0 1 0 %g 0Z", cx-rx, cy, rx, ry, 2*rx, rx, ry, -2*rx)
}

func roundedRect(x, y, w, h, rx, ry float64) string {
	if rx == 0 {
		rx = ry
	}
	if ry == 0 {
		ry = rx
	}
	rx, ry = math.Min(rx, w/2), math.Min(ry, h/2)
	return fmt.Sprintf("M%g %gh%ga%g %g 0 0 1 %g %gv%ga%g %g 0 0 1 %g %gh%ga%g %g 0 0 1 %g %gv%ga%g %g 0 0 1 %g %gZ",
		x+rx, y, w-2*rx, rx, ry, rx, ry, h-2*ry, rx, ry, -rx, ry, -(w - 2*rx), rx, ry, -rx, -ry, -(h - 2*ry), rx, ry, rx, -ry)
}

// parseTransform reads an SVG transform list, leftmost outermost.
func parseTransform(text string) (surface.Affine, error) {
	m := surface.Identity
	for rest := strings.TrimLeft(text, " ,\n\t"); rest != ""; rest = strings.TrimLeft(rest, " ,\n\t") {
		name, after, ok := strings.Cut(rest, "(")
		args, tail, closed := strings.Cut(after, ")")
		if !ok || !closed {
			return m, refusal.New("the transformation %q cannot be read", text)
		}
		var v []float64
		for field := range strings.FieldsFuncSeq(args,
			func(r rune) bool { return r == ' ' || r == ',' || r == '\n' || r == '\t' }) {
			x, err := strconv.ParseFloat(field, 64)
			if err != nil || math.IsInf(x, 0) {
				return m, refusal.New("the transformation %q cannot be read", text)
			}
			v = append(v, x)
		}
		step, err := transform(strings.TrimSpace(name), v)
		if err != nil {
			return m, err
		}
		m, rest = m.Then(step), tail
	}
	return m, nil
}

func transform(name string, v []float64) (surface.Affine, error) {
	second := func(otherwise float64) float64 {
		if len(v) > 1 {
			return v[1]
		}
		return otherwise
	}
	const degree = math.Pi / 180
	switch {
	case name == "translate" && (len(v) == 1 || len(v) == 2):
		return surface.Affine{1, 0, 0, 1, v[0], second(0)}, nil
	case name == "scale" && (len(v) == 1 || len(v) == 2):
		return surface.Affine{v[0], 0, 0, second(v[0]), 0, 0}, nil
	case name == "rotate" && (len(v) == 1 || len(v) == 3):
		sin, cos := math.Sincos(v[0] * degree)
		turn := surface.Affine{cos, sin, -sin, cos, 0, 0}
		if len(v) == 3 {
			there, back := surface.Affine{1, 0, 0, 1, v[1], v[2]}, surface.Affine{1, 0, 0, 1, -v[1], -v[2]}
			return there.Then(turn).Then(back), nil
		}
		return turn, nil
	case name == "skewX" && len(v) == 1:
		return surface.Affine{1, 0, math.Tan(v[0] * degree), 1, 0, 0}, nil
	case name == "skewY" && len(v) == 1:
		return surface.Affine{1, math.Tan(v[0] * degree), 0, 1, 0, 0}, nil
	case name == "matrix" && len(v) == 6:
		return surface.Affine(v), nil
	}
	return surface.Identity, refusal.New("the transformation %q cannot be read", name)
}
