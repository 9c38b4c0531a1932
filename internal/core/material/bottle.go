package material

import (
	"strings"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Bottle is how a pigment comes out of its bottle: what its drop, its level
// teaspoon and its millilitre weigh.
type Bottle struct {
	Drop   units.Mass    // 0 for a powder
	Spoon  units.Mass    // 0 for a liquid
	Liquid units.Density // of the bottle's content
}

// Bottle returns how the pigment is dosed.
func (p Pigment) Bottle() Bottle { return Bottle{p.DropMass(), p.Spoon, p.Liquid} }

// Amount reads an amount of the pigment: grams, drops of its own bottle, or
// spoons; a minus takes it out.
func (p Pigment) Amount(text string) (units.Mass, error) {
	m, _, err := p.Bottle().Amount(text)
	return m, err
}

// Amount reads an amount as it is dosed. Counted says that it was counted in
// drops or spoons or measured by volume, rather than weighed.
func (b Bottle) Amount(text string) (m units.Mass, counted bool, err error) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "−", "-"))
	sign := units.Mass(1)
	if rest, ok := strings.CutPrefix(text, "-"); ok {
		text, sign = strings.TrimSpace(rest), -1
	}
	text = strings.TrimPrefix(text, "+")
	if r, err := units.ParseMass(text, "g"); err == nil {
		return sign * r.Value, false, nil
	}
	r, err := units.ParseVolume(text, "ml")
	if err != nil {
		return 0, false, refusal.New("%q is not an amount of pigment; write 2 drops, 0.3 g or 1/4 tsp", text)
	}
	switch {
	case (strings.Contains(text, "drop") || strings.Contains(text, "ropfen")) && b.Drop > 0:
		return sign * units.Mass(r.Value/units.Drop) * b.Drop, true, nil
	case b.Spoon > 0:
		return sign * units.Mass(r.Value/units.Teaspoon) * b.Spoon, true, nil
	}
	return sign * r.Value.Weighing(b.Liquid), true, nil
}
