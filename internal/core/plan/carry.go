package plan

import (
	"math"
	"slices"

	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// CarryKind is the kind of a step's load.
type CarryKind string

// The kinds.
const (
	CarryParts    CarryKind = "parts"    // A and B of a batch
	CarryWarm     CarryKind = "warm"     // bottles that stood in warm water
	CarryMachine  CarryKind = "machine"  // minutes of the mixing machine
	CarryPigment  CarryKind = "pigment"  // into a cup
	CarrySilicone CarryKind = "silicone" // drops into a cup
	CarryPour     CarryKind = "pour"     // out of a cup
	CarryMaterial CarryKind = "material" // laid on
	CarryTape     CarryKind = "tape"     // sides in their order
	CarryKeep     CarryKind = "keep"     // a part of a cup for later
	CarryWhere    CarryKind = "where"    // on the board
)

// A Carry is one amount a step of the day takes, for paper and bench alike: what
// was chosen for the coat stands where it is done.
type Carry struct {
	Kind     CarryKind
	Cup      string // name
	Pigment  material.Pigment
	Batch    resin.Batch
	Mass     units.Mass
	Volume   units.Volume
	Drops    int
	Minutes  float64
	Warm     units.Temperature
	Material Material
	Sides    []Compass
	Place    technique.Place
	Where    string // in the painter's words
}

// Carries returns what a step of a coat takes.
func (p *Plan) Carries(c *Coat, s Step) []Carry {
	var out []Carry
	switch {
	case s.Kind == StepMix && s.Batch >= 0 && s.Batch < len(c.Batches):
		out = p.mixes(c, c.Batches[s.Batch])
	case s.Doses:
		out = p.coloursOf(c, s.Batch)
	case s.Kind == StepTape:
		out = append(out, Carry{Kind: CarryTape, Sides: TapeOrder(c.Layer.Coat.TapeFirst)})
	}
	if s.Pours {
		for _, t := range c.Pourings(s) {
			out = append(out, Carry{Kind: CarryPour, Cup: c.Cup(t.Cup).Colour.Name, Volume: t.Volume})
		}
	}
	for _, m := range c.Materials {
		if amount := c.laidBy(s, m); amount > 0 {
			m.Amount = amount
			out = append(out, Carry{Kind: CarryMaterial, Material: m})
		}
	}
	if s.Place != "" || s.Where != "" {
		out = append(out, Carry{Kind: CarryWhere, Place: s.Place, Where: s.Where})
	}
	return out
}

// Colours returns what goes into the cups of the batch at i of a coat.
func (p *Plan) Colours(c *Coat, i int) []Carry { return p.coloursOf(c, i) }

// mixes is the content of a batch.
func (p *Plan) mixes(c *Coat, l Batch) []Carry {
	out := []Carry{{Kind: CarryParts, Batch: resin.Batch{A: l.A, B: l.B}, Volume: l.Volume}}
	if w, warm := c.Warmed(); warm {
		out = append(out, Carry{Kind: CarryWarm, Warm: w.Start})
	}
	if c.Layer.Coat.Machine && p.Context.Machine > 0 {
		out = append(out, Carry{Kind: CarryMachine, Minutes: p.Context.Machine})
	}
	return out
}

// coloursOf is the pigments of a batch's cups; of all of them where batch is −1.
func (p *Plan) coloursOf(c *Coat, batch int) []Carry {
	var out []Carry
	for _, cup := range c.Cups {
		part := 1.0
		if batch >= 0 && batch < len(c.Batches) {
			part = c.Batches[batch].partOf(cup)
		}
		if part <= 0 {
			continue
		}
		for _, d := range cup.Doses() {
			pigment := p.Context.Pigments[d.Pigment]
			out = append(out, Carry{Kind: CarryPigment, Cup: cup.Colour.Name, Pigment: pigment, Mass: d.Mass * units.Mass(part)})
		}
		if n := c.SiliconeIn(cup); n > 0 {
			out = append(
				out,
				Carry{Kind: CarrySilicone, Cup: cup.Colour.Name, Drops: int(math.Max(1, math.Round(float64(n)*part)))},
			)
		}
	}
	return out
}

// partOf is the part of a cup that comes from the batch.
func (l Batch) partOf(cup Cup) float64 {
	for _, f := range l.Feeds {
		if f.Cup == cup.Colour.ID && cup.Volume > 0 {
			return float64(f.Volume / cup.Volume)
		}
	}
	return 0
}

// A Pouring is the volume a step pours of a cup.
type Pouring struct {
	Cup    string // id
	Volume units.Volume
}

// Pourings is the volume a step pours of each cup.
func (c *Coat) Pourings(s Step) []Pouring {
	var out []Pouring
	for _, t := range c.consumption(s) {
		cup := c.Cup(t.Cup)
		if cup == nil {
			continue
		}
		v := cup.Volume * units.Volume(t.Part)
		if s.Batch >= 0 && s.Batch < len(c.Batches) {
			v = min(v, cup.Volume*units.Volume(c.Batches[s.Batch].partOf(*cup)))
		}
		if v > 0 {
			out = append(out, Pouring{cup.Colour.ID, v})
		}
	}
	return out
}

// consumption is the cups of a step with the parts it pours.
func (c *Coat) consumption(s Step) []technique.Take {
	for _, t := range c.Fit.Steps {
		if t.Pours && slices.Equal(t.Moves, s.Moves) {
			return t.Takes
		}
	}
	return nil
}

// laidBy is how much of a material a step lays on: what its own move says, else its
// part of all there is.
func (c *Coat) laidBy(s Step, m Material) float64 {
	if !slices.Contains(s.Adds, m.ID) {
		return 0
	}
	for _, l := range s.Laid {
		if l.Material == m.ID && l.Amount > 0 {
			return l.Amount
		}
	}
	amount, steps := m.Amount, 0
	for _, t := range c.Technique.Steps {
		said := slices.IndexFunc(t.Laid, func(l technique.Laid) bool { return l.Material == m.ID && l.Amount > 0 })
		switch {
		case said >= 0:
			amount -= t.Laid[said].Amount
		case slices.Contains(t.Adds, m.ID):
			steps++
		}
	}
	return max(0, amount) / float64(max(1, steps))
}

// TapeOrder is the order in which the sides of a tape or a dam come off: the first,
// then the one across, so that what drifts stays on one axis, the other two last
// (common practice).
func TapeOrder(first Compass) []Compass {
	at := slices.Index(Sides, first)
	if at < 0 {
		return nil
	}
	side := func(n int) Compass { return Sides[(at+n)%len(Sides)] }
	return []Compass{side(0), side(2), side(1), side(3)}
}
