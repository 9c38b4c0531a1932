package colour

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Form is how a pigment comes and behaves.
type Form string

// The forms.
const (
	Paste       Form = "paste"
	Tint        Form = "tint"   // liquid, opaque or transparent
	Ink         Form = "ink"    // solvent; flammable while wet
	Mica        Form = "mica"   // shimmer powder; spreads, makes no cells
	MetalPowder Form = "metal"  // floated on top, lies like leaf
	Chrome      Form = "chrome" // liquid metal: chains and lacing when torched
	Acrylic     Form = "acrylic"
	Glow        Form = "glow"
	Glitter     Form = "glitter" // flakes, crushed glass, gems, shells
)

// A FormRule holds the properties shared by all pigments of a form. Load limits are by mass of
// mixed resin (common practice; the product's sheet rules).
type FormRule struct {
	Form      Form
	Name      msg.ID
	LoadLimit float64
	Spoon     units.Mass // a level teaspoon of a powder; 0 for a liquid (from memory)
	Floats    bool       // dusted on, not mixed in
	Strewn    bool       // shows as flakes, not as a colour of the cup
	Flammable bool       // while wet
	Effect    bool       // does more than colour: no recipe takes it that was not asked for it
	// Carrier is the density of what the solids of a liquid float in, Solids
	// their usual share of its mass (from memory); a powder is all solids.
	Carrier units.Density
	Solids  float64
	// What one is like until somebody measures it (from memory of usual ones): its scattering, as
	// [FromMasstone] takes it, 0 for a transparent one; how large its particles are and how heavy.
	Scatter  float64
	Particle units.Length
	Density  units.Density
	Behaves  msg.ID
}

// Forms holds the rules, in the order they are listed.
var Forms = []FormRule{
	{Form: Paste, Name: "paste", LoadLimit: 0.06, Carrier: 1100, Solids: 0.35, Scatter: 0.9,
		Particle: 0.5 * units.Micrometre, Density: 2800,
		Behaves: "Opaque and dense; it is their density that makes whites lace."},
	{Form: Tint, Name: "liquid tint", LoadLimit: 0.06, Carrier: 1100, Solids: 0.15, Scatter: 0.7,
		Particle: 0.3 * units.Micrometre, Density: 2500,
		Behaves: "Stirs in at once; opaque or transparent."},
	{Form: Ink, Name: "ink", LoadLimit: 0.04, Effect: true, Flammable: true, Carrier: 850, Solids: 0.08,
		Particle: 0.1 * units.Micrometre, Density: 1100,
		Behaves: "Transparent; flammable while wet."},
	{Form: Mica, Name: "mica powder", LoadLimit: 0.06, Effect: true, Spoon: 2.2, Solids: 1, Scatter: 0.3,
		Particle: 25 * units.Micrometre, Density: 3000,
		Behaves: "Shimmers and spreads; makes no cells."},
	{Form: MetalPowder, Name: "metal powder", LoadLimit: 0.06, Spoon: 8, Floats: true, Solids: 1, Scatter: 0.8,
		Particle: 20 * units.Micrometre, Density: 8500,
		Behaves: "Dusted on it stays up like leaf; mixed in it sinks."},
	{Form: Chrome, Name: "liquid metal", LoadLimit: 0.06, Effect: true, Flammable: true, Carrier: 950, Solids: 0.15,
		Scatter: 0.9, Particle: 12 * units.Micrometre, Density: 2700,
		Behaves: "Chains and laces when torched."},
	{Form: Acrylic, Name: "acrylic paint", LoadLimit: 0.05, Carrier: 1050, Solids: 0.2, Scatter: 0.5,
		Particle: 0.4 * units.Micrometre, Density: 2200,
		Behaves: "Brings water: keep it small."},
	{Form: Glow, Name: "glow powder", LoadLimit: 0.25, Effect: true, Spoon: 5, Solids: 1, Scatter: 0.05,
		Particle: 50 * units.Micrometre, Density: 3600,
		Behaves: "Heavy: 7 g a fluid ounce, and it sinks."},
	{Form: Glitter, Name: "glitter and flakes", LoadLimit: 0.06, Spoon: 4, Strewn: true, Solids: 1, Scatter: 0.1,
		Particle: 200 * units.Micrometre, Density: 1400,
		Behaves: "Very little goes a long way."},
}

// RuleOf returns the rule of a form.
func RuleOf(f Form) (FormRule, bool) {
	for _, r := range Forms {
		if r.Form == f {
			return r, true
		}
	}
	return FormRule{}, false
}

// clearResin is the absorption of unpigmented resin, in 1/mm (from memory: a
// water-clear epoxy).
const clearResin = 0.002

// FromMasstone returns the optics of a pigment at full strength (load 1) from
// the colour seen of a film so thick that it hides: S is scatter × 100, scatter
// in 1/mm for each per cent by mass, and K follows from (1 − R)²/2R.
func FromMasstone(swatch Spectrum, scatter float64, film Surface) (Optics, error) {
	if !(scatter > 0) || scatter > 1000 {
		return Optics{}, refusal.New("the scattering of an opaque pigment must be above zero")
	}
	o := Optics{S: Flat(scatter * 100)}
	for i, r := range film.In(swatch) {
		o.K[i] = o.S[i] * absorbed(math.Max(blackest, r))
	}
	return o, nil
}

// FromWash returns the optics of a transparent colour at full strength from
// how it is seen over the chart's white at a load and a film: all absorption.
func FromWash(swatch Spectrum, load float64, thick units.Length, film Surface) (Optics, error) {
	if !(load > 0) || load > 1 || !(thick > 0) {
		return Optics{}, refusal.New("a wash needs its load and its thickness")
	}
	var o Optics
	white := film.in(ChartWhite)
	for i, r := range film.In(swatch) {
		r = math.Max(0.002, math.Min(r, white))
		o.K[i] = math.Log(white/r) / (2 * float64(thick)) / load
	}
	return o, nil
}

// A Dose is a pigment's share of a cup by mass.
type Dose struct {
	Optics Optics // at full strength
	Load   float64
}

// Cup returns the optics of a cup of resin with the doses in it.
func Cup(doses []Dose) Optics {
	o := Optics{K: Flat(clearResin)}
	for _, d := range doses {
		o = o.Add(d.Optics, d.Load)
	}
	return o
}

// LoadToHide returns the load of the first dose, the others as they are, at
// which a film just hides (contrast 0.98), and false when even most does not.
func LoadToHide(doses []Dose, thick units.Length, most float64, s Surface) (float64, bool) {
	if len(doses) == 0 {
		return 0, false
	}
	hides := func(load float64) bool {
		trial := append([]Dose{{doses[0].Optics, load}}, doses[1:]...)
		return s.Contrast(Cup(trial), thick) >= 0.98
	}
	if !hides(most) {
		return most, false
	}
	return numeric.First(0, most, most*1e-12, hides), true
}
