package plan

import (
	"fmt"
	"math"
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Context is what a studio brings to a plan. It is loaded once and not
// changed; plans keep a pointer to it.
type Context struct {
	Calendar  calendar.Calendar
	Room      units.Temperature
	Night     units.Temperature // of the shut studio; 0 for as by day
	ScaleStep units.Mass
	JugStep   units.Volume
	Jug       units.Volume // largest mixing cup; 0 for the usual one
	Measured  *Measured    // what the room does, where that is known; nil for as the calendar says
	CupLoss   units.Volume
	Moulds    []SmallMould
	Schools   Schools
	Products  map[int64]Product
	Pigments  map[int64]Pigment
	Book      technique.Book
	Learned   map[string]History                   // by technique
	Paces     map[string]map[string]technique.Pace // by technique and step
	Spectra   *colour.Memo
	Surface   colour.Surface // of a finished film, as it is looked at
	Humidity  float64        // of the room's air, 0 to 1; 0 where nobody knows
	People    int            // at the bench; 0 is one
	Machine   float64        // minutes a mixing machine takes; 0 for none
	Own       Calibration    // of forecasts, by this studio's results
}

// Measured is a room's temperature along the time from a moment on.
type Measured struct {
	From time.Time
	Room cure.Room
}

// At is the room as a coat has it whose parts meet at a moment.
func (m Measured) At(met time.Time) cure.Room { return m.Room.Since(met.Sub(m.From).Minutes()) }

// Calibration is by how much this studio's coats differ from what is reckoned; 0 for
// as reckoned.
type Calibration struct {
	Spacing float64 `json:",omitempty"` // how far apart cells are, times
	Seen    float64 `json:",omitempty"` // when they are first seen, times
}

// Factor is a calibration as a factor.
func Factor(v float64) float64 {
	if v <= 0 {
		return 1
	}
	return v
}

// A SmallMould is a little thing set ready for what is left.
type SmallMould struct {
	Name   string
	Volume units.Volume
	Count  int
}

// A Product is a resin on the studio's shelf: its data sheet and what the
// studio knows about it.
type Product struct {
	ID      int64 `json:"-"`
	Rev     int64 `json:"-"`
	Retired bool  `json:"-"`

	Name string
	resin.Product
	MixMinutes float64
	MaxLot     units.Volume
	Price      decimal.Decimal // of a kit, in the studio's money
	Kit        units.Volume
	Supplier   string // whom it is bought from
	LeadDays   int    // until it comes
	Notes      string
	Glass      cure.Glass // zero for the usual
	Seen       []Seen     // observations of this studio
	UseOwn     bool       // its own fit is the clock, not the sheet
	// Kinetics are the clock's constants, reckoned when the product is read.
	Kinetics cure.Kinetics `json:"-"`
}

// A Seen is one observation of a resin in this studio.
type Seen struct {
	cure.Observation
	At time.Time
}

// Words say what was seen.
func (s Seen) Words() msg.ID {
	sign, _ := cure.SignOf(s.Sign)
	return sign.Words
}

// Fitted returns the product with its clock reckoned: this studio's own once it
// was fitted and is in use, the sheet's otherwise.
func (p Product) Fitted() (Product, error) {
	var err error
	if p.UseOwn && len(p.Seen) > 0 {
		if fit, err := p.Refit(); err == nil {
			p.Kinetics = fit.Kinetics
			return p, nil
		}
	}
	p.Kinetics, err = cure.Calibrate(p.WorkingMinutes, p.HardHours)
	return p, err
}

// Refit fits the product's times to what was observed.
func (p Product) Refit() (cure.Refit, error) {
	seen := make([]cure.Observation, len(p.Seen))
	for i, s := range p.Seen {
		seen[i] = s.Observation
	}
	return cure.Recalibrate(p.WorkingMinutes, p.HardHours, seen)
}

// A Comparison is one sign by the sheet and by this studio, at 25 °C.
type Comparison struct {
	Sign       cure.Sign
	Sheet, Own float64 // minutes
}

// Compare lays the sheet beside the studio's own fit, sign by sign.
func (p Product) Compare() ([]Comparison, cure.Refit, error) {
	sheet, err := cure.Calibrate(p.WorkingMinutes, p.HardHours)
	if err != nil {
		return nil, cure.Refit{}, err
	}
	fit, err := p.Refit()
	if err != nil {
		return nil, fit, err
	}
	var out []Comparison
	for _, s := range cure.Signs {
		out = append(out, Comparison{s, sheet.Seconds(s.Alpha) / 60, fit.Kinetics.Seconds(s.Alpha) / 60})
	}
	return out, fit, nil
}

// Glassy returns how its glass transition rises; what nobody entered is usual.
func (p Product) Glassy() cure.Glass {
	g, usual := p.Glass, cure.DefaultGlass
	if g.Full == 0 {
		g.Full = usual.Full
	}
	if g.Fresh == 0 {
		g.Fresh = usual.Fresh
	}
	if g.Lambda == 0 {
		g.Lambda = usual.Lambda
	}
	if g.Check() != nil {
		return usual
	}
	return g
}

// ByWeight returns grams of A to a gram of B.
func (p Product) ByWeight() float64 { return 1 / p.WeightRatio() }

// A Pigment is a colour on the studio's shelf.
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
	// Full is K and S at full strength, reckoned when the pigment is read.
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

// Optical returns the pigment with its optics reckoned: from its drawdown, else
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
// density reckoned from it when that was never weighed.
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

// Learned is this studio's own ratio of used to planned for a technique.
type Learned struct {
	Planned, Used units.Volume
	Pours         int
}

// A History is what the recorded coats of a technique took, oldest first.
type History struct {
	Uses  []Taken
	Reset time.Time // what was recorded until then is forgotten
}

// A Taken is what one coat took.
type Taken struct {
	At            time.Time
	Planned, Used units.Volume
}

// Until returns what was known at a moment, all of it for the zero time: what is
// recorded later does not change a coat that is made.
func (h History) Until(at time.Time) Learned {
	var l Learned
	for _, u := range h.Uses {
		late := !at.IsZero() && !u.At.Before(at)
		forgotten := !u.At.After(h.Reset) && (at.IsZero() || !h.Reset.After(at))
		if late || forgotten {
			continue
		}
		l.Planned, l.Used, l.Pours = l.Planned+u.Planned, l.Used+u.Used, l.Pours+1
	}
	return l
}

// The ratio is held within these bounds: a typing slip must not double every
// later lot.
const (
	leastRatio = 0.5
	mostRatio  = 2.0
)

// learnsFrom is how many pours of a kind teach something: one may have been a slip
// (common practice).
const learnsFrom = 3

// Ratio returns used over planned, 1 while fewer than three pours were recorded.
func (l Learned) Ratio() float64 {
	if l.Pours < learnsFrom || l.Planned <= 0 {
		return 1
	}
	return min(max(float64(l.Used/l.Planned), leastRatio), mostRatio)
}
