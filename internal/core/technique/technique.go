// Package technique is the library of ways to make a coat: what each begins
// with and needs, how much of it runs off, and its steps with times taken from
// the board.
//
// A technique is a table entry, never a branch in code: a new one is an entry
// in library.go, a new material one in cups.go, new work on the bare board one
// in prepare.go.
package technique

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// A Technique is one way to make a coat. All times are common practice.
type Technique struct {
	ID      string
	Name    msg.Preset
	Summary msg.Preset
	Bed     msg.Preset
	RunOff  RunOff // share lost from an open board
	Steps   []Step
	Layout  Layout
	Tools   []msg.Preset
	Cups    []CupStart // a coat of it begins with
	Needs   []Need     // besides resin

	Between     bool     // done on a hard coat, without resin
	BeforeResin float64  // minutes such work dries before a coat, where longer than its own rest
	Own         bool     // the studio's, not built in
	Cast        bool     // poured into a mould
	Seals       bool     // a clear coat over everything
	Drawn       []Drawn  // cups that are drawn over the others
	WantsAccent bool     // nothing comes of it without one
	WantsWhite  bool     // laces little without one
	Tilts       bool     // the board is tilted, and what runs off hangs on it
	BedOptional bool     // painters disagree about a bed under it
	Options     []Option `json:",omitempty"` // what is chosen for a coat of it
}

// Drawn says that cups of a role are drawn or spread over a part of the face,
// on whatever lies there (common practice).
type Drawn struct {
	Role  Role
	Over  float64
	Sheer bool // meant to let through what lies under it
}

// Sheer reports whether cups of a role are meant to let through what lies under
// them.
func (t Technique) Sheer(r Role) bool {
	for _, d := range t.Drawn {
		if d.Role == r {
			return d.Sheer
		}
	}
	return false
}

// DrawnOver returns the part of the face that cups of a role are drawn over, 0
// for one that stays where it is poured.
func (t Technique) DrawnOver(r Role) float64 {
	for _, d := range t.Drawn {
		if d.Role == r {
			return d.Over
		}
	}
	return 0
}

// RunOff is the range of run-off from an open edge; plans take Usual.
type RunOff struct{ Low, Usual, High float64 }

// Dammed is the run-off behind a rim or a dam, whatever the technique.
var Dammed = RunOff{0, 0.02, 0.03}

// Layout names the drawing a composition starts from.
type Layout string

// The layouts.
const (
	LayoutStripes Layout = "stripes" // accents in lanes over the bed
	LayoutCells   Layout = "cells"   // accents as pools in the base
	LayoutRibbons Layout = "ribbons" // colours side by side, bent by tilting
)

// A Step is one thing to do, with its length made up of a fixed part, a part
// for each cup and a part for the face.
type Step struct {
	ID           string // stable within its technique: what was learnt and chosen is known by it
	Name         msg.Preset
	Do           msg.Preset
	Fixed        float64 // minutes
	PerCup       float64 // minutes a coloured cup
	PerM2        float64 // minutes a square metre of face
	Mixes        bool    // starts a batch's clock and takes the product's mix time besides
	Colours      bool    // pigment goes into the cups of a batch
	Doses        bool    // pigment is measured in it
	Window       cure.Phase
	Safety       []string // keys of the safety notes
	BeforeMixing bool
	Waiting      bool     // hands free
	Pours        bool     // empties cups
	Lays         []Role   // of these roles; none for whatever is left
	Bed          bool     // it is the bed
	AtOnce       bool     // does not wait for its window
	Adds         []string // materials that are used up here
	Heats        bool     // flame or hot air
	LookFor      msg.Preset
	HotDo        msg.Preset `json:",omitempty"` // what to do where no flame may go; "" for the same
	// ZoneM2 is how large a zone is that is worked by itself, beat by beat; 0
	// for a step that takes the whole face at once.
	ZoneM2 float64
	Order  string `json:",omitempty"` // of its zones, see composition.Order; "" row by row
	Beats  []Beat
	// Reverse says that cups go in here and come out the other way round.
	Reverse bool `json:",omitempty"`
	// FlashOff is how many minutes what the step lays stays flammable.
	FlashOff float64
	// Gesture is the step's effect on the film besides pouring.
	Gesture Gesture `json:",omitempty"`
	// Move is the kind of move it is in the coat; "" for what is done before mixing,
	// to mix, and to close.
	Move MoveKind `json:",omitempty"`
	// For is the id of the step that one before mixing makes ready; "" for the coat.
	For string `json:",omitempty"`
	// Together says that everything the next pour takes is mixed before it.
	Together bool `json:",omitempty"`
	// Dry is how many minutes what it puts in a mould dries before resin.
	Dry float64 `json:",omitempty"`
	// Alone says that one pair of hands does it, however many are there.
	Alone bool `json:",omitempty"`
	// Pace is this studio's own time over the library's; 0 is 1.
	Pace float64 `json:"-"`
	By   Person  `json:",omitempty"` // "" for whoever its kind says

	// What a coat says of the step, see [Move].
	Takes    []Take   `json:"-"` // cups it empties, of a step that pours
	Laid     []Laid   `json:"-"` // materials a move of its own lays on
	Moves    []string `json:"-"` // ids of the moves it is
	From     string   `json:"-"` // technique it was copied from
	Round    int      `json:"-"`
	Set      float64  `json:"-"` // minutes, as the painter says; 0 for as usual
	After    float64  `json:"-"` // least minutes of rest before it
	Part     float64  `json:"-"` // of the face it is for; 0 is all of it
	Place    Place    `json:"-"` // where that lies
	Where    string   `json:"-"`
	Optional bool     `json:"-"`
}

// Gesture is the effect of a step or a beat on the film, as played by the preview.
type Gesture string

// The gestures.
const (
	Sheet   Gesture = "sheet" // drawn across
	Stick   Gesture = "stick" // drawn along
	Tip     Gesture = "tip"   // the board, one side after the other
	Air     Gesture = "air"   // blown out
	AirBack Gesture = "air-back"
	Flame   Gesture = "flame" // or hot air that only warms
)

// Person is the role of somebody at the bench.
type Person string

// The people at a bench.
const (
	Pourer Person = "pourer" // leads, and does what nobody else is there for
	Mixer  Person = "mixer"
	Torch  Person = "torch"
	Tilter Person = "tilter"
)

// crews say who does what with one, two or three people: by the number of them,
// who stands in for whom.
var crews = []map[Person]int{
	{},
	{Mixer: 1, Torch: 1},
	{Mixer: 1, Torch: 2, Tilter: 2},
}

// mostPeople is the largest crew.
const mostPeople = 3

// Hands returns the place, from 0, of who does the step in a crew of so many.
func (s Step) Hands(people int) int {
	people = min(max(people, 1), mostPeople)
	return crews[people-1][s.Person()]
}

// Person returns who does the step.
func (s Step) Person() Person {
	switch {
	case s.By != "":
		return s.By
	case s.Mixes || s.Colours:
		return Mixer
	case s.Heats && len(s.Beats) == 0:
		return Torch
	}
	return Pourer
}

// Shared reports whether more hands make the step shorter: not a wait, not the
// product's mix time, not what is worked zone by zone.
func (s Step) Shared() bool { return !s.Waiting && !s.Alone && s.ZoneM2 == 0 }

// A Beat is one move of a zone; parts of a zone's time add up to 1.
type Beat struct {
	Name, Do msg.Preset
	Part     float64
	Heats    bool
	Gesture  Gesture `json:",omitempty"`
}

// Minutes returns how long the step takes on this job. Of a step that can be
// shared the part that grows with cups and face is.
func (s Step) Minutes(j Job) float64 {
	if s.Set > 0 {
		return s.Set
	}
	cups, face := float64(j.Cups), j.Face.SquareMetres()
	if s.Pours && len(s.Takes) > 0 {
		cups = float64(len(s.Takes))
	}
	if s.Part > 0 {
		face *= s.Part
	}
	grows := s.PerCup*cups + s.PerM2*face
	if s.Shared() {
		grows /= float64(min(max(j.People, 1), mostPeople))
	}
	m := s.Fixed + grows
	if s.Pace > 0 {
		m *= s.Pace
	}
	if s.Mixes {
		m += j.Mix
	}
	return m
}

// Zones returns in how many zones the step is worked, at least one.
func (s Step) Zones(j Job) int {
	if s.ZoneM2 <= 0 {
		return 1
	}
	face := j.Face.SquareMetres()
	if s.Part > 0 {
		face *= s.Part
	}
	return max(1, int(math.Ceil(face/s.ZoneM2-1e-9)))
}

// Preparation returns the steps done before mixing begins; over a hard coat
// that is to be scuffed, that first.
func (t Technique) Preparation(scuffed bool) []Step {
	var out []Step
	if scuffed {
		out = append(out, Scuff)
	}
	for _, s := range t.Steps {
		if s.BeforeMixing {
			out = append(out, s)
		}
	}
	return out
}

// Handwork returns the hands-on and the drying minutes of work without resin.
func (t Technique) Handwork(j Job) (hands, dry float64) {
	for _, s := range t.Steps {
		if m := s.Minutes(j); s.Waiting {
			dry = math.Max(dry, m)
		} else {
			hands += m
		}
	}
	return hands, dry
}

// A Book is the techniques a studio has: the library and its own.
type Book []Technique

// Find returns the technique with the id.
func (b Book) Find(id string) (Technique, bool) {
	for _, t := range b {
		if t.ID == id {
			return t, true
		}
	}
	return Technique{}, false
}

// Coats returns the techniques that pour resin, those that seal last.
func (b Book) Coats() Book {
	var out, last Book
	for _, t := range b {
		switch {
		case t.Between:
		case t.Seals && !t.Own:
			last = append(last, t)
		default:
			out = append(out, t)
		}
	}
	return append(out, last...)
}

// Between returns what is done between coats, on a hard one.
func (b Book) Between() Book {
	var out Book
	for _, t := range b {
		if t.Between {
			out = append(out, t)
		}
	}
	return out
}

// Find returns the built-in technique with the id.
func Find(id string) (Technique, bool) { return Library.Find(id) }

// Check reports what is wrong with a technique a studio wrote itself.
func (t Technique) Check() error {
	mixes, pours := 0, 0
	for _, s := range t.Steps {
		switch {
		case s.Name == "" || s.Do == "":
			return refusal.New("every step needs a name and what to do")
		case !(s.Fixed >= 0 && s.PerCup >= 0 && s.PerM2 >= 0) || s.Fixed+s.PerCup+s.PerM2 > 24*60:
			return refusal.New("the times of %s must lie between 0 and 24 h", s.Name)
		case !t.Between && !s.BeforeMixing && !cure.Known(s.Window):
			return refusal.New("%s needs the window it works in", s.Name)
		case s.Pours && mixes == 0 && !t.Between:
			return refusal.New("%s comes before the resin is mixed", s.Name)
		}
		if s.Mixes {
			mixes++
		}
		if s.Pours {
			pours++
		}
	}
	switch {
	case t.Name == "":
		return refusal.New("a technique needs a name")
	case len(t.Steps) == 0:
		return refusal.New("a technique needs at least one step")
	case !t.Between && mixes != 1:
		return refusal.New("a coat is mixed once: exactly one step starts the clock")
	case !t.Between && pours == 0:
		return refusal.New("a coat needs a step that pours")
	}
	return nil
}

// Presets are the texts of the library, which a painter's own techniques and coats begin with and
// may change.
func Presets() []msg.Preset {
	var out []msg.Preset
	for _, t := range Library {
		out = append(out, t.presets()...)
	}
	for _, e := range Extras {
		out = e.Step.presets(out)
	}
	for _, r := range MoveRules {
		out = r.Step.presets(out)
	}
	return Scuff.presets(out)
}

func (t Technique) presets() []msg.Preset {
	out := append([]msg.Preset{t.Name, t.Summary, t.Bed}, t.Tools...)
	for _, c := range t.Cups {
		out = append(out, c.Name)
	}
	for _, s := range t.Steps {
		out = s.presets(out)
	}
	for _, o := range t.Options {
		out = append(out, o.Name)
		for _, c := range o.Choices {
			out = append(out, c.Words)
			for _, change := range c.Changes {
				out = append(out, change.Do, change.LookFor)
				if change.Then != nil {
					out = change.Then.presets(out)
				}
			}
		}
	}
	return out
}

func (s Step) presets(out []msg.Preset) []msg.Preset {
	out = append(out, s.Name, s.Do, s.HotDo, s.LookFor)
	for _, b := range s.Beats {
		out = append(out, b.Name, b.Do)
	}
	return out
}
