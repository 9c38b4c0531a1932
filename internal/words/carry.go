package words

import (
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Carried says what a step takes, one amount after the other.
func Carried(all []plan.Carry, sys units.System) []string {
	out := make([]string, 0, len(all))
	for _, c := range all {
		if text := carry(c, sys); text != "" {
			out = append(out, text)
		}
	}
	return out
}

func carry(c plan.Carry, sys units.System) string {
	switch c.Kind {
	case plan.CarryParts:
		return F(
			"A %s (%s) + B %s (%s)",
			c.Batch.A.Mass.Text(sys),
			c.Batch.A.Volume.Text(sys),
			c.Batch.B.Mass.Text(sys),
			c.Batch.B.Volume.Text(sys),
		)
	case plan.CarryWarm:
		return F("bottles warmed to %s", c.Warm.Text(sys))
	case plan.CarryMachine:
		return F("stirred by machine, %s", Spoken(c.Minutes))
	case plan.CarryPigment:
		name := c.Pigment.Name
		if name == "" {
			name = T("pigment")
		}
		if measure := Measure(c.Pigment, c.Mass); measure != "" {
			return F("%s: %s %s (%s)", c.Cup, c.Mass.Text(sys), name, measure)
		}
		return F("%s: %s %s", c.Cup, c.Mass.Text(sys), name)
	case plan.CarrySilicone:
		return F("%s: %s of silicone", c.Cup, Plural(c.Drops, "drop", "drops"))
	case plan.CarryPour:
		return F("%s %s", c.Cup, c.Volume.Text(sys))
	case plan.CarryMaterial:
		return F("%s %s", T(c.Material.Name), Material(c.Material))
	case plan.CarryWhere:
		return where(c.Place, c.Where)
	case plan.CarryTape:
		return tapeOrder(c.Sides)
	}
	return ""
}

// tapeOrder says in which order the sides come off.
func tapeOrder(sides []plan.Compass) string {
	if len(sides) < 4 {
		return ""
	}
	name := func(i int) string { return T(string(sides[i])) }
	return F("the %s side first, then the %s side, %s and %s last", name(0), name(1), name(2), name(3))
}

// where says on which part of the board, the painter's own words last.
func where(p technique.Place, own string) string {
	rule, _ := p.Rule()
	switch {
	case p == "":
		return own
	case own == "":
		return T(rule.Name)
	}
	return T(rule.Name) + ", " + own
}
