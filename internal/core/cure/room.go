package cure

import (
	"math"
	"sort"
	"sync/atomic"

	"gonum.org/v1/gonum/integrate/quad"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
)

// A Reading is the room's temperature at a minute after mixing began.
type Reading struct {
	Minute      float64
	Temperature units.Temperature
}

// A Room is a temperature curve: straight between readings, held flat
// outside them.
type Room struct{ readings []Reading }

// Constant returns a room that stays at t.
func Constant(t units.Temperature) Room { return Room{[]Reading{{0, t}}} }

// Limits of rooms people pour in; outside them the model is meaningless.
const (
	coldestRoom units.Temperature = -20
	hottestRoom units.Temperature = 80
)

// NewRoom returns the curve through readings, which must be in order of time.
func NewRoom(readings []Reading) (Room, error) {
	if len(readings) == 0 {
		return Room{}, refusal.New("a room needs at least one temperature")
	}
	for i, r := range readings {
		if math.IsNaN(r.Minute) || math.Abs(r.Minute) > 1e7 {
			return Room{}, refusal.New("a room's minutes must be numbers within twenty years")
		}
		if !(r.Temperature >= coldestRoom && r.Temperature <= hottestRoom) {
			return Room{}, refusal.New("a room is between −20 and 80 °C")
		}
		if i > 0 && r.Minute <= readings[i-1].Minute {
			return Room{}, refusal.New("a room's readings must be in order of time")
		}
	}
	return Room{append([]Reading(nil), readings...)}, nil
}

// At returns the temperature at a minute.
func (r Room) At(minute float64) units.Temperature {
	n := len(r.readings)
	i := sort.Search(n, func(i int) bool { return r.readings[i].Minute >= minute })
	switch {
	case i == 0:
		return r.readings[0].Temperature
	case i == n:
		return r.readings[n-1].Temperature
	}
	a, b := r.readings[i-1], r.readings[i]
	f := units.Temperature((minute - a.Minute) / (b.Minute - a.Minute))
	return a.Temperature + f*(b.Temperature-a.Temperature)
}

// Warmest returns the highest temperature on the clock.
func (c *Clock) Warmest() units.Temperature {
	top := c.room.readings[0].Temperature
	for _, r := range c.room.readings {
		top = max(top, r.Temperature)
	}
	return top
}

// Steady reports whether the room never changes.
func (r Room) Steady() bool { return len(r.readings) == 1 }

// Since returns the curve as seen from a minute on.
func (r Room) Since(minute float64) Room { return r.shifted(minute) }

// shifted returns the curve as seen from a minute on.
func (r Room) shifted(by float64) Room {
	out := make([]Reading, len(r.readings))
	for i, x := range r.readings {
		out[i] = Reading{x.Minute - by, x.Temperature}
	}
	return Room{out}
}

// A Clock follows one batch from the moment its mixing began (minute 0).
type Clock struct {
	kinetics Kinetics
	room     Room
	minutes  []float64                    // knots at and after 0
	seconds  []float64                    // equivalent seconds at 25 °C at the knots
	later    func(minutes float64) *Clock // of a batch that begins warm again; nil for one at the room's
	windows  [mostPhases]atomic.Pointer[Window]
}

// NewClock lays the kinetics along a room curve.
func NewClock(k Kinetics, room Room) *Clock {
	c := &Clock{kinetics: k, room: room, minutes: []float64{0}, seconds: []float64{0}}
	for _, r := range room.readings {
		if r.Minute > 0 {
			last := len(c.minutes) - 1
			c.seconds = append(c.seconds, c.seconds[last]+c.equivalent(c.minutes[last], r.Minute))
			c.minutes = append(c.minutes, r.Minute)
		}
	}
	return c
}

// Later returns the clock of a batch of the same resin whose mixing begins so many
// minutes after this one's, in the same room.
func (c *Clock) Later(minutes float64) *Clock {
	if c.later != nil && minutes != 0 {
		return c.later(minutes)
	}
	if minutes == 0 || len(c.room.readings) == 1 {
		return c
	}
	return NewClock(c.kinetics, c.room.shifted(minutes))
}

// equivalent integrates the rate factor over a stretch with one slope.
// Between two readings it is smooth, and five Gauss–Legendre points on pieces
// of at most 5 K leave an error below 1 part in 10⁹.
func (c *Clock) equivalent(from, to float64) float64 {
	if to <= from {
		return 0
	}
	t0, t1 := c.room.At(from), c.room.At(to)
	if t0 == t1 {
		return (to - from) * 60 * RateFactor(t0)
	}
	pieces := 1 + int(math.Abs(float64(t1-t0))/5)
	sum, step := 0.0, (to-from)/float64(pieces)
	slope := float64(t1-t0) / (to - from)
	for i := range pieces {
		a := float64(i) * step
		for j, x := range gaussX {
			sum += step * gaussW[j] * RateFactor(t0+units.Temperature(slope*(a+x*step)))
		}
	}
	return sum * 60
}

// gaussX and gaussW are the five Gauss–Legendre points and weights on 0..1,
// looked up once: a clock of three days asks for thousands of pieces.
var gaussX, gaussW = func() (x, w []float64) {
	x, w = make([]float64, 5), make([]float64, 5)
	quad.Legendre{}.FixedLocations(x, w, 0, 1)
	return x, w
}()

// Equivalent returns the seconds at 25 °C that do what the room has done by
// the minute.
func (c *Clock) Equivalent(minute float64) float64 {
	i := sort.SearchFloat64s(c.minutes, minute)
	if i < len(c.minutes) && c.minutes[i] == minute {
		return c.seconds[i]
	}
	if i == 0 {
		return 0
	}
	return c.seconds[i-1] + c.equivalent(c.minutes[i-1], minute)
}

// Conversion returns α at the minute.
func (c *Clock) Conversion(minute float64) float64 {
	return c.kinetics.Conversion(c.Equivalent(minute))
}

// Viscosity returns the viscosity at the minute of a resin whose fresh
// viscosity at 25 °C is mu25, +Inf from gel on.
func (c *Clock) Viscosity(minute float64, mu25 units.Viscosity) units.Viscosity {
	return mu25 * units.Viscosity(ViscosityFactor(c.room.At(minute))*Thickening(c.Conversion(minute)))
}

// RoomAt returns the room's temperature at the minute.
func (c *Clock) RoomAt(minute float64) units.Temperature { return c.room.At(minute) }

// Minute returns when α is reached.
func (c *Clock) Minute(alpha float64) float64 {
	want := c.kinetics.Seconds(alpha)
	i := sort.SearchFloat64s(c.seconds, want)
	if i == len(c.seconds) {
		last := i - 1
		return c.minutes[last] + (want-c.seconds[last])/60/RateFactor(c.room.At(c.minutes[last]))
	}
	if i == 0 || c.seconds[i] == want {
		return c.minutes[i]
	}
	return numeric.Root(func(m float64) float64 { return c.Equivalent(m) - want }, c.minutes[i-1], c.minutes[i])
}
