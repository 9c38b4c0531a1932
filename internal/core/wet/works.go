package wet

import (
	"slices"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Work is something that can be done to a wet film.
type Work struct {
	ID          string
	Name        msg.ID
	Do          msg.ID
	From, To    cure.Phase // it works from the one's beginning to the other's end
	Least, Most units.Length
	Move        technique.MoveKind // it is, at the bench; "" for hands off
	Material    string             // it lays on; "" for none
	Heats       bool
	Minutes     float64 // it takes, at one place
	Safety      []string
	// Thin and Thick say what happens on a film beyond Least and Most.
	Thin, Thick msg.ID
}

// Works holds what can be done, in the order the hands would think of it.
var Works = []Work{
	{
		ID:   "wait",
		Name: "Hands off",
		Do:   "Leave it and walk away; look again when the time is over.",
		From: cure.Runny,
		To:   cure.Holding,
	},
	{ID: "tap", Name: "Tap from below", Do: "Tap the board from below, softly; small gaps close and bubbles come up.",
		From: cure.Runny, To: cure.Runny, Move: technique.Tap, Minutes: 0.5},
	{
		ID:      "tilt",
		Name:    "Tilt it there",
		Do:      "Raise the other side by two fingers until it has run there, then level the board again.",
		From:    cure.Runny,
		To:      cure.Runny,
		Move:    technique.Tilt,
		Minutes: 1.5,
		Least:   0.8,
		Thin:    "so thin a film does not run",
	},
	{
		ID:      "blow",
		Name:    "Blow it there",
		Do:      "Cool air, low and slanting, from what is to grow towards what is to give way.",
		From:    cure.Runny,
		To:      cure.Lacing,
		Move:    technique.Blow,
		Minutes: 1,
		Least:   0.8,
		Thin:    "so thin a film tears down to what is below",
	},
	{
		ID:      "lace",
		Name:    "Warm it until it opens",
		Do:      "One low pass, never still; what lies below comes up by itself after it.",
		From:    cure.Lacing,
		To:      cure.Lacing,
		Move:    technique.Heat,
		Heats:   true,
		Minutes: 0.5,
		Safety:  []string{"flame", "respirator"},
	},
	{
		ID:       "dots",
		Name:     "Open it with alcohol",
		Do:       "One touch of the brush each, further apart than they open. No flame until it has flashed off.",
		From:     cure.Lacing,
		To:       cure.Lacing,
		Move:     technique.Dab,
		Material: "alcohol",
		Minutes:  1,
		Safety:   []string{"alcohol"},
	},
	{
		ID:      "bury",
		Name:    "Bury it in colour",
		Do:      "Pour the calmest colour of the coat over it, more than seems right, and let it run out.",
		From:    cure.Runny,
		To:      cure.Lacing,
		Move:    technique.Puddle,
		Minutes: 1,
		Thick:   "it stands as high as an edge keeps: more of it runs off",
	},
	{
		ID:      "add",
		Name:    "Add colour there",
		Do:      "From what is left in the cups: a thread of it, laid close, and let run.",
		From:    cure.Runny,
		To:      cure.Holding,
		Move:    technique.Ribbon,
		Minutes: 1,
		Thick:   "it stands as high as an edge keeps: more of it runs off",
	},
	{
		ID:      "feed",
		Name:    "Feed it by hand",
		Do:      "A gloved finger wet with resin from the cup, drawn over what is bare; twice at a corner.",
		From:    cure.Runny,
		To:      cure.Holding,
		Move:    technique.Puddle,
		Minutes: 1,
		Safety:  []string{"gloves"},
	},
	{
		ID:      "scrape",
		Name:    "Scrape it off",
		Do:      "Lift it off with the edge of a stick, wipe the stick, again; what is below shows, the rim runs in.",
		From:    cure.Runny,
		To:      cure.Holding,
		Move:    technique.Draw,
		Minutes: 1.5,
	},
	{ID: "soften", Name: "Soften it with limp paper", Do: "Lay limp paper on it and draw it off at once, hardly touching.",
		From: cure.Holding, To: cure.Holding, Move: technique.Draw, Minutes: 1},
	{
		ID:      "swipe",
		Name:    "Swipe it once more",
		Do:      "The sheet once over that place, slowly and with hardly any weight.",
		From:    cure.Lacing,
		To:      cure.Lacing,
		Move:    technique.Swipe,
		Minutes: 1.5,
		Least:   1.0,
		Thin:    "so thin a film is drawn off down to the board",
	},
	{
		ID:      "level",
		Name:    "Level the board",
		Do:      "Look at the level both ways and shim the low corner; drips are wiped off below.",
		From:    cure.Runny,
		To:      cure.Holding,
		Move:    technique.LookAt,
		Minutes: 2,
	},
	{
		ID:      "dam",
		Name:    "Set tape against it",
		Do:      "Tape along that side, standing proud of the film; it comes off at soft set.",
		From:    cure.Runny,
		To:      cure.Holding,
		Move:    technique.LookAt,
		Minutes: 3,
	},
}

// FindWork returns the work with the id.
func FindWork(id string) (Work, bool) {
	if i := slices.IndexFunc(Works, func(w Work) bool { return w.ID == id }); i >= 0 {
		return Works[i], true
	}
	return Work{}, false
}
