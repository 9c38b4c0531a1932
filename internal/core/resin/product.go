// Package resin knows two-part products: their ratio by volume or by weight,
// how a batch is split, what an overshoot on the scale means and how it is put
// right, and how a total is cut into batches that do not age in the jug.
//
// The ratio a maker prints is by volume or by weight, never both: 2:1 by
// volume of 1130 and 970 kg/m³ is 2.330:1 by weight, and the same product
// weighed as 2:1 gets 16.5 % too much hardener.
//
//	batch, err := product.Volume(300 * units.Millilitre)
//	batch.A.Mass, batch.B.Mass // what goes on the scale
package resin

import (
	"errors"
	"math"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Measure says how a product's ratio is meant.
type Measure string

// The two ways makers state a ratio.
const (
	ByVolume Measure = "volume"
	ByWeight Measure = "weight"
)

// A Product is the part of a data sheet the sums need.
type Product struct {
	RatioA, RatioB     float64 // A : B as printed
	By                 Measure
	DensityA, DensityB units.Density
	Viscosity          units.Viscosity // mixed, at 25 °C
	WorkingMinutes     float64         // film working time at 25 °C
	HardHours          float64         // hard time at 25 °C
	Tolerance          float64         // off-ratio the product forgives, 0.02 = ±2 %
}

// DefaultTolerance is the off-ratio taken when a sheet names none (common
// practice).
const DefaultTolerance = 0.02

// Check returns what is wrong with the data-sheet values, nil when usable.
func (p Product) Check() error {
	var errs []error
	need := func(ok bool, format msg.ID, args ...any) {
		if !ok {
			errs = append(errs, refusal.New(format, args...))
		}
	}
	within := func(v, lo, hi float64) bool { return v >= lo && v <= hi }
	need(within(p.RatioA, 0.001, 1000) && within(p.RatioB, 0.001, 1000),
		"both parts of the ratio must be between 0.001 and 1000")
	need(p.By == ByVolume || p.By == ByWeight, "the ratio is by volume or by weight")
	need(within(float64(p.DensityA), 500, 3000) && within(float64(p.DensityB), 500, 3000),
		"densities of the parts lie between 500 and 3000 kg/m³")
	need(within(float64(p.Viscosity), 1, 1e6), "viscosity lies between 1 and 1 000 000 mPa·s")
	need(within(p.WorkingMinutes, 1, 7*24*60), "working time lies between a minute and a week")
	need(within(p.HardHours, 0.05, 60*24), "hard time lies between three minutes and sixty days")
	need(within(p.Tolerance, 0, 0.5), "tolerance lies between 0 and 50 %%")
	return errors.Join(errs...)
}

// WeightRatio returns grams of B to a gram of A.
func (p Product) WeightRatio() float64 {
	r := p.RatioB / p.RatioA
	if p.By == ByVolume {
		r *= float64(p.DensityB / p.DensityA)
	}
	return r
}

// Density returns the mixed density, 1/ρ = Σ wᵢ/ρᵢ: no shrinkage on mixing.
func (p Product) Density() units.Density {
	r := p.WeightRatio()
	return units.MixedDensity([]float64{1, r}, []units.Density{p.DensityA, p.DensityB})
}

// A Part is an amount of one part, by weight and by volume.
type Part struct {
	Mass   units.Mass
	Volume units.Volume
}

// A Batch is one mixed batch.
type Batch struct{ A, B Part }

// Mass returns the whole weight.
func (b Batch) Mass() units.Mass { return b.A.Mass + b.B.Mass }

// Volume returns the whole volume.
func (b Batch) Volume() units.Volume { return b.A.Volume + b.B.Volume }

// Mass splits a batch of mass m into its parts.
func (p Product) Mass(m units.Mass) (Batch, error) {
	if err := checkAmount(float64(m)); err != nil {
		return Batch{}, err
	}
	a := m / units.Mass(1+p.WeightRatio())
	b := m - a
	return Batch{
		A: Part{a, a.Filling(p.DensityA)},
		B: Part{b, b.Filling(p.DensityB)},
	}, nil
}

// Volume splits a batch of volume v into its parts.
func (p Product) Volume(v units.Volume) (Batch, error) {
	if err := checkAmount(float64(v)); err != nil {
		return Batch{}, err
	}
	return p.Mass(v.Weighing(p.Density()))
}

func checkAmount(v float64) error {
	if math.IsNaN(v) || v < 0 || v > 1e9 {
		return refusal.New("the amount of resin is out of range")
	}
	return nil
}

// A Correction says how far poured parts are from the ratio and the least
// addition that restores it.
type Correction struct {
	OffRatio   float64 // (B per A)/(target B per A) − 1
	Within     bool    // |OffRatio| ≤ tolerance
	AddA, AddB units.Mass
	Total      units.Mass // after the addition
}

// Correct judges poured weights. Overshoot is cured by adding the other part,
// never by guessing; one of the additions is always 0.
func (p Product) Correct(a, b units.Mass) (Correction, error) {
	if !(a > 0) || !(b >= 0) || a > 1e9 || b > 1e9 {
		return Correction{}, refusal.New("weights must not be negative and part A must be poured first")
	}
	target := p.WeightRatio()
	c := Correction{OffRatio: float64(b/a)/target - 1}
	c.Within = math.Abs(c.OffRatio) <= p.Tolerance+1e-12
	switch {
	case c.OffRatio > 0:
		c.AddA = b/units.Mass(target) - a
	case c.OffRatio < 0:
		c.AddB = a*units.Mass(target) - b
	}
	c.Total = a + b + c.AddA + c.AddB
	return c, nil
}
