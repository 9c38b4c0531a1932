package plan

import "jevvo/internal/msg"

// A School is a question painters answer differently, with a
// default and its reason.
type School struct {
	Key      string
	Question msg.ID
	Ways     []Way
	Default  string
	Reason   msg.ID
}

// A Way is one answer.
type Way struct {
	Key   string
	Words msg.ID
}

// The keys of the schools.
const (
	SchoolRecoat   = "recoat"
	SchoolMeasure  = "measure"
	SchoolMixing   = "mixing"
	SchoolTare     = "tare"
	SchoolColour   = "colour"
	SchoolPrime    = "prime"
	SchoolMakers   = "makers"
	SchoolSides    = "sides"
	SchoolTape     = "tape"
	SchoolPour     = "pour"
	SchoolBed      = "bed"
	SchoolSilicone = "silicone"
)

// The ways that sums ask for.
const (
	RecoatScuff = "scuff"
	RecoatTacky = "tacky"
	RecoatPlain = "plain"

	MeasureWeigh  = "weigh"
	MeasureVolume = "volume"

	MixingJug  = "jug"
	MixingCups = "cups"

	TareEach  = "each"
	TareOnce  = "once"
	TareNever = "never"

	ColourAfter = "after"
	ColourDosed = "dosed"
	ColourPartA = "part-a"

	PrimeAlways = "always"
	MakersSame  = "same"

	TapeSoft = "soft"
	TapeHour = "hour"
	TapeNext = "next"
	// TapeRuns lets the edge go as soon as the hands are off, so that resin runs
	// over the sides, which are fed by hand.
	TapeRuns = "runs"
	// TapeMinutes is a coat's own time for its tape.
	TapeMinutes = "minutes"

	PourOnce    = "once"
	PourThicken = "thicken"
	BedNone     = "none"
	SiliconeFew = "few"
)

// SchoolTable holds the questions in the order they are asked.
var SchoolTable = []School{
	{SchoolRecoat, "Next coat",
		[]Way{{RecoatScuff, "on a hard coat, scuffed and wiped"}, {RecoatTacky, "in the tacky hours"},
			{RecoatPlain, "on a hard coat, as it is"}},
		RecoatScuff, "it forgives a missed hour, and nothing peels"},
	{SchoolMeasure, "Measure resin", []Way{{MeasureWeigh, "by weight on a scale"}, {MeasureVolume, "by volume in a jug"}},
		MeasureWeigh, "a gram is easier to hit than a line seen aslant"},
	{SchoolMixing, "Mix resin",
		[]Way{{MixingJug, "in one jug, then split into cups"}, {MixingCups, "each cup on its own"}},
		MixingJug, "one ratio to hit and one mix time for all cups of a lot"},
	{SchoolTare, "Zero the scale", []Way{{TareEach, "before every pour"}, {TareOnce, "once, under the empty cup"},
		{TareNever, "never: the cup's weight is in it"}},
		TareEach, "the display shows the pour itself, and a slip shows at once"},
	{SchoolColour, "Colour the cups",
		[]Way{{ColourAfter, "after mixing"}, {ColourDosed, "doses wait in the cups"},
			{ColourPartA, "into part A, before mixing"}},
		ColourAfter, "the eye judges the mixed cup; the other ways save minutes of a fast resin"},
	{SchoolPrime, "Prime bare wood", []Way{{PrimeAlways, "always"}, {"skip", "skip it under two or more coats"}},
		PrimeAlways, "wood breathes and makes bubbles without end"},
	{SchoolMakers, "Pigments of one piece", []Way{{MakersSame, "of one maker"}, {"mixed", "of several, on purpose"}},
		MakersSame, "pastes of one maker flow alike; unlike ones repel and open more cells"},
	{SchoolSides, "Sides", []Way{{"run-over", "run over and painted near the colour"}, {"taped", "taped off"},
		{"painted", "painted after"}},
		"run-over", "no edge of tape to lift, and the paint covers what stays thin"},
	{SchoolTape, "Tape comes off",
		[]Way{{TapeSoft, "at soft set"}, {TapeHour, "after an hour"}, {TapeNext, "next day with warm air"},
			{TapeRuns, "when the moves are over, so that it runs over the sides"}},
		TapeSoft, "the edge rounds over and nothing tears"},
	{SchoolPour, "Pour", []Way{{"technique", "as the technique wants"}, {PourOnce, "at once"},
		{PourThicken, "when it has thickened"}},
		"technique", "some moves want it runny, some want it rested"},
	{SchoolBed, "Under a swipe", []Way{{"bed", "a clear or base bed"}, {BedNone, "no bed"}},
		"bed", "the sheet glides and the white has something to lace on"},
	{SchoolSilicone, "Silicone", []Way{{"none", "none"}, {SiliconeFew, "a few drops in the accents"}},
		"none", "it leaves fish eyes in the next coat"},
}

// Schools are a studio's answers, by the keys of the questions; what is not
// there is the default.
type Schools map[string]string

// Way returns the studio's answer to a question.
func (s Schools) Way(key string) string {
	if way, ok := s[key]; ok {
		return way
	}
	q, _ := FindSchool(key)
	return q.Default
}

// FindSchool returns the question with the key.
func FindSchool(key string) (School, bool) {
	for _, q := range SchoolTable {
		if q.Key == key {
			return q, true
		}
	}
	return School{}, false
}

// WayWords returns an answer in words.
func (q School) WayWords(key string) msg.Text {
	for _, w := range q.Ways {
		if w.Key == key {
			return w.Words
		}
	}
	return msg.Own(key)
}

// DefaultWords is the default in words.
func (q School) DefaultWords() msg.Text { return q.WayWords(q.Default) }
