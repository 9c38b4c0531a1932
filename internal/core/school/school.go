// Package school is where painters disagree: each question with its ways, a default and its reason.
package school

import "jevvo/internal/msg"

// A Question is one painters answer differently, with a
// default and its reason.
type Question struct {
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

// The keys of the questions.
const (
	Recoat   = "recoat"
	Measure  = "measure"
	Mixing   = "mixing"
	Tare     = "tare"
	Colour   = "colour"
	Prime    = "prime"
	Makers   = "makers"
	Sides    = "sides"
	Tape     = "tape"
	Pour     = "pour"
	Bed      = "bed"
	Silicone = "silicone"
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

// Questions holds the questions in the order they are asked.
var Questions = []Question{
	{Recoat, "Next coat",
		[]Way{{RecoatScuff, "on a hard coat, scuffed and wiped"}, {RecoatTacky, "in the tacky hours"},
			{RecoatPlain, "on a hard coat, as it is"}},
		RecoatScuff, "it forgives a missed hour, and nothing peels"},
	{Measure, "Measure resin", []Way{{MeasureWeigh, "by weight on a scale"}, {MeasureVolume, "by volume in a jug"}},
		MeasureWeigh, "a gram is easier to hit than a line seen aslant"},
	{Mixing, "Mix resin",
		[]Way{{MixingJug, "in one jug, then split into cups"}, {MixingCups, "each cup on its own"}},
		MixingJug, "one ratio to hit and one mix time for all cups of a batch"},
	{Tare, "Zero the scale", []Way{{TareEach, "before every pour"}, {TareOnce, "once, under the empty cup"},
		{TareNever, "never: the cup's weight is in it"}},
		TareEach, "the display shows the pour itself, and a slip shows at once"},
	{Colour, "Colour the cups",
		[]Way{{ColourAfter, "after mixing"}, {ColourDosed, "doses wait in the cups"},
			{ColourPartA, "into part A, before mixing"}},
		ColourAfter, "the eye judges the mixed cup; the other ways save minutes of a fast resin"},
	{Prime, "Prime bare wood", []Way{{PrimeAlways, "always"}, {"skip", "skip it under two or more coats"}},
		PrimeAlways, "wood breathes and makes bubbles without end"},
	{Makers, "Pigments of one piece", []Way{{MakersSame, "from one maker"}, {"mixed", "from several, on purpose"}},
		MakersSame, "pastes of one maker flow alike; unlike ones repel and open more cells"},
	{Sides, "Sides", []Way{{"run-over", "run over and painted near the colour"}, {"taped", "taped off"},
		{"painted", "painted after"}},
		"run-over", "no edge of tape to lift, and the paint covers what stays thin"},
	{Tape, "Tape comes off",
		[]Way{{TapeSoft, "at soft set"}, {TapeHour, "after an hour"}, {TapeNext, "next day with warm air"},
			{TapeRuns, "when the moves are over, so that it runs over the sides"}},
		TapeSoft, "the edge rounds over and nothing tears"},
	{Pour, "Pour", []Way{{"technique", "as the technique wants"}, {PourOnce, "at once"},
		{PourThicken, "when it has thickened"}},
		"technique", "some moves want it runny, some want it rested"},
	{Bed, "Under a swipe", []Way{{"bed", "a clear or base bed"}, {BedNone, "no bed"}},
		"bed", "the sheet glides and the white has something to lace on"},
	{Silicone, "Silicone", []Way{{"none", "none"}, {SiliconeFew, "a few drops in the accents"}},
		"none", "it leaves fish eyes in the next coat"},
}

// Schools are a studio's answers, by the keys of the questions; what is not
// there is the default.
type Answers map[string]string

// Way returns the studio's answer to a question.
func (s Answers) Way(key string) string {
	if way, ok := s[key]; ok {
		return way
	}
	q, _ := Find(key)
	return q.Default
}

// FindSchool returns the question with the key.
func Find(key string) (Question, bool) {
	for _, q := range Questions {
		if q.Key == key {
			return q, true
		}
	}
	return Question{}, false
}

// WayWords returns an answer in words.
func (q Question) WayWords(key string) msg.Text {
	for _, w := range q.Ways {
		if w.Key == key {
			return w.Words
		}
	}
	return msg.Own(key)
}

// DefaultWords is the default in words.
func (q Question) DefaultWords() msg.Text { return q.WayWords(q.Default) }
