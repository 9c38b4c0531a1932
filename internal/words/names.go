package words

import (
	"math"
	"regexp"
	"strings"
	"time"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// ordinals name coats by their place.
var ordinals = []msg.ID{"First coat", "Second coat", "Third coat", "Fourth coat", "Fifth coat", "Sixth coat"}

// Coat names a coat by its place: the first pour, the sealing top, the ones
// between by number.
func Coat(c *plan.Coat) msg.Text {
	switch {
	case c.Place == 0:
		return msg.ID("First pour")
	case c.Place == c.Of-1 && c.Technique.Seals && c.Of > 2:
		return msg.ID("Top coat")
	case c.Place < len(ordinals):
		return ordinals[c.Place]
	}
	return msg.F("Coat %d", c.Place+1)
}

// CoatWith names a coat with its technique.
func CoatWith(c *plan.Coat) msg.Text {
	return msg.Join(", ", Coat(c), msg.Lower(c.Technique.Name))
}

// Task names a task of a plan.
func Task(t plan.Task, p *plan.Plan) msg.Text {
	var coat msg.Text
	if c := p.Coat(t.Coat); c != nil {
		coat = msg.Lower(Coat(c))
	}
	switch t.Kind {
	case plan.TaskPour:
		if c := p.Coat(t.Coat); c != nil {
			return CoatWith(c)
		}
	case plan.TaskLook:
		return msg.F("Look for bubbles: %s, round %d", coat, t.N)
	case plan.TaskTape:
		return msg.F("Pull the tape: %s", coat)
	case plan.TaskDeliver:
		return msg.ID("Ready to deliver")
	}
	return t.Which()
}

// TaskDo says what to do at a task, where more than its name is to be said.
func TaskDo(t plan.Task) msg.Text {
	switch t.Kind {
	case plan.TaskLook:
		return msg.ID("Lift the cover, look along the light, a quick pass only where a bubble stands, and again a " +
			"quarter of an " +
			"hour later. Cover again.")
	case plan.TaskTape:
		return msg.ID("Slowly, away from the film.")
	case plan.TaskDeliver:
		return msg.ID("Cured for light use.")
	}
	return t.Do
}

// Step names a step on the day of a coat, with the batch it belongs to when there
// are several.
func Step(s plan.Step, batches int) msg.Text {
	switch {
	case s.Kind == plan.StepLook:
		return msg.F("%s, %s after the pour", s.Name, Spoken(s.After))
	case batches > 1 && s.Batch >= 0:
		return msg.F("%s, batch %d of %d", s.Name, s.Batch+1, batches)
	}
	return s.Name
}

// Material prints an amount of a material as it is measured out.
func Material(m plan.Material) msg.Text {
	n := 0
	if m.Unit == technique.Grams || m.Unit == technique.Millis || m.Unit == technique.Metres {
		n = 1
	}
	unit := map[technique.Unit]string{technique.Grams: "g", technique.Millis: "mL", technique.Drops: "drops",
		technique.Sheets: "sheets", technique.Metres: "m"}[m.Unit]
	return Counted(m.Amount, n, unit)
}

// Measure prints a mass of a pigment the way it is dosed: whole drops of a liquid, and beyond what
// anybody counts millilitres, or spoons where those are usual; spoons of a powder.
func Measure(p material.Pigment, m units.Mass, sys units.System) msg.Text {
	if drop := p.DropMass(); drop > 0 {
		n := float64(m / drop)
		switch {
		case n <= mostDrops:
			return msg.N(int(math.Round(n)), "drop", "drops")
		case sys == units.US:
			return spoons(float64(m.Filling(p.Liquid) / units.Teaspoon))
		}
		return msg.Figure(units.Fixed(float64(m.Filling(p.Liquid)), 1) + " mL")
	}
	if p.Spoon <= 0 {
		return nil
	}
	return spoons(float64(m / p.Spoon))
}

// spoons prints teaspoons to an eighth.
func spoons(n float64) msg.Text {
	eighths := int(math.Round(8 * n))
	if eighths == 0 {
		return Pinch
	}
	whole, rest := eighths/8, eighths%8
	fraction := [...]string{"", "1/8", "1/4", "3/8", "1/2", "5/8", "3/4", "7/8"}[rest]
	switch {
	case whole == 0:
		return msg.F("%s tsp", fraction)
	case rest == 0:
		return msg.F("%d tsp", whole)
	}
	return msg.F("%d %s tsp", whole, fraction)
}

// mostDrops are as many as anybody counts into a cup (common practice); beyond it is measured.
const mostDrops = 30

// Pinch is less of a powder than a spoon measures.
const Pinch msg.ID = "a pinch"

// Drift says where a pigment goes.
func Drift(d plan.Drift) msg.ID {
	return map[plan.Drift]msg.ID{
		plan.Sinks:       "sinks to the bottom before the resin gels; dust it on instead, or pour it late",
		plan.SinksLittle: "sinks a little", plan.Rises: "rises", plan.Stays: "stays where it is",
	}[d]
}

// Relief says what would help a coat that does not fit, and why.
func Relief(r plan.Relief, sys units.System) (name msg.Text, why msg.ID) {
	switch r.Kind {
	case plan.ReliefEach:
		return msg.ID("One board after the other"), "each is mixed, poured and left to level by itself"
	case plan.ReliefRoom:
		return msg.F("A room of %s", r.Room.Text(sys)), "cooler slows the resin; bubbles leave more slowly too"
	case plan.ReliefOption:
		return r.Name, "the technique done another way"
	case plan.ReliefPeople:
		return msg.F("%d people at the bench", r.People), "one mixes while the other pours"
	case plan.ReliefCups:
		return msg.ID("Each cup mixed on its own"), "no cup waits for the others"
	case plan.ReliefResin:
		return r.Name, "a slower resin you own"
	}
	return msg.ID("A board of half the face"), "or two coats, one half under tape while the other is poured"
}

// ReliefText prints how a relief comes out.
func ReliefText(r plan.Relief) msg.Text {
	switch {
	case r.Holds:
		return msg.F("fits with %s to spare", Spoken(r.Spare))
	case r.Overdue > 0:
		return msg.F("a batch still stands %s too long", Spoken(r.Overdue))
	}
	return msg.F("still %s short", Spoken(-r.Spare))
}

// Hours are opening hours as they are typed, mon-fri 08:00-18:00 or 2026-12-24 closed, with
// the days' names and the clock of a language.
func Hours(typed string, l msg.Lang) string {
	typed = dayTimes.ReplaceAllStringFunc(typed, func(clock string) string {
		t, err := time.Parse("15:04", clock)
		if err != nil {
			return clock // 24:00
		}
		return strings.ToLower(msg.Date(t, "15:04").In(l))
	})
	return dayWords.ReplaceAllStringFunc(typed, func(w string) string {
		if w == "closed" {
			return l.Text(w)
		}
		return strings.ToLower(l.Text(strings.ToUpper(w[:1]) + w[1:]))
	})
}

var dayWords = regexp.MustCompile(`\b(mon|tue|wed|thu|fri|sat|sun|closed)\b`)

var dayTimes = regexp.MustCompile(`\b\d\d:\d\d\b`)
