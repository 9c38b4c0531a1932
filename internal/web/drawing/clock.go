package drawing

import (
	"fmt"
	"math"
	"strings"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/words"
)

// A Clock shows a coat's clock: how the resin thickens, its windows as
// brackets, the steps and the torch passes on real time, and the room.
type Clock struct {
	Coat    *plan.Coat
	Windows []Span
	Steps   []Span
	Passes  []Tick // looks for bubbles after the pour
	Ticks   []Tick
	Curve   string // thickening, logarithmic, as SVG path data
	Room    string
	RoomLow msg.Text
	RoomTop msg.Text
	Thick   []Tick // its scale, Y in X
	Height  int
	Base    float64 // bottom of the curve
}

// A Span is a window or a step on the chart.
type Span struct {
	Name    msg.Text
	X, W, Y float64
	Late    bool
	Waiting bool
	Heats   bool
	Open    bool // goes on beyond the chart
	Label   msg.Text
}

// A Tick is a mark on a scale.
type Tick struct {
	X     float64
	Label msg.Text
}

// Sizes of a chart in its own units, about those it is shown at, so that its
// letters keep their size.
const (
	chartWidth  = 660.0
	curveHeight = 92.0
	thickest    = 30.0 // c at the top of the curve
)

// ClockOf scales the first hours of a coat's clock for drawing.
func ClockOf(c *plan.Coat, sys units.System) Clock {
	end := math.Max(c.Fit.Ends+62, c.Clock.Window(cure.Lacing).To) * 1.08
	scale := chartWidth / end
	out := Clock{Coat: c, Base: curveHeight}
	out.curve(c, end, scale, sys)
	y := curveHeight + 12
	for _, phase := range []cure.Phase{cure.Runny, cure.Lacing, cure.Holding} {
		w := c.Clock.Window(phase)
		to := math.Min(w.To, end)
		out.Windows = append(out.Windows,
			Span{Name: msg.ID(phase), X: w.From * scale, W: (to - w.From) * scale, Y: y, Open: w.To > end,
				Label: msg.F("%s to %s", words.Spoken(w.From), words.Spoken(w.To))})
		y += 26
	}
	y += 6
	for _, s := range c.Fit.Steps {
		out.Steps = append(out.Steps, Span{Name: s.Name, X: s.From * scale, W: math.Max(3, (s.To-s.From)*scale), Y: y,
			Late: s.Late > 0, Waiting: s.Waiting, Heats: s.Heats, Label: words.Spoken(s.To - s.From)})
		y += 22
	}
	for _, m := range c.Looks() {
		if m < end {
			out.Passes = append(out.Passes, Tick{m * scale, words.Spoken(m)})
		}
	}
	out.Height = int(y + 24)
	step := tickStep(end)
	for m := 0.0; m <= end; m += step {
		out.Ticks = append(out.Ticks, Tick{m * scale, msg.Date(c.Met.Add(time.Duration(m*float64(time.Minute))), "15:04")})
	}
	return out
}

// curve draws how the resin thickens and how warm the room is.
func (k *Clock) curve(c *plan.Coat, end, scale float64, sys units.System) {
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
			fmt.Fprintf(&thick, "%c%.1f %.1f", "ML"[min(1, thick.Len())], m*scale,
				curveHeight*(1-math.Log(v)/math.Log(thickest)))
		}
		fmt.Fprintf(&room, "%c%.1f %.1f", "ML"[min(1, i)], m*scale,
			curveHeight*(0.85-0.7*(float64(c.Clock.RoomAt(m))-low)/span))
	}
	k.Curve, k.Room = thick.String(), room.String()
	k.RoomLow, k.RoomTop = units.Temperature(low).Text(sys), units.Temperature(high).Text(sys)
	for _, v := range []float64{2, 5, 20} {
		k.Thick = append(k.Thick, Tick{curveHeight * (1 - math.Log(v)/math.Log(thickest)), msg.F("%.0f× as thick", v)})
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
