package preview

import (
	"math"
	"slices"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
)

// How the hand does it (our reading of common practice): a sheet drawn at a hand's
// pace that lies on the film, a stick through half of it, a board tipped by a few
// degrees, air that wrinkles the surface, a flame that warms it.
const (
	sheetPace  = 0.06  // m/s
	sheetLaps  = 0.005 // m beyond its zone on each side, over the pass before (common practice)
	sheetRides = 1.9   // gap over the mean film: it just touches
	stickWide  = 0.012
	stickDeep  = 0.5
	tipped     = 3.5 // degrees
	airStress  = 4.0 // Pa
	airWide    = 0.09
	flameTo    = 60.0 // °C
	hotAirTo   = 50.0 // °C, where it goes: it thins the film while it pushes it
	flameWide  = 0.05 // radius, m
	mostHeated = 30.0 // s
)

// A hand does gestures on a scene.
type hand struct {
	s    *Scene
	film float64 // mean, m
	up   bool    // stripes lie along x, so that what goes across them goes up
	hot  bool    // the air is
}

// technique adds what the steps of the coat's technique do to the film, and notes those that
// it cannot show.
func (s *Scene) technique(p *plan.Plan, c *plan.Coat) {
	h := hand{s: s, film: math.Max(2e-4, c.Film.Metres()), up: alongX(c.Things)}
	face := technique.Job{Face: p.Boards[0].Area()}
	for _, st := range c.Fit.Steps {
		gestures := gesturesOf(st)
		if len(gestures) == 0 {
			if s.unshown(st) {
				s.Unshown = append(s.Unshown, st.Name)
			}
			continue
		}
		spot := composition.Within(geom.Box{MaxX: float64(s.Box.Width()), MaxY: float64(s.Box.Height())}, st.Place, st.Part)
		zones := composition.Zones(spot, st.Zones(face), composition.Order(st.Order))
		each := 60 * (st.To - st.From) / float64(len(zones))
		h.hot = st.Move == technique.HotAir
		for k, z := range zones {
			at := 60*st.From + each*float64(k)
			for _, b := range gestures {
				h.do(b.Gesture, z, at, each*b.Part)
				at += each * b.Part
			}
		}
	}
}

// gesturesOf are the effects of a step on the film, beat by beat; hot air pushes it whether the
// step says so or not. None for one that leaves it alone.
func gesturesOf(st technique.Timed) []technique.Beat {
	if slices.ContainsFunc(st.Beats, func(b technique.Beat) bool { return b.Gesture != "" }) {
		return st.Beats
	}
	gesture := st.Gesture
	if gesture == "" && st.Move == technique.HotAir {
		gesture = technique.Air
	}
	if gesture == "" {
		return nil
	}
	return []technique.Beat{{Part: 1, Gesture: gesture}}
}

// unshown reports whether a step changes what one sees by what no film shows: taps, what is
// strewn, and the rings that alcohol opens.
func (s *Scene) unshown(st technique.Timed) bool {
	switch st.Move {
	case technique.Tap, technique.Spray, technique.Dab:
		return !st.Pours
	case technique.Strew:
		return !slices.Contains(st.Adds, metal)
	}
	return false
}

// alongX reports whether the lines of a composition lie along the board's width.
func alongX(things []composition.Thing) bool {
	x, y := 0.0, 0.0
	for _, t := range things {
		for k := 1; k < len(t.Points); k++ {
			x += math.Abs(t.Points[k].X - t.Points[k-1].X)
			y += math.Abs(t.Points[k].Y - t.Points[k-1].Y)
		}
	}
	return x >= y
}

// do makes the moves of a gesture in a zone, which is measured from the upper left.
func (h hand) do(g technique.Gesture, z geom.Box, at, takes float64) {
	move := flow.Move{At: at, For: takes}
	across := h.line(z, h.up)
	switch g {
	case technique.Sheet:
		move.Kind, move.Points, move.Gap = flow.Swipe, across, sheetRides*h.film
		move.Width = h.size(z, !h.up)/1000 + 2*sheetLaps
		move.Speed = math.Max(sheetPace, geom.Length(across)/1000/math.Max(takes, 1))
	case technique.Stick:
		move.Kind, move.Points, move.Width, move.Depth, move.Speed = flow.Drag, across, stickWide, stickDeep*h.film, sheetPace
	case technique.Air, technique.AirBack:
		move.Kind, move.Width, move.Shear = flow.Blow, airWide, airStress
		move.Points, move.For = across, math.Min(takes, mostHeated)
		if h.hot {
			move.To = hotAirTo
		}
		if g == technique.AirBack {
			move.Points, move.Shear = []geom.Point{across[1], across[0]}, airStress/2
		}
	case technique.Flame:
		move.Kind, move.Radius, move.To, move.For = flow.Warm, flameWide, flameTo, math.Max(1, math.Min(takes, mostHeated))
		move.Points = h.meander(z)
	case technique.Tip:
		h.tip(at, takes)
		return
	default:
		return
	}
	h.s.Scene.Moves = append(h.s.Scene.Moves, move)
}

// tip raises one side after the other.
func (h hand) tip(at, takes float64) {
	turns := [4][2]float64{{tipped, 0}, {0, tipped}, {-tipped, 0}, {0, -tipped}}
	for k, t := range turns {
		h.s.Scene.Moves = append(
			h.s.Scene.Moves,
			flow.Move{Kind: flow.Tilting, At: at + takes*float64(k)/4, For: takes / 4, TiltX: t[0], TiltY: t[1]},
		)
	}
}

func (h hand) size(z geom.Box, up bool) float64 {
	if up {
		return float64(z.Height())
	}
	return float64(z.Width())
}

// line goes through the middle of a zone from one of its edges to the other, and
// over the board's edge where the zone ends there.
func (h hand) line(z geom.Box, up bool) []geom.Point {
	const beyond = 15
	a, b := geom.At((z.MinX+z.MaxX)/2, z.MaxY-1), geom.At((z.MinX+z.MaxX)/2, z.MinY+1)
	if z.MinY <= 0 {
		b.Y = -beyond
	}
	if !up {
		a, b = geom.At(z.MinX+1, (z.MinY+z.MaxY)/2), geom.At(z.MaxX-1, (z.MinY+z.MaxY)/2)
		if z.MaxX >= float64(h.s.Box.Width()) {
			b.X = z.MaxX + beyond
		}
	}
	return []geom.Point{h.s.fromUpperLeft(a), h.s.fromUpperLeft(b)}
}

// meander goes to and fro over a zone, as a flame that is never still.
func (h hand) meander(z geom.Box) []geom.Point {
	rows := max(1, int(math.Round(float64(z.Height())/(1000*1.5*flameWide))))
	var out []geom.Point
	for k := range rows {
		y := z.MinY + float64(z.Height())*(float64(k)+0.5)/float64(rows)
		a, b := geom.At(z.MinX+1, y), geom.At(z.MaxX-1, y)
		if k%2 == 1 {
			a, b = b, a
		}
		out = append(out, h.s.fromUpperLeft(a), h.s.fromUpperLeft(b))
	}
	return out
}
