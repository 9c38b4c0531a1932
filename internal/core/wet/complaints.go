package wet

import (
	"slices"

	"jevvo/internal/msg"
)

// A Complaint is a defect a painter sees.
type Complaint struct {
	ID    string
	Name  msg.ID
	Mends []Mend // likeliest first
	Worse []Mend // what never helps, and why
	Next  []Mend // techniques of a next coat
}

// A Mend is a work, or a technique of the next coat, with what it does to a complaint.
type Mend struct {
	Work string
	Why  msg.ID
}

// Complaints holds them in the order they are offered (common practice throughout).
var Complaints = []Complaint{
	{
		"too-busy",
		"Too busy",
		[]Mend{
			{"wait", "much of it calms by itself as it levels"},
			{"bury", "one calm colour over half of it gives the rest room"},
			{"scrape", "what is lifted off is quiet ground"},
		},
		[]Mend{
			{"swipe", "every further pass makes more of it"},
			{"lace", "heat opens more cells"},
			{"dots", "more of the same"},
		},
		[]Mend{
			{"veil", "a thin veil of one colour over the busiest places"},
			{"wash", "a dark transparent wash draws it together"},
		},
	},
	{
		"too-large",
		"Too large",
		[]Mend{
			{"scrape", "a stick takes off what is too much, from its middle"},
			{"add", "lines of another colour divide it"},
			{"dots", "small cells break it up"},
		},
		[]Mend{{"lace", "warm resin opens further and grows"}, {"wait", "while it is runny it still grows"}},
		[]Mend{{"wash", "dark over what is too large"}, {"lines", "lines across it divide it"}},
	},
	{
		"too-white",
		"Too white",
		[]Mend{
			{"scrape", "white lies on top: the stick lifts it"},
			{"blow", "colour blown in from beside covers it"},
			{"add", "a thread of colour on it sinks in and breaks it"},
		},
		[]Mend{{"swipe", "it draws more white over the rest"}, {"lace", "white is what opens under heat"}},
		[]Mend{{"wash", "a transparent tint over it, ink or dye"}, {"veil", "a thin veil of colour"}},
	},
	{
		"too-sharp",
		"Too sharp",
		[]Mend{
			{"wait", "edges creep and soften until it holds"},
			{"soften", "it has thickened: limp paper draws the edge out"},
			{"blow", "air from beside feathers it"},
		},
		[]Mend{{"scrape", "a stick leaves an edge of its own"}, {"tilt", "it moves the edge and keeps it sharp"}},
		[]Mend{{"veil", "a veil across the edge"}},
	},
	{
		"too-loud",
		"Too loud",
		[]Mend{
			{"bury", "a calm colour over part of it"},
			{"scrape", "less of it"},
			{"add", "threads of the ground colour quieten it"},
		},
		[]Mend{{"lace", "cells make a loud colour louder"}, {"dots", "spots draw the eye"}},
		[]Mend{{"wash", "its complement, thin: warm against cold"}, {"veil", "a veil of the ground colour"}},
	},
	{
		"muddy",
		"Muddy",
		[]Mend{
			{"scrape", "mud does not come apart again: off with it, fresh colour in its place"},
			{"bury", "an opaque colour covers it"},
		},
		[]Mend{
			{"swipe", "it mixes further"},
			{"tilt", "it mixes further"},
			{"blow", "it mixes further"},
			{"wait", "pigment does not part again"},
		},
		[]Mend{{"flow", "an opaque coat over that part"}, {"veil", "an opaque veil"}},
	},
	{
		"covers",
		"It covers what was there",
		[]Mend{
			{"blow", "blown off sideways it gives free what is below"},
			{"lace", "heat opens it from below"},
			{"scrape", "a stick brings it back where it was best"},
		},
		[]Mend{{"bury", "more of it covers more"}, {"wait", "what covers does not go by itself"}},
		[]Mend{{"lines", "what was lost is laid once more, on top"}, {"zones", "the same colour again where it was"}},
	},
	{
		"blank",
		"A blank spot",
		[]Mend{
			{"add", "colour from the cup, close to its neighbours"},
			{"blow", "the neighbours blown in"},
			{"tap", "a small gap closes by tapping"},
		},
		[]Mend{{"lace", "heat thins it further"}},
		[]Mend{{"zones", "colour where it is blank"}, {"veil", "a veil that ties it to the rest"}},
	},
	{"bare-corner", "A bare corner",
		[]Mend{{"feed", "resin from the cup, by hand; a corner takes it twice"}, {"tilt", "it runs there while it is runny"}},
		[]Mend{{"lace", "heat draws the film back from a corner"}, {"swipe", "it takes more off the edge"}},
		[]Mend{{"flood", "a further coat closes it; sand the step first"}}},
	{
		"run-off",
		"It runs off",
		[]Mend{
			{"level", "the low corner first: it runs as long as that is low"},
			{"dam", "tape holds what is still to come"},
			{"wait", "it stops by itself as it thickens"},
		},
		[]Mend{{"lace", "warm resin runs faster"}, {"add", "what is added runs off too"}, {"tilt", "it starts again"}},
		[]Mend{{"flood", "a thinner coat over it, within what an edge keeps"}},
	},
}

// FindComplaint returns the complaint with the id.
func FindComplaint(id string) (Complaint, bool) {
	if i := slices.IndexFunc(Complaints, func(c Complaint) bool { return c.ID == id }); i >= 0 {
		return Complaints[i], true
	}
	return Complaint{}, false
}
