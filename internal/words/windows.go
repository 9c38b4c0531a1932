package words

import (
	"jevvo/internal/core/cure"
	"jevvo/internal/msg"
)

// looks describe the resin in each window (common practice).
var looks = map[cure.Phase]msg.ID{
	cure.Runny: "Like warm syrup: a line drawn in it has closed before the stick is out.",
	cure.Lacing: "Like paint from the tin: a thin white breaks open where it is drawn or warmed, and runs " +
		"into threads.",
	cure.Holding:   "Like honey: a drawn line stays, softly, and edges no longer run into each other.",
	cure.Stringy:   "It pulls threads from a stick. Hands and flame off: marks stay now.",
	cure.SoftSet:   "A glove leaves a dent and comes away clean. Tape comes off; edges still round over.",
	cure.Tacky:     "A knuckle sticks for a moment and leaves a print. The next coat bonds without sanding.",
	cure.Firm:      "Dry to the glove, soft to a nail. Too late to pour on, too early to sand: wait.",
	cure.Hard:      "A nail leaves no mark. Sand it matt before the next coat; it can be carried.",
	cure.Cured:     "Rings when it is tapped. It can be delivered.",
	cure.HeatReady: "As hard as it gets. Hot cups only as far as the product's data sheet allows.",
}

// Look describes the resin in a window.
func Look(p cure.Phase) msg.ID { return looks[p] }
