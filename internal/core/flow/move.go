package flow

import (
	"math"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/refusal"
)

// A Kind is a kind of work on the film.
type Kind string

// The moves of the techniques.
const (
	Bed     Kind = "bed"
	Ribbon  Kind = "ribbon"
	Puddle  Kind = "puddle"
	Drops   Kind = "drops"
	Mist    Kind = "mist"
	Dust    Kind = "dust"
	Tilting Kind = "tilt"
	Swipe   Kind = "swipe"
	Drag    Kind = "drag"
	Comb    Kind = "comb"
	Blow    Kind = "blow"
	Warm    Kind = "warm"
	Unmask  Kind = "unmask"
	Stir    Kind = "stir"
	Barrier Kind = "barrier"
	Ridge   Kind = "ridge"
)

// A Move is one thing done to the film. Which fields count goes by its kind; see
// the table of rules. Points are in mm from the board's lower left corner.
type Move struct {
	Kind   Kind
	At     float64 // s
	For    float64 // s
	Cup    int
	Points []geom.Point
	Volume float64 // m³
	Film   float64 // m
	Width  float64 // m
	Radius float64 // m
	Gap    float64 // m
	Depth  float64 // m
	Speed  float64 // m/s
	Shear  float64 // Pa
	To     float64 // °C
	Count  int     // drops, teeth
	TiltX  float64 // degrees; positive: the east is high
	TiltY  float64 // degrees; positive: the north is high
	Side   Side
	Within func(geom.Point) bool // of a bed or a powder that is laid on a part only; its volume rules over its film
}

// need is a field a move must have, and its bounds.
type need struct {
	name        string
	of          func(Move) float64
	least, most float64
}

var (
	needVolume = need{"a volume", func(m Move) float64 { return m.Volume }, 1e-9, 0.1}
	needPour   = need{"a film or a volume", func(m Move) float64 { return max(m.Film, m.Volume) }, 1e-9, 0.2}
	needWidth  = need{"a width", func(m Move) float64 { return m.Width }, 1e-4, largestLen}
	needRadius = need{"a radius", func(m Move) float64 { return m.Radius }, 1e-4, largestLen}
	needGap    = need{"a gap", func(m Move) float64 { return m.Gap }, 1e-5, 0.1}
	needDepth  = need{"a depth", func(m Move) float64 { return m.Depth }, 1e-5, 0.1}
	needSpeed  = need{"a speed", func(m Move) float64 { return m.Speed }, 1e-4, 10}
	needShear  = need{"a strength", func(m Move) float64 { return m.Shear }, 1e-3, 500}
	needFor    = need{"a time", func(m Move) float64 { return m.For }, 1e-3, 86400}
	needTo     = need{"a temperature", func(m Move) float64 { return m.To }, -20, 150}
	needCount  = need{"a number", func(m Move) float64 { return float64(m.Count) }, 1, 2000}
)

// A rule holds the needs and the effect of a kind of move.
type rule struct {
	name   string
	points int
	needs  []need
	do     func(*Run, Move) error
}

var rules map[Kind]rule

func init() {
	rules = map[Kind]rule{
		Bed:     {"a bed", 0, []need{needPour}, (*Run).bed},
		Ribbon:  {"a ribbon", 2, []need{needVolume}, (*Run).ribbon},
		Puddle:  {"a puddle", 1, []need{needVolume}, (*Run).puddle},
		Drops:   {"drops", 1, []need{needVolume, needCount, needRadius}, (*Run).drops},
		Mist:    {"a mist", 1, []need{needVolume, needRadius}, (*Run).mist},
		Dust:    {"dusting", 0, []need{needVolume}, (*Run).dust},
		Tilting: {"a tilt", 0, nil, (*Run).tilt},
		Swipe:   {"a swipe", 2, []need{needWidth, needGap, needSpeed}, (*Run).swipe},
		Drag:    {"a drag", 2, []need{needWidth, needDepth, needSpeed}, (*Run).drag},
		Comb:    {"a comb", 2, []need{needWidth, needDepth, needSpeed, needCount}, (*Run).comb},
		Blow:    {"blowing", 2, []need{needWidth, needShear, needFor}, (*Run).blow},
		Warm:    {"warming", 1, []need{needRadius, needTo, needFor}, (*Run).heat},
		Unmask:  {"unmasking", 0, nil, (*Run).unmask},
		Stir:    {"stirring", 1, []need{needRadius}, (*Run).stirIn},
		Barrier: {"a barrier", 2, nil, (*Run).barrier},
		Ridge:   {"a ridge", 2, []need{needWidth, needDepth}, (*Run).ridge},
	}
}

// Kinds are the moves there are.
func Kinds() []Kind {
	return []Kind{
		Bed, Ribbon, Puddle, Drops, Mist, Dust, Tilting, Swipe,
		Drag, Comb, Blow, Warm, Unmask, Stir, Barrier, Ridge,
	}
}

// MostMoves is how many moves a scene has.
const MostMoves = 400

// check returns what is wrong with a move.
func (s *Scene) check(m Move) error {
	r, ok := rules[m.Kind]
	if !ok {
		return refusal.New("there is no move %q", m.Kind)
	}
	switch {
	case !(m.At >= 0) || m.At > longest:
		return refusal.New("a move must begin within a week of the pour")
	case !(m.For >= 0) || m.For > 86400:
		return refusal.New("a move must take less than a day")
	case len(m.Points) < r.points:
		return refusal.New("%s needs %d points", r.name, r.points)
	case len(m.Points) > 5000:
		return refusal.New("%s has at most 5000 points", r.name)
	case m.Cup < 0 || m.Cup >= len(s.Cups):
		return refusal.New("%s needs one of the cups", r.name)
	case !(math.Abs(m.TiltX)+math.Abs(m.TiltY) <= 90):
		return refusal.New("a board is tilted by at most 90°")
	case m.Kind == Unmask && (m.Side == 0 || m.Side&^AllRound != 0):
		return refusal.New("unmasking needs a side")
	}
	for _, n := range r.needs {
		if v := n.of(m); !(v >= n.least && v <= n.most) {
			return refusal.New("%s needs %s from %g to %g", r.name, n.name, n.least, n.most)
		}
	}
	for _, p := range m.Points {
		if !(math.Abs(p.X) < 1e3*largestLen && math.Abs(p.Y) < 1e3*largestLen) {
			return refusal.New("%s starts and ends at the same point", r.name)
		}
	}
	return nil
}
