package cure

import (
	"math"

	"jevvo/internal/core/units"
)

// Warmed is a batch whose bottles stood in warm water: it meets at Start, keeps
// nearly that in its jug until it is poured, and then cools to the room as a
// film does,
//
//	dT/dt = −(T − T_room)/τ, τ = ρ·c_p·L/(n·U)
//
// three minutes for 1.6 mm (our model, constants as in the cup's balance). Before that
// the board takes half of what it is warmer than the room within a minute: two bodies
// that touch meet at T = (e₁T₁ + e₂T₂)/(e₁ + e₂), e = √(kρc), which is alike for resin
// and wood or hardboard (Carslaw & Jaeger 1959, 2.8; from memory). What a
// jug loses before it is poured is left out: a tenth of the difference in five
// minutes.
type Warmed struct {
	Start  units.Temperature
	Poured float64 // minutes after mixing began
}

// boardTakes is how fast the board takes its half, in minutes: nine tenths of it in
// the first.
const boardTakes = 0.43

// toBoard is the share of the warmth left, so many minutes after it was poured, by
// what the board has taken.
func toBoard(minutes float64) float64 { return 0.5 + 0.5*math.Exp(-minutes/boardTakes) }

// coolingSpans is after how many τ a film is as warm as its room.
const coolingSpans = 6

// Over returns the curve of a layer's temperature in its room.
func (w Warmed) Over(l Slab) (Room, error) {
	if err := l.Check(); err != nil {
		return Room{}, err
	}
	if err := within(w.Start); err != nil {
		return Room{}, err
	}
	tau := bulkDensity * heatCapacity * l.Depth.Metres() / (float64(l.Faces) * heatLoss) / 60
	poured := math.Max(0, w.Poured)
	curve := []Reading{{0, w.Start}}
	if poured > 0 {
		curve = append(curve, Reading{poured, w.Start})
	}
	const steps = 30 // a τ
	excess := float64(w.Start - l.Room.At(poured))
	for i := 1; i <= coolingSpans*steps; i++ {
		m := poured + float64(i)*tau/steps
		curve = append(curve, Reading{m,
			l.Room.At(m) + units.Temperature(excess*toBoard(float64(i)*tau/steps)*math.Exp(-float64(i)/steps))})
	}
	return Room{follows(curve, l.Room)}, nil
}

// ClockWarmed returns the clock of a layer poured from warmed bottles; a layer
// deeper than [ThinFilm] goes on by its own heat.
func (k Kinetics) ClockWarmed(l Slab, w Warmed) (*Clock, error) {
	var c *Clock
	if l.Depth > ThinFilm {
		l.Start = w.Start
		var err error
		if c, err = k.ClockIn(l); err != nil {
			return nil, err
		}
	} else {
		room, err := w.Over(l)
		if err != nil {
			return nil, err
		}
		c = NewClock(k, room)
	}
	c.later = func(minutes float64) *Clock {
		if l.Room.Steady() { // begins as this one did
			return c
		}
		next := l
		next.Room = l.Room.shifted(minutes)
		if again, err := k.ClockWarmed(next, w); err == nil {
			return again
		}
		return c
	}
	return c, nil
}
