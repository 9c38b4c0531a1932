package composition

import (
	"math"
	"sort"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/numeric"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
)

// A Start is a beginning for a composition, sized to the board and filled
// with the coat's cups. All are this program's own.
type Start struct {
	ID     string
	Name   msg.ID
	Tells  msg.ID
	Layout technique.Layout // the kind of technique it is meant for
	lay    func(w, h float64, under, over []Colour) []Thing
}

// Starts holds the beginnings.
var Starts = []Start{
	{"lanes", "Lanes", "Even stripes across the board, white last.", technique.LayoutStripes, lanes(0)},
	{"slant", "Slant", "The lanes laid aslant, from the upper left.", technique.LayoutStripes, lanes(0.35)},
	{"fan", "Fan", "Stripes that open out of the lower left corner.", technique.LayoutStripes, fan},
	{"scatter", "Scatter", "Pools spread over the base, none near its like.", technique.LayoutCells, scatter},
	{"drift", "Drift", "Pools crowd in one corner and thin out across the board.", technique.LayoutCells, drift},
	{"rings", "Rings", "Pools on rings around the middle.", technique.LayoutCells, rings},
	{"side-by-side", "Side by side", "Ribbons in turn, three times over.", technique.LayoutRibbons, ribbonsAcross},
	{"current", "Current", "Ribbons that bend together like a stream.", technique.LayoutRibbons, current},
	{"shore", "Shore", "One dividing line, ribbons along it, a vein at the border.", technique.LayoutRibbons, shore},
}

// StartsFor returns the beginnings that suit a layout, those first, then the
// others.
func StartsFor(l technique.Layout) []Start {
	out := append([]Start(nil), Starts...)
	sort.SliceStable(out, func(i, j int) bool { return out[i].Layout == l && out[j].Layout != l })
	return out
}

// FindStart returns the beginning with the id.
func FindStart(id string) (Start, bool) {
	for _, s := range Starts {
		if s.ID == id {
			return s, true
		}
	}
	return Start{}, false
}

// Lay returns the things of a beginning for a board and its cups. The cups'
// shares are kept: the things of each add up to it, and the first base is the
// bed.
func (s Start) Lay(board surface.Shape, colours []Colour) []Thing {
	box := board.Bounds()
	shares := whole(colours)
	if shares == nil || board.IsZero() {
		return nil
	}
	under, over := split(shares)
	var out []Thing
	if len(under) > 0 {
		out = append(out, Thing{Kind: Bed, Cup: under[0].ID})
	}
	out = append(out, s.lay(float64(box.Width()), float64(box.Height()), under, over)...)
	for i := range out {
		out[i].ID = NextID(out[:i])
		if out[i].Kind != Zone {
			drawIn(board, out[i].Points)
		}
	}
	out = Settle(board, out)
	return keepShares(board, out, shares)
}

// drawIn moves points that lie off a round or odd board towards its middle
// until they are well on it.
func drawIn(board surface.Shape, points []geom.Point) {
	box := board.Bounds()
	cx, cy := float64(box.Width())/2, float64(box.Height())/2
	for i, p := range points {
		for f := 1.0; f > 0 && !board.Inside(at(cx+(p.X-cx)*f*1.06, cy+(p.Y-cy)*f*1.06)); f -= 0.04 {
			points[i] = at(cx+(p.X-cx)*(f-0.04), cy+(p.Y-cy)*(f-0.04))
		}
	}
}

// keepShares scales the things of each cup to the cup's share.
func keepShares(board surface.Shape, things []Thing, colours []Colour) []Thing {
	for _, c := range colours {
		own := 0.0
		for _, t := range things {
			if t.Cup == c.ID && t.Kind != Bed && t.Kind != Zone {
				own += t.Share
			}
		}
		for i := range things {
			if t := &things[i]; t.Cup == c.ID && t.Kind != Bed && t.Kind != Zone && own > 0 {
				t.Share *= c.Share / own
			}
		}
	}
	return Settle(board, things)
}

func line(kind Kind, cup string, points ...geom.Point) Thing {
	return Thing{Kind: kind, Cup: cup, Points: points, Share: 0.05}
}

func at(x, y float64) geom.Point { return geom.Point{X: x, Y: y} }

// lanes spreads stripes evenly; more bases than one join in as stripes.
func lanes(slope float64) func(w, h float64, under, over []Colour) []Thing {
	return func(w, h float64, under, over []Colour) []Thing {
		laid := append(rest(under), over...)
		var out []Thing
		for i, c := range laid {
			y := h * (float64(i) + 1) / float64(len(laid)+1)
			d := slope * h / 2
			out = append(out, line(Stripe, c.ID, at(0.04*w, y-d), at(0.96*w, y+d)))
		}
		return out
	}
}

// rest are the bases that are not the bed.
func rest(under []Colour) []Colour {
	if len(under) < 2 {
		return nil
	}
	return append([]Colour(nil), under[1:]...)
}

func fan(w, h float64, under, over []Colour) []Thing {
	laid := append(rest(under), over...)
	var out []Thing
	for i, c := range laid {
		a := math.Pi / 2 * (float64(i) + 0.5) / float64(len(laid))
		reach := 0.92 * math.Min(w/math.Max(0.2, math.Cos(a)), h/math.Max(0.2, math.Sin(a)))
		out = append(out, line(Stripe, c.ID, at(0.08*w, 0.92*h), at(0.04*w+reach*math.Cos(a), 0.96*h-reach*math.Sin(a))))
	}
	return out
}

// poolsAt lays pools of the cups in turn at the places given.
func poolsAt(under, over []Colour, places []geom.Point) []Thing {
	laid := append(rest(under), over...)
	var out []Thing
	if len(laid) == 0 {
		return nil
	}
	for i, p := range places {
		t := line(Puddle, laid[i%len(laid)].ID, p)
		out = append(out, t)
	}
	return out
}

func scatter(w, h float64, under, over []Colour) []Thing {
	var places []geom.Point
	for i := range 18 {
		x, y := numeric.Scatter(i)
		x, y = math.Mod(x+0.5, 1), math.Mod(y+0.5, 1)
		places = append(places, at((0.08+0.84*x)*w, (0.08+0.84*y)*h))
	}
	return poolsAt(under, over, places)
}

func drift(w, h float64, under, over []Colour) []Thing {
	var places []geom.Point
	for i := range 15 {
		x, y := numeric.Scatter(i)
		places = append(places, at((0.07+0.85*x*x)*w, (0.93-0.85*y*y)*h))
	}
	return poolsAt(under, over, places)
}

func rings(w, h float64, under, over []Colour) []Thing {
	places := []geom.Point{at(w/2, h/2)}
	for ring, n := range []int{5, 10} {
		r := 0.19 * float64(ring+1)
		for i := range n {
			s, c := math.Sincos(2*math.Pi*float64(i)/float64(n) + 0.3*float64(ring))
			places = append(places, at(w/2+r*w*c, h/2+r*h*s))
		}
	}
	return poolsAt(under, over, places)
}

func ribbonsAcross(w, h float64, under, over []Colour) []Thing {
	order := ribbons(append(rest(under), over...))
	var out []Thing
	for i, c := range order {
		x := w * (float64(i) + 1) / float64(len(order)+1)
		out = append(out, line(Ribbon, c.ID, at(x, 0.04*h), at(x, 0.96*h)))
	}
	return out
}

func current(w, h float64, under, over []Colour) []Thing {
	order := ribbons(append(rest(under), over...))
	var out []Thing
	for i, c := range order {
		f := (float64(i) + 1) / float64(len(order)+1)
		var points []geom.Point
		for j := range 9 {
			t := float64(j) / 8
			points = append(points, at((0.03+0.94*t)*w, (f+0.11*math.Sin(2*math.Pi*t)*math.Sin(math.Pi*f))*h))
		}
		out = append(out, line(Ribbon, c.ID, points...))
	}
	return out
}

func shore(w, h float64, under, over []Colour) []Thing {
	laid := append(rest(under), over...)
	if len(laid) == 0 {
		return nil
	}
	out := []Thing{line(Zone, laid[0].ID, at(0.05*w, 0.42*h), at(0.95*w, 0.30*h))}
	for i, c := range laid[1:] {
		y := 0.08 + 0.09*float64(i)
		out = append(out, line(Ribbon, c.ID, at(0.05*w, (0.42+y)*h), at(0.5*w, (0.34+y)*h), at(0.95*w, (0.30+y)*h)))
	}
	last := laid[len(laid)-1]
	return append(out, line(Vein, last.ID, at(0.05*w, 0.42*h), at(0.5*w, 0.37*h), at(0.95*w, 0.30*h)))
}
