// Package drawing lays boards and clocks out for a screen: coordinates of what
// the plan says, in the units a page draws in.
package drawing

import (
	"fmt"
	"math"
	"strconv"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// Boards are the boards of a piece to scale, in mm, side by side.
type Boards struct {
	X, Y, W, H float64 // view box
	Line       float64 // stroke width that reads as a hairline
	Text       float64 // letter height
	Ground     string  // "#rrggbb" of the face where nothing lies
	Boards     []Board
	Gap        float64
	Key        string   // tells drawings on one page apart
	Label      msg.Text // in words, for those who do not see it
	Plain      bool     // without dimensions
	Alone      bool     // a picture by itself, to which no page lends its styles
	Still      string   // address of a picture of the first board; "" for none
}

// A Board is one of them.
type Board struct {
	ID            int
	X, Y, W, H    float64
	Path          string
	Regions       []Region
	Lace          []Cell // opened cells, of a rehearsal
	Zones         []Zone // of the step in hand
	Held          bool   // tape holds its sides: which comes off first can be chosen
	Drift         string // path of an arrow to the side that is let go first; "" for none
	Rim, Dam      bool
	Depth         float64
	Width, Height msg.Text
	DimY, DimX    float64 // where the dimension lines stand
	MidX, MidY    float64
	Last          bool // of its row: carries the height
}

// Lies says how a board lies: "wide", "tall" or "square", within a fifth.
func (b Boards) Lies() string {
	if len(b.Boards) == 0 {
		return "square"
	}
	switch r := b.Boards[0].W / b.Boards[0].H; {
	case r > 1.2:
		return "wide"
	case r < 1/1.2:
		return "tall"
	}
	return "square"
}

// A Region is a part of a board with the colour that is seen there.
type Region struct {
	Path, Fill string
	Cup        string // of the coat that is drawn; "" for one under it
	Now        bool   // the step in hand lays it
}

// A Zone is a part of the board that is worked by itself.
type Zone struct {
	X, Y, W, H float64
	N          int
	Now, Done  bool
}

// A Cell is a round opening.
type Cell struct{ X, Y, R float64 }

// Of draws a coat of a plan as its films will look, with the coats under it
// showing through, the sides as the band they would make if folded down. A
// plan that could not be calculated is an empty mat.
func Of(p *plan.Plan, c *plan.Coat, id int64, sys units.System) Boards { return of(p, c, id, sys, 1) }

// Card draws it for a card: without its dimensions, and no finer than a card shows.
func Card(p *plan.Plan, c *plan.Coat, id int64, sys units.System) Boards {
	return of(p, c, id, sys, 6).Small()
}

// of draws a coat of a plan, its lines so many times coarser than on a whole screen.
func of(p *plan.Plan, c *plan.Coat, id int64, sys units.System, coarse float64) Boards {
	if p == nil || len(p.Boards) == 0 || c == nil {
		return Boards{W: 400, H: 400, Line: 1, Text: 14, Ground: surface.BareGround}
	}
	size := 0.0
	for _, b := range p.Boards {
		size = math.Max(size, math.Max(float64(b.Bounds().Width()), float64(b.Bounds().Height())))
	}
	depth := math.Min(float64(p.Spec.Depth), size*0.12)
	d := Boards{Gap: size * 0.12, Key: strconv.FormatInt(id, 10) + c.ID, Label: describe(p, c, sys), Ground: p.Spec.Ground}
	d.layOut(p, c, depth, sys, coarse)
	d.Text = math.Max(d.W, d.H) / 26
	d.Line = d.Text / 15
	margin := depth + 2.6*d.Text
	d.X, d.Y = -margin, -margin
	d.W, d.H = d.W+2*margin, d.H+2*margin
	for i := range d.Boards {
		b := &d.Boards[i]
		b.DimY, b.DimX = b.H+depth+d.Text*0.9, b.W+depth+d.Text*0.9
		b.MidX, b.MidY = b.W/2, b.H/2
	}
	return d
}

// describe says what a drawing shows.
func describe(p *plan.Plan, c *plan.Coat, sys units.System) msg.Text {
	names := make([]msg.Text, 0, len(c.Colours))
	for _, colour := range c.Colours {
		names = append(names, words.Filled(colour.Name))
	}
	box := p.Boards[0].Bounds()
	return msg.F("%s, %s by %s, %s in %s", p.Spec.Support.Rule().Words, box.Width().Text(sys),
		box.Height().Text(sys),
		c.Technique.Name, msg.Join(", ", names...))
}

// layOut sets boards in rows of about the same width as height.
func (d *Boards) layOut(p *plan.Plan, c *plan.Coat, depth float64, sys units.System, coarse float64) {
	columns := int(math.Ceil(math.Sqrt(float64(len(p.Boards)))))
	if len(p.Boards) <= 3 {
		columns = len(p.Boards)
	}
	x, y, row := 0.0, 0.0, 0.0
	for i, shape := range p.Boards {
		if i > 0 && i%columns == 0 {
			d.Boards[i-1].Last = true
			x, y, row = 0, y+row+d.Gap+2*depth, 0
		}
		box := shape.Bounds()
		b := Board{
			ID: i, X: x, Y: y, W: float64(box.Width()), H: float64(box.Height()), Path: shape.Path(),
			Rim: p.Spec.Edge.Rule().Stays, Dam: p.Spec.Edge.Rule().Taped, Depth: 2 * depth,
			Width: box.Width().Text(sys), Height: box.Height().Text(sys),
		}
		for k := range c.Place + 1 { // what lies under it first
			under := &p.Coats[k]
			drawn := Regions(p.Sketch(under, i), Fills(under), coarse*math.Max(b.W, b.H))
			if under != c {
				for r := range drawn {
					drawn[r].Cup = ""
				}
			}
			b.Regions = append(b.Regions, drawn...)
		}
		b.Held = p.Spec.Taped()
		if first := c.Layer.Coat.TapeFirst; b.Held && first != "" {
			b.Drift = arrow(first, b.W, b.H)
		}
		d.Boards = append(d.Boards, b)
		row = math.Max(row, b.H)
		d.W, d.H = math.Max(d.W, x+b.W), math.Max(d.H, y+b.H)
		x += b.W + d.Gap + 2*depth
	}
	d.Boards[len(d.Boards)-1].Last = true
}

// arrow points from inside the board to a side, and a little over it.
func arrow(to plan.Compass, w, h float64) string {
	s := math.Min(w, h)
	at := map[plan.Compass][3]float64{plan.North: {w / 2, 0, 0}, plan.East: {w, h / 2, 90}, plan.South: {w / 2, h, 180},
		plan.West: {0, h / 2, 270}}[to]
	point := func(x, y float64) string { // drawn for north, turned to the side
		sin, cos := math.Sincos(at[2] * math.Pi / 180)
		return fmt.Sprintf("%.1f %.1f", at[0]+cos*x-sin*y, at[1]+sin*x+cos*y)
	}
	return "M" + point(0, 0.22*s) + "L" + point(0, -0.03*s) + "M" + point(-0.05*s, 0.04*s) + "L" + point(0, -0.03*s) +
		"L" + point(0.05*s, 0.04*s)
}

// Fills are the colours of a coat's cups as they are painted over what lies
// under them: clear resin over a coat that is drawn leaves it to be seen.
func Fills(c *plan.Coat) map[string]string {
	fills := c.Fills()
	if c.Place == 0 {
		return fills
	}
	for _, cup := range c.Layer.Coat.Colours {
		if !cup.Role.Rule().Tints {
			fills[cup.ID] = "none"
		}
	}
	return fills
}

// Detail is how far lines of a drawing may be from where they are, in mm, on a board of a
// size: half a point where it fills a screen.
func Detail(size float64) float64 { return size / 1500 }

// Regions gives regions of a composition on a board of a size in mm the colours they show.
func Regions(regions []composition.Region, fills map[string]string, size float64) []Region {
	out := make([]Region, 0, len(regions))
	for _, r := range regions {
		out = append(out, Region{Path: r.Path(Detail(size)), Fill: fills[r.Colour], Cup: r.Colour})
	}
	return out
}

// Small returns the drawing without its dimensions, for a card.
func (d Boards) Small() Boards {
	d.Plain = true
	return d
}
