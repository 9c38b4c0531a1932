// Package material holds a studio's materials to pour: resins with their data sheets and what was seen
// of them, pigments with their optics and how they are dosed.
package material

import (
	"time"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// A Product is a resin the studio owns: its data sheet and what the
// studio knows about it.
type Product struct {
	ID      int64 `json:"-"`
	Rev     int64 `json:"-"`
	Retired bool  `json:"-"`

	Name string
	resin.Product
	MixMinutes float64
	MaxBatch   units.Volume    `json:"MaxLot"`
	Price      decimal.Decimal // of a kit, in the studio's money
	Kit        units.Volume
	Supplier   string // whom it is bought from
	LeadDays   int    // until it comes
	Notes      string
	Glass      cure.Glass // zero for the usual
	Seen       []Seen     // observations of this studio
	UseOwn     bool       // its own fit is the clock, not the sheet
	// Kinetics are the clock's constants, calculated when the product is read.
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

// Fitted returns the product with its clock calculated: this studio's own once it
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
