package technique

import (
	"slices"

	"jevvo/internal/core/cure"
)

// MoveKind is a kind of work on a wet coat.
type MoveKind string

// The kinds of moves.
const (
	Spread  MoveKind = "spread"
	Ribbon  MoveKind = "ribbon"
	Puddle  MoveKind = "puddle"
	Drizzle MoveKind = "drizzle"
	Swipe   MoveKind = "swipe"
	Blow    MoveKind = "blow"
	Tilt    MoveKind = "tilt"
	Draw    MoveKind = "draw"
	Tap     MoveKind = "tap"
	Strew   MoveKind = "strew"
	Spray   MoveKind = "mist"
	Flick   MoveKind = "flick"
	Dab     MoveKind = "dab"
	Heat    MoveKind = "flame"
	HotAir  MoveKind = "hot-air"
	Rest    MoveKind = "rest"
	LookAt  MoveKind = "look"
)

// A MoveRule is a move as anybody makes it who adds it to a coat (common
// practice throughout). Its [Step] has the usual times, window and cautions.
type MoveRule struct {
	Kind     MoveKind
	Material string // usually laid on; "" for none
	// Like is the technique and its step that the move is made like, with the
	// preparation it needs; none for a move that stands for itself.
	Like [2]string
	Step
}

// MoveRules holds the moves in the order they are offered.
var MoveRules = []MoveRule{
	{Kind: Spread, Step: Step{Name: "Spread", Pours: true, Bed: true, Window: cure.Runny, Fixed: 0.5, PerM2: 14,
		Do: "Pour it and spread it to every edge with a flat stick."}},
	{Kind: Ribbon, Step: Step{Name: "Lay a ribbon", Pours: true, Window: cure.Lacing, AtOnce: true, PerCup: 0.7, PerM2: 4,
		Do: "A ribbon where it is to lie."}},
	{Kind: Puddle, Step: Step{Name: "Pour a puddle", Pours: true, Window: cure.Lacing, AtOnce: true, PerCup: 0.5, PerM2: 3,
		Do: "A puddle where it is to run out from."}},
	{Kind: Drizzle, Step: Step{Name: "Drizzle", Pours: true, Window: cure.Holding, AtOnce: true, PerCup: 1, PerM2: 8,
		Do: "Thin lines from a stick, the hand moving fast."}},
	{Kind: Swipe, Step: Step{Name: "Swipe", Window: cure.Lacing, Gesture: Sheet, Fixed: 1, PerM2: 20, ZoneM2: 0.12,
		Do: "Draw the sheet across, slowly and with hardly any weight."}},
	{Kind: Blow, Step: Step{Name: "Blow", Window: cure.Lacing, Gesture: Air, Fixed: 1, PerM2: 12,
		Do: "Push the colour out with cool air, low and slanting."}},
	{Kind: Tilt, Step: Step{Name: "Tilt", Window: cure.Runny, Gesture: Tip, By: Tilter, Alone: true, Fixed: 2, PerM2: 12,
		Do: "Tilt slowly, one corner after the other, and level the board again."}},
	{Kind: Draw, Step: Step{Name: "Draw a stick through", Window: cure.Holding, Gesture: Stick, Fixed: 1, PerM2: 12,
		Do: "Draw the stick or comb through, and wipe it each time."}},
	{Kind: Tap, Step: Step{Name: "Tap the board", Window: cure.Runny, Fixed: 0.5, Alone: true,
		Do: "Tap from below until small gaps close and bubbles come up."}},
	{Kind: Strew, Material: "glitter", Step: Step{Name: "Sprinkle", Window: cure.Holding, AtOnce: true, Fixed: 1, PerM2: 4,
		Safety: []string{"powder"}, Do: "From a sieve or between two fingers; half of what looks right."}},
	{
		Kind:     Spray,
		Material: "alcohol",
		Like:     [2]string{"mist", "mist"},
		Step: Step{Name: "Mist", Window: cure.Lacing, AtOnce: true, Fixed: 1, PerM2: 14,
			Safety: []string{"alcohol", "respirator"}, Do: "Shake, then a fine mist from arm's length, the hand never still."},
	},
	{Kind: Flick, Step: Step{Name: "Flick", Pours: true, Window: cure.Holding, AtOnce: true, PerCup: 0.7, PerM2: 3,
		Do: "Flick drops from a stiff brush or a stick."}},
	{
		Kind:     Dab,
		Material: "alcohol",
		Step: Step{Name: "Set dots", Window: cure.Lacing, AtOnce: true, Alone: true, Fixed: 1, PerM2: 40,
			Safety: []string{"alcohol"}, Do: "One touch of the brush each, further apart than a cell opens, or they merge."},
	},
	{
		Kind: Heat,
		Step: Step{Name: "Torch", Window: cure.Lacing, AtOnce: true, Gesture: Flame, Heats: true, Fixed: 0.5, PerM2: 8,
			Safety: []string{"flame", "respirator"}, Do: "Low and close, never still."},
	},
	{
		Kind: HotAir,
		Step: Step{Name: "Hot air", Window: cure.Lacing, AtOnce: true, Gesture: Air, Heats: true, Fixed: 1, PerM2: 12,
			Safety: []string{"hotair", "respirator"}, Do: "Low and slanting: it pushes the colour and thins it."},
	},
	{Kind: Rest, Step: Step{Name: "Let it rest", Window: cure.Holding, AtOnce: true, Waiting: true, Fixed: 10,
		Do: "Hands off; it goes on by itself."}},
	{Kind: LookAt, Step: Step{Name: "Look", Window: cure.Holding, AtOnce: true, Fixed: 2,
		Do: "Look along the light, then decide whether anything is to be added."}},
}

// Rule returns what is usual of a kind of move, false for one that is none.
func (k MoveKind) Rule() (MoveRule, bool) {
	i := slices.IndexFunc(MoveRules, func(r MoveRule) bool { return r.Kind == k })
	if i < 0 {
		return MoveRule{}, false
	}
	return MoveRules[i], true
}

// A Move is one thing done to a wet coat: poured, laid on, worked, warmed or
// waited for.
type Move struct {
	ID   string
	Kind MoveKind
	// Technique and Step name the template's step it was copied from, whose
	// words and times it keeps; "" for a move of its own.
	Technique string  `json:",omitempty"`
	Step      string  `json:",omitempty"`
	Cup       string  `json:",omitempty"` // it pours
	Part      float64 `json:",omitempty"` // of that cup; 0 is all of it
	Material  string  `json:",omitempty"` // it lays on
	Amount    float64 `json:",omitempty"` // of that, in its unit; 0 is the usual
	Minutes   float64 `json:",omitempty"` // it takes; 0 is the usual
	After     float64 `json:",omitempty"` // least minutes of rest before it
	Area      float64 `json:",omitempty"` // part of the face it is for; 0 is all of it
	Place     Place   `json:",omitempty"` // where that part lies; "" anywhere
	Where     string  `json:",omitempty"` // in the painter's words
	Optional  bool    `json:",omitempty"`
}

// Like is the technique a move is made like, "" for one that stands for itself.
func (m Move) Like() (technique, step string) {
	if m.Technique != "" {
		return m.Technique, m.Step
	}
	rule, _ := m.Kind.Rule()
	return rule.Like[0], rule.Like[1]
}

// Share is the part of its cup that a move pours.
func (m Move) Share() float64 {
	if m.Part <= 0 {
		return 1
	}
	return m.Part
}

// Over is the part of the face a move is for.
func (m Move) Over() float64 {
	if m.Area <= 0 {
		rule, _ := m.Place.Rule()
		return max(rule.Usual, 0.01)
	}
	return m.Area
}

// A Round is a few moves made one after the other.
type Round struct{ Moves []Move }

// A Take is how much of a cup a pouring step empties.
type Take struct {
	Cup  string
	Part float64 // of the cup
}

// A Laid is an amount of a material that a move lays on; 0 for the usual.
type Laid struct {
	Material string
	Amount   float64
	Over     float64 // part of the face
}

// A CupRef is a cup as a template needs to know it.
type CupRef struct {
	ID   string
	Role Role
}

// Template returns the technique's moves for these cups: what is poured cup by
// cup, each with its step. A round begins where something is poured again.
func (t Technique) Template(cups []CupRef) []Round {
	var out []Round
	place, pouring := 0, false
	n := 0
	add := func(m Move, pours bool) {
		n++
		m.ID, m.Technique = "m"+itoa(n), t.ID
		if len(out) == 0 || pours && !pouring {
			out = append(out, Round{})
		}
		pouring = pours
		last := &out[len(out)-1]
		last.Moves = append(last.Moves, m)
	}
	for _, s := range t.Steps {
		switch {
		case s.Move == "":
			if s.Pours {
				place++
			}
		case s.Pours:
			for _, c := range cups {
				if t.PourOf(c.Role) == place {
					add(Move{Kind: s.Move, Step: s.ID, Cup: c.ID}, true)
				}
			}
			place++
		default:
			add(Move{Kind: s.Move, Step: s.ID}, false)
		}
	}
	return out
}
