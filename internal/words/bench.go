package words

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/wet"
)

// ToldKind is what a line of a bench day is about.
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
	Text  string // what was written, or the id of a complaint or a happening
	Place technique.Place
	Work  string // id of what was done against it
	Cup   string
	Value float64
	How   string // what came of it
}

// BenchEvent says a line of a bench day.
func BenchEvent(t BenchTold) string {
	switch t.Kind {
	case ToldComplaint:
		return complaint(t)
	case ToldHappening:
		m, _ := wet.FindMishap(t.Text)
		switch {
		case t.Cup != "":
			return F("%s: %s", T(m.Name), t.Cup)
		case m.Asks == wet.AsksFilm:
			return F("%s: %s", T(m.Name), units.Length(t.Value).Film(units.Metric))
		case m.Asks == wet.AsksShare:
			return F("%s: %s %%", T(m.Name), units.Fixed(100*t.Value, 0))
		case m.Asks == wet.AsksMinutes && t.Value > 0:
			return F("%s: %s", T(m.Name), Spoken(t.Value))
		case m.Asks == wet.AsksRoom:
			return F("%s: %s", T(m.Name), units.Temperature(t.Value).Text(units.Metric))
		}
		return T(m.Name)
	case ToldStop:
		return T("Stopped: it is liked as it lies")
	case ToldAlone:
		return F("Left alone: %s", T(t.Place.Name()))
	}
	return t.Text
}

// complaint says what was not liked, where, what was done and what came of it.
func complaint(t BenchTold) string {
	c, _ := wet.FindComplaint(t.Text)
	text := T(c.Name)
	if t.Place != "" {
		text += ", " + T(t.Place.Name())
	}
	if w, ok := wet.FindWork(t.Work); ok {
		text += ": " + Lower(T(w.Name))
	}
	if t.How != "" {
		text += ", " + T(outcomes[t.How])
	}
	return text
}

var outcomes = map[string]string{
	"better": Mark("better for it"),
	"same":   Mark("no different"),
	"worse":  Mark("worse for it"),
}

// HardenerShort says what a missing share of the hardener leaves of a resin that
// forgives a tolerance.
func HardenerShort(share, tolerance float64) string {
	if share <= tolerance+1e-9 {
		return F("%s %% less is within what this resin forgives.", units.Fixed(100*share, 0))
	}
	i, err := cure.OffRatio(-share)
	if err != nil || math.IsNaN(i.Ties) || !i.Gels {
		return T("It never sets: scrape it off while it is wet.")
	}
	ties := units.Fixed(100*i.Ties, 0)
	if i.Ties < sticky {
		return F("Only %s %% of the network forms: it stays sticky. Scrape it off while it is wet.", ties)
	}
	return F("%s %% of the network forms: it sets, and stays softer than usual.", ties)
}

// sticky is the share of the network below which a resin stays so (common practice).
const sticky = 0.8
