package diagnose

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/heat"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Record is the record of how a coat was made; nil is unknown.
type Record struct {
	OffRatio     *float64 // B per A against the product's, less 1
	Tolerance    *float64 // of the product
	MixMin       *float64
	ProductMin   *float64 // of mixing, by the product
	Kinetics     *cure.Kinetics
	Room         *cure.Room // since it was poured
	HoursSince   *float64
	Cup          *CupHeat
	Silicone     *bool // in the coat below
	Degreased    *bool
	Wood         *bool
	Primed       *bool
	HeatPasses   *int
	LongestDwell *float64 // s
	Flux         *float64 // kW/m²
	Film         *units.Length
	Puddle       *units.Length
	LevelDrop    *units.Length // over the board
	LoadShare    *float64      // pigment over the limit
	MovedAfter   *float64      // thickening when it was last worked
	RestMin      *float64
	Hiding       *float64
	Cover        *bool
	SprayWait    *float64 // h between what burns and the flame
	TapePulled   *float64 // conversion
	Scuffed      *bool
	RecoatAt     *float64 // conversion of the coat below
	Damp         *bool
}

// A CupHeat is the heat of the largest batch in its cup.
type CupHeat struct {
	Mass units.Mass
	Peak units.Temperature // that it would have come to
}

func (r Record) check() error {
	for _, v := range []*float64{r.OffRatio, r.Tolerance, r.MixMin, r.ProductMin, r.HoursSince, r.LongestDwell, r.Flux,
		r.LoadShare, r.MovedAfter, r.RestMin, r.Hiding, r.SprayWait, r.TapePulled, r.RecoatAt} {
		if v != nil && (math.IsNaN(*v) || math.IsInf(*v, 0)) {
			return refusal.New("every number of a record must be finite")
		}
	}
	return nil
}

// A Reason is a record's evidence for or against a cause, with its figures.
type Reason struct {
	Code    ReasonCode
	Figures []float64
	For     bool
}

// ReasonCode names a reason; words has its sentence.
type ReasonCode string

// A sign is something in a record that speaks for or against a cause: says returns
// by how much the odds of the cause change.
type sign struct {
	cause string
	says  func(Record) (odds float64, because Reason, says bool)
}

// How strongly a record speaks (common practice): plainly, clearly, a little, and
// against.
const (
	plainly  = 40.0
	clearly  = 12.0
	somewhat = 3.0
	hardly   = 0.3
	against  = 0.06
)

// above speaks for a cause when a figure is over a bound, and against it when not.
func above(v *float64, bound, pro, con float64, code ReasonCode) (float64, Reason, bool) {
	if v == nil {
		return 1, Reason{}, false
	}
	if *v > bound {
		return pro, Reason{code, []float64{*v, bound}, true}, true
	}
	return con, Reason{code + "-not", []float64{*v, bound}, false}, true
}

// below does so when it is under it.
func below(v *float64, bound, pro, con float64, code ReasonCode) (float64, Reason, bool) {
	if v == nil {
		return 1, Reason{}, false
	}
	if *v < bound {
		return pro, Reason{code, []float64{*v, bound}, true}, true
	}
	return con, Reason{code + "-not", []float64{*v, bound}, false}, true
}

// whether speaks for a cause when something is so, and against it when not.
func whether(v *bool, is bool, pro, con float64, code ReasonCode) (float64, Reason, bool) {
	if v == nil {
		return 1, Reason{}, false
	}
	if *v == is {
		return pro, Reason{Code: code, For: true}, true
	}
	return con, Reason{Code: code + "-not"}, true
}

func or(v *float64, usual float64) float64 {
	if v == nil {
		return usual
	}
	return *v
}

func yes(v *bool) bool { return v != nil && *v }
func no(v *bool) bool  { return v != nil && !*v }

// coldest is the coldest and the mean of the room since the pour.
func (r Record) coldest() (least, mean float64, known bool) {
	if r.Room == nil {
		return 0, 0, false
	}
	until := math.Min(or(r.HoursSince, 24), 24) * 60
	least = math.Inf(1)
	const parts = 48
	for k := range parts + 1 {
		t := float64(r.Room.At(until * float64(k) / parts))
		least = math.Min(least, t)
		mean += t / (parts + 1)
	}
	return least, mean, true
}

// cured is how far the coat has cured by now, and what is hard.
func (r Record) cured() (alpha float64, known bool) {
	if r.Kinetics == nil || r.Room == nil || r.HoursSince == nil {
		return 0, false
	}
	return cure.NewClock(*r.Kinetics, *r.Room).Conversion(60 * *r.HoursSince), true
}

// HardIn is in how many hours from now the coat is hard, in the room as it is now;
// NaN where that is not known.
func (r Record) HardIn() float64 {
	if r.Kinetics == nil || r.Room == nil || r.HoursSince == nil {
		return math.NaN()
	}
	at := cure.NewClock(*r.Kinetics, *r.Room).Minute(cure.HardAlpha)
	if math.IsInf(at, 0) || math.IsNaN(at) {
		return math.NaN()
	}
	return math.Max(0, at/60-*r.HoursSince)
}

// flame is how hot the longest dwell made the surface.
func (r Record) flame() (float64, bool) {
	if r.LongestDwell == nil || r.Flux == nil {
		return 0, false
	}
	start := units.Temperature(25)
	if r.Room != nil {
		start = r.Room.At(0)
	}
	t, err := heat.Surface(*r.Flux, *r.LongestDwell, start)
	return float64(t), err == nil
}
