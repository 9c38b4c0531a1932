package wet

import (
	"math/rand/v2"

	"jevvo/internal/core/technique"
)

// A Trial is something a rehearsal throws at who rehearses: a complaint about a place,
// or a cup that falls over, some minutes after the first colour lies on the board.
type Trial struct {
	Minute    float64         // after the first pour
	Complaint string          `json:",omitempty"` // its id
	Place     technique.Place `json:",omitempty"`
	Cup       string          `json:",omitempty"` // that falls over
}

// TrialTime is within how many minutes a trial has to be answered (common practice:
// what is seen is decided within a couple of minutes, or it has moved on).
const TrialTime = 3.0

// trialsAt are the minutes at which trials come, the last but one a shortage.
var trialsAt = []float64{2, 6, 11, 16}

// Trials draws the trials of a rehearsal: complaints about different places, and one of
// the cups that falls over. The same seed draws the same ones.
func Trials(seed uint64, cups []string) []Trial {
	r := rand.New(rand.NewPCG(seed, 26))
	complaints, places := r.Perm(len(Complaints)), r.Perm(len(technique.Spots))
	var out []Trial
	for i, at := range trialsAt {
		if i == len(trialsAt)-2 && len(cups) > 0 {
			out = append(out, Trial{Minute: at, Cup: cups[r.IntN(len(cups))]})
			continue
		}
		out = append(out, Trial{Minute: at, Complaint: Complaints[complaints[i]].ID, Place: technique.Spots[places[i]]})
	}
	return out
}
