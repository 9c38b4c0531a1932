package technique

import "jevvo/internal/msg"

// A Safety note stands at the step where the work can hurt someone. All of
// them defer to the product's safety data sheet, local codes and licensed
// practice.
type Safety struct {
	Key  string
	Text msg.ID
}

// Deference closes every list of safety notes.
const Deference = "The product's safety data sheet, local codes and licensed practice come first."

var safety = map[string]msg.ID{
	"gloves": "Nitrile gloves and eye protection. Skin sensitisation is for life.",
	"air":    "Open the room; children and animals out.",
	"respirator": "Respirator with organic-vapour cartridges and ventilation while resin is heated, sprayed or poured " +
		"in quantity.",
	"flame": "Extinguisher by the bench, hair tied. No alcohol, inks, spray or tape under the flame.",
	"heatlot": "A batch left in its cup heats itself, can smoke and ignite. If it warms, pour it out flat, outside, on " +
		"a surface that cannot burn.",
	"hotair":  "Near a tape dam use hot air, not flame.",
	"alcohol": "Alcohol burns while wet: no flame until it has flashed off, and air the room.",
	"ink":     "Inks burn while wet: no flame near them, and air the room.",
	"spray":   "Spray outdoors with an organic-vapour respirator, away from any flame.",
	"powder":  "Fine powder and leaf: mask and gloves; keep powder out of the air and off the flame.",
	"glass":   "Crushed glass: gloves, eye protection and a mask while it is poured.",
	"lift":    "Lift with a second helper; a wet table top is heavy and slides.",
	"dust":    "Sand wet. P100 or FFP3 mask against sanding dust.",
	"waste":   "Only cured waste goes in the bin; liquid parts are hazardous waste by local rule.",
	"hot":     "Food contact and hot cups: only what the product's data sheet allows.",
}

// SafetyNotes returns the notes for the keys, in the order given.
func SafetyNotes(keys ...string) []Safety {
	out := make([]Safety, 0, len(keys))
	for _, k := range keys {
		if text, ok := safety[k]; ok {
			out = append(out, Safety{k, text})
		}
	}
	return out
}
