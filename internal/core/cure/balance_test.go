package cure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
)

// A course is what resin that heats itself did at the end of each second.
type course struct{ alpha, temp []float64 }

// march integrates the two equations of the heat balance with Euler's method in
// steps of a tenth of a second, written out again from the handbook: ΔH 250
// kJ/kg, c_p 1900 J/kg·K, U 9 W/m²K, ρ 1100 kg/m³. The area and mass are per batch
// for a cup, per square metre for a layer; part is the share of the heat that
// stays with it.
func march(k Kinetics, mass, area, part, start, hours float64, room func(second float64) float64) course {
	const dt = 0.1
	alpha, temp := 0.0, start
	c := course{}
	for i := range int(hours*3600/dt) + 1 {
		if i%10 == 0 {
			c.alpha, c.temp = append(c.alpha, alpha), append(c.temp, temp)
		}
		rate := math.Exp(-50_000/8.31446*(1/(temp+273.15)-1/298.15)) * k.K * math.Pow(1-alpha, k.N)
		warming := (part*mass*250_000*rate - 9*area*(temp-room(float64(i)*dt))) / (mass * 1900)
		alpha, temp = alpha+rate*dt, temp+warming*dt
	}
	return c
}

// first returns the minute at which a value of the course reaches a mark.
func first(of []float64, mark float64) float64 {
	for s, v := range of {
		if v >= mark {
			return float64(s) / 60
		}
	}
	return math.NaN()
}

func top(of []float64) (at, value float64) {
	for s, v := range of {
		if v > value {
			at, value = float64(s)/60, v
		}
	}
	return at, value
}

// The cup's forecast against a plain integration of the same two equations, for
// cups whose peak comes before and after gel.
func TestCupAgainstEuler(t *testing.T) {
	k := sheet(t)
	for _, x := range []struct{ grams, start, room float64 }{{150, 25, 25}, {1500, 22, 20}, {30, 28, 18}, {400, 49, 25}} {
		f, err := k.InCup(units.Mass(x.grams), units.Temperature(x.start), units.Temperature(x.room))
		require.NoError(t, err)
		kg := x.grams / 1000
		r := math.Cbrt(kg / 1100 / math.Pi) // as high as its radius
		c := march(k, kg, 4*math.Pi*r*r, 1, x.start, 12, func(float64) float64 { return x.room })
		at, peak := top(c.temp)
		assert.InDelta(t, peak, float64(f.Peak), 0.1, "%v", x)
		assert.InDelta(t, at, f.PeakAt, 0.2, "%v", x)
		assert.InDelta(t, first(c.alpha, GelPoint), f.Gel, 0.1, "%v", x)
		useBy := first(c.alpha, ConversionAt(3))
		if hot := first(c.temp, 50); hot < useBy {
			useBy = hot
		}
		assert.InDelta(t, useBy, f.UseBy, 0.05, "%v", x)
	}
}

// The layer's forecast and its curve against the same plain integration, in a
// room that cools down overnight.
func TestLayerAgainstEuler(t *testing.T) {
	k := sheet(t)
	room, err := NewRoom([]Reading{{0, 24}, {480, 16}})
	require.NoError(t, err)
	for _, x := range []struct{ mm, faces float64 }{{6, 2}, {20, 1}, {50, 2}} {
		f, err := k.InSlab(Slab{units.Length(x.mm), int(x.faces), 24, room})
		require.NoError(t, err)
		c := march(k, 1100*x.mm/1000, x.faces, 1-3/x.mm, 24, 30,
			func(s float64) float64 { return 24 - 8*math.Min(1, s/60/480) })
		assert.InDelta(t, first(c.alpha, GelPoint), f.Gel, 0.3, "%v", x)
		assert.InDelta(t, first(c.alpha, ConversionAt(5)), f.Working, 0.05, "%v", x)
		for minute := 1; minute < 1700; minute += 7 {
			assert.InDelta(t, c.temp[minute*60], float64(f.Curve.At(float64(minute))), 0.12, "%v at %d min", x, minute)
		}
		cooled := 0
		for s := int(f.Gel * 60); c.temp[s]-float64(room.At(float64(s)/60)) > 5; s++ {
			cooled = s
		}
		assert.InDelta(t, math.Max(float64(cooled)/60, f.Gel), f.Cooled, 0.06*f.Cooled, "%v", x)
	}
}

// A room that warms by forty degrees at one go: the equivalent time by Simpson's
// rule on ten thousand pieces.
func TestEquivalentTimeAgainstSimpson(t *testing.T) {
	room, err := NewRoom([]Reading{{0, -20}, {300, 20}})
	require.NoError(t, err)
	c := NewClock(sheet(t), room)
	const n = 10_000
	sum := 0.0
	for i := range n + 1 {
		w := 2.0 + 2*float64(i%2)
		if i == 0 || i == n {
			w = 1
		}
		sum += w * math.Exp(-50_000/8.31446261815324*(1/(253.15+40*float64(i)/n)-1/298.15))
	}
	assert.InEpsilon(t, sum/3/n*300*60, c.Equivalent(300), 1e-10)
}

// ∫dt/ν of a resin that thickens by c(15 min) 1.76 and c(40 min) 4.23 (the
// handbook's check values): Simpson's rule from the clock's own viscosity, and
// nothing after gel.
func TestFlowIsTheIntegralOfFluidity(t *testing.T) {
	c := NewClock(sheet(t), Constant(25))
	assert.InDelta(t, 1.0, c.Viscosity(0, 1000).PascalSeconds(), 1e-12)
	assert.InDelta(t, 1.76, c.Viscosity(15, 1000).PascalSeconds(), 0.005)
	assert.InDelta(t, 2*4.23, c.Viscosity(40, 2000).PascalSeconds(), 0.01)
	cool := NewClock(sheet(t), Constant(18))
	assert.InDelta(t, 1.689, cool.Viscosity(0, 1000).PascalSeconds(), 0.001)
	a, m, b := c.Viscosity(10, 1000).PascalSeconds(), c.Viscosity(11, 1000).PascalSeconds(), c.Viscosity(12,
		1000).PascalSeconds()
	assert.InEpsilon(t, 120*1100/6*(1/a+4/m+1/b), c.Flow(10, 12, 1000, 1100), 1e-6)
	assert.Equal(t, c.Flow(0, c.Gel(), 1000, 1100), c.Flow(0, 1e4, 1000, 1100))
	assert.Zero(t, c.Flow(20, 20, 1000, 1100))
}
