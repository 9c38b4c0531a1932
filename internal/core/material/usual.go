package material

import (
	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
)

// A usualPaste is what pastes of a range of lightness are made of.
type usualPaste struct {
	from     float64 // L* of its swatch
	grey     bool    // of those without much hue only
	scatter  float64 // 1/mm a per cent by mass
	particle units.Length
	density  units.Density
	solids   float64
}

// usualPastes go from the lightest down (from memory of usual ones). Titanium dioxide scatters more
// than all else and is by far the heaviest; soot and deep organic colours are light and absorb.
var usualPastes = []usualPaste{
	{from: 85, grey: true, scatter: 3.0, particle: 0.3 * units.Micrometre, density: 4200, solids: 0.5}, // titanium white
	{from: 70, scatter: 1.0, particle: 0.4 * units.Micrometre, density: 3600, solids: 0.38},            // much white in it
	{from: 25, scatter: 0.9, particle: 0.5 * units.Micrometre, density: 2800, solids: 0.35},
	{from: 0, scatter: 0.5, particle: 0.1 * units.Micrometre, density: 1800, solids: 0.2},
}

// greyBelow is the chroma C*ab under which a colour is taken for a white, grey or black.
const greyBelow = 20

// Usual is a pigment as one of its form and swatch usually is: how well it covers, how heavy it is,
// how much a cup may take. A swatch that cannot be read, or an unknown form, is that of a grey paste.
func Usual(form colour.Form, swatch string) Pigment {
	rule, ok := colour.RuleOf(form)
	if !ok {
		rule, _ = colour.RuleOf(colour.Paste)
	}
	rgb, err := colour.ParseHex(swatch)
	if err != nil {
		swatch = "#5a6a72"
		rgb, _ = colour.ParseHex(swatch)
	}
	p := Pigment{Form: rule.Form, Swatch: swatch, Clear: rule.Scatter == 0, Scatter: rule.Scatter, Drop: units.Drop,
		Spoon: rule.Spoon, LoadLimit: rule.LoadLimit, Particle: rule.Particle, Density: rule.Density, Solids: rule.Solids,
		Flammable: rule.Flammable, Light: 7, Content: 50}
	if rule.Form == colour.Paste {
		p.asPaste(rgb.XYZ().Lab())
	}
	if p.Clear {
		p.Scatter = 0.9 // once it is made opaque by hand
	}
	if p.Liquid = p.Density; p.Spoon == 0 {
		p.Liquid = Bottled(p.Solids, p.Density, rule.Carrier)
	}
	return p
}

func (p *Pigment) asPaste(seen colour.Lab) {
	for _, u := range usualPastes {
		if seen.L >= u.from && (!u.grey || seen.Chroma() < greyBelow) {
			p.Scatter, p.Particle, p.Density, p.Solids = u.scatter, u.particle, u.density, u.solids
			return
		}
	}
}
