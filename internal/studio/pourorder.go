package studio

import (
	"fmt"
	"math"
	"sort"

	"jevvo/internal/core/units"
	"jevvo/internal/exchange/cupsheet"
)

// A CupInOrder is one cup in the order it is coloured.
type CupInOrder struct {
	CupPlan
	Reuse string  // the cup whose vessel serves again; "" for a clean one
	Later float64 // minute to mix it, for one that would age before it is needed; 0 for at once
	UseBy float64 // minutes such a cup keeps
	Need  float64 // minute it is last poured
}

// InOrder returns the cups of a coat in the order to colour them: white first
// in a clean cup, then pale to dark, so that one vessel serves a family.
func (p Plan) InOrder(c CoatPlan) []CupInOrder {
	out := make([]CupInOrder, len(c.Cups))
	needs := p.needs(c)
	for i, cup := range c.Cups {
		out[i] = CupInOrder{CupPlan: cup, Need: needs[cup.Colour.ID]}
		if out[i].Need == 0 {
			out[i].Need = lastPour(c)
		}
		f, err := p.Kinetics.InCup(max(1, cup.A.Mass+cup.B.Mass), p.Piece.Room, p.Piece.Room)
		if err != nil {
			continue
		}
		out[i].UseBy = f.UseBy
		if begin := out[i].Need - p.Product.MixMinutes; out[i].Need > f.UseBy && begin > 0 {
			out[i].Later = begin
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].rank() > out[j].rank() })
	for i := range out {
		out[i].Reuse = reuse(out[:i], out[i])
	}
	return out
}

// rank is the lightness, with whites and clear before all.
func (c CupInOrder) rank() float64 {
	l := c.Look.over.Lab().L
	switch c.Colour.Role {
	case RoleClear:
		return 400 + l
	case RoleWhite:
		return 200 + l
	}
	return l
}

// sameFamily is how far apart hues may lie for one vessel to serve both
// (common practice, in degrees).
const sameFamily = 40

// reuse names the nearest earlier cup of the family whose vessel is free.
func reuse(earlier []CupInOrder, c CupInOrder) string {
	if c.Colour.Role == RoleWhite || c.Colour.Role == RoleClear {
		return ""
	}
	taken := map[string]bool{}
	for _, e := range earlier {
		taken[e.Reuse] = true
	}
	lab := c.Look.over.Lab()
	for i := len(earlier) - 1; i >= 0; i-- {
		e := earlier[i]
		if e.Colour.Role == RoleWhite || e.Colour.Role == RoleClear || taken[e.Colour.Name] {
			continue
		}
		other := e.Look.over.Lab()
		apart := math.Abs(math.Atan2(lab.B, lab.A)-math.Atan2(other.B, other.A)) * 180 / math.Pi
		apart = math.Min(apart, 360-apart)
		if apart <= sameFamily || other.Chroma() < 8 {
			return e.Colour.Name
		}
	}
	return ""
}

// needs returns the minute each cup is last poured, by the composition.
func (p Plan) needs(c CoatPlan) map[string]float64 {
	out := map[string]float64{}
	composed, err := p.Composition(c.Key)
	if err != nil {
		return out
	}
	for _, t := range composed.Things {
		out[t.Cup] = math.Max(out[t.Cup], t.At)
	}
	return out
}

func lastPour(c CoatPlan) float64 {
	last := 0.0
	for _, s := range c.Fit.Steps {
		if s.Pours {
			last = s.To
		}
	}
	return last
}

// A Surplus is what may be left over of a coat and what to have ready for it.
type Surplus struct {
	Least, Most units.Volume
	Ready       []SmallMould
}

// A SmallMould is a little thing set ready for what is left.
type SmallMould struct {
	Name   string
	Volume units.Volume
	Count  int
}

// Surplus reckons what is left of a coat: the lots are rounded up, and less
// may run off than is planned for.
func (p Plan) Surplus(c CoatPlan) Surplus {
	mixed := units.Volume(0)
	for _, s := range c.Stages {
		mixed += s.Volume
	}
	spare := max(0, mixed-c.Total) + c.Reserve
	s := Surplus{Least: spare, Most: spare}
	if !p.Piece.dammed() {
		run := c.Technique.RunOff
		stays := c.Amount.OnBoard()
		s.Most += stays/units.Volume(1-run.Usual) - stays/units.Volume(1-run.Low)
	}
	left := (s.Least + s.Most) / 2
	for _, m := range p.Settings.SmallMoulds() {
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

// CupRows are all cups of the piece for a spreadsheet.
func (p Plan) CupRows(pigments map[int64]Pigment) []cupsheet.Row {
	var out []cupsheet.Row
	for _, c := range p.Coats {
		for _, cup := range c.Cups {
			words := ""
			for _, d := range cup.Colour.Doses() {
				if words != "" {
					words += "; "
				}
				words += fmt.Sprintf("%s %s g", pigments[d.Pigment].Name, units.Fixed(float64(cup.A.Mass+cup.B.Mass)*d.Load, 2))
			}
			out = append(out, cupsheet.Row{Coat: c.Name, Cup: cup.Colour.Name, Role: string(cup.Colour.Role), Share: cup.Share,
				Volume: float64(cup.Volume), A: float64(cup.A.Mass), B: float64(cup.B.Mass), AVolume: float64(cup.A.Volume), BVolume: float64(cup.B.Volume),
				Dye: float64(cup.Pigment), Pigments: words, Swatch: cup.Swatch()})
		}
	}
	return out
}

// A CupDose is one pigment of a cup with its mass.
type CupDose struct {
	Pigment int64
	Mass    units.Mass
}

// Doses returns the pigments of the cup with what they weigh in it.
func (c CupPlan) Doses() []CupDose {
	var out []CupDose
	for _, d := range c.Colour.Doses() {
		out = append(out, CupDose{d.Pigment, (c.A.Mass + c.B.Mass) * units.Mass(d.Load)})
	}
	return out
}
