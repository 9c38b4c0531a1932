package preview

import (
	"context"
	"image"
	"image/color"
	"math"
	"slices"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/preview"
)

// A Range is the spread of a number over several plays, and in the first of them, in which all
// is as it is taken to be.
type Range struct{ Least, Most, First float64 }

func (r *Range) take(v float64) {
	if r.Least > r.Most {
		r.First = v
	}
	r.Least, r.Most = math.Min(r.Least, v), math.Max(r.Most, v)
}

func none() Range { return Range{Least: math.Inf(1), Most: math.Inf(-1)} }

// About is a range about what the first play comes to on a finer grid.
func (r Range) About(fine float64) Range {
	return Range{math.Max(0, fine+r.Least-r.First), fine + r.Most - r.First, fine}
}

// Times is a range about what the first play comes to on a finer grid, by the same factors.
func (r Range) Times(fine float64) Range {
	if !(r.First > 0) {
		return r
	}
	return Range{fine * r.Least / r.First, fine * r.Most / r.First, fine}
}

// Ranges are the results of a coat over several draws, and at both ends of what
// nobody knows. Volumes are in m³.
type Ranges struct {
	Plays     int
	Visible   []Range // of each cup
	Ground    Range
	RunOff    Range
	Cells     []CellRange
	Apart     bool   // the tension between two colours is one of what is not known
	Differing []byte // PNG of the board, hatched where the plays differ
}

// A CellRange is where cells of one colour on another open.
type CellRange struct {
	Upper, Under int
	Spacing      Range // m
	Seen         Range // s
	Plays        int   // in which they are seen
}

// draws is how many possible draws are played; doubted what is not known, at its ends: how
// high an edge stands by a fifth (a contact angle of 40° to 60°), a room by three degrees,
// and how hard two colours part.
const draws = 5

var doubted = []preview.Doubt{{EdgeFactor: 0.8}, {EdgeFactor: 1.2}, {Warmer: -3}, {Warmer: 3}, {Apart: true}}

// Ranges plays a coat several times on few cells.
func (s *Service) Ranges(ctx context.Context, v View) (*Ranges, error) {
	return s.ranges.Get(ctx, v.key(), func(ctx context.Context) (*Ranges, error) {
		out := &Ranges{Ground: none(), RunOff: none()}
		var looks [][]byte
		low, high := v.Coat.Tensions()
		out.Apart = low != high
		play := func(v View, doubt preview.Doubt) (*preview.Scene, error) {
			scene, r, err := s.played(ctx, v, s.few(), doubt)
			if err != nil {
				return nil, err
			}
			pix, err := scene.Painter.Picture(ctx, r, usualPoints(scene.Grid))
			looks = append(looks, pix)
			out.add(scene, r)
			return scene, err
		}
		var scene *preview.Scene
		for k := range uint64(draws) {
			drawn := v
			drawn.Tried.Seed += k
			var err error
			if scene, err = play(drawn, preview.Doubt{}); err != nil {
				return nil, err
			}
		}
		for _, d := range doubted {
			if d.Apart && !out.Apart {
				continue
			}
			if _, err := play(v, d); err != nil {
				return nil, err
			}
		}
		var err error
		out.Differing, err = differing(looks, scene.Grid.NX*usualPoints(scene.Grid))
		return out, err
	})
}

// add counts a play that is over.
func (o *Ranges) add(s *preview.Scene, r *flow.Run) {
	o.Plays++
	visible, ground := s.Painter.Visible(r)
	for k, share := range visible {
		if k == len(o.Visible) {
			o.Visible = append(o.Visible, none())
		}
		o.Visible[k].take(share)
	}
	o.Ground.take(ground)
	o.RunOff.take(total(r.Sample().Below))
	for _, c := range r.Openings() {
		if math.IsNaN(c.Seen) {
			continue
		}
		at := o.cell(c)
		at.Spacing.take(c.Spacing)
		at.Seen.take(c.Seen)
		at.Plays++
	}
}

func total(of []float64) (sum float64) {
	for _, v := range of {
		sum += v
	}
	return sum
}

// About are the ranges about what a frame on a finer grid shows: the differences from the
// first of the plays, and how cells are apart by the same factors.
func (o *Ranges) About(f *Frame) *Ranges {
	out := *o
	out.Visible, out.Cells = slices.Clone(o.Visible), slices.Clone(o.Cells)
	for k := range out.Visible {
		out.Visible[k] = out.Visible[k].About(f.Visible[k])
	}
	out.Ground, out.RunOff = o.Ground.About(f.Ground), o.RunOff.About(total(f.Sample.Below))
	for _, opened := range f.Opens {
		k := slices.IndexFunc(out.Cells, func(c CellRange) bool {
			return c.Upper == opened.Upper && c.Under == opened.Under
		})
		if k >= 0 && !math.IsNaN(opened.Seen) {
			c := &out.Cells[k]
			c.Spacing, c.Seen = c.Spacing.Times(opened.Spacing), c.Seen.About(opened.Seen)
		}
	}
	return &out
}

func (o *Ranges) cell(c flow.Opening) *CellRange {
	for k := range o.Cells {
		if o.Cells[k].Upper == c.Upper && o.Cells[k].Under == c.Under {
			return &o.Cells[k]
		}
	}
	o.Cells = append(o.Cells, CellRange{Upper: c.Upper, Under: c.Under, Spacing: none(), Seen: none()})
	return &o.Cells[len(o.Cells)-1]
}

// Two looks of a point differ from so much of a step of red, green or blue on; a place is
// said to differ where more than so many of the plays do from the first.
const (
	differs     = 36
	differShare = 0.3
	hatchEvery  = 7 // points
)

// differing is the first look with white hatching where the others differ.
func differing(looks [][]byte, wide int) ([]byte, error) {
	m := &image.NRGBA{
		Pix:    append([]byte(nil), looks[0]...),
		Stride: 4 * wide,
		Rect:   image.Rect(0, 0, wide, len(looks[0])/(4*wide)),
	}
	for i := 0; i < len(m.Pix); i += 4 {
		if m.Pix[i+3] == 0 {
			continue
		}
		unlike := 0
		for _, other := range looks[1:] {
			if apart(looks[0][i:i+3], other[i:i+3]) > differs {
				unlike++
			}
		}
		x, y := i/4%wide, i/4/wide
		if float64(unlike) <= differShare*float64(len(looks)-1) {
			continue
		}
		if (x+y)%hatchEvery < 2 {
			m.SetNRGBA(x, y, color.NRGBA{255, 255, 255, 255})
		} else if (x+y)%hatchEvery == 2 {
			m.SetNRGBA(x, y, color.NRGBA{0, 0, 0, 255})
		}
	}
	return packed(m)
}

func apart(a, b []byte) int {
	most := 0
	for k := range 3 {
		d := int(a[k]) - int(b[k])
		most = max(most, d, -d)
	}
	return most
}
