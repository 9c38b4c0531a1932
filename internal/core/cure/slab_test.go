package cure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/units"
)

func sheet(t require.TestingT) Kinetics {
	k, err := Calibrate(45, 24)
	require.NoError(t, err)
	return k
}

// Worked points of the heat balance of a flat layer, all at 25 °C.
func TestDeepLayers(t *testing.T) {
	for _, x := range []struct {
		depth                           units.Length
		faces                           int
		working, gel, peak, peakAt, tol float64
	}{{10, 2, 25.9, 175.7, 38.1, 30.4, 0.06}, {20, 1, 19.1, 37.5, 80.9, 48.7, 0.06}, {50, 2, 17.5, 30.4, 100.0, 45.1,
		0.06}} {
		f, err := sheet(t).InSlab(Slab{x.depth, x.faces, 25, Constant(25)})
		require.NoError(t, err)
		assert.InDelta(t, x.working, f.Working, x.tol, "%g mm", float64(x.depth))
		assert.InDelta(t, x.gel, f.Gel, x.tol)
		assert.InDelta(t, x.peak, float64(f.Peak), x.tol)
		assert.InDelta(t, x.peakAt, f.PeakAt, x.tol)
	}
}

// The clock of a layer is laid along its temperature: the same curing, read
// from the curve, must give the balance's own times.
func TestTheClockOfALayerIsItsBalance(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := sheet(t)
		room, err := NewRoom([]Reading{{0, 22}, {300, units.Temperature(rapid.Float64Range(15, 24).Draw(t, "night"))}})
		require.NoError(t, err)
		l := Slab{units.Length(rapid.Float64Range(3.5, 60).Draw(t, "mm")), rapid.IntRange(1, 2).Draw(t, "faces"), 22, room}
		f, err := k.InSlab(l)
		require.NoError(t, err)
		c, err := k.ClockIn(l)
		require.NoError(t, err)
		assert.InDelta(t, f.Gel, c.Gel(), 0.002*f.Gel+0.02)
		assert.InDelta(t, f.Working, c.Window(Lacing).To, 0.05)
		assert.InDelta(t, float64(f.Peak), float64(c.RoomAt(f.PeakAt)), 0.3)
		assert.GreaterOrEqual(t, f.Cooled, f.Gel)
		assert.InDelta(t, float64(room.At(1e5)), float64(c.RoomAt(1e5)), 0.2, "long after it is the room")
		deeper := l
		deeper.Depth *= 1.2
		g, err := k.InSlab(deeper)
		require.NoError(t, err)
		assert.Greater(t, g.Peak, f.Peak, "a deeper layer gets warmer")
		assert.Less(t, g.Working, f.Working)
	})
}

// A film of up to 3 mm goes by its sheet, and the depth just above joins it.
func TestAThinFilmGoesByItsSheet(t *testing.T) {
	k := sheet(t)
	plain := NewClock(k, Constant(25))
	for _, depth := range []units.Length{1.6, 3, 3.01} {
		c, err := k.ClockIn(Slab{depth, 2, 25, Constant(25)})
		require.NoError(t, err)
		assert.InEpsilon(t, plain.Gel(), c.Gel(), 1e-3, "%g mm", float64(depth))
	}
}

// The largest safe depth peaks at the limit, and a layer with one free face
// must be shallower than one with two.
func TestSafeDepth(t *testing.T) {
	k := sheet(t)
	two, err := k.SafeDepth(2, 24, Constant(24))
	require.NoError(t, err)
	one, err := k.SafeDepth(1, 24, Constant(24))
	require.NoError(t, err)
	assert.Greater(t, two, one)
	f, err := k.InSlab(Slab{two, 2, 24, Constant(24)})
	require.NoError(t, err)
	assert.InDelta(t, float64(SafePeak), float64(f.Peak), 0.5)
	slow, err := Calibrate(240, 48)
	require.NoError(t, err)
	deep, err := slow.SafeDepth(2, 24, Constant(24))
	require.NoError(t, err)
	assert.Greater(t, deep, two, "a slow resin may be cast deeper")
}

func TestLayersRefuseNonsense(t *testing.T) {
	for _, bad := range []Slab{{0, 2, 25, Constant(25)}, {2000, 2, 25, Constant(25)}, {10, 3, 25, Constant(25)},
		{10, 2, 200, Constant(25)}, {10, 2, 25, Room{}},
		{units.Length(math.NaN()), 2, 25, Constant(25)}} {
		_, err := sheet(t).InSlab(bad)
		assert.Error(t, err)
		_, err = sheet(t).ClockIn(bad)
		assert.Error(t, err)
	}
}

// DiBenedetto 1987 at its ends, and the room at which each conversion stops.
func TestGlass(t *testing.T) {
	g := DefaultGlass
	require.NoError(t, g.Check())
	assert.InDelta(t, -45, float64(g.At(0)), 1e-9)
	assert.InDelta(t, 70, float64(g.At(1)), 1e-9)
	rapid.Check(t, func(t *rapid.T) {
		a := rapid.Float64Range(0.05, 0.99).Draw(t, "α")
		assert.InDelta(t, a, g.Stops(g.Warm(a)), 1e-9, "one is the other turned round")
	})
	assert.Equal(t, 1.0, g.Stops(50))
	assert.Zero(t, g.Stops(-70))
	k := sheet(t)
	at25 := k.Reaches(0.885, g, 25)
	assert.True(t, at25.Comes, "a sheet promises cured at its own 25 °C")
	assert.True(t, k.Reaches(0.885, g, 20).Comes, "studios of 20 °C deliver (common practice)")
	cool := k.Reaches(0.885, g, 16)
	assert.False(t, cool.Comes)
	assert.InDelta(t, 20, float64(cool.Warm), 0.01)
	assert.Greater(t, cool.Hours, 1.0)
	hot := k.Reaches(0.96, g, 25)
	assert.False(t, hot.Comes, "heat-ready never comes by itself in a room")
	assert.Greater(t, hot.Warm, units.Temperature(35))
	for _, bad := range []Glass{{-45, 70, 0}, {70, -45, 0.5}, {-45, 70, 2}, {-400, 70, 0.5}} {
		assert.Error(t, bad.Check())
	}
}

// Macosko & Miller 1976 (published): the right ratio gels at 1/√3 and ties
// everything; gel ends at a threefold excess either way.
func TestOffRatio(t *testing.T) {
	right, err := OffRatio(0)
	require.NoError(t, err)
	assert.InDelta(t, GelPoint, right.Gel, 1e-12)
	assert.InDelta(t, 1, right.Ties, 1e-12)
	assert.Zero(t, right.Spare)
	much, err := OffRatio(0.165)
	require.NoError(t, err)
	assert.InDelta(t, 1-1/1.165, much.Spare, 1e-12)
	assert.InDelta(t, 0.81, much.Ties, 0.01)
	for _, excess := range []float64{2.01, -0.67} {
		f, err := OffRatio(excess)
		require.NoError(t, err)
		assert.False(t, f.Gels)
		assert.Zero(t, f.Ties)
	}
	rapid.Check(t, func(t *rapid.T) {
		r := rapid.Float64Range(1.001, 2.9).Draw(t, "r")
		over, err := OffRatio(r - 1)
		require.NoError(t, err)
		under, err := OffRatio(1/r - 1)
		require.NoError(t, err)
		assert.InDelta(t, over.Ties, under.Ties, 1e-9, "too much harms as too little does")
		assert.Less(t, over.Ties, 1.0)
		assert.Greater(t, under.Gel, over.Gel)
		x := math.Sqrt(r-0.75) - 0.5 // solves the recursion x = 1 − p + p·x³ with p = 1/r
		assert.InDelta(t, x, 1-1/r+x*x*x/r, 1e-9)
	})
	_, err = OffRatio(-1)
	assert.Error(t, err)
}

// Magnus with the constants of the World Meteorological Organization; 9.3 °C at
// 20 °C and 50 % is what every table prints (from memory).
func TestDewPoint(t *testing.T) {
	d, err := DewPoint(20, 0.5)
	require.NoError(t, err)
	assert.InDelta(t, 9.27, float64(d), 0.02)
	full, err := DewPoint(18, 1)
	require.NoError(t, err)
	assert.InDelta(t, 18, float64(full), 1e-9)
	for _, bad := range [][2]float64{{20, 0}, {20, 1.2}, {90, 0.5}, {-60, 0.5}} {
		_, err := DewPoint(units.Temperature(bad[0]), bad[1])
		assert.Error(t, err)
	}
}

func BenchmarkClockOfALayer(b *testing.B) {
	k := sheet(b)
	for b.Loop() {
		if _, err := k.ClockIn(Slab{50, 2, 25, Constant(25)}); err != nil {
			b.Fatal(err)
		}
	}
}
