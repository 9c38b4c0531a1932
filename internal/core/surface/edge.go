package surface

import (
	"slices"
	"strings"

	"jevvo/internal/msg"
)

// Edge says what keeps the film on the face.
type Edge string

// The edges every studio begins with.
const (
	Open Edge = "open" // nothing: the film ends where a puddle would
	Rim  Edge = "rim"  // a tray lip or frame standing above the face
	Dam  Edge = "dam"  // tape standing proud of the edge
)

// An EdgeRule holds the properties shared by all edges of a kind. A new kind is a row of Edges.
type EdgeRule struct {
	Edge  Edge
	Name  msg.ID
	Words msg.ID // in a sentence
	Holds bool   // it stands above the face: the film ends at it and does not run over
	// Stays says that it belongs to the board: coats rise behind it, one upon the other. What does
	// not stay comes off after each coat and is built again for the next.
	Stays bool
	// Taped says that it is built of tape: it is pulled at its time, and no flame comes near it.
	Taped bool
}

// Edges holds the rules in the order they are offered.
var Edges = []EdgeRule{
	{Edge: Open, Name: "Open", Words: "open"},
	{Edge: Rim, Name: "Rim", Words: "rim", Holds: true, Stays: true},
	{Edge: Dam, Name: "Tape dam", Words: "dam", Holds: true, Taped: true},
}

// Rule returns what edges of the kind do; that of an open edge for a name that is none.
func (e Edge) Rule() EdgeRule {
	if i := slices.IndexFunc(Edges, func(r EdgeRule) bool { return r.Edge == e }); i >= 0 {
		return Edges[i]
	}
	return Edges[0]
}

// Holding lists the edges a height is asked of, with commas.
func Holding() string {
	var out []string
	for _, r := range Edges {
		if r.Holds {
			out = append(out, string(r.Edge))
		}
	}
	return strings.Join(out, ",")
}
