package cure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
)

// What is on a limit belongs to it; what is just beyond is refused, with the
// reason that is its own.
func TestLimitsOfWhatIsAsked(t *testing.T) {
	k := sheet(t)
	for _, m := range []float64{0, 1_000_001, -1} {
		_, err := k.InCup(units.Mass(m), 25, 25)
		assert.ErrorContains(t, err, "a batch must weigh", "%g g", m)
	}
	f, err := k.InCup(1e6, 25, 25)
	require.NoError(t, err, "a tonne")
	assert.Greater(t, f.Peak, units.Temperature(100))
	hot, err := k.InCup(150, 50, 25)
	require.NoError(t, err)
	assert.Zero(t, hot.UseBy, "at 50 °C it is used up")
	for _, edge := range []units.Temperature{-20, 100} {
		assert.NoError(t, within(edge))
	}
	for _, beyond := range []units.Temperature{-20.1, 100.1, units.Temperature(math.NaN())} {
		assert.Error(t, within(25, beyond))
	}
	assert.NoError(t, Slab{1000, 1, 25, Constant(25)}.Check())

	at60, err := DewPoint(60, 0.5)
	require.NoError(t, err)
	assert.Less(t, at60, units.Temperature(60))
	_, err = DewPoint(-45, 0.5)
	assert.Error(t, err)
	_, err = DewPoint(20, 0)
	assert.Error(t, err)
}

func TestLimitsOfRooms(t *testing.T) {
	_, err := NewRoom([]Reading{{-1e7, -20}, {1e7, 80}})
	require.NoError(t, err)
	for _, bad := range [][]Reading{{{1e7 + 1, 20}}, {{0, -20.1}}, {{0, 80.1}}, {{5, 20}, {5, 21}}, {{math.NaN(), 20}},
		nil} {
		_, err := NewRoom(bad)
		assert.Error(t, err, "%v", bad)
	}
	for _, o := range []Observation{{"tape", 200, -20}, {"tape", 200, 80}} {
		_, err := Recalibrate(45, 24, []Observation{o})
		assert.NoError(t, err, "%v", o)
	}
	for _, o := range []Observation{{"tape", 0, 20}, {"tape", 200, 80.1}, {"tape", 200, -20.1}, {"", 200, 20},
		{"tape", math.Inf(1), 20}} {
		_, err := Recalibrate(45, 24, []Observation{o})
		assert.Error(t, err, "%v", o)
	}
}

func TestLimitsOfSheets(t *testing.T) {
	for _, bad := range [][2]float64{{0, 24}, {45, 0}, {-1, 24}, {math.Inf(1), 24}, {45, math.Inf(1)}} {
		_, err := Calibrate(bad[0], bad[1])
		require.Error(t, err)
		assert.NotErrorIs(t, err, ErrSheet, "a time that is none is not a pair that does not fit: %v", bad)
	}
	_, err := Calibrate(45, 1)
	assert.ErrorIs(t, err, ErrSheet)
	w := Window{From: 10, To: 20}
	for minute, in := range map[float64]bool{9.9: false, 10: true, 19.9: true, 20: false} {
		assert.Equal(t, in, w.Contains(minute), "%g", minute)
	}
	third, err := OffRatio(2)
	require.NoError(t, err)
	assert.False(t, third.Gels, "a threefold excess never gels (Macosko & Miller 1976)")
}

func TestLimitsOfGlass(t *testing.T) {
	for _, good := range []Glass{{-45, 300, 1}, {-45, 70, 0.001}, {-273, 70, 0.5}} {
		assert.NoError(t, good.Check(), "%v", good)
	}
	for _, bad := range []Glass{{70, 70, 0.5}, {units.AbsoluteZero, 70, 0.5}, {-45, 300.1, 0.5}, {-45, 70, 1.01}} {
		assert.Error(t, bad.Check(), "%v", bad)
	}
	k, g := sheet(t), DefaultGlass
	assert.True(t, k.Reaches(g.Stops(20), g, 20).Comes, "where it stops it has come")
	just := k.Reaches(g.Stops(20)+1e-13, g, 20)
	assert.InDelta(t, 20, float64(just.Warm), 1e-9, "a hair of rounding asks for no degree more")
	cool := k.Reaches(0.9, g, 15)
	warmed := NewClock(k, Constant(cool.Warm))
	assert.InEpsilon(t, (warmed.Minute(0.9)-warmed.Minute(cool.Stops))/60, cool.Hours, 1e-9,
		"warming goes on from where the room left it")
}
