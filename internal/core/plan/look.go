package plan

import (
	"math"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// A Look is the appearance of a cup as a film on what lies under it, and how well
// it hides that. The mistake everyone makes is to judge the cup: the stick
// vanishes in 50 mm, and the ground shows through 1.6.
type Look struct {
	Known    bool   // its pigments are among the materials, or it is clear
	Film     string // "#rrggbb" over what lies under it at the coat's film
	Deep     string // the same cup 50 mm deep
	Contrast float64
	Hiding   colour.Hiding
	Used     float64 // of the load limits, all pigments together; 1 is the most
	Limit    float64 // load limit of the first pigment
	// ToHide is the load of the first pigment at which the film hides; 0 when no
	// allowed load does.
	ToHide float64
	// Drops and Grams are what is missing until it hides, in this cup.
	Drops     int
	Grams     units.Mass
	Flammable bool
	Optics    colour.Optics
	Over      colour.Spectrum // the film on what lies under it, inside it
	Density   units.Density   // of the mixed cup
	Weighed   bool            // its density is known: every pigment is among the materials
}

// cupDepth is how deep a cup is when people judge it (common practice).
const cupDepth = 50 * units.Millimetre

// UsualLoadLimit is the most pigment by mass that does not harm the cure, for a
// colour known only by its swatch (common practice for pastes and tints).
const UsualLoadLimit = 0.06

// setLooks calculates the look of every cup on what lies under it: its coat's bed where
// there is one, else the ground under the first coat and the widest colour of
// the coat below under the others.
func (p *Plan) setLooks() {
	under := p.ground(p.Spec.Ground)
	for i := range p.Coats {
		c := &p.Coats[i]
		c.under = under
		p.lie(c)
		on := under
		if c.bed >= 0 {
			bed := &c.Cups[c.bed]
			bed.Look = p.look(c, *bed, under)
			on = bed.Look.Over
		}
		widest := -1
		for j := range c.Cups {
			cup := &c.Cups[j]
			if j != c.bed {
				cup.Look = p.look(c, *cup, on)
			}
			if cup.Colour.ID != reserveCup && (widest < 0 || cup.Share > c.Cups[widest].Share) {
				widest = j
			}
		}
		if widest >= 0 {
			under = c.Cups[widest].Look.Over
		}
	}
}

// reflectance is that of a swatch; a swatch that cannot be read is a middle
// grey, so that a drawing never fails.
func (p *Plan) reflectance(hex string) colour.Spectrum {
	s, err := p.Context.Spectra.Reflectance(hex)
	if err != nil {
		return colour.Flat(0.2)
	}
	return s
}

// ground is the reflectance of a swatch inside the resin on it.
func (p *Plan) ground(hex string) colour.Spectrum { return p.Context.Surface.In(p.reflectance(hex)) }

// On returns what a cup of the coat lies on, inside the resin: the bed where
// there is one, what the coat is poured on otherwise.
func (c *Coat) On(cup *Cup) colour.Spectrum {
	if c.bed >= 0 && cup.Colour.ID != c.Cups[c.bed].Colour.ID {
		return c.Cups[c.bed].Look.Over
	}
	return c.under
}

// Under returns what the coat is poured on, inside the resin.
func (c *Coat) Under() colour.Spectrum { return c.under }

// A mixed dose is one pigment of a cup with its optics and its bounds.
type mixed struct {
	colour.Dose
	limit float64
	owned *material.Pigment // nil for one that is not among the materials
}

// doses returns what a cup of a colour does to light, pigment by pigment. One
// that is not among the materials is taken for a usual paste of the cup's swatch.
func (p *Plan) doses(c Colour) []mixed {
	var out []mixed
	for _, d := range c.Doses() {
		owned, ok := p.Context.Pigments[d.Pigment]
		if ok && !owned.Unseen {
			out = append(out, mixed{colour.Dose{Optics: owned.Full, Load: d.Load}, owned.LoadLimit, &owned})
			continue
		}
		if o, err := p.usualOptics(c.Swatch); err == nil {
			limit := UsualLoadLimit
			if ok {
				limit = owned.LoadLimit
			}
			out = append(out, mixed{colour.Dose{Optics: o, Load: d.Load}, limit, nil})
		}
	}
	if tints := c.Role.Rule().Tints; tints && len(out) == 0 { // no pigment chosen yet: as a usual paste of its swatch
		if o, err := p.usualOptics(c.Swatch); err == nil {
			load := UsualLoad(material.Usual(colour.Paste, c.Swatch), c.Role)
			out = append(out, mixed{colour.Dose{Optics: o, Load: load}, UsualLoadLimit, nil})
		}
	}
	return out
}

// usualOptics are those of a usual paste that looks like a swatch.
func (p *Plan) usualOptics(swatch string) (colour.Optics, error) {
	return colour.FromMasstone(p.reflectance(swatch), material.Usual(colour.Paste, swatch).Scatter, p.Context.Surface)
}

func plain(doses []mixed) []colour.Dose {
	out := make([]colour.Dose, len(doses))
	for i, d := range doses {
		out[i] = d.Dose
	}
	return out
}

// look calculates one cup of a coat, at the film it lies in and on what is there.
func (p *Plan) look(c *Coat, cup Cup, on colour.Spectrum) Look {
	doses := p.doses(cup.Colour)
	l := Look{Known: true, Weighed: true, Density: p.density(c, cup.Colour), Optics: colour.Cup(plain(doses)),
		Limit: UsualLoadLimit}
	loads, limits := make([]float64, len(doses)), make([]float64, len(doses))
	for i, d := range doses {
		loads[i], limits[i] = d.Load, d.limit
		l.Known, l.Weighed = l.Known && d.owned != nil, l.Weighed && d.owned != nil
		l.Flammable = l.Flammable || (d.owned != nil && d.owned.Flammable)
	}
	tints := cup.Colour.Role.Rule().Tints
	l.Known = l.Known && (len(doses) > 0 || !tints)
	l.Over = l.Optics.Over(on, cup.Film)
	l.Film = p.seen(l.Over)
	if !l.Known {
		l.Film = cup.Colour.Swatch
	}
	l.Deep = p.seen(l.Optics.Over(p.Context.Surface.In(colour.Flat(colour.ChartWhite)), cupDepth))
	if len(doses) == 0 {
		return l
	}
	l.Limit, l.Used = limits[0], colour.LoadUsed(loads, limits)
	l.Contrast = p.Context.Surface.Contrast(l.Optics, cup.Film)
	l.Hiding = colour.HidingOf(l.Contrast)
	if !l.Known || l.Hiding == colour.Opaque {
		return l
	}
	room := loads[0] + limits[0]*max(0, 1-l.Used) // what the limits still allow of the first
	if load, ok := colour.LoadToHide(plain(doses), cup.Film, room, p.Context.Surface); ok {
		l.ToHide = load
		l.Grams = cup.Resin() * units.Mass(load-loads[0])
		if drop := doses[0].owned.DropMass(); drop > 0 { // never another pigment's drops
			l.Drops = int(math.Ceil(float64(l.Grams / drop)))
		}
	}
	return l
}

// density is that of a mixed cup with its pigments.
func (p *Plan) density(c *Coat, col Colour) units.Density {
	w, rho := []float64{1}, []units.Density{c.Product.Density()}
	for _, d := range col.Doses() {
		if owned, ok := p.Context.Pigments[d.Pigment]; ok {
			w, rho = append(w, d.Load), append(rho, owned.Added())
		}
	}
	return units.MixedDensity(w, rho)
}

// seen is the colour of a film as it is looked at.
func (p *Plan) seen(inside colour.Spectrum) string { return hex(p.Context.Surface.Out(inside)) }

func hex(s colour.Spectrum) string { return s.XYZ().RGB().Hex() }

// Swatch is the truest colour known of the cup: the film where it is known, the
// bottle's otherwise.
func (c Cup) Swatch() string { return c.Look.Film }

// Percent returns the contrast ratio in per cent.
func (c Cup) Percent() float64 { return 100 * c.Look.Contrast }

// Cup returns the planned cup of a colour, nil when the coat pours none.
func (c *Coat) Cup(id string) *Cup {
	for i := range c.Cups {
		if c.Cups[i].Colour.ID == id {
			return &c.Cups[i]
		}
	}
	return nil
}

// Fills returns how each cup of the coat is drawn.
func (c *Coat) Fills() map[string]string {
	out := map[string]string{}
	for _, col := range c.Layer.Coat.Colours {
		out[col.ID] = col.Swatch
	}
	for _, cup := range c.Cups {
		out[cup.Colour.ID] = cup.Swatch()
	}
	return out
}

// Widest is the colour the piece is known by: the widest of its first coat.
func (p *Plan) Widest() string {
	best, swatch := -1.0, "#888888"
	if len(p.Coats) == 0 {
		return swatch
	}
	for _, c := range p.Coats[0].Cups {
		if c.Share > best {
			best, swatch = c.Share, c.Swatch()
		}
	}
	return swatch
}

// hasRole reports whether the coat pours a cup of the role.
func (c *Coat) hasRole(r technique.Role) bool {
	for _, cup := range c.Cups {
		if cup.Colour.Role == r && cup.Colour.ID != reserveCup {
			return true
		}
	}
	return false
}
