package plan

import (
	"math"
	"sync"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/composition"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
)

// A Neighbour is a pair of cups that touch on the board.
type Neighbour struct {
	A, B             Cup
	Border           units.Length
	Meeting          colour.Meeting
	Mixed            string // "#rrggbb" of equal parts as a film
	Weight           verdict.Weight
	Verdict          verdict.Diagnostic // what becomes of the colours
	Lies             verdict.Diagnostic // which sinks through which, or that they stay
	Stack            *Lying             // who lies on whom; nil side by side
	Heavier, Lighter string             // cups; "" when alike or not known
	OnTop            bool               // the heavier lies on the lighter
}

// Bounds of the words about neighbours (common practice).
const (
	faintLightDark = 12.0 // L* below which two neighbours read as one from afar
	faintColour    = 10.0 // and CIEDE2000
	alikeDensity   = units.Density(8)
)

// meetings remembers who meets whom: it takes a millisecond, hangs on no time,
// and not every reader asks.
type meetings struct {
	mu   sync.Mutex
	done map[int][]Neighbour
}

// Neighbours returns every pair of cups that touches in the coat at i.
func (p *Plan) Neighbours(i int) []Neighbour {
	p.meetings.mu.Lock()
	defer p.meetings.mu.Unlock()
	if found, ok := p.meetings.done[i]; ok {
		return found
	}
	if p.meetings.done == nil {
		p.meetings.done = map[int][]Neighbour{}
	}
	found := p.meet(&p.Coats[i])
	p.meetings.done[i] = found
	return found
}

func (p *Plan) meet(c *Coat) []Neighbour {
	if len(c.Cups) < 2 {
		return nil
	}
	var out []Neighbour
	for _, touch := range composition.NewCover(p.Boards[0], p.Sketch(c, 0)).Contacts() {
		a, b := c.Cup(touch.A), c.Cup(touch.B)
		if a == nil || b == nil {
			continue
		}
		n := Neighbour{A: *a, B: *b, Stack: c.lying(a, b, touch), Border: touch.Border,
			Meeting: colour.Meet(a.Look.Optics, b.Look.Optics, c.under, c.Film, p.Context.Surface)}
		n.Mixed = hex(n.Meeting.Mixed)
		n.judge(c)
		n.weigh(c)
		out = append(out, n)
	}
	return out
}

// judge says what becomes of the two colours where they meet.
func (n *Neighbour) judge(c *Coat) {
	m := n.Meeting
	args := verdict.Args{"a": n.A.Colour.Name, "b": n.B.Colour.Name, "apart": m.Apart, "difference": m.Difference,
		"light": m.LightDark}
	say := func(code verdict.Code, w verdict.Weight) {
		n.Weight, n.Verdict = w, verdict.Diagnostic{Code: code, Part: verdict.PartColours, Weight: w, Coat: c.ID, Args: args}
	}
	switch {
	case m.Mud == colour.Cancel:
		say(verdict.MudCancels, verdict.Mind)
	case m.Mud == colour.Swallow:
		say(verdict.MudSwallows, verdict.Mind)
	case m.LightDark < faintLightDark && m.Difference < faintColour:
		say(verdict.ReadAsOne, verdict.Mind)
	case m.Mud == colour.WashesIn:
		say(verdict.WashesPale, verdict.Settled)
	case m.LightDark < faintLightDark:
		say(verdict.PartByColour, verdict.Settled)
	default:
		say(verdict.PartWell, verdict.Settled)
	}
}

// weigh says which of the two is heavier and what that does as they were laid.
func (n *Neighbour) weigh(c *Coat) {
	say := func(code verdict.Code, args verdict.Args) {
		n.Lies = verdict.Diagnostic{Code: code, Part: verdict.PartColours, Weight: verdict.Settled, Coat: c.ID, Args: args}
	}
	if !n.A.Look.Weighed || !n.B.Look.Weighed {
		say(verdict.LieUnknown, verdict.Args{"a": n.A.Colour.Name, "b": n.B.Colour.Name})
		return
	}
	diff := n.A.Look.Density - n.B.Look.Density
	if math.Abs(float64(diff)) < float64(alikeDensity) {
		say(verdict.LieAlike, nil)
		return
	}
	heavy, light := n.A, n.B
	if diff < 0 {
		heavy, light, diff = light, heavy, -diff
	}
	n.Heavier, n.Lighter = heavy.Colour.ID, light.Colour.ID
	args := verdict.Args{"heavy": heavy.Colour.Name, "light": light.Colour.Name, "by": float64(diff)}
	switch {
	case n.Stack == nil:
		say(verdict.LieCreeps, args)
	case n.Stack.Upper.Colour.ID == heavy.Colour.ID:
		n.OnTop = true
		say(verdict.LieSinks, args)
	default:
		say(verdict.LieStays, args)
	}
}
