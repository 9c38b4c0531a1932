package plan

import (
	"math"
	"slices"
	"sort"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A CupInOrder is one cup in the order it is coloured.
type CupInOrder struct {
	Cup
	Reuse string  // the cup whose vessel serves again; "" for a clean one
	Later float64 // minute to mix it, for one that would age before it is needed; 0 for at once
	UseBy float64 // minutes such a cup keeps
	Need  float64 // minute it is last poured
}

// InOrder returns the cups of a coat in the order to colour them: white first
// in a clean cup, then pale to dark, so that one vessel serves a family.
func (p *Plan) InOrder(c *Coat) []CupInOrder {
	out := make([]CupInOrder, len(c.Cups))
	for i, cup := range c.Cups {
		out[i] = CupInOrder{Cup: cup, Need: c.Need(cup)}
		f, err := c.Product.Kinetics.InCup(max(1, cup.Resin()), c.Room, c.Room)
		if err != nil {
			continue
		}
		out[i].UseBy = f.UseBy
		if begin := out[i].Need - c.Product.MixMinutes; len(c.Lots) == 1 && out[i].Need > f.UseBy && begin > 0 {
			out[i].Later = begin
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].rank() > out[j].rank() })
	for i := range out {
		out[i].Reuse = reuse(out[:i], out[i], c.coloured(out[i]))
	}
	return out
}

// rank is the lightness, with whites and clear before all.
func (c CupInOrder) rank() float64 {
	l := c.Look.Over.Lab().L
	rule := c.Colour.Role.Rule()
	switch {
	case !rule.Tints:
		return 400 + l
	case rule.Clean:
		return 200 + l
	}
	return l
}

// sameFamily is how far apart hues may lie for one vessel to serve both
// (common practice, in degrees).
const sameFamily = 40

// coloured is the minute a cup is first needed empty: when its lot is split and
// coloured, or when it is mixed later.
func (c *Coat) coloured(cup CupInOrder) float64 {
	if cup.Later > 0 {
		return cup.Later
	}
	for k, l := range c.Lots {
		for _, f := range l.Feeds {
			if f.Cup != cup.Colour.ID {
				continue
			}
			for _, s := range c.Fit.Steps {
				if s.Lot == k && (s.Colours || (c.Mixing == MixingCups && s.Mixes)) {
					return s.From
				}
			}
		}
	}
	return 0
}

// reuse names the nearest earlier cup of the family whose vessel is free by the
// minute.
func reuse(earlier []CupInOrder, c CupInOrder, by float64) string {
	if c.Colour.Role.Rule().Clean {
		return ""
	}
	taken := map[string]bool{}
	for _, e := range earlier {
		taken[e.Reuse] = true
	}
	lab := c.Look.Over.Lab()
	for _, e := range slices.Backward(earlier) {
		if e.Colour.Role.Rule().Clean || taken[e.Colour.Name] || e.Need > by {
			continue // still full
		}
		other := e.Look.Over.Lab()
		apart := math.Abs(math.Atan2(lab.B, lab.A)-math.Atan2(other.B, other.A)) * 180 / math.Pi
		apart = math.Min(apart, 360-apart)
		if apart <= sameFamily || other.Chroma() < 8 {
			return e.Colour.Name
		}
	}
	return ""
}

// Need returns the minute a cup is last poured: when the last of its things is
// laid, or when the step that empties it ends.
func (c *Coat) Need(cup Cup) float64 {
	need := 0.0
	for _, m := range c.moments() {
		if m.cup == cup.Colour.ID {
			need = math.Max(need, m.at)
		}
	}
	if need > 0 {
		return need
	}
	if cup.Colour.ID == reserveCup {
		return c.Fit.LastPour()
	}
	place, pour := c.Technique.PourOf(cup.Colour.Role), -1
	last := ""
	for _, s := range c.Fit.Steps {
		if !s.Pours {
			continue
		}
		if s.Name != last {
			pour, last = pour+1, s.Name
		}
		if pour == place {
			need = s.To
		}
	}
	if need == 0 {
		need = c.Fit.LastPour()
	}
	return need
}

// A moment is when a thing of the composition is laid.
type moment struct {
	thing, cup string
	step       string
	at         float64
}

// moments lays the things on the coat's clock: beds when the bed is spread,
// dividing lines halfway through it, the others one after the other while the
// technique pours, whites last.
// Of a set they are those of the first board, which takes part of the step.
func (c *Coat) moments() []moment {
	part := c.firstBoard
	var bedFrom, bedTo, from, to float64
	bed, last := "", ""
	for _, s := range c.Fit.Steps {
		if !s.Pours {
			continue
		}
		if bed == "" {
			bedFrom, bed = s.From, s.Name
		}
		if s.Name == bed {
			bedTo = s.To
		}
		if s.Name != last {
			from, last = s.From, s.Name
		}
		to = s.To
	}
	var order []composition.Thing
	for _, t := range c.Things {
		if r, _ := composition.RuleOf(t.Kind); r.Pours && r.Step == "" {
			order = append(order, t)
		}
	}
	rank := func(t composition.Thing) int {
		r, _ := composition.RuleOf(t.Kind)
		if col := c.Layer.Coat.Colour(t.Cup); col != nil && col.Role == technique.White {
			return 2*r.Layer + 1
		}
		return 2 * r.Layer
	}
	slices.SortStableFunc(order, func(a, b composition.Thing) int { return rank(a) - rank(b) })
	var out []moment
	for _, t := range c.Things {
		m := moment{t.ID, t.Cup, bed, bedFrom}
		if k := slices.IndexFunc(order, func(o composition.Thing) bool { return o.ID == t.ID }); k >= 0 {
			m.step, m.at = last, from+(to-from)*part*float64(k)/float64(len(order))
		} else if t.Kind == composition.Zone {
			m.at = bedFrom + (bedTo-bedFrom)*part/2
		}
		out = append(out, m)
	}
	return out
}

// A Surplus is what may be left over of a coat and what to have ready for it.
type Surplus struct {
	Least, Most units.Volume
	Ready       []SmallMould
}

// scrap is what no mould is kept ready for.
const scrap units.Volume = 1

// Any reports whether it may be worth having a mould ready.
func (s Surplus) Any() bool { return s.Most > scrap }

// UpTo reports that nothing may be left as well.
func (s Surplus) UpTo() bool { return s.Least < scrap }

// Surplus reckons what is left of a coat: the lots are rounded up, and less
// may run off than is planned for.
func (p *Plan) Surplus(c *Coat) Surplus {
	mixed := units.Volume(0)
	for _, l := range c.Lots {
		mixed += l.Volume
	}
	spare := max(0, mixed-c.Total) + c.Reserve
	s := Surplus{Least: spare, Most: spare}
	if !p.Spec.Dammed() {
		run := c.Technique.RunOff
		stays := c.Amount.OnBoard()
		s.Most += stays/units.Volume(1-run.Usual) - stays/units.Volume(1-run.Low)
	}
	left := (s.Least + s.Most) / 2
	for _, m := range p.Context.Moulds {
		for left >= m.Volume*0.8 && m.Count < 6 {
			m.Count++
			left -= m.Volume
		}
		if m.Count > 0 {
			s.Ready = append(s.Ready, m)
		}
	}
	return s
}
