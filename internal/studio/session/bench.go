// Package session runs a bench day: one log of events for a coat
// being made, a rehearsal or a weigh-out. What is kept is how it was set up and
// one event after the other; everything on a screen follows from the two, so
// that a reload, a second screen or a restart goes on where the hands are, and
// the same events always give the same day.
package session

import (
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/stock"
	"jevvo/internal/words"
)

// A Bench is one coat being made, for real or as a rehearsal.
type Bench struct {
	ID        int64     `json:"-"`
	Rev       int64     `json:"-"`
	PieceID   int64     `json:"-"`
	Coat      string    `json:"-"`
	Done      bool      `json:"-"`
	At        time.Time `json:"-"`
	Rehearsal bool      `json:"-"`

	Piece      string
	Name       msg.Stored `json:"Said"` // of the coat
	Listed     string     `json:"Name"` // the same in the language of that day, as the journal lists it
	Technique  msg.Preset
	Way        string `json:",omitempty"` // id of the technique
	Kinetics   cure.Kinetics
	Film       units.Length
	Faces      int               `json:",omitempty"` // of the layer that shed heat
	Room       units.Temperature // planned
	Taped      bool
	Face       units.Area   `json:",omitempty"`       // of all its boards
	EdgeHeight units.Length `json:"Stands,omitempty"` // what an open edge keeps; 0 behind a dam
	Trials     []wet.Trial  `json:",omitempty"`       // of a rehearsal
	Speed      float64      // of a rehearsal: minutes of resin a minute
	Batches    []Batch      `json:",omitempty"` // what they are
	People     []string     `json:",omitempty"` // at the bench, who leads first; none for one
	Steps      []Step
	Takes      stock.Amounts     `json:",omitempty"` // what the coat takes by its plan
	Product    *material.Product `json:",omitempty"` // what it is mixed of; nil in days of before
	Resin      int64             `json:",omitempty"` // its id
	Cups       []Cup             `json:",omitempty"` // what is poured from
	// preparations that were not done when it was started; of days before Guards were kept
	Open   []string `json:",omitempty"`
	Guards []Guard  `json:",omitempty"` // what was open when it was started, with the answers
	Events []Event

	planned struct { // how it was set up
		steps   []Step
		batches []Batch
		film    units.Length
	}
	raw []Event // as they were kept
}

// A Guard is a point that was open before the first step, as it was answered.
type Guard struct {
	What string
	How  Answer
	Why  string `json:",omitempty"`
}

// An Answer is a painter's answer to an open point.
type Answer string

// The answers.
const (
	DoneNow  Answer = "done"
	Unneeded Answer = "unneeded" // because
	Anyway   Answer = "anyway"
)

// StartedAnyway returns the points a coat was begun in spite of.
func (b Bench) StartedAnyway() []string {
	out := slices.Clone(b.Open)
	for _, g := range b.Guards {
		if g.How == Anyway {
			out = append(out, g.What)
		}
	}
	return out
}

// Clock returns a batch's clock in a room; a deep coat goes by its own warmth.
func (b Bench) Clock(room cure.Room) *cure.Clock {
	faces := b.Faces
	if faces == 0 { // kept before faces were
		faces = 2
	}
	clock, err := b.Kinetics.ClockIn(cure.Slab{Depth: b.Film, Faces: faces, Start: room.At(0), Room: room})
	if err != nil {
		return cure.NewClock(b.Kinetics, room)
	}
	return clock
}

// A Step is one thing to do at the bench.
type Step struct {
	// ID tells a step for good: its place as it was planned, or the number of what
	// was added.
	ID       int `json:"-"`
	Name     msg.Stored
	Do       msg.Stored
	LookFor  msg.Stored
	Window   cure.Phase
	Minutes  float64
	Safety   []string
	Kind     plan.StepKind
	Heats    bool
	Pours    bool    `json:",omitempty"`
	FlashOff float64 // minutes what it lays stays flammable
	Zone     int
	Order    string       `json:",omitempty"` // of its zones
	Zones    int          // of a step worked zone by zone; 0 otherwise
	After    float64      // minutes after the pour ended, of a look
	Round    int          `json:",omitempty"`
	BatchNo  int          `json:"Lot,omitempty"` // from 1, that it mixes, colours or pours; 0 for all
	Mixing   bool         `json:",omitempty"`    // it makes a batch
	Hands    int          `json:",omitempty"`    // who does it, from 0
	Cups     []string     `json:",omitempty"`    // ids of those it empties
	Of       string       `json:",omitempty"`    // the technique's step it belongs to
	Usual    float64      `json:",omitempty"`    // minutes by the library
	With     []msg.Stored `json:",omitempty"`    // what it takes, in words
	Optional bool         `json:",omitempty"`    // decided at the bench

	Move     technique.MoveKind      `json:",omitempty"` // it is; "" for what is done around the moves
	Pourings map[string]units.Volume `json:",omitempty"` // by the ids of the cups it empties
	AtOnce   bool                    `json:",omitempty"` // it does not wait for its window
	Added    bool                    `json:",omitempty"` // at the bench
	Place    technique.Place         `json:",omitempty"` // on the board
	Takes    stock.Amounts           `json:",omitempty"` // of the materials, of a batch that was added
	Against  string                  `json:",omitempty"` // the complaint it is to mend
}

// Said is the step with what it takes.
func (s Step) Said() msg.Text {
	parts := []msg.Text{s.Name}
	for _, w := range s.With {
		parts = append(parts, w)
	}
	return msg.Join(", ", parts...)
}

// Steps lays out a coat's steps beat by beat as they are done at the bench.
func Steps(p *plan.Plan, c *plan.Coat, name func(plan.Step) msg.Text, sys units.System) []Step {
	var out []Step
	for _, s := range plan.Zoned(p.Steps(c)) {
		var with []msg.Stored
		for _, w := range words.Carried(p.Carries(c, s.Step), sys) {
			with = append(with, msg.Store(w))
		}
		out = append(out, Step{Name: msg.Store(name(s.Step)), Do: msg.Store(s.Do), LookFor: msg.Store(s.LookFor),
			Window: s.Window, Minutes: s.Minutes,
			Safety: s.Safety, Kind: s.Kind,
			Heats: s.Heats, Pours: s.Pours, FlashOff: s.FlashOff, Zone: s.Zone, Zones: s.Zones, Order: s.Order, After: s.After,
			Round: s.Round, BatchNo: s.Batch + 1, Mixing: s.Mixing, Hands: s.Hands, Cups: s.Cups, Of: s.Of, Usual: s.Usual,
			With: with, Optional: s.Optional,
			AtOnce: s.AtOnce, Move: s.Move, Pourings: pourings(c, s.Step), Place: s.Place})
	}
	return out
}

// pourings is how much a step pours of each cup.
func pourings(c *plan.Coat, s plan.Step) map[string]units.Volume {
	out := map[string]units.Volume{}
	for _, t := range c.Pourings(s) {
		out[t.Cup] += t.Volume
	}
	return out
}

// An Event is something that happened.
type Event struct {
	At      time.Time
	What    EventKind
	Step    int
	BatchNo int `json:"Lot,omitempty"` // from 1, of parts that met
	Text    string
	Photo   int64
	By      string `json:",omitempty"` // who pressed, where people are told apart
	Undone  bool

	Add    *Step           `json:",omitempty"` // a step that was added before Step
	Batch  *Batch          `json:",omitempty"` // that it mixes
	Place  technique.Place `json:",omitempty"` // on the board
	Work   string          `json:",omitempty"` // done against a complaint, or what a happening is about
	Value  float64         `json:",omitempty"` // of a happening, or seconds of heat
	Joined bool            `json:",omitempty"` // of the same press as the event before
}

// EventKind names an event.
type EventKind string

// The events.
const (
	Met   EventKind = "met"   // mixing began: a batch's clock runs
	Did   EventKind = "done"  // a step was done
	Skip  EventKind = "skip"  // a step was left out
	Note  EventKind = "note"  // words
	Photo EventKind = "photo" // a picture
	Undo  EventKind = "undo"  // the last press was taken back

	Added     EventKind = "added"     // a step nobody had planned
	Stopped   EventKind = "stopped"   // it is liked: no more is done to it
	Disliked  EventKind = "disliked"  // what, and where
	Heated    EventKind = "heated"    // a pass of a flame or of hot air, besides the steps
	LeftAlone EventKind = "alone"     // a place nobody touches any more
	Judged    EventKind = "judged"    // what came of it
	Happening EventKind = "happening" // something went otherwise
)

// pressed reports whether a kind of event is a press that can be taken back. Notes
// and photographs stay.
func (k EventKind) pressed() bool {
	switch k {
	case Note, Photo, Undo:
		return false
	}
	return true
}

// DecodeBench reads a bench day or a rehearsal.
func DecodeBench(row store.Session, rehearsal bool) (Bench, error) {
	var b Bench
	if err := json.Unmarshal(row.Setup, &b); err != nil {
		return b, fmt.Errorf("read the bench day: %w", err)
	}
	if b.Name.Text == nil { // in days of before
		b.Name = msg.Store(msg.Own(b.Listed))
	}
	b.ID, b.Rev, b.PieceID, b.Coat, b.Done, b.At, b.Rehearsal = row.ID, row.Rev, row.PieceID, row.Coat, row.Done, row.At,
		rehearsal
	b.planned.steps, b.planned.batches, b.planned.film = b.Steps, b.Batches, b.Film
	b.raw = b.Events // of days from before events had rows of their own
	for _, doc := range row.Events {
		var e Event
		if err := json.Unmarshal(doc, &e); err != nil {
			return b, fmt.Errorf("read the bench day: %w", err)
		}
		b.raw = append(b.raw, e)
	}
	b.replay()
	return b, nil
}

// Now is the bench's own time: real, or that of a rehearsal, which runs faster.
// It never lies before what happened last, so that a clock that was set back
// or a restart under another clock turns no step round.
func (b Bench) Now(t time.Time) time.Time {
	if b.Rehearsal {
		t = b.At.Add(time.Duration(float64(t.Sub(b.At)) * b.Speed))
	}
	for _, e := range b.Events {
		if e.At.After(t) {
			t = e.At
		}
	}
	return t
}

// Cursor is the place of the step in hand: the first that is neither done nor
// left out.
func (b Bench) Cursor() int {
	over := map[int]bool{}
	for _, e := range b.Events {
		if !e.Undone && (e.What == Did || e.What == Skip) {
			over[e.Step] = true
		}
	}
	for i := range b.Steps {
		if !over[i] {
			return i
		}
	}
	return len(b.Steps)
}

// Finished reports whether nothing is left to do.
func (b Bench) Finished() bool { return b.Cursor() >= len(b.Steps) }

// BatchesMixed returns when the parts of each batch met, by their numbers; one that was left
// out stands at the time of the one before.
func (b Bench) BatchesMixed() []time.Time {
	var out []time.Time
	for _, e := range b.Events {
		if e.What != Met || e.Undone {
			continue
		}
		batch := max(e.BatchNo, 1)
		if e.BatchNo == 0 { // days of before numbered them as they came
			batch = len(out) + 1
		}
		for len(out) < batch {
			out = append(out, e.At)
			if n := len(out); n > 1 && n < batch {
				out[n-1] = out[n-2]
			}
		}
		out[batch-1] = e.At
	}
	return out
}

// hasMet reports whether the parts of a batch met.
func (b Bench) hasMet(batch int) bool {
	n := 0
	for _, e := range b.Events {
		if e.What != Met || e.Undone {
			continue
		}
		if n++; e.BatchNo == batch || e.BatchNo == 0 && n == batch {
			return true
		}
	}
	return false
}

// Over is when a step was done or left out.
func (b Bench) Over(step int) (time.Time, bool) {
	for i := len(b.Events) - 1; i >= 0; i-- {
		e := b.Events[i]
		if !e.Undone && e.Step == step && (e.What == Did || e.What == Skip) {
			return e.At, true
		}
	}
	return time.Time{}, false
}

// LastOver is when the last press was.
func (b Bench) LastOver() time.Time {
	var at time.Time
	for _, e := range b.Events {
		if !e.Undone && (e.What == Did || e.What == Skip || e.What == Met) && e.At.After(at) {
			at = e.At
		}
	}
	return at
}

// FlammableUntil is when the last thing that burns has flashed off.
func (b Bench) FlammableUntil() time.Time {
	var until time.Time
	for _, e := range b.Events {
		if e.What == Did && !e.Undone && e.Step < len(b.Steps) {
			if f := b.Steps[e.Step].FlashOff; f > 0 {
				if t := e.At.Add(plan.Minutes(f)); t.After(until) {
					until = t
				}
			}
		}
	}
	return until
}

// watching reports whether a step is one of those after the pour.
func (s Step) watching() bool { return s.Kind == plan.StepLook || s.Kind == plan.StepTape }

// PourEnded is when the last step of work before the looks was over; zero while
// none is.
func (b Bench) PourEnded() time.Time {
	var at time.Time
	for _, e := range b.Events {
		if e.Undone || (e.What != Did && e.What != Skip) || e.Step >= len(b.Steps) {
			continue
		}
		if !b.Steps[e.Step].watching() && e.At.After(at) {
			at = e.At
		}
	}
	return at
}

// PastHands reports whether all work before the looks is over.
func (b Bench) PastHands() bool {
	i := b.Cursor()
	return i >= len(b.Steps) || b.Steps[i].watching()
}

// Happened reads off a piece's bench days, newest first, what was done when:
// pours, looks and tape, by the keys of the plan's tasks.
func Happened(benches []Bench) map[string]plan.Happened {
	out := map[string]plan.Happened{}
	for i := len(benches) - 1; i >= 0; i-- { // the newest of a coat counts
		b := benches[i]
		batches := b.BatchesMixed()
		if len(batches) == 0 {
			continue
		}
		h := plan.Happened{Start: b.At, Met: batches[0], Short: b.Short()}
		if b.Film != b.planned.film {
			h.Film = b.Film
		}
		if end := b.PourEnded(); !end.IsZero() && b.PastHands() {
			h.End, h.Done = end, true
		}
		out[plan.PourKey(b.Coat)] = h
		for k, s := range b.Steps {
			at, ok := b.Over(k)
			if !ok {
				continue
			}
			done := plan.Happened{Start: at, End: at, Done: true}
			switch s.Kind {
			case plan.StepLook:
				if round := s.round(); round > 0 {
					if _, first := out[plan.LookKey(b.Coat, round)]; !first {
						out[plan.LookKey(b.Coat, round)] = done
					}
				}
			case plan.StepTape:
				out[plan.TapeKey(b.Coat)] = done
			}
		}
	}
	return out
}

// round is the attendance a look belongs to; days from before rounds were kept
// had four looks in two.
func (s Step) round() int {
	if s.Round > 0 {
		return s.Round
	}
	if s.After > 30 {
		return 2
	}
	return 1
}
