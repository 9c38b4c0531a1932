package words

import (
	"strings"

	"jevvo/internal/msg"
)

// A Term is a word of the trade, in plain words.
type Term struct{ Word, Means msg.ID }

// Anchor is the word as an address names it.
func (t Term) Anchor() string {
	return strings.NewReplacer(" ", "-", ",", "").Replace(strings.ToLower(string(t.Word)))
}

// Glossary holds the words painters use, by letter (common practice).
var Glossary = []Term{
	{"Accent", "A colour laid into or onto the base, in ribbons, puddles or drops."},
	{"Base coat", "The first even coat, clear or coloured, that the others are poured on."},
	{"Base colour", "What most of the board shows between the accents."},
	{"Batch", "What is mixed at once; its clock starts as hardener goes into resin."},
	{"Bed", "The even film, clear or coloured, that a pour is laid into while it is wet."},
	{"Bench day", "A coat being poured: from gloves on to the cover over it."},
	{"Blush", "A waxy or cloudy skin from damp air on curing resin. It washes off with warm water."},
	{"Cast", "Resin poured deep into a mould instead of thin over a board."},
	{"Cell", "A round opening in the upper colour through which the lower one shows."},
	{"Coat", "One layer of resin with its technique, poured and left to cure."},
	{"Cup", "One colour of one coat, ready to pour."},
	{"Cured", "Full strength: light use, delivery. Days after hard."},
	{"Dam", "A wall of tape around the board that holds the film until it no longer runs."},
	{"Drawdown", "A thin even stripe of a colour over black and white, to see how well it covers."},
	{"Drying rack", "Level, covered places where boards cure."},
	{"Film", "How thick the resin lies: most coats are one to three millimetres."},
	{"Fish eye", "A round bare spot where something greasy pushed the resin away."},
	{"Flood coat", "Clear resin poured over the whole face at once, level and glossy."},
	{"Gel", "The moment resin stops being a liquid. Nothing that was drawn moves any more."},
	{"Hard", "It takes no fingerprint: it can be handled, sanded and coated again."},
	{"Holding", "The window in which dragged lines stay where they were put."},
	{"Key the surface", "Sand a hard coat matt so that the next one grips; wipe it afterwards."},
	{"Lacing", "A net of fine white threads and cells, drawn out of a white over colours; also " +
		"the window in which that works."},
	{"Level", "The board lying so that the film does not creep to one side."},
	{"Lot", "What was bought at once: a kit, a bottle, with its date."},
	{"Opacity", "How much of what lies under a film it covers at the thickness it has."},
	{"Open edge", "An edge the resin runs over, as against a dam or a rim."},
	{"Part A, part B", "Resin and hardener. They harden only in the ratio the product names."},
	{"Pot life", "How long a batch stays pourable in its cup; less than its working time on the " +
		"board, since a full cup heats itself."},
	{"Puddle height", "How thick a puddle stands by itself on a level board before it spreads no further."},
	{"Ratio tolerance", "How far off the mixing ratio a resin may be and still cure hard."},
	{"Run-off", "What leaves the board over its edges and has to be mixed all the same."},
	{"Runny", "The window in which it can be poured, spread and tilted, and bubbles rise by themselves."},
	{"Silicone", "A few drops of oil that help cells open. The next coat needs the surface degreased."},
	{"Soft set", "It no longer runs but takes a print: tape comes off, edges round over."},
	{"Stringy", "It draws threads: hands and flame off."},
	{"Swipe", "Drawing a sheet lightly over the wet colours so that the white laces."},
	{"Tacky", "It sticks to a glove but leaves nothing on it: the next coat bonds without sanding."},
	{"Test tile", "A small board on which colours and technique are tried before the large one."},
	{"Topcoat", "The last clear coat, for gloss and protection."},
	{"Torching", "A flame passed quickly over the film: it bursts bubbles at the surface and " +
		"makes the resin thinner for a moment."},
	{"Window", "The minutes in which a move works, by this resin's clock in this room."},
	{"Working time", "How long the mixed resin can be poured and moved on the board, at the " +
		"temperature its data sheet names."},
}
