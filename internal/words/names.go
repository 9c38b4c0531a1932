package words

import (
	"math"
	"regexp"
	"strings"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// ordinals name coats by their place.
var ordinals = []string{"First", "Second", "Third", "Fourth", "Fifth", "Sixth"}

// Coat names a coat by its place: the first pour, the sealing top, the ones
// between by number.
func Coat(c *plan.Coat) string {
	switch {
	case c.Place == 0:
		return T("First pour")
	case c.Place == c.Of-1 && c.Technique.Seals && c.Of > 2:
		return T("Top coat")
	case c.Place < len(ordinals):
		return T(ordinals[c.Place] + " coat")
	}
	return F("Coat %d", c.Place+1)
}

// CoatWith names a coat with its technique.
func CoatWith(c *plan.Coat) string { return Coat(c) + ", " + Lower(c.Technique.Name) }

// Task names a task of a plan.
func Task(t plan.Task, p *plan.Plan) string {
	coat := ""
	if c := p.Coat(t.Coat); c != nil {
		coat = Lower(Coat(c))
	}
	switch t.Kind {
	case plan.TaskPour:
		if c := p.Coat(t.Coat); c != nil {
			return CoatWith(c)
		}
	case plan.TaskLook:
		return F("Look for bubbles: %s, round %d", coat, t.N)
	case plan.TaskTape:
		return F("Pull the tape: %s", coat)
	case plan.TaskDeliver:
		return T("Ready to deliver")
	}
	if t.Of > 1 {
		return F("%s, %d of %d", T(t.What), t.N, t.Of)
	}
	return T(t.What)
}

// TaskDo says what to do at a task, where more than its name is to be said.
func TaskDo(t plan.Task) string {
	switch t.Kind {
	case plan.TaskLook:
		return T("Lift the cover, look along the light, a quick pass only where a bubble stands, and again a quarter of an " +
			"hour later. Cover again.")
	case plan.TaskTape:
		return T("Slowly, away from the film.")
	case plan.TaskDeliver:
		return T("Cured for light use.")
	}
	return t.Do
}

// Step names a step on the day of a coat, with the lot it belongs to when there
// are several.
func Step(s plan.Step, lots int) string {
	switch {
	case s.Kind == plan.StepLook:
		return F("%s, %s after the pour", T(s.Name), Spoken(s.After))
	case lots > 1 && s.Lot >= 0:
		return F("%s, lot %d of %d", T(s.Name), s.Lot+1, lots)
	}
	return s.Name
}

// Material prints an amount of a material as it is measured out.
func Material(m plan.Material) string {
	n := 0
	if m.Unit == technique.Grams || m.Unit == technique.Millis || m.Unit == technique.Metres {
		n = 1
	}
	unit := map[technique.Unit]string{technique.Grams: "g", technique.Millis: "mL", technique.Drops: "drops",
		technique.Sheets: "sheets", technique.Metres: "m"}[m.Unit]
	return Counted(m.Amount, n, unit)
}

// Measure prints a mass of a pigment the way it is dosed: whole drops of a
// liquid, spoons of a powder.
func Measure(p plan.Pigment, m units.Mass) string {
	if drop := p.DropMass(); drop > 0 {
		n := float64(m / drop)
		if n < 60 {
			return Plural(int(math.Round(n)), "drop", "drops")
		}
		return units.Fixed(float64(m.Filling(p.Liquid)), 1) + " mL"
	}
	if p.Spoon <= 0 {
		return ""
	}
	eighths := int(math.Round(float64(m/p.Spoon) * 8))
	if eighths == 0 {
		return T("a pinch")
	}
	whole, rest := eighths/8, eighths%8
	fraction := [...]string{"", "1/8", "1/4", "3/8", "1/2", "5/8", "3/4", "7/8"}[rest]
	switch {
	case whole == 0:
		return F("%s tsp", fraction)
	case rest == 0:
		return F("%d tsp", whole)
	}
	return F("%d %s tsp", whole, fraction)
}

// Drift says where a pigment goes.
func Drift(d plan.Drift) string {
	return map[plan.Drift]string{
		plan.Sinks:       "sinks to the bottom before the resin gels; dust it on instead, or pour it late",
		plan.SinksLittle: "sinks a little", plan.Rises: "rises", plan.Stays: "stays where it is",
	}[d]
}

// Relief says what would help a coat that does not fit, and why.
func Relief(r plan.Relief, sys units.System) (name, why string) {
	switch r.Kind {
	case plan.ReliefRoom:
		return F("A room of %s", r.Room.Text(sys)), T("cooler slows the resin; bubbles leave more slowly too")
	case plan.ReliefOption:
		return T(r.Name), T("the technique done another way")
	case plan.ReliefPeople:
		return F("%d people at the bench", r.People), T("one mixes while the other pours")
	case plan.ReliefCups:
		return T("Each cup mixed on its own"), T("no cup waits for the others")
	case plan.ReliefResin:
		return r.Name, T("a slower resin from the shelf")
	}
	return T("A board of half the face"), T("or two coats, one half under tape while the other is poured")
}

// ReliefText prints how a relief comes out.
func ReliefText(r plan.Relief) string {
	switch {
	case r.Holds:
		return F("fits with %s to spare", Spoken(r.Spare))
	case r.Stands > 0:
		return F("a batch still stands %s too long", Spoken(r.Stands))
	}
	return F("still %s short", Spoken(-r.Spare))
}

// Hours are opening hours as they are typed, mon-fri 08:00-18:00 or 2026-12-24 shut, with
// the days' names of the language.
func Hours(typed string) string {
	return dayWords.ReplaceAllStringFunc(typed, func(w string) string {
		if w == "shut" {
			return T(w)
		}
		return strings.ToLower(T(strings.ToUpper(w[:1]) + w[1:]))
	})
}

var dayWords = regexp.MustCompile(`\b(mon|tue|wed|thu|fri|sat|sun|shut)\b`)
