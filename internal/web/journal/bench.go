package journal

import (
	"slices"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/session"
	"jevvo/internal/words"
)

// atBench is what nobody had planned on the newest bench day of a coat, in words: what
// was added, not liked and mended, and what went otherwise.
func atBench(benches []session.Bench, coat string, sys units.System) []msg.Text {
	i := slices.IndexFunc(benches, func(b session.Bench) bool { return b.Coat == coat })
	if i < 0 {
		return nil
	}
	b := benches[i]
	var out []msg.Text
	for _, s := range b.AddedDone() {
		out = append(out, s.Said())
	}
	for _, m := range b.Mendeds() {
		told := words.BenchTold{Kind: words.ToldComplaint, Text: m.Complaint, Place: m.Place, Work: m.Work, How: m.Outcome}
		out = append(out, words.BenchEvent(told, sys))
	}
	for _, e := range b.Events {
		if e.Undone {
			continue
		}
		switch e.What {
		case session.Happening:
			t := words.BenchTold{Kind: words.ToldHappening, Text: e.Text, Value: e.Value}
			if c, ok := b.Cup(e.Work); ok {
				t.Cup = c.Name
			}
			out = append(out, words.BenchEvent(t, sys))
		case session.Stopped:
			out = append(out, words.BenchEvent(words.BenchTold{Kind: words.ToldStop}, sys))
		}
	}
	return out
}
