package technique

import (
	"slices"

	"jevvo/internal/msg"
)

// A Place is the part of the board a move is for; "" is all of it.
type Place string

// A PlaceRule is where a place lies: towards a side, −1 to 1 along x to the right and
// along y to the near edge.
type PlaceRule struct {
	Place Place
	Name  msg.ID
	X, Y  int
	Usual float64 // part of the face where no other is said
}

// Places holds them in the order they are offered.
var Places = []PlaceRule{
	{"", "all of it", 0, 0, 1},
	{"left", "left", -1, 0, 0.5},
	{"right", "right", 1, 0, 0.5},
	{"far", "far side", 0, -1, 0.5},
	{"near", "near side", 0, 1, 0.5},
	{"middle", "middle", 0, 0, 0.25},
	{"far-left", "far left corner", -1, -1, 0.25},
	{"far-right", "far right corner", 1, -1, 0.25},
	{"near-left", "near left corner", -1, 1, 0.25},
	{"near-right", "near right corner", 1, 1, 0.25},
}

// Rule returns where a place lies, false for one that nobody knows.
func (p Place) Rule() (PlaceRule, bool) {
	i := slices.IndexFunc(Places, func(r PlaceRule) bool { return r.Place == p })
	if i < 0 {
		return PlaceRule{}, false
	}
	return Places[i], true
}

// Name is the name of a place, "" for one that nobody knows.
func (p Place) Name() msg.ID {
	rule, _ := p.Rule()
	return rule.Name
}

// Spots are the nine places a board is pointed at by, row by row from its far left.
var Spots = []Place{"far-left", "far", "far-right", "left", "middle", "right", "near-left", "near", "near-right"}
