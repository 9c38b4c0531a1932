package plan

import (
	"math"
	"slices"
	"sort"
	"strings"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
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
		if begin := out[i].Need - c.Product.MixMinutes; len(c.Batches) == 1 && out[i].Need > f.UseBy && begin > 0 {
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

// coloured is the minute a cup is first needed empty: when its batch is split and
// coloured, or when it is mixed later.
func (c *Coat) coloured(cup CupInOrder) float64 {
	if cup.Later > 0 {
		return cup.Later
	}
	for k, l := range c.Batches {
		for _, f := range l.Feeds {
			if f.Cup != cup.Colour.ID {
				continue
			}
			for _, s := range c.Fit.Steps {
				if s.Batch == k && (s.Colours || (c.Mixing == school.MixingCups && s.Mixes)) {
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
	for _, s := range c.Fit.Steps {
		if s.Pours && slices.ContainsFunc(s.Takes, func(t technique.Take) bool { return t.Cup == cup.Colour.ID }) {
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
	step       msg.Text
	at         float64
}

// A stretch is when a pouring step of the coat runs, all batches together.
type stretch struct {
	id       string
	name     msg.Text
	from, to float64
	takes    []technique.Take
}

// stretches are the pouring steps in order.
func (c *Coat) stretches() []stretch {
	var out []stretch
	for _, s := range c.Fit.Steps {
		if !s.Pours {
			continue
		}
		id := strings.Join(s.Moves, "+")
		if n := len(out); n > 0 && out[n-1].id == id {
			out[n-1].to = s.To
			continue
		}
		out = append(out, stretch{id, s.Name, s.From, s.To, s.Takes})
	}
	return out
}

// moments lays the things on the coat's clock: each while its cup is poured,
// beds when that begins, dividing lines halfway through it, the others one after
// the other, whites last. The things of a cup that pours several times are shared
// out among its moves in their order.
// Of a set they are those of the first board, which takes part of the step.
func (c *Coat) moments() []moment {
	pours := c.stretches()
	if len(pours) == 0 {
		return make([]moment, len(c.Things))
	}
	of := c.pouredIn(pours)
	count, seen := map[int]int{}, map[int]int{}
	for _, k := range of {
		count[k]++
	}
	out := make([]moment, len(c.Things))
	for _, i := range c.inOrder() {
		t := c.Things[i]
		k, pour := of[i], pours[of[i]]
		m := moment{t.ID, t.Cup, pour.name, pour.from}
		long := (pour.to - pour.from) * c.firstBoard
		switch r, _ := composition.RuleOf(t.Kind); {
		case r.Pours && r.Step == "":
			m.at += long * float64(seen[k]) / float64(count[k])
			seen[k]++
		case t.Kind == composition.Zone:
			m.at += long / 2
		}
		out[i] = m
	}
	return out
}

// pouredIn is the place of the pour that lays each thing; the last for a cup no
// move pours.
func (c *Coat) pouredIn(pours []stretch) []int {
	of := make([]int, len(c.Things))
	all, nth := map[string]int{}, map[string]int{}
	for _, t := range c.Things {
		all[t.Cup]++
	}
	for i, t := range c.Things {
		var in []int
		for k, p := range pours {
			if slices.ContainsFunc(p.takes, func(x technique.Take) bool { return x.Cup == t.Cup }) {
				in = append(in, k)
			}
		}
		if len(in) == 0 {
			of[i] = len(pours) - 1
			continue
		}
		of[i] = in[nth[t.Cup]*len(in)/all[t.Cup]]
		nth[t.Cup]++
	}
	return of
}

// inOrder are the places of the things as they are poured.
func (c *Coat) inOrder() []int {
	out := make([]int, len(c.Things))
	for i := range out {
		out[i] = i
	}
	rank := func(i int) int {
		r, _ := composition.RuleOf(c.Things[i].Kind)
		if col := c.Layer.Coat.Colour(c.Things[i].Cup); col != nil && col.Role == technique.White {
			return 2*r.Layer + 1
		}
		return 2 * r.Layer
	}
	slices.SortStableFunc(out, func(a, b int) int { return rank(a) - rank(b) })
	return out
}

// A Surplus is the possible leftover of a coat and its destination.
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

// Surplus calculates what is left of a coat: the batches are rounded up, and less
// may run off than is planned for.
func (p *Plan) Surplus(c *Coat) Surplus {
	mixed := units.Volume(0)
	for _, l := range c.Batches {
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
