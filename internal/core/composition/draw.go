package composition

import (
	"math"
	"sort"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

// A Region is one stretch of a colour on the board, in mm from the corner of
// its box. Regions are drawn in order, clipped to the board.
type Region struct {
	Colour string // "" for what takes no cup
	Thing  string // id of the thing it draws; "" in a sketch
	Kind   Kind
	Loops  [][]geom.Point
	Area   units.Area // of the face it is meant to cover
}

// Path returns the region as SVG path data, none of it farther than tol from where it is.
func (r Region) Path(tol float64) string {
	loops := make([][]geom.Point, len(r.Loops))
	for i, loop := range r.Loops {
		loops[i] = geom.Simplify(loop, tol)
	}
	return geom.Path(loops, tol)
}

// Draw returns the regions of a coat's things on a board, those that lie
// under first. A thing that takes the share f of a coat of one thickness
// covers f of the face once it has levelled: that is how wide it is drawn.
func Draw(board surface.Shape, things []Thing) []Region {
	if board.IsZero() {
		return nil
	}
	order := make([]int, len(things))
	for i := range order {
		order[i] = i
	}
	layer := func(i int) int { r, _ := RuleOf(things[i].Kind); return r.Layer }
	sort.SliceStable(order, func(a, b int) bool { return layer(order[a]) < layer(order[b]) })
	shares, _ := Shares(things)
	var out []Region
	for _, i := range order {
		t := things[i]
		share := t.Share
		if t.Kind == Bed {
			share = shares[t.Cup]
		}
		out = append(out, Region{Colour: t.Cup, Thing: t.ID, Kind: t.Kind, Loops: loops(board, things, i),
			Area: units.Area(share) * board.Area()})
	}
	return out
}

// loops are the outlines of the thing at i.
func loops(board surface.Shape, things []Thing, i int) [][]geom.Point {
	t := things[i]
	area := t.Share * float64(board.Area())
	switch t.Kind {
	case Bed:
		return board.Whole().Loops()
	case Zone:
		return zoneCut(board, things, i).Loops()
	case Edging:
		return edging(board, area)
	case Puddle, Window, Texture:
		return spots(t.Copies(board), area)
	case Dots:
		return dots(board, t, area)
	}
	copies := t.Copies(board)
	length := geom.Length(t.Points) * float64(len(copies))
	if length <= 0 {
		return nil
	}
	width := area / length
	var out [][]geom.Point
	for k, line := range copies {
		if t.Kind == Vein {
			line = wander(line, width, k)
		}
		out = append(out, band(line, width))
	}
	return out
}

// Width returns how wide a line of the thing is once levelled, or how far
// across a spot of it.
func (t Thing) Width(board surface.Shape) units.Length {
	area := t.Share * float64(board.Area())
	switch t.Kind {
	case Puddle, Window, Texture:
		return units.Length(2 * math.Sqrt(area/math.Pi/float64(len(t.Copies(board)))))
	case Dots:
		return units.Length(2 * math.Sqrt(area/math.Pi/float64(t.drops(board))))
	}
	if l := float64(t.Length(board)); l > 0 {
		return units.Length(area / l)
	}
	return 0
}

// WithWidth returns the thing with the share that makes it so wide.
func (t Thing) WithWidth(board surface.Shape, w units.Length) Thing {
	was := t.Width(board)
	if was <= 0 {
		return t
	}
	f := float64(w / was)
	if t.Kind == Puddle || t.Kind == Window || t.Kind == Texture || t.Kind == Dots {
		f *= f
	}
	return t.Given(math.Min(1, t.Share*f))
}

// drops is how many dots are set in all.
func (t Thing) drops(board surface.Shape) int { return max(1, t.Count) * len(t.Copies(board)) }

// edging is the band between the outline and its inset.
func edging(board surface.Shape, area float64) [][]geom.Point {
	w := area / math.Max(1, float64(board.Perimeter()))
	out := append([][]geom.Point(nil), board.Whole().Loops()...)
	return append(out, board.Inset(w)...)
}

func spots(copies [][]geom.Point, area float64) [][]geom.Point {
	r := math.Sqrt(area / math.Pi / float64(len(copies)))
	var out [][]geom.Point
	for _, c := range copies {
		if len(c) > 0 {
			out = append(out, geom.Round(c[0], r, 40))
		}
	}
	return out
}

func dots(board surface.Shape, t Thing, area float64) [][]geom.Point {
	n := max(1, t.Count)
	r := math.Sqrt(area / math.Pi / float64(t.drops(board)))
	var out [][]geom.Point
	for _, c := range t.Copies(board) {
		for i := range n {
			f := 0.5
			if n > 1 {
				f = float64(i) / float64(n-1)
			}
			p := geom.Point{X: c[0].X + f*(c[1].X-c[0].X), Y: c[0].Y + f*(c[1].Y-c[0].Y)}
			out = append(out, geom.Round(p, r, 16))
		}
	}
	return out
}

// band is a line with a width: offset to both sides, corners mitred.
func band(line []geom.Point, width float64) []geom.Point {
	n := len(line)
	left, right := make([]geom.Point, n), make([]geom.Point, n)
	for i, p := range line {
		a, b := line[max(0, i-1)], line[min(n-1, i+1)]
		nx, ny := -(b.Y - a.Y), b.X-a.X
		l := math.Hypot(nx, ny)
		if l < 1e-9 {
			l = 1
		}
		k := width / 2 / l
		left[i] = geom.Point{X: p.X + nx*k, Y: p.Y + ny*k}
		right[i] = geom.Point{X: p.X - nx*k, Y: p.Y - ny*k}
	}
	out := left
	for i := n - 1; i >= 0; i-- {
		out = append(out, right[i])
	}
	return out
}

// wander bends a line as a vein bends, by a few widths, without moving its
// ends.
func wander(line []geom.Point, width float64, k int) []geom.Point {
	var out []geom.Point
	for i := 0; i+1 < len(line); i++ {
		a, b := line[i], line[i+1]
		d := geom.Point{X: b.X - a.X, Y: b.Y - a.Y}
		l := math.Hypot(d.X, d.Y)
		if l < 1e-9 {
			continue
		}
		const pieces = 16
		for j := range pieces {
			f := float64(j) / pieces
			off := math.Min(1.5*width, l/12) * math.Sin(2*math.Pi*f) * math.Sin(7*f+float64(i+k))
			out = append(out, geom.Point{X: a.X + f*d.X - d.Y/l*off, Y: a.Y + f*d.Y + d.X/l*off})
		}
	}
	return append(out, line[len(line)-1])
}

// Fit returns the things of one board placed alike on another: points keep
// their place relative to the box and gaps scale with it.
func Fit(things []Thing, from, to surface.Shape) []Thing {
	out := Clone(things)
	a, b := from.Bounds(), to.Bounds()
	fx, fy := float64(b.Width()/a.Width()), float64(b.Height()/a.Height())
	for i := range out {
		for j := range out[i].Points {
			out[i].Points[j].X *= fx
			out[i].Points[j].Y *= fy
		}
		out[i].Gap *= units.Length(math.Sqrt(fx * fy))
		out[i].Volume *= units.Volume(float64(to.Area() / from.Area()))
		out[i].Pour *= units.Volume(float64(to.Area() / from.Area()))
	}
	return Settle(to, out)
}
