package cure

import (
	"math"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// ThinFilm is the depth up to which the small warming of a film is inside the
// times of the product's sheet (our model, continuous there).
const ThinFilm = 3 * units.Millimetre

// SafePeak is how warm a flat layer may get (our default: the product's own
// limit rules).
const SafePeak units.Temperature = 60

// cooledTo is how near the room a layer must be before the next is poured on
// it, in K (common practice: no longer warm to the hand).
const cooledTo = 5.0

// A Slab is a flat layer that cures in the room. Faces is how many of its two
// large faces shed heat: two on supports, one in a mould or on a table.
type Slab struct {
	Depth units.Length
	Faces int
	Start units.Temperature
	Room  Room
}

// SlabForecast is the forecast of a layer, in minutes after mixing.
type SlabForecast struct {
	Working float64 // thickened fivefold
	Gel     float64
	Peak    units.Temperature
	PeakAt  float64
	Cooled  float64 // gelled and near the room again
	// Curve is the layer's own temperature, which a clock follows.
	Curve Room
}

// Check returns what is wrong with the layer.
func (l Slab) Check() error {
	if !(l.Depth > 0) || l.Depth > 1000 {
		return refusal.New("a layer must be more than 0 and at most 1 m deep")
	}
	if l.Faces != 1 && l.Faces != 2 {
		return refusal.New("a layer sheds heat by one or by two faces")
	}
	if len(l.Room.readings) == 0 {
		return refusal.New("a layer needs the temperature of its room")
	}
	return within(l.Start)
}

// InSlab follows a flat layer that heats itself:
//
//	ρ·c_p·L·dT/dt = (1 − 3 mm/L)·ρ·L·ΔH·dα/dt − n·U·(T − T_room)
func (k Kinetics) InSlab(l Slab) (SlabForecast, error) {
	if err := l.Check(); err != nil {
		return SlabForecast{}, err
	}
	slab := exotherm{kinetics: k, start: l.Start,
		warms: math.Max(0, 1-float64(ThinFilm/l.Depth)) * reactionHeat / heatCapacity,
		cools: float64(l.Faces) * heatLoss / (bulkDensity * heatCapacity * l.Depth.Metres()),
		room:  func(s float64) units.Temperature { return l.Room.At(s / 60) },
	}
	f := SlabForecast{Working: math.NaN(), Gel: math.NaN(), Cooled: math.NaN()}
	working := ConversionAt(workingThickening)
	peak := crest{top: l.Start}
	curve := []Reading{{0, l.Start}}
	err := slab.follow(func(s numeric.Step) bool {
		curve = sample(curve, s)
		peak.observe(s)
		for _, mark := range []struct {
			alpha float64
			at    *float64
		}{{working, &f.Working}, {GelPoint, &f.Gel}} {
			if math.IsNaN(*mark.at) && s.To[0] >= mark.alpha {
				*mark.at = s.Crossing(0, mark.alpha) / 60
			}
		}
		end := (s.At + s.H) / 60
		over := s.To[1] - float64(l.Room.At(end))
		if math.IsNaN(f.Cooled) && !math.IsNaN(f.Gel) && over < cooledTo {
			f.Cooled = math.Max(f.Gel, end)
		}
		return math.IsNaN(f.Cooled) || math.Abs(over) > asRoom
	})
	if err != nil {
		return SlabForecast{}, err
	}
	if math.IsNaN(f.Cooled) {
		return SlabForecast{}, refusal.New("this layer does not gel within a year")
	}
	f.Peak, f.PeakAt = peak.top, peak.at
	f.Curve = Room{follows(curve, l.Room)}
	return f, nil
}

// asRoom is how near the room, in K, a layer no longer differs from it.
const asRoom = 0.05

// sample adds the temperatures of a step, close enough for a curve that is
// straight between them.
func sample(curve []Reading, s numeric.Step) []Reading {
	const apart = 0.25 // K
	swing := math.Abs(s.To[1] - s.From[1])
	if _, top := s.Summit(1); top > math.Max(s.From[1], s.To[1]) {
		swing += 2 * (top - math.Max(s.From[1], s.To[1]))
	}
	n := 1 + min(200, int(swing/apart))
	for i := range n {
		u := float64(i+1) / float64(n)
		curve = append(curve, Reading{(s.At + u*s.H) / 60, units.Temperature(s.Value(1, u))})
	}
	return curve
}

// follows appends what the room does after the curve has joined it.
func follows(curve []Reading, room Room) []Reading {
	for _, r := range room.readings {
		if r.Minute > curve[len(curve)-1].Minute {
			curve = append(curve, r)
		}
	}
	return curve
}

// ClockIn returns the clock of a layer: the room's for a thin film, that of the
// layer's own temperature for a deeper one.
func (k Kinetics) ClockIn(l Slab) (*Clock, error) {
	if err := l.Check(); err != nil {
		return nil, err
	}
	if l.Depth <= ThinFilm {
		return NewClock(k, l.Room), nil
	}
	f, err := k.InSlab(l)
	if err != nil {
		return nil, err
	}
	return NewClock(k, f.Curve), nil
}

// SafeDepth returns the deepest layer that stays under SafePeak, by its faces
// and its start in a room; at least [ThinFilm].
func (k Kinetics) SafeDepth(faces int, start units.Temperature, room Room) (units.Length, error) {
	const deepest = 500 * units.Millimetre
	var failed error
	depth := numeric.First(float64(ThinFilm), float64(deepest), 0.05, func(mm float64) bool {
		f, err := k.InSlab(Slab{units.Length(mm), faces, start, room})
		if err != nil {
			failed = err
		}
		return err != nil || f.Peak >= SafePeak
	})
	return units.Length(depth), failed
}
