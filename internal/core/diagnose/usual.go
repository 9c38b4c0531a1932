package diagnose

import "slices"

// A Habit is something a technique does that brings usual mistakes with it.
type Habit string

// The habits.
const (
	Pours   Habit = "pours"   // any coat of resin
	Opens   Habit = "opens"   // wants cells or lacing
	Draws   Habit = "draws"   // a sheet or a stick through the film
	Tilts   Habit = "tilts"   // the board is tipped
	Blows   Habit = "blows"   // air moves the film
	Heats   Habit = "heats"   // flame or hot air
	Strews  Habit = "strews"  // glitter, powder, metal
	Covers  Habit = "covers"  // goes over a coat
	Deep    Habit = "deep"    // is cast
	Divides Habit = "divides" // a barrier, tape or a dam
)

// usual are the faults a habit brings most, the worst first (common practice).
var usual = map[Habit][]string{
	Pours:   {"sticky-all", "micro-bubbles", "dust"},
	Opens:   {"no-cells", "cells-closed", "dominates"},
	Draws:   {"mud", "colour-sank"},
	Tilts:   {"tear-drops", "run-off", "bare-corner"},
	Blows:   {"mud", "waves"},
	Heats:   {"scorch", "waves"},
	Strews:  {"glitter-loud", "clumps"},
	Covers:  {"fish-eyes", "peels", "fog"},
	Deep:    {"cup-overheated", "bubbles-from-below", "soft"},
	Divides: {"dam-leaked", "bled-under-tape", "tape-locked"},
}

// UsualFaults are those that habits bring most, each once, in the order of the
// habits.
func UsualFaults(habits ...Habit) []Fault {
	var out []Fault
	for _, h := range habits {
		for _, id := range usual[h] {
			if f, ok := FindFault(id); ok && !slices.ContainsFunc(out, func(o Fault) bool { return o.ID == id }) {
				out = append(out, f)
			}
		}
	}
	return out
}
