package plan

import (
	"slices"

	"jevvo/internal/core/units"
)

// A WeighedCup is the actual content of a cup: the recipe another board has to match.
type WeighedCup struct {
	Name  string // of the cup when it was weighed
	Resin units.Mass
	Dyes  []units.Mass // of its pigments, in the order of its doses
}

// Match gives the cups the loads that were weighed, and the shares too; loss is what
// stays in each cup. A cup that was not weighed keeps what it has. It returns how many
// were matched.
func (c *CoatSpec) Match(weighed []WeighedCup, loss units.Mass) int {
	found, planned, poured := map[int]WeighedCup{}, 0.0, units.Mass(0)
	for i, col := range c.Colours {
		at := slices.IndexFunc(weighed, func(w WeighedCup) bool { return w.Name == col.Name && w.Resin > loss })
		if at < 0 {
			continue
		}
		found[i] = weighed[at]
		planned += col.Share
		poured += weighed[at].Resin - loss
	}
	for i, w := range found {
		col := &c.Colours[i]
		if planned > 0 {
			col.Share = planned * float64((w.Resin-loss)/poured)
		}
		doses := col.Doses()
		for k := range doses {
			if k < len(w.Dyes) {
				doses[k].Load = float64(w.Dyes[k] / w.Resin)
			}
		}
		if len(doses) > 0 {
			col.SetDoses(doses)
		}
	}
	return len(found)
}
