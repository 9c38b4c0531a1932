package words

import (
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Carried says what a step takes, one amount after the other.
func Carried(all []plan.Carry, sys units.System) []msg.Text {
	out := make([]msg.Text, 0, len(all))
	for _, c := range all {
		if text := carry(c, sys); text != nil {
			out = append(out, text)
		}
	}
	return out
}

func carry(c plan.Carry, sys units.System) msg.Text {
	switch c.Kind {
	case plan.CarryParts:
		return msg.F(
			"A %s (%s) + B %s (%s)",
			c.Batch.A.Mass.Text(sys),
			c.Batch.A.Volume.Text(sys),
			c.Batch.B.Mass.Text(sys),
			c.Batch.B.Volume.Text(sys),
		)
	case plan.CarryWarm:
		return msg.F("bottles warmed to %s", c.Warm.Text(sys))
	case plan.CarryMachine:
		return msg.F("stirred by machine, %s", Spoken(c.Minutes))
	case plan.CarryPigment:
		name := msg.Text(msg.Own(c.Pigment.Name))
		if c.Pigment.Name == "" {
			name = msg.ID("pigment")
		}
		if measure := Measure(c.Pigment, c.Mass, sys); measure != nil {
			return msg.F("%s: %s %s (%s)", Filled(c.Cup), c.Mass.Text(sys), name, measure)
		}
		return msg.F("%s: %s %s", Filled(c.Cup), c.Mass.Text(sys), name)
	case plan.CarrySilicone:
		return msg.F("%s: %s of silicone", Filled(c.Cup), msg.N(c.Drops, "drop", "drops"))
	case plan.CarryPour:
		return msg.F("%s %s", Filled(c.Cup), c.Volume.Text(sys))
	case plan.CarryMaterial:
		return msg.F("%s %s", c.Material.Title(), Material(c.Material))
	case plan.CarryWhere:
		return where(c.Place, c.Where)
	case plan.CarryTape:
		return tapeOrder(c.Sides)
	}
	return nil
}

// tapeOrder says in which order the sides come off.
func tapeOrder(sides []plan.Compass) msg.Text {
	if len(sides) < 4 {
		return nil
	}
	name := func(i int) msg.Text { return msg.ID(sides[i]) }
	return msg.F("the %s side first, then the %s side, %s and %s last", name(0), name(1), name(2), name(3))
}

// where says on which part of the board, the painter's own words last.
func where(p technique.Place, own string) msg.Text {
	rule, _ := p.Rule()
	switch {
	case p == "":
		return msg.Own(own)
	case own == "":
		return rule.Name
	}
	return msg.Join(", ", rule.Name, msg.Own(own))
}
