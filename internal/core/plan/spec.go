// Package plan turns what a painter decided about a piece into everything that
// follows from it: amounts, cups, batches, times, looks, forecasts, tasks and what
// stands in the way.
//
// A [Spec] is the decision, a [Context] what the studio brings to it (materials,
// techniques, schools, what was learnt), a [Timing] what has happened and what
// the agenda says. One pure function joins them:
//
//	p, err := plan.Evaluate(spec, ctx, timing)
//	p.Coats[0].Total     // mL to mix
//	p.Tasks              // with their waits, for the agenda
//	p.Diagnostics()      // codes with arguments; words are made at the edge
//
// Every page, list, letter and screen prints such a plan and derives nothing of
// its own.
package plan

import (
	"maps"
	"slices"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Spec holds the painter's decisions about a piece: its surface and its layers
// in order. Everything else is calculated from it.
type Spec struct {
	V     int // of the document; see upgrade.go
	Name  string
	Brief string
	Board

	// Layers are the coats and the work between them; with Own also the
	// preparations and the finishing, which otherwise follow from the surface.
	Layers []Layer
	Own    bool

	Room       units.Temperature
	Start      time.Time // not poured before
	Due        time.Time // the day it must be ready; zero for none
	State      State
	Commission int64 // it belongs to, 0 for stock
	Tile       bool  // a test
}

// State says whether days are planned for a piece.
type State string

// The states of a piece.
const (
	Open State = ""
	Idea State = "idea"
	Done State = "done"
)

// Outline is the kind of board outline.
type Outline string

// The outlines.
const (
	Rectangle Outline = "rectangle"
	Round     Outline = "round"
	Oval      Outline = "oval"
	Regular   Outline = "regular"
	Polygon   Outline = "polygon"
	Drawn     Outline = "drawn"
)

// A Board is the surface of a piece, or of a set poured together.
type Board struct {
	Support    surface.Support
	Outline    Outline
	Width      units.Length // of the box; the diameter of a round
	Height     units.Length
	Corners    int
	Points     []geom.Point
	Path       string
	Count      int    // equal boards
	More       []Size // further rectangular boards of the set
	Edge       surface.Edge
	EdgeHeight units.Length
	Depth      units.Length
	Sides      surface.Sides
	BackMask   bool
	Sealed     bool // as it comes to the studio
	Asked      bool // whether it is; until then a face that breathes is taken for sealed
	MouldDepth units.Length
	MouldWater units.Mass
	Ground     string // "#rrggbb" of what lies under the resin
}

// A Size is one more rectangular board of a set.
type Size struct {
	Count         int
	Width, Height units.Length
}

// Kind is the kind of a layer.
type Kind string

// The kinds, in the order they usually come.
const (
	Prepare Kind = "prepare" // on the bare board
	Resin   Kind = "coat"    // a coat of resin
	Between Kind = "between" // on a hard coat, without resin
	Finish  Kind = "finish"  // after the last coat
)

// A Layer is one entry of a piece.
type Layer struct {
	ID    string
	Kind  Kind
	What  string    // id of the preparation or the technique
	Times int       // coats of a preparation
	Keeps string    // what stays visible under it
	Coat  *CoatSpec `json:",omitempty"` // of a coat of resin
	Uses  []Use     `json:",omitempty"` // typed amounts of materials
	Step  *OwnStep  `json:",omitempty"` // of a layer that is a step of the painter's own
}

// OwnStepID is what a layer is that is a step of the painter's own.
const OwnStepID = "own-step"

// An OwnStep is work no library knows, anywhere among the layers.
type OwnStep struct {
	Name    string
	Note    string
	Swatch  string // "#rrggbb" of what is put on; "" for no colour
	Minutes float64
	Dry     float64 // minutes before other work
	Caution string
}

// A CoatSpec holds the decisions about one coat of resin. It owns everything
// about it; another coat of the piece may differ in all of it.
type CoatSpec struct {
	Product    int64
	Amount     Amount
	Colours    []Colour
	Things     []composition.Thing // the composition; empty while the technique's sketch stands in
	Reserve    units.Volume        // clear kept ready for beds, veins and windows
	Texture    units.Volume        // hollows of the surface that it fills
	Inclusions units.Volume        // what stones and leaves displace
	Silicone   bool                // the cups that should open get a few drops
	Mixing     string              // MixingJug or MixingCups; "" as the studio does
	Colouring  string              `json:",omitempty"` // one of the ways of SchoolColour; "" as the studio does
	// when it comes off: a way of SchoolTape or TapeMinutes; "" as the studio does
	Tape      string            `json:",omitempty"`
	TapeAfter float64           `json:",omitempty"` // minutes after the pour, for TapeMinutes
	TapeFirst Compass           `json:",omitempty"` // side it is pulled from first
	Rounds    []technique.Round `json:",omitempty"` // its moves; empty while they are the technique's own
	Options   map[string]string `json:",omitempty"` // of the technique, where not the usual choice
	Extras    []string          `json:",omitempty"` // steps besides the technique's
	Drops     int               `json:",omitempty"` // of silicone in 30 mL; 0 as usual
	Warm      units.Temperature `json:",omitempty"` // of bottles that stood in warm water; 0 for as the room
	People    int               `json:",omitempty"` // at the bench; 0 as the studio says
	Machine   bool              `json:",omitempty"` // it is stirred by the mixing machine
	Tilt      units.Angle       // of a technique that tilts; 0 for as it usually runs off
	TiltFor   float64           // minutes of it
	Room      units.Temperature // where it differs from the piece's; 0 for as that
}

// Compass names a side of a board as it lies: north is the far one.
type Compass string

// The sides.
const (
	North Compass = "north"
	East  Compass = "east"
	South Compass = "south"
	West  Compass = "west"
)

// Sides holds them in the order they are offered.
var Sides = []Compass{North, East, South, West}

// An Amount is how much a coat takes, as the painter says it: a film, or a
// volume or a mass of mixed resin for the whole coat. What was typed stays; the
// others follow.
type Amount struct {
	Film   units.Length
	Volume units.Volume // 0 unless it was typed
	Mass   units.Mass   // 0 unless it was typed
}

// A Colour is one cup of a coat.
type Colour struct {
	ID     string
	Name   string
	Role   technique.Role
	Swatch string       // "#rrggbb"
	Share  float64      // relative to the sum of shares
	Volume units.Volume // poured from it, where that was typed; the share follows
	Load   float64      // pigment by mass of mixed resin
	Mass   units.Mass   // of the first pigment, where that was typed; the load follows
	// Pigment is the one it is made of, 0 for a colour known only
	// by its swatch.
	Pigment int64
	More    []Dose // further pigments in the same cup
	// Named and Picked say that its name and its swatch are the painter's own,
	// which a chosen pigment leaves alone.
	Named  bool `json:",omitempty"`
	Picked bool `json:",omitempty"`
}

// A Dose is one pigment of a cup.
type Dose struct {
	Pigment int64 // 0 for one that is not among the materials
	Load    float64
}

// Doses returns all pigments of a cup, the first one first; a clear cup has
// none, whatever was typed before it became clear.
func (c Colour) Doses() []Dose {
	if !c.Role.Rule().Tints {
		return nil
	}
	var out []Dose
	if c.Load > 0 {
		out = append(out, Dose{c.Pigment, c.Load})
	}
	return append(out, c.More...)
}

// TotalLoad is all pigment by mass of mixed resin.
func (c Colour) TotalLoad() float64 {
	sum := 0.0
	for _, d := range c.Doses() {
		sum += d.Load
	}
	return sum
}

// SetDoses fills the cup with the pigments.
func (c *Colour) SetDoses(doses []Dose) {
	c.Pigment, c.Load, c.Mass, c.More = 0, 0, 0, nil
	if len(doses) > 0 {
		c.Pigment, c.Load, c.More = doses[0].Pigment, doses[0].Load, slices.Clone(doses[1:])
	}
}

// A Use is a typed amount of a material, in its unit.
type Use struct {
	Material string
	Amount   float64
}

// Clone returns a spec that shares nothing with this one.
func (s Spec) Clone() Spec {
	s.More, s.Points = slices.Clone(s.More), slices.Clone(s.Points)
	s.Layers = slices.Clone(s.Layers)
	for i := range s.Layers {
		s.Layers[i] = s.Layers[i].clone()
	}
	return s
}

func (l Layer) clone() Layer {
	l.Uses = slices.Clone(l.Uses)
	if l.Step != nil {
		step := *l.Step
		l.Step = &step
	}
	if l.Coat != nil {
		c := *l.Coat
		c.Options, c.Extras = maps.Clone(c.Options), slices.Clone(c.Extras)
		c.Rounds = cloneRounds(c.Rounds)
		c.Colours, c.Things = slices.Clone(c.Colours), composition.Clone(c.Things)
		for i := range c.Colours {
			c.Colours[i].More = slices.Clone(c.Colours[i].More)
		}
		l.Coat = &c
	}
	return l
}

func cloneRounds(rounds []technique.Round) []technique.Round {
	out := slices.Clone(rounds)
	for i := range out {
		out[i].Moves = slices.Clone(out[i].Moves)
	}
	return out
}

// Layer returns the layer with the id, nil when there is none.
func (s *Spec) Layer(id string) *Layer {
	for i := range s.Layers {
		if s.Layers[i].ID == id {
			return &s.Layers[i]
		}
	}
	return nil
}

// Coat returns the coat of the layer with the id, nil when there is none.
func (s *Spec) Coat(id string) *CoatSpec {
	if l := s.Layer(id); l != nil {
		return l.Coat
	}
	return nil
}

// First returns the first layer that is a coat, nil when there is none.
func (s *Spec) First() *Layer {
	for i := range s.Layers {
		if s.Layers[i].Kind == Resin {
			return &s.Layers[i]
		}
	}
	return nil
}

// Colour returns the cup with the id, nil when there is none.
func (c *CoatSpec) Colour(id string) *Colour {
	if c == nil {
		return nil
	}
	for i := range c.Colours {
		if c.Colours[i].ID == id {
			return &c.Colours[i]
		}
	}
	return nil
}

// Dammed reports whether something keeps the film on the face.
func (b Board) Dammed() bool { return b.Edge.Rule().Holds || b.Support.Rule().Cast }

// Painted reports whether the ground is a colour of its own rather than the
// bare face.
func (b Board) Painted() bool { return b.Ground != b.Support.Rule().Ground }
