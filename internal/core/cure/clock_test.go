package cure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/units"
)

// A batch that meets later in the same room has the clock of that room from then
// on: against laying the shifted curve anew.
func TestALaterBatchHasItsOwnClock(t *testing.T) {
	k := sheet(t)
	rapid.Check(t, func(t *rapid.T) {
		by := rapid.Float64Range(1, 200).Draw(t, "min")
		cold := units.Temperature(rapid.Float64Range(10, 20).Draw(t, "night"))
		room, err := NewRoom([]Reading{{0, 24}, {250, cold}, {900, 22}})
		require.NoError(t, err)
		first := NewClock(k, room)
		later := first.Later(by)
		for _, m := range []float64{10, 100, 400, 1200} {
			assert.InDelta(t, float64(first.RoomAt(m+by)), float64(later.RoomAt(m)), 1e-9)
			assert.InEpsilon(t, first.Equivalent(by+m)-first.Equivalent(by), later.Equivalent(m), 1e-9)
		}
		assert.Same(t, first, first.Later(0))
	})
	steady := NewClock(k, Constant(21))
	assert.Same(t, steady, steady.Later(60), "a steady room is the same for every lot")
	assert.Equal(t, units.Temperature(24), NewClock(k, Room{[]Reading{{0, 18}, {60, 24}, {90, 20}}}).Warmest())
}

// Orders of the reaction below and at one have their own closed forms: one that
// ends in finite time, and the exponential (any text on kinetics, published).
func TestOrdersOfTheReaction(t *testing.T) {
	half := Kinetics{K: 1e-3, N: 0.5}
	assert.InDelta(t, 1-math.Pow(1-0.5*1e-3*500, 2), half.Conversion(500), 1e-12)
	assert.Equal(t, 1.0, half.Conversion(2000), "an order of one half is over after 2/k")
	assert.Equal(t, 1.0, half.Conversion(2500))
	first := Kinetics{K: 1e-3, N: 1}
	assert.InDelta(t, 1-math.Exp(-0.7), first.Conversion(700), 1e-12)
	assert.InDelta(t, 700, first.Seconds(1-math.Exp(-0.7)), 1e-6)
	near := Kinetics{K: 1e-3, N: 1 + 1e-7}
	assert.InDelta(t, first.Conversion(700), near.Conversion(700), 1e-6, "and there is no step between them")
}

// Castro & Macosko at the ends: fresh resin is one, gel is without end.
func TestThickeningAtItsEnds(t *testing.T) {
	assert.Equal(t, 1.0, Thickening(0))
	assert.True(t, math.IsInf(Thickening(GelPoint), 1))
	assert.True(t, math.IsInf(Thickening(0.9), 1))
	assert.Zero(t, ConversionAt(1))
	assert.Zero(t, ConversionAt(0.5))
	for _, c := range []float64{1.2, 2, 5, 20, 1000} {
		assert.InEpsilon(t, c, Thickening(ConversionAt(c)), 1e-6)
	}
}

// A window is open from its first minute and shut at its last.
func TestWindowsOpenAndShut(t *testing.T) {
	w := Window{Phase: Lacing, From: 10, To: 20}
	assert.False(t, w.Contains(9.99))
	assert.True(t, w.Contains(10))
	assert.True(t, w.Contains(19.99))
	assert.False(t, w.Contains(20))
	c := NewClock(sheet(t), Constant(25))
	assert.Equal(t, Window{}, c.Window("Melted"))
	assert.False(t, Known("Melted"))
	assert.Zero(t, Begins("Melted"))
	for _, p := range []Phase{Runny, Lacing, Holding, Stringy, SoftSet, Tacky, Firm, Hard, Cured, HeatReady} {
		assert.True(t, Known(p))
		assert.InDelta(t, Begins(p), c.Conversion(c.Window(p).From), 1e-9)
		assert.Equal(t, c.Window(p).Contains(c.Window(p).From+1), true)
	}
	assert.Zero(t, c.Equivalent(-5), "nothing has happened before mixing began")
	assert.Zero(t, c.Flow(20, 10, 1000, 1100))
}

// Masses and temperatures of no batch are refused, and resin that does not gel is
// said so.
func TestBatchesThatCannotBe(t *testing.T) {
	k := sheet(t)
	for _, bad := range []struct {
		m           units.Mass
		start, room units.Temperature
	}{{-1, 25, 25}, {2e6, 25, 25}, {units.Mass(math.NaN()), 25, 25}, {10, -30, 25}, {10, 25, 120}, {10, 101, 25}, {10, 25,
		-21}} {
		_, err := k.InCup(bad.m, bad.start, bad.room)
		assert.Error(t, err, "%+v", bad)
	}
	frozen := Kinetics{K: 1e-14, N: 2}
	_, err := frozen.InCup(10, 20, 20)
	assert.ErrorContains(t, err, "does not gel")
	_, err = frozen.InSlab(Slab{10, 1, 20, Constant(20)})
	assert.ErrorContains(t, err, "does not gel")
	_, err = frozen.ClockIn(Slab{10, 1, 20, Constant(20)})
	assert.Error(t, err)
	_, err = frozen.SafeDepth(1, 20, Constant(20))
	assert.Error(t, err)
}

// After the layer has joined the room its clock follows the room's own readings.
func TestALayerJoinsTheRoom(t *testing.T) {
	k := sheet(t)
	room, err := NewRoom([]Reading{{0, 22}, {3000, 16}, {6000, 25}})
	require.NoError(t, err)
	c, err := k.ClockIn(Slab{8, 2, 22, room})
	require.NoError(t, err)
	for _, m := range []float64{4000, 5500, 9000} {
		assert.InDelta(t, float64(room.At(m)), float64(c.RoomAt(m)), 0.3, "%g min", m)
	}
	held := math.Inf(-1)
	for m := 0.0; m < 3000; m += 7 {
		a := c.Conversion(m)
		assert.GreaterOrEqual(t, a, held)
		held = a
	}
}

// Observations that cannot be are refused, each for itself.
func TestRecalibrationRefuses(t *testing.T) {
	good := Observation{Sign: Signs[0].Key, Minute: 40, Room: 21}
	_, err := Recalibrate(45, 24, []Observation{good})
	require.NoError(t, err)
	for _, bad := range []Observation{{Sign: "smells", Minute: 40, Room: 21}, {Sign: good.Sign, Room: 21},
		{Sign: good.Sign, Minute: math.Inf(1), Room: 21},
		{Sign: good.Sign, Minute: 40, Room: -40}, {Sign: good.Sign, Minute: 40, Room: 95}} {
		_, err := Recalibrate(45, 24, []Observation{good, bad})
		assert.Error(t, err, "%+v", bad)
	}
	_, err = Recalibrate(45, 24, nil)
	assert.Error(t, err)
	_, err = Recalibrate(45, 0.1, []Observation{good})
	assert.Error(t, err)
}

// The integrator refuses what has no numbers.
func TestIntegratorRefuses(t *testing.T) {
	wild := func(_ float64, y, dy []float64) { dy[0] = math.NaN() }
	assert.Error(t, numeric.Integrate(wild, 0, []float64{1}, 10, 1e-8, func(numeric.Step) bool { return true }))
}
