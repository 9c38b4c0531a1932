package diagnose

import (
	"math"
	"slices"

	"jevvo/internal/msg"
)

// A Remedy is an action to take now.
type Remedy struct {
	ID           string
	Name         msg.ID
	Do           msg.ID
	Fixed, PerM2 float64 // minutes of work
	DryH         float64 // hours before the next work
	Coat         string  // technique of a coat it pours; "" for none
	Safety       []string
	Hard         bool    // the coat has to be hard first
	WaitH        float64 // hours until it may begin, in this room; NaN when not known
	Answers      float64 // how likely its causes are together
}

// Remedies are the actions against faults (common practice). Cautions are those of
// package technique, by id.
var Remedies = []Remedy{
	{ID: "wait", Name: "Wait", Do: "Leave it covered and level in the warm room until a fingernail leaves no mark.",
		Hard: true},
	{ID: "warm-room", Name: "Warm the room",
		Do: "Bring the room to 24 °C and keep it there for a day; no heat held on the film.", Fixed: 5, DryH: 24},
	{ID: "wash-bloom", Name: "Wash the bloom off", Do: "Warm water with a drop of soap, a soft cloth, rinse, dry.",
		Fixed: 10, PerM2: 15, DryH: 1, Hard: true},
	{ID: "pass", Name: "One quick pass",
		Do: "While it is runny: a moving flame or hot air where the bubbles stand, then cover.", Fixed: 3, PerM2: 5,
		Safety: []string{"flame", "hotair"}},
	{ID: "wipe-off", Name: "Wipe it off while wet",
		Do: "Lift the film off with a card, wipe the face with alcohol, let it dry, pour again.", Fixed: 15, PerM2: 40,
		DryH: 1, Safety: []string{"gloves", "air"}},
	{ID: "press-in", Name: "Push resin over it",
		Do: "While it is runny: wet the bare place with a gloved finger or a brush and let it close.", Fixed: 5,
		Safety: []string{"gloves"}},
	{ID: "pick-out", Name: "Pick it out", Do: "Lift specks with a needle while it is wet; a quick pass closes the place.",
		Fixed: 10, Safety: []string{"gloves"}},
	{ID: "strip", Name: "Scrape and strip",
		Do: "Scrape the soft resin off, wipe with alcohol, sand what is left matt, and begin the coat again.", Fixed: 30,
		PerM2: 90, DryH: 2, Safety: []string{"gloves", "air", "dust", "respirator"}},
	{ID: "sand-recoat", Name: "Sand and recoat", Do: "Wet-sand the face matt, wipe, and pour a clear coat over it.",
		Fixed: 15, PerM2: 40, DryH: 1, Coat: "flood", Safety: []string{"dust", "gloves"}, Hard: true},
	{ID: "seal", Name: "Seal it with a coat",
		Do: "Only where it is just tacky: wipe with alcohol and flood it with a coat in the right ratio.", Fixed: 10,
		PerM2: 10, DryH: 0.5, Coat: "flood", Safety: []string{"gloves", "air"}},
	{ID: "veil", Name: "Pour a veil over it",
		Do: "A thin veil of the ground's colour over the place, drawn out to nothing.", Fixed: 10, PerM2: 20, Coat: "veil",
		Safety: []string{"gloves"}, Hard: true},
	{ID: "sand-out", Name: "Sand the place out",
		Do: "Wet-sand the place back to sound resin, wipe, fill it with a little clear, and let it level.", Fixed: 20,
		DryH: 12, Safety: []string{"dust", "gloves"}, Hard: true},
	{ID: "cut-tape", Name: "Cut the tape out",
		Do: "Warm the edge a little with hot air, cut along it with a fresh blade, peel, sand the edge.", Fixed: 20,
		PerM2: 20, Safety: []string{"hotair", "gloves"}},
	{ID: "clean-edge", Name: "Scrape the edge clean",
		Do: "Pare off what crept behind the tape, sand, touch up with paint.", Fixed: 15, PerM2: 15, DryH: 1,
		Safety: []string{"dust"}, Hard: true},
	{ID: "plug", Name: "Plug the dam", Do: "Press fresh tape over the gap from outside, wipe up, top up what ran out.",
		Fixed: 5, Safety: []string{"gloves"}},
	{ID: "paint-sides", Name: "Paint the sides", Do: "Sand the sides matt, paint them in the ground's colour, seal them.",
		Fixed: 15, PerM2: 15, DryH: 2, Safety: []string{"dust"}, Hard: true},
	{ID: "relevel", Name: "Level it again", Do: "Shim the board now, while it is runny, and let it flow back.", Fixed: 5},
	{ID: "press-board", Name: "Press it flat",
		Do: "Seal the open face, then lay it face down under weights for some days.", Fixed: 20, DryH: 72, Hard: true},
	{ID: "carry-out", Name: "Carry the cup outside",
		Do:    "Pour it out flat on a surface that cannot burn, outdoors, and keep away from the fumes until it is cold.",
		Fixed: 5, Safety: []string{"gloves", "respirator"}},
	{ID: "regrind", Name: "Sand off what is loose",
		Do: "Take off all that lifts, sand to a matt and sound coat, wipe, and pour again.", Fixed: 30, PerM2: 60, DryH: 1,
		Coat: "flood", Safety: []string{"dust", "gloves"}, Hard: true},
	{ID: "cure-on", Name: "Let it cure on",
		Do: "Keep hot things off; warm gently for a day in the warm room, and judge again.", Fixed: 2, DryH: 72},
	{ID: "move-sun", Name: "Hang it out of the sun",
		Do: "What has yellowed stays so; a fresh clear coat does not bring it back.", Fixed: 5},
	{ID: "accept", Name: "Accept it", Do: "Look at it in a week, from where it will hang."},
}

// A cure is a remedy that helps a fault when one of some causes is behind it; with
// none named, whatever is.
type remedyFor struct {
	fault, remedy string
	causes        []string
}

var remedyTable = []remedyFor{
	{"sticky-all", "wait", []string{"not-yet-cured", "cold"}},
	{"sticky-all", "warm-room", []string{"cold", "not-yet-cured"}},
	{"sticky-all", "strip", []string{"off-ratio", "under-mixed"}},
	{"sticky-all", "seal", []string{"overload", "old-resin", "damp", "off-ratio"}},
	{"sticky-patches", "strip", []string{"under-mixed", "off-ratio"}},
	{"sticky-patches", "sand-out", []string{"unscraped", "under-mixed", "unmixed-powder"}},
	{"sticky-patches", "seal", []string{"unscraped", "overload", "damp"}},
	{"soft", "wait", []string{"not-yet-cured", "cold"}}, {"soft", "warm-room", []string{"cold", "not-yet-cured"}},
	{"soft", "strip", []string{"off-ratio", "under-mixed", "overload"}},
	{"bubbles-from-below", "pass", nil}, {"bubbles-from-below", "sand-recoat", []string{"bare-wood", "damp"}},
	{"micro-bubbles", "pass", []string{"no-torch", "cold-resin"}}, {"micro-bubbles", "sand-recoat", nil},
	{"fish-eyes", "wipe-off", []string{"silicone-below", "not-degreased", "adhesive"}}, {"fish-eyes", "press-in", nil},
	{"fish-eyes", "sand-recoat", nil},
	{"pits", "sand-recoat", nil}, {"pits", "sand-out", nil},
	{"mud", "wipe-off", nil}, {"mud", "veil", nil}, {"mud", "accept", nil},
	{"colour-sank", "veil", nil}, {"colour-sank", "accept", nil},
	{"no-cells", "veil", nil}, {"no-cells", "accept", nil},
	{"cells-closed", "veil", nil}, {"cells-closed", "accept", nil},
	{"fog", "wash-bloom", []string{"damp", "cold"}}, {"fog", "sand-recoat", nil},
	{"scorch", "strip", nil}, {"scorch", "sand-out", nil}, // it shows through every cover
	{"see-through-sides", "paint-sides", nil}, {"see-through-sides", "accept", nil},
	{"bare-corner", "press-in", nil}, {"bare-corner", "relevel", []string{"not-level"}},
	{"bare-corner", "sand-recoat", nil},
	{"thick-middle", "relevel", []string{"not-level"}}, {"thick-middle", "sand-recoat", nil},
	{"thick-middle", "accept", nil},
	{"tear-drops", "relevel", []string{"not-level"}}, {"tear-drops", "veil", nil}, {"tear-drops", "accept", nil},
	{"run-off", "press-in", nil}, {"run-off", "sand-recoat", nil}, {"run-off", "accept", nil},
	{"dust", "pick-out", nil}, {"dust", "sand-recoat", nil},
	{"clumps", "pick-out", nil}, {"clumps", "sand-out", nil}, {"clumps", "accept", nil},
	{"bled-under-tape", "clean-edge", nil},
	{"tape-locked", "cut-tape", nil},
	{"glue-stain", "clean-edge", nil}, {"glue-stain", "sand-recoat", nil},
	{"dam-leaked", "plug", nil}, {"dam-leaked", "sand-recoat", nil},
	{"waves", "sand-recoat", nil}, {"waves", "accept", nil},
	{"yellowing", "move-sun", []string{"sun"}}, {"yellowing", "veil", nil}, {"yellowing", "accept", nil},
	{"dominates", "veil", nil}, {"dominates", "accept", nil},
	{"glitter-loud", "veil", nil}, {"glitter-loud", "sand-recoat", nil}, {"glitter-loud", "accept", nil},
	{"peels", "regrind", nil},
	{"cup-overheated", "carry-out", nil},
	{"warped", "press-board", nil}, {"warped", "accept", nil},
	{"cup-rings", "cure-on", []string{"heat-too-soon", "not-yet-cured", "cold"}}, {"cup-rings", "sand-recoat", nil},
}

// FindRemedy returns the remedy with the id.
func FindRemedy(id string) (Remedy, bool) {
	k := slices.IndexFunc(Remedies, func(r Remedy) bool { return r.ID == id })
	if k < 0 {
		return Remedy{}, false
	}
	return Remedies[k], true
}

// whatever is what a remedy counts for that helps whatever the cause is: after one
// that answers a likely cause, before one that does not.
const whatever = 0.3

// worthDoing is how likely the causes of a remedy have to be together.
const worthDoing = 0.05

// remediesFor are those for what is seen, by how likely the causes are that they
// answer.
func remediesFor(seen []Fault, causes []Likely, r Record) []Remedy {
	var out []Remedy
	for _, row := range remedyTable {
		if !slices.ContainsFunc(seen, func(f Fault) bool { return f.ID == row.fault }) {
			continue
		}
		score := whatever
		if row.causes != nil {
			none := 1.0
			for _, l := range causes {
				if slices.Contains(row.causes, l.Cause.ID) {
					none *= 1 - l.Probability
				}
			}
			score = 1 - none
		}
		remedy, _ := FindRemedy(row.remedy)
		remedy.Answers = score
		if k := slices.IndexFunc(out, func(o Remedy) bool { return o.ID == remedy.ID }); k >= 0 {
			out[k].Answers = math.Max(out[k].Answers, score)
			continue
		}
		if score >= worthDoing {
			out = append(out, remedy)
		}
	}
	for k := range out {
		if out[k].Hard {
			out[k].WaitH = r.HardIn()
		}
	}
	slices.SortStableFunc(out, func(a, b Remedy) int { return compare(b.Answers, a.Answers) })
	return out
}

// RemediesOf are the actions against a fault, whatever its cause.
func RemediesOf(fault string) []Remedy {
	var out []Remedy
	for _, row := range remedyTable {
		if r, ok := FindRemedy(row.remedy); ok && row.fault == fault {
			out = append(out, r)
		}
	}
	return out
}
