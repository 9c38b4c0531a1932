package studio

import (
	"fmt"
	"math"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/units"
)

// A Neighbour is a pair of cups that touch on the board.
type Neighbour struct {
	A, B             CupPlan
	Border           units.Length
	Meeting          colour.Meeting
	Mixed            string // "#rrggbb" of equal parts as a film
	Weight           Weight
	Verdict          string
	Lies             string // which sinks through which, or that they stay
	Heavier, Lighter string // names; "" when alike
}

// Bounds of the words about neighbours (common practice).
const (
	faintLightDark = 12.0 // L* below which two neighbours read as one from afar
	faintColour    = 10.0 // and CIEDE2000
	alikeDensity   = units.Density(8)
)

// meet judges every pair that touches in the first coat.
func (p *Plan) meet(stock Stock) {
	if len(p.Coats) == 0 || len(p.Boards) == 0 {
		return
	}
	coat := p.Coats[0]
	cups := map[string]CupPlan{}
	for _, c := range coat.Cups {
		cups[c.Colour.ID] = c
	}
	for _, c := range composition.NewCover(p.Boards[0], p.Sketches[0]).Contacts() {
		a, okA := cups[c.A]
		b, okB := cups[c.B]
		if !okA || !okB {
			continue
		}
		n := Neighbour{A: a, B: b, Border: c.Border, Meeting: colour.Meet(a.Look.optics, b.Look.optics, stock.Ground, coat.Film)}
		n.Mixed = n.Meeting.Mixed.XYZ().RGB().Hex()
		n.judge()
		n.weigh(c)
		p.Neighbours = append(p.Neighbours, n)
	}
}

// judge puts the meeting in words.
func (n *Neighbour) judge() {
	m, a, b := n.Meeting, n.A.Colour.Name, n.B.Colour.Name
	n.Weight = Settled
	switch {
	case m.Mud == colour.Cancel:
		n.Weight = Mind
		n.Verdict = fmt.Sprintf("Mud where they mix: the hues lie %s° apart and cancel. Keep clear or white between %s and %s.", units.Fixed(m.Apart, 0), a, b)
	case m.Mud == colour.Swallow:
		n.Weight = Mind
		n.Verdict = "The dark one swallows the bright where they mix. Lay them last, or with a vein between."
	case m.LightDark < faintLightDark && m.Difference < faintColour:
		n.Weight = Mind
		n.Verdict = fmt.Sprintf("They read as one from afar (difference %s). Make one lighter or darker.", units.Fixed(m.Difference, 0))
	case m.Mud == colour.WashesIn:
		n.Verdict = "The white turns the colour pale where they mix; clean, not mud."
	case m.LightDark < faintLightDark:
		n.Verdict = fmt.Sprintf("They part by colour only; little light against dark (%s).", units.Fixed(m.LightDark, 0))
	default:
		n.Verdict = fmt.Sprintf("They part well: light against dark %s.", units.Fixed(m.LightDark, 0))
	}
}

// weigh says which of the two is heavier and what that does as they were laid.
func (n *Neighbour) weigh(c composition.Contact) {
	diff := n.A.Look.density - n.B.Look.density
	if math.Abs(float64(diff)) < float64(alikeDensity) {
		n.Lies = "as heavy as each other: they stay where they are laid"
		return
	}
	n.Heavier, n.Lighter = n.A.Colour.Name, n.B.Colour.Name
	onTop, below := c.AOnB, c.BOnA
	if diff < 0 {
		n.Heavier, n.Lighter = n.Lighter, n.Heavier
		onTop, below = below, onTop
		diff = -diff
	}
	by := units.Fixed(float64(diff), 0) + " kg/m³"
	switch {
	case onTop > below:
		n.Lies = fmt.Sprintf("%s is heavier by %s and lies on %s: it sinks through and opens cells", n.Heavier, by, n.Lighter)
	case below > onTop:
		n.Lies = fmt.Sprintf("%s is lighter by %s and lies on top: it stays there", n.Lighter, by)
	default:
		n.Lies = fmt.Sprintf("%s is heavier by %s: it creeps under %s at the border", n.Heavier, by, n.Lighter)
	}
}

// judgeNeighbours says the gravest of what the pairs do.
func (p *Plan) judgeNeighbours() {
	for _, n := range p.Neighbours {
		if n.Weight != Settled && n.Meeting.Mud != colour.NoMud {
			p.say(PartColours, Mind, "", "%s and %s: %s", n.A.Colour.Name, n.B.Colour.Name, n.Verdict)
		}
	}
}

// Density returns the density of a mixed cup in kg/m³.
func (c CupPlan) Density() float64 { return float64(c.Look.density) }
