// Package composition places the colours of a coat on a board.
//
// A composition is a list of [Thing]s: a bed, ribbons, puddles, dividing
// lines, each with its cup and its part of the coat. [Draw] says where they
// lie, [Shares] what each cup takes, [Reshare] moves the drawing when a share
// changes, and a [Cover] which cups touch. A [Start] begins one.
//
// Before there is one, a [Sketch] stands in: bands, ribbons or pools whose
// areas are the colours' shares of the face. The same board and colours always
// give the same drawing.
package composition

import (
	"math"
	"math/rand/v2"
	"sort"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/portion"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Colour is the part of a cup the sketch needs.
type Colour struct {
	ID    string
	Share float64
	Base  bool // lies under the others
	White bool // laid last
}

// whole scales shares to add up to one and leaves out what has none; nil when
// all have none.
func whole(colours []Colour) []Colour {
	sum := 0.0
	for _, c := range colours {
		sum += c.Share
	}
	if !(sum > 0) {
		return nil
	}
	out := make([]Colour, 0, len(colours))
	for _, c := range colours {
		if c.Share > 0 {
			c.Share /= sum
			out = append(out, c)
		}
	}
	return out
}

// Sketch lays the colours out for a technique's layout. The areas of a
// colour's regions add up to its share of the face.
func Sketch(layout technique.Layout, board surface.Shape, colours []Colour) []Region {
	shares := whole(colours)
	if shares == nil || board.IsZero() {
		return nil
	}
	switch layout {
	case technique.LayoutCells:
		return pools(board, shares)
	case technique.LayoutRibbons:
		return bands(board, ribbons(shares), 0.018)
	}
	return bands(board, stripes(shares), 0.004)
}

// split parts the colours into those that lie under and those on top, white
// last.
func split(colours []Colour) (under, over []Colour) {
	for _, c := range colours {
		if c.Base {
			under = append(under, c)
		} else {
			over = append(over, c)
		}
	}
	sort.SliceStable(over, func(i, j int) bool { return !over[i].White && over[j].White })
	return under, over
}

// stripes is the order of a swipe from the top edge down: base showing
// between the accents, white next to each of them.
func stripes(colours []Colour) []Colour {
	under, over := split(colours)
	if len(under) == 0 {
		return over
	}
	var out []Colour
	gaps := float64(len(over) + 1)
	for i := 0; i <= len(over); i++ {
		for _, u := range under {
			out = append(out, Colour{ID: u.ID, Share: u.Share / gaps})
		}
		if i < len(over) {
			out = append(out, over[i])
		}
	}
	return out
}

// ribbons repeats the colours side by side so that neighbours meet often.
func ribbons(colours []Colour) []Colour {
	const rounds = 3
	var out []Colour
	for r := range rounds {
		for i := range colours {
			c := colours[(i+r)%len(colours)]
			out = append(out, Colour{ID: c.ID, Share: c.Share / rounds})
		}
	}
	return out
}

// bands cuts the board across into stretches of the given shares, their
// edges waved by the amplitude (a share of the board's height).
func bands(board surface.Shape, order []Colour, amplitude float64) []Region {
	box := board.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	profile := newProfile(board)
	out := make([]Region, 0, len(order))
	top, done := wave{}, 0.0
	for i, c := range order {
		done += c.Share
		bottom := wave{y: h * 1.05}
		if i < len(order)-1 {
			bottom = wave{y: profile.at(done), amplitude: amplitude * math.Min(w, h), phase: 1.7 * float64(i), width: w}
		}
		if i == 0 {
			top = wave{y: -0.05 * h}
		}
		out = append(out, Region{Colour: c.ID, Loops: [][]geom.Point{between(top, bottom, w)},
			Area: units.Area(c.Share) * board.Area()})
		top = bottom
	}
	return out
}

// A wave is the border between two bands. Whole periods across the board
// leave the bands' areas as they were.
type wave struct{ y, amplitude, phase, width float64 }

func (w wave) at(x float64) float64 {
	if w.amplitude == 0 {
		return w.y
	}
	t := 2 * math.Pi * x / w.width
	return w.y + w.amplitude*(math.Sin(2*t+w.phase)+0.45*math.Sin(5*t+2.3*w.phase))
}

func between(top, bottom wave, w float64) []geom.Point {
	const n = 40
	out := make([]geom.Point, 0, 2*n+2)
	for i := range n + 1 {
		x := w * float64(i) / n
		out = append(out, geom.Point{X: x, Y: top.at(x)})
	}
	for i := n; i >= 0; i-- {
		x := w * float64(i) / n
		out = append(out, geom.Point{X: x, Y: bottom.at(x)})
	}
	return out
}

// A profile knows how much of the board lies above each height.
type profile struct {
	h     float64
	above []float64 // share of the area above row i of n
}

// profileRows is fine enough that a cut is true to a thousandth of the board.
const profileRows = 1000

func newProfile(board surface.Shape) profile {
	box := board.Bounds()
	p := profile{h: float64(box.Height()), above: make([]float64, profileRows+1)}
	step := p.h / profileRows
	for i := range profileRows {
		p.above[i+1] = p.above[i] + geom.Chord(board.Loops(), box.MinY+(float64(i)+0.5)*step)
	}
	for i := range p.above {
		p.above[i] /= p.above[profileRows]
	}
	return p
}

// at returns the height above which the share of the board lies.
func (p profile) at(share float64) float64 {
	i := sort.SearchFloat64s(p.above, share)
	if i <= 0 {
		return 0
	}
	if i > profileRows {
		return p.h
	}
	f := (share - p.above[i-1]) / (p.above[i] - p.above[i-1])
	return (float64(i-1) + f) * p.h / profileRows
}

// poolCount is how many pools a sketch of cells has.
const poolCount = 40

// pools lays the base over the whole face and the other colours on it as
// round pools whose areas add up to their shares.
func pools(board surface.Shape, colours []Colour) []Region {
	under, over := split(colours)
	box := board.Bounds()
	w, h := float64(box.Width()), float64(box.Height())
	out := bands(board, stripes(under), 0.01)
	exact := make([]float64, len(over))
	for i, c := range over {
		exact[i] = c.Share * poolCount
	}
	counts, _ := portion.LargestRemainder(exact)
	random := rand.New(rand.NewPCG(41, 7)) // any fixed seed: the sketch must not jump about
	spare := poolCount * len(over)
	for i, c := range over {
		n := max(1, counts[i])
		each := units.Area(c.Share/float64(n)) * board.Area()
		r := math.Sqrt(float64(each) / math.Pi)
		for k := range n {
			// A low-discrepancy scatter keeps pools of one colour apart.
			x, y := numeric.Scatter(k*len(over) + i)
			x, y = math.Mod(x+0.5+0.08*random.Float64(), 1), math.Mod(y+0.5+0.08*random.Float64(), 1)
			for range fallsBeside {
				if board.Inside(at(x*w, y*h)) { // not in a hole, nor in a corner that a round board has not
					break
				}
				x, y = numeric.Scatter(spare)
				spare++
			}
			loop := pool(x*w, y*h, r, random)
			out = append(out, Region{Colour: c.ID, Loops: [][]geom.Point{loop}, Area: each})
		}
	}
	return out
}

// fallsBeside is how many places for a pool may lie beside a board that fills little of its box.
const fallsBeside = 1000

// pool draws a wobbling round of radius r.
func pool(x, y, r float64, random *rand.Rand) []geom.Point {
	const n = 24
	a, b := random.Float64()*2*math.Pi, random.Float64()*2*math.Pi
	out := make([]geom.Point, n)
	for i := range out {
		t := 2 * math.Pi * float64(i) / n
		q := r * (1 + 0.10*math.Sin(2*t+a) + 0.06*math.Sin(3*t+b))
		out[i] = geom.Point{X: x + q*math.Cos(t), Y: y + q*math.Sin(t)}
	}
	return out
}
