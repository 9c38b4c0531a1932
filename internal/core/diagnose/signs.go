package diagnose

import (
	"math"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// Bounds a record is read by (common practice, but where a law of ours gives them).
const (
	usualTolerance = 0.02
	usualMixing    = 3.0 // min
	coldRoom       = 18.0
	coolResin      = 21.0
	tooHot         = 150.0 // °C on the surface
	longDwell      = 1.5   // s
	manyPasses     = 4.0
	early          = 1.6  // thickening at which dragged lines begin to hold
	late           = 6.0  // and at which the film drags
	setting        = 20.0 // and at which hands stay off
	hides          = 0.85
	flat           = 0.5 // of the film: how far out of level it may be
	tall           = 1.6 // times what stands by itself
	sprayRest      = 0.5 // h
)

// usualFilm is from which part of the puddle height on a film is a usual one, and
// largeBatch from which a batch that stood in one cup is spoken of whatever its
// resin (common practice).
const (
	usualFilm             = 0.85
	largeBatch units.Mass = 700
)

// signs are a record's evidence for causes.
var signs = []sign{
	{"off-ratio", func(r Record) (float64, Reason, bool) {
		if r.OffRatio == nil {
			return 1, Reason{}, false
		}
		off, most := math.Abs(*r.OffRatio), or(r.Tolerance, usualTolerance)
		switch {
		case off > 2.5*most:
			return plainly * math.Min(4, off/most/2.5), Reason{"ratio", []float64{*r.OffRatio}, true}, true
		case off > most:
			return somewhat, Reason{"ratio", []float64{*r.OffRatio}, true}, true
		}
		return against, Reason{"ratio-not", []float64{*r.OffRatio}, false}, true
	}},
	{"under-mixed", func(r Record) (float64, Reason, bool) {
		if r.MixMin == nil {
			return 1, Reason{}, false
		}
		wanted := or(r.ProductMin, usualMixing)
		switch {
		case *r.MixMin < 0.6*wanted:
			return clearly, Reason{"mixing", []float64{*r.MixMin, wanted}, true}, true
		case *r.MixMin < wanted:
			return somewhat, Reason{"mixing", []float64{*r.MixMin, wanted}, true}, true
		}
		return hardly, Reason{"mixing-not", []float64{*r.MixMin, wanted}, false}, true
	}},
	{"cold", func(r Record) (float64, Reason, bool) {
		least, mean, known := r.coldest()
		switch {
		case !known:
			return 1, Reason{}, false
		case mean < coldRoom:
			return clearly, Reason{"cold", []float64{least, mean}, true}, true
		case least < coldRoom:
			return somewhat, Reason{"cold", []float64{least, mean}, true}, true
		}
		return hardly, Reason{"cold-not", []float64{least, mean}, false}, true
	}},
	{"not-yet-cured", func(r Record) (float64, Reason, bool) {
		alpha, known := r.cured()
		switch {
		case !known:
			return 1, Reason{}, false
		case alpha < cure.ConversionAt(setting):
			return 3 * plainly, Reason{"curing", []float64{*r.HoursSince, alpha, r.HardIn()}, true}, true
		case r.HardIn() > 0:
			return plainly, Reason{"curing", []float64{*r.HoursSince, alpha, r.HardIn()}, true}, true
		}
		return against, Reason{"curing-not", []float64{*r.HoursSince, alpha}, false}, true
	}},
	{"overload", func(r Record) (float64, Reason, bool) { return above(r.LoadShare, 1, clearly, 0.15, "load") }},
	{"damp", func(r Record) (float64, Reason, bool) { return whether(r.Damp, true, 8, hardly, "damp") }},
	{"bare-wood", func(r Record) (float64, Reason, bool) {
		switch {
		case no(r.Wood):
			return against, Reason{Code: "wood-not"}, true
		case yes(r.Primed):
			return against, Reason{Code: "primed"}, true
		case yes(r.Wood) && no(r.Primed):
			return plainly, Reason{Code: "bare", For: true}, true
		}
		return 1, Reason{}, false
	}},
	{"cold-resin", func(r Record) (float64, Reason, bool) {
		if r.Room == nil {
			return 1, Reason{}, false
		}
		pour := float64(r.Room.At(0))
		return below(&pour, coolResin, 4, 0.5, "cool")
	}},
	{"no-torch", func(r Record) (float64, Reason, bool) {
		if r.HeatPasses == nil {
			return 1, Reason{}, false
		}
		passes := float64(*r.HeatPasses)
		return below(&passes, 1, clearly, hardly, "passes-none")
	}},
	{"silicone-below", func(r Record) (float64, Reason, bool) {
		switch {
		case r.Silicone == nil:
			return 1, Reason{}, false
		case !*r.Silicone:
			return 0.04, Reason{Code: "silicone-not"}, true
		case yes(r.Degreased):
			return somewhat, Reason{Code: "silicone-wiped", For: true}, true
		}
		return plainly, Reason{Code: "silicone", For: true}, true
	}},
	{"not-degreased", func(r Record) (float64, Reason, bool) {
		return whether(r.Degreased, false, 8, 0.15, "greasy")
	}},
	{"dust-uncovered", func(r Record) (float64, Reason, bool) { return whether(r.Cover, false, 6, hardly, "open") }},
	{"over-worked", func(r Record) (float64, Reason, bool) { return above(r.MovedAfter, late, 2.5, 0.8, "worked-late") }},
	{"too-runny", func(r Record) (float64, Reason, bool) { return below(r.MovedAfter, early, 5, hardly, "worked-early") }},
	{"too-runny", func(r Record) (float64, Reason, bool) {
		if r.RestMin == nil || *r.RestMin >= 5 {
			return 1, Reason{}, false
		}
		return 2, Reason{"rest", []float64{*r.RestMin}, true}, true
	}},
	{"too-thick", func(r Record) (float64, Reason, bool) { return above(r.MovedAfter, late, 8, hardly, "worked-late") }},
	{"moved-late", func(r Record) (float64, Reason, bool) {
		return above(r.MovedAfter, setting, clearly, hardly, "worked-set")
	}},
	{"too-little-pigment", func(r Record) (float64, Reason, bool) { return below(r.Hiding, hides, 8, 0.15, "hiding") }},
	{"over-heated", func(r Record) (float64, Reason, bool) {
		if t, known := r.flame(); known {
			return above(&t, tooHot, plainly, hardly, "flame")
		}
		return 1, Reason{}, false
	}},
	{"over-heated", func(r Record) (float64, Reason, bool) { // many short passes age it too
		if r.HeatPasses == nil {
			return 1, Reason{}, false
		}
		passes := float64(*r.HeatPasses)
		if _, known := r.flame(); known && passes < manyPasses {
			return 1, Reason{}, false
		}
		return above(&passes, manyPasses-1, 4, 0.5, "passes-many")
	}},
	{"over-heated", func(r Record) (float64, Reason, bool) {
		if r.SprayWait == nil || *r.SprayWait >= sprayRest {
			return 1, Reason{}, false
		}
		return somewhat, Reason{"spray", []float64{*r.SprayWait}, true}, true
	}},
	{"held-still", func(r Record) (float64, Reason, bool) {
		if t, known := r.flame(); known {
			return above(&t, tooHot, plainly, against, "flame")
		}
		return above(r.LongestDwell, longDwell, clearly, 0.2, "dwell")
	}},
	{"not-level", func(r Record) (float64, Reason, bool) {
		if r.LevelDrop == nil {
			return 1, Reason{}, false
		}
		film := 2 * units.Millimetre
		if r.Film != nil {
			film = *r.Film
		}
		drop, most := math.Abs(float64(*r.LevelDrop)), flat*float64(film)
		return above(&drop, most, clearly, 0.15, "level")
	}},
	{"too-little-resin", func(r Record) (float64, Reason, bool) {
		if r.Film == nil || r.Puddle == nil {
			return 1, Reason{}, false
		}
		film, puddle := float64(*r.Film), float64(*r.Puddle)
		if film < puddle && film >= usualFilm*puddle { // a usual film is no thin one
			return 1, Reason{}, false
		}
		return below(&film, puddle, clearly, 0.2, "thin")
	}},
	{"thin-drain", func(r Record) (float64, Reason, bool) { return below(r.MovedAfter, early, 2, 0.8, "ran-early") }},
	{"too-much-resin", func(r Record) (float64, Reason, bool) {
		if r.Film == nil || r.Puddle == nil {
			return 1, Reason{}, false
		}
		film, puddle := float64(*r.Film), float64(*r.Puddle)
		if film > puddle && film <= tall*puddle { // an edge may hold it or let it go
			return 1, Reason{}, false
		}
		return above(&film, tall*puddle, clearly, 0.25, "tall")
	}},
	{"tape-late", func(r Record) (float64, Reason, bool) {
		return above(r.TapePulled, cure.GelPoint, plainly, 0.1, "tape")
	}},
	{"not-scuffed", func(r Record) (float64, Reason, bool) {
		if r.RecoatAt != nil && *r.RecoatAt < cure.HardAlpha {
			return against, Reason{"recoat-tacky", []float64{*r.RecoatAt}, false}, true
		}
		return whether(r.Scuffed, false, clearly, 0.08, "shiny")
	}},
	{"recoat-too-late", func(r Record) (float64, Reason, bool) {
		if r.RecoatAt == nil {
			return 1, Reason{}, false
		}
		if *r.RecoatAt >= cure.HardAlpha && !yes(r.Scuffed) {
			return clearly, Reason{"recoat-hard", []float64{*r.RecoatAt}, true}, true
		}
		return 0.2, Reason{"recoat-hard-not", []float64{*r.RecoatAt}, false}, true
	}},
	{"lot-too-large", func(r Record) (float64, Reason, bool) {
		if r.Cup == nil {
			return 1, Reason{}, false
		}
		peak := float64(r.Cup.Peak)
		if peak > 100 {
			return plainly, Reason{"lot", []float64{float64(r.Cup.Mass), peak}, true}, true
		}
		if r.Cup.Mass >= largeBatch {
			return somewhat, Reason{"lot", []float64{float64(r.Cup.Mass), peak}, true}, true
		}
		return 0.4, Reason{"lot-not", []float64{float64(r.Cup.Mass), peak}, false}, true
	}},
	{"one-face-primed", func(r Record) (float64, Reason, bool) {
		if no(r.Wood) {
			return 0.2, Reason{Code: "wood-not"}, true
		}
		return 1, Reason{}, false
	}},
	{"heat-too-soon", func(r Record) (float64, Reason, bool) {
		alpha, known := r.cured()
		if !known {
			return 1, Reason{}, false
		}
		return below(&alpha, cure.HeatAlpha, 4, hardly, "uncured")
	}},
}
