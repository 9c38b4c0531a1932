package material

import (
	"fmt"
	"math"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Pigment is a colour the studio owns.
type Pigment struct {
	ID      int64 `json:"-"`
	Rev     int64 `json:"-"`
	Retired bool  `json:"-"`

	Name   string
	Maker  string // the group pigments of one maker share, for predictable flow
	Form   colour.Form
	Swatch string
	Clear  bool // transparent: a tint or ink without scattering

	Scatter   float64         // 1/mm for each per cent by mass, of an opaque one
	Drop      units.Volume    // of its bottle
	Spoon     units.Mass      // a level teaspoon; 0 for a liquid
	LoadLimit float64         // by mass of mixed resin
	Particle  units.Length    // across
	Density   units.Density   // of the particle, which only sinking goes by
	Liquid    units.Density   // of the bottle's content
	Solids    float64         // by mass of the bottle's content; 1 for a powder
	Flammable bool            // while wet
	Light     int             // fastness, 1 fugitive to 8 excellent (blue wool scale)
	Price     decimal.Decimal // of a bottle
	Content   units.Mass      // of a new bottle
	Supplier  string          // whom it is bought from
	LeadDays  int             // until it comes
	Solved    *colour.Optics  // from a drawdown, at full strength; nil: from the swatch
	// Full is K and S at full strength, calculated when the pigment is read.
	Full colour.Optics `json:"-"`
	// Unseen says that nobody knows what it looks like: its cups are drawn by their
	// swatches, and nothing is said of what they hide.
	Unseen bool `json:"-"`
}

// WashLoad and WashFilm are where a transparent colour shows its swatch over
// white: a usual dose in a usual film (common practice).
const (
	WashLoad = 0.02
	WashFilm = 1.6 * units.Millimetre
)

// Optical returns the pigment with its optics calculated: from its drawdown, else
// from its swatch as a film of the surface shows it, a wash over white when it
// is transparent, a masstone otherwise.
func (p Pigment) Optical(spectra *colour.Memo, film colour.Surface) (Pigment, error) {
	if p.Solved != nil {
		p.Full = *p.Solved
		return p, nil
	}
	s, err := spectra.Reflectance(p.Swatch)
	if err != nil {
		return p, fmt.Errorf("the swatch of %q: %w", p.Name, err)
	}
	if p.Clear {
		p.Full, err = colour.FromWash(s, WashLoad, WashFilm, film)
	} else {
		p.Full, err = colour.FromMasstone(s, p.Scatter, film)
	}
	return p, err
}

// DropMass returns what a drop of a liquid pigment weighs, 0 for a powder.
func (p Pigment) DropMass() units.Mass {
	if p.Spoon > 0 {
		return 0
	}
	return p.Drop.Weighing(p.Liquid)
}

// Added returns the density of what goes into the cup: the bottle's content, or
// the powder itself.
func (p Pigment) Added() units.Density {
	if p.Spoon > 0 {
		return p.Density
	}
	return p.Liquid
}

// Filled returns the pigment with the share of solids that an older entry does
// not say: what its densities come to, or that of its form with the bottle's
// density calculated from it when that was never weighed.
func (p Pigment) Filled() Pigment {
	rule, _ := colour.RuleOf(p.Form)
	switch {
	case p.Solids > 0:
	case p.Spoon > 0:
		p.Solids = 1
	case p.Liquid == unweighed:
		p.Solids = rule.Solids
		p.Liquid = Bottled(p.Solids, p.Density, rule.Carrier)
	default:
		p.Solids = SolidsOf(p.Liquid, p.Density, rule.Carrier)
	}
	return p
}

// unweighed is the density every bottle was once entered with.
const unweighed units.Density = 1200

// Bottled returns the density of a liquid with a share of solids by mass.
func Bottled(solids float64, solid, carrier units.Density) units.Density {
	return units.MixedDensity([]float64{solids, 1 - solids}, []units.Density{solid, carrier})
}

// SolidsOf returns the share of solids by mass that a bottle's density speaks
// of, by volume φ = (ρ_bottle − ρ_carrier)/(ρ_solid − ρ_carrier).
func SolidsOf(bottle, solid, carrier units.Density) float64 {
	if solid <= carrier || bottle <= carrier {
		return 0
	}
	phi := float64((bottle - carrier) / (solid - carrier))
	return min(1, phi*float64(solid/bottle))
}

// A Doubt is something about a pigment that does not fit together.
type Doubt string

// The doubts.
const (
	DoubtSolids Doubt = "solids" // its densities speak of another share of solids
	DoubtStrong Doubt = "strong" // hides more than so little solid can
	DoubtFits   Doubt = ""
)

// Bounds of the doubts (from memory): how far the shares of solids may be
// apart, and the scattering a per cent of the best white gives, in 1/mm.
const (
	solidsApart   = 0.15
	mostScatter   = 12.0
	strongestSeen = 0.01 // below which share no paste hides
)

// Doubt says whether the bottle's density, its solids and its hiding strength
// fit each other.
func (p Pigment) Doubt() Doubt {
	rule, _ := colour.RuleOf(p.Form)
	if p.Spoon > 0 || p.Solids <= 0 {
		return DoubtFits
	}
	switch {
	case math.Abs(SolidsOf(p.Liquid, p.Density, rule.Carrier)-p.Solids) > solidsApart:
		return DoubtSolids
	case !p.Clear && (p.Solids < strongestSeen || p.Scatter/p.Solids > mostScatter):
		return DoubtStrong
	}
	return DoubtFits
}

// SpokenSolids is the share of solids its densities speak of.
func (p Pigment) SpokenSolids() float64 {
	rule, _ := colour.RuleOf(p.Form)
	return SolidsOf(p.Liquid, p.Density, rule.Carrier)
}

// FormName returns the form in words.
func (p Pigment) FormName() msg.ID {
	r, _ := colour.RuleOf(p.Form)
	return r.Name
}

// Behaves says what to expect of the form.
func (p Pigment) Behaves() msg.ID {
	r, _ := colour.RuleOf(p.Form)
	return r.Behaves
}

// ParticleMicrons returns the particle's size in µm.
func (p Pigment) ParticleMicrons() float64 { return float64(p.Particle / units.Micrometre) }
