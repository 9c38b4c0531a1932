package web

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/studio"
)

// A Drawing is the boards of a piece to scale, in mm, side by side.
type Drawing struct {
	X, Y, W, H float64 // view box
	Line       float64 // stroke width that reads as a hairline
	Text       float64 // letter height
	Boards     []drawnBoard
	Gap        float64
	Key        string // tells drawings on one page apart
	Label      string // in words, for those who do not see it
	Plain      bool   // without dimensions
}

type drawnBoard struct {
	ID            int
	X, Y, W, H    float64
	Path          string
	Regions       []drawnRegion
	Lace          []drawnCell // opened cells, of a rehearsal
	Rim, Dam      bool
	Depth         float64
	Width, Height string
	DimY, DimX    float64 // where the dimension lines stand
	MidX, MidY    float64
	Last          bool // of its row: carries the height
}

type drawnRegion struct{ Path, Fill string }

type drawnCell struct{ X, Y, R float64 }

// draw lays the plan's boards out on a mat, the sides shown as the band they
// would make if folded down.
func draw(p studio.Plan) Drawing {
	if len(p.Boards) == 0 {
		return Drawing{W: 400, H: 400, Line: 1, Text: 14}
	}
	fills := map[string]string{}
	for _, c := range p.Piece.Colours {
		fills[c.ID] = c.Swatch
	}
	for _, cup := range p.Coats[0].Cups { // as the film shows, where that is known
		fills[cup.Colour.ID] = cup.Swatch()
	}
	size := 0.0
	for _, b := range p.Boards {
		size = math.Max(size, math.Max(float64(b.Bounds().Width()), float64(b.Bounds().Height())))
	}
	depth := math.Min(float64(p.Piece.Depth), size*0.12)
	d := Drawing{Gap: size * 0.12, Key: strconv.FormatInt(p.Piece.ID, 10), Label: describe(p)}
	d.layOut(p, size, depth, fills)
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
func describe(p studio.Plan) string {
	names := make([]string, 0, len(p.Piece.Colours))
	for _, c := range p.Piece.Colours {
		names = append(names, c.Name)
	}
	box := p.Boards[0].Bounds()
	return fmt.Sprintf("%s, %s by %s, %s in %s", supportNames[p.Piece.Support], box.Width().Text(p.Settings.Units),
		box.Height().Text(p.Settings.Units), p.Technique.Name, strings.Join(names, ", "))
}

// layOut sets boards in rows of about the same width as height.
func (d *Drawing) layOut(p studio.Plan, size, depth float64, fills map[string]string) {
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
		b := drawnBoard{
			ID: i, X: x, Y: y, W: float64(box.Width()), H: float64(box.Height()), Path: shape.Path(),
			Rim: p.Piece.Edge == surface.Rim, Dam: p.Piece.Edge == surface.Dam, Depth: 2 * depth,
			Width: box.Width().Text(p.Settings.Units), Height: box.Height().Text(p.Settings.Units),
		}
		for _, r := range p.Sketches[i] {
			b.Regions = append(b.Regions, drawnRegion{r.Path(), fills[r.Colour]})
		}
		d.Boards = append(d.Boards, b)
		row = math.Max(row, b.H)
		d.W, d.H = math.Max(d.W, x+b.W), math.Max(d.H, y+b.H)
		x += b.W + d.Gap + 2*depth
	}
	d.Boards[len(d.Boards)-1].Last = true
}

// A clockChart shows a coat's clock: how the resin thickens, its windows as
// brackets, the steps and the torch passes on real time, and the room.
type clockChart struct {
	Coat    studio.CoatPlan
	Windows []chartSpan
	Steps   []chartSpan
	Passes  []chartTick // looks for bubbles after the pour
	Ticks   []chartTick
	Curve   string // thickening, logarithmic, as SVG path data
	Room    string
	RoomLow string
	RoomTop string
	Thick   []chartTick // its scale, Y in X
	Height  int
	Base    float64 // bottom of the curve
}

type chartSpan struct {
	Name    string
	X, W, Y float64
	Late    bool
	Waiting bool
	Heats   bool
	Open    bool // goes on beyond the chart
	Label   string
}

type chartTick struct {
	X     float64
	Label string
}

// Sizes of a chart in its own units, about those it is shown at, so that its
// letters keep their size.
const (
	chartWidth  = 660.0
	curveHeight = 92.0
	thickest    = 30.0 // c at the top of the curve
)

// chart scales the first hours of a coat's clock for drawing.
func chart(c studio.CoatPlan, sys units.System) clockChart {
	end := math.Max(c.Fit.Ends+62, c.Clock.Window(cure.Lacing).To) * 1.08
	scale := chartWidth / end
	out := clockChart{Coat: c, Base: curveHeight}
	out.curve(c, end, scale, sys)
	y := curveHeight + 12
	for _, phase := range []cure.Phase{cure.Runny, cure.Lacing, cure.Holding} {
		w := c.Clock.Window(phase)
		to := math.Min(w.To, end)
		out.Windows = append(out.Windows, chartSpan{Name: string(phase), X: w.From * scale, W: (to - w.From) * scale, Y: y, Open: w.To > end,
			Label: studio.Spoken(w.From) + " to " + studio.Spoken(w.To)})
		y += 26
	}
	y += 6
	for _, s := range c.Fit.Steps {
		out.Steps = append(out.Steps, chartSpan{Name: s.Name, X: s.From * scale, W: math.Max(3, (s.To-s.From)*scale), Y: y,
			Late: s.Late > 0, Waiting: s.Waiting, Heats: s.Heats, Label: studio.Spoken(s.To - s.From)})
		y += 22
	}
	for _, m := range studio.BubbleLooks(c) {
		if m < end {
			out.Passes = append(out.Passes, chartTick{m * scale, studio.Spoken(m)})
		}
	}
	out.Height = int(y + 24)
	step := tickStep(end)
	for m := 0.0; m <= end; m += step {
		out.Ticks = append(out.Ticks, chartTick{m * scale, c.Met.Add(time.Duration(m * float64(time.Minute))).Format("15:04")})
	}
	return out
}

// curve draws how the resin thickens and how warm the room is.
func (k *clockChart) curve(c studio.CoatPlan, end, scale float64, sys units.System) {
	var thick, room strings.Builder
	low, high := math.Inf(1), math.Inf(-1)
	const points = 120
	for i := range points + 1 {
		t := float64(c.Clock.RoomAt(end * float64(i) / points))
		low, high = math.Min(low, t), math.Max(high, t)
	}
	span := math.Max(2, high-low)
	for i := range points + 1 {
		m := end * float64(i) / points
		v := cure.Thickening(c.Clock.Conversion(m))
		if v <= thickest {
			fmt.Fprintf(&thick, "%c%.1f %.1f", "ML"[min(1, thick.Len())], m*scale, curveHeight*(1-math.Log(v)/math.Log(thickest)))
		}
		fmt.Fprintf(&room, "%c%.1f %.1f", "ML"[min(1, i)], m*scale, curveHeight*(0.85-0.7*(float64(c.Clock.RoomAt(m))-low)/span))
	}
	k.Curve, k.Room = thick.String(), room.String()
	k.RoomLow, k.RoomTop = units.Temperature(low).Text(sys), units.Temperature(high).Text(sys)
	for _, v := range []float64{2, 5, 20} {
		k.Thick = append(k.Thick, chartTick{curveHeight * (1 - math.Log(v)/math.Log(thickest)), fmt.Sprintf("%.0f× as thick", v)})
	}
}

// tickStep returns a round number of minutes that gives about six ticks.
func tickStep(end float64) float64 {
	for _, s := range []float64{5, 10, 15, 30, 60, 120, 240, 480, 1440} {
		if end/s <= 8 {
			return s
		}
	}
	return 2880
}

// Small returns the drawing without its dimensions, for a card.
func (d Drawing) Small() Drawing {
	d.Plain = true
	return d
}
