package words

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
	"jevvo/internal/msg"
)

// ToldKind is the kind of a bench day's line.
type ToldKind string

// The kinds; "" is words as they were written.
const (
	ToldComplaint ToldKind = "complaint"
	ToldHappening ToldKind = "happening"
	ToldStop      ToldKind = "stop"
	ToldAlone     ToldKind = "alone"
)

// A BenchTold is a line of a bench day.
type BenchTold struct {
	Kind  ToldKind
	Added msg.Text // what was added to the day
	Text  string   // what was written, or the id of a complaint or a happening
	Place technique.Place
	Work  string // id of what was done against it
	Cup   string
	Value float64
	How   string // what came of it
}

// BenchEvent says a line of a bench day in the units of a studio.
func BenchEvent(t BenchTold, sys units.System) msg.Text {
	switch t.Kind {
	case ToldComplaint:
		return complaint(t)
	case ToldHappening:
		m, _ := wet.FindMishap(t.Text)
		switch {
		case t.Cup != "":
			return msg.F("%s: %s", m.Name, t.Cup)
		case m.Asks == wet.AsksFilm:
			return msg.F("%s: %s", m.Name, units.Length(t.Value).Film(sys))
		case m.Asks == wet.AsksShare:
			return msg.F("%s: %s %%", m.Name, msg.Figure(units.Fixed(100*t.Value, 0)))
		case m.Asks == wet.AsksMinutes && t.Value > 0:
			return msg.F("%s: %s", m.Name, Spoken(t.Value))
		case m.Asks == wet.AsksRoom:
			return msg.F("%s: %s", m.Name, units.Temperature(t.Value).Text(sys))
		}
		return m.Name
	case ToldStop:
		return msg.ID("Stopped: good as it is")
	case ToldAlone:
		return msg.F("Left alone: %s", t.Place.Name())
	}
	if t.Text == "" {
		return t.Added
	}
	return msg.Own(t.Text)
}

// complaint says what was not liked, where, what was done and what came of it.
func complaint(t BenchTold) msg.Text {
	c, _ := wet.FindComplaint(t.Text)
	text := msg.Text(c.Name)
	if t.Place != "" {
		text = msg.Join(", ", text, t.Place.Name())
	}
	if w, ok := wet.FindWork(t.Work); ok {
		text = msg.F("%s: %s", text, msg.Lower(w.Name))
	}
	if t.How != "" {
		text = msg.Join(", ", text, outcomes[t.How])
	}
	return text
}

var outcomes = map[string]msg.ID{
	"better": "better for it",
	"same":   "no different",
	"worse":  "worse for it",
}

// HardenerShort says what a missing share of the hardener leaves of a resin that
// forgives a tolerance.
func HardenerShort(share, tolerance float64) msg.Text {
	if share <= tolerance+1e-9 {
		return msg.F("%s %% less is within what this resin tolerates.", msg.Figure(units.Fixed(100*share, 0)))
	}
	i, err := cure.OffRatio(-share)
	if err != nil || math.IsNaN(i.Ties) || !i.Gels {
		return msg.ID("It never sets: scrape it off while it is wet.")
	}
	ties := units.Fixed(100*i.Ties, 0)
	if i.Ties < sticky {
		return msg.F("Only %s %% of the cure takes place: it stays sticky. Scrape it off while it is wet.", ties)
	}
	return msg.F("%s %% of the cure takes place: it sets, and stays softer than usual.", ties)
}

// sticky is the share of the network below which a resin stays so (common practice).
const sticky = 0.8
