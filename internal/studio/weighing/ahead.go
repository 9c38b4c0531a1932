package weighing

import (
	"slices"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Pour is one that is to come.
type Pour struct {
	Cup   msg.Text
	What  msg.Text
	Reach units.Mass // what a display shows then; 0 for an empty vessel
	Mark  units.Volume
	By    msg.Text // as its bottle gives it
	Empty bool     // an empty vessel is set on the scale
}

// mostAhead bounds the pours of a weigh-out.
const mostAhead = 400

// Ahead are the pours to come, the one in hand first, when each is poured as it is
// planned: what a screen goes by that has lost the program.
func (w Weighing) Ahead() []Pour {
	w.Cups = slices.Clone(w.Cups)
	for k := range w.Cups {
		w.Cups[k].Pours = slices.Clone(w.Cups[k].Pours)
	}
	var out []Pour
	for len(out) < mostAhead && w.Stage != Done {
		d := w.Look(w.Base, true)
		out = append(out, Pour{w.Current().Title(), d.What, d.Reach, d.Mark, d.By, w.Stage == Tare})
		reading := w.Base
		if w.Stage != Tare {
			reading += max(d.Target, leastPour*w.Step)
		}
		if err := w.take(reading, true, w.At); err != nil {
			break // the rest cannot be foreseen
		}
	}
	return out
}
