package cure

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/numeric"
	"jevvo/internal/core/units"
)

func ExampleCalibrate() {
	k, err := Calibrate(45, 24)
	clock := NewClock(k, Constant(25))
	fmt.Printf("k %.4e 1/s, n %.4f, gel %.2f h, %v\n", k.K, k.N, clock.Gel()/60, err)
	// Output: k 1.5049e-04 1/s, n 3.0679, gel 4.41 h, <nil>
}

// Flory–Stockmayer: 1/√((2−1)(4−1)) (published).
func TestGelPoint(t *testing.T) {
	assert.InDelta(t, 1/math.Sqrt(3), GelPoint, 1e-15)
}

// Values of a 45 min / 24 h product, regression values of the
// model, and beside them the common practice they meet.
func TestFortyFiveMinuteProduct(t *testing.T) {
	k, err := Calibrate(45, 24)
	require.NoError(t, err)
	assert.InDelta(t, 0.25542, ConversionAt(5), 5e-6)
	c := NewClock(k, Constant(25))
	for _, x := range []struct{ want, got, within float64 }{
		{6.93, c.Minute(0.65) / 60, 0.005}, {14.8, c.Minute(0.75) / 60, 0.05}, {77, c.Minute(0.885) / 60, 0.5},
		{29, c.Minute(0.96) / 1440, 0.5},
		{1.76, Thickening(c.Conversion(15)), 0.005}, {4.23, Thickening(c.Conversion(40)), 0.005},
		{8.20, Thickening(c.Conversion(60)), 0.005},
		{0.616, RateFactor(18), 5e-4}, {1.689, ViscosityFactor(18), 5e-4}, {1.395, RateFactor(30), 5e-4},
		{0.698, ViscosityFactor(30), 5e-4},
	} {
		assert.InDelta(t, x.want, x.got, x.within)
	}
	tape := c.Window(SoftSet)
	assert.True(t, tape.From/60 > 4 && tape.From/60 < 6, "tape off at 4–6 h (common practice)")
	assert.True(t, c.Window(Tacky).To/60 < 24 && c.Window(Hard).From/60 <= 24.001, "recoat next day (common practice)")
	assert.InDelta(t, 72, c.Window(Cured).From/60, 6, "cured at 72 h (common practice)")
	assert.InDelta(t, 30, c.Window(HeatReady).From/1440, 1.5, "heat-proof after 30 days (common practice)")
}

func TestCalibrateMeetsTheSheet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := rapid.Float64Range(5, 300).Draw(t, "working, min")
		h := w / 60 * rapid.Float64Range(3.5, 200).Draw(t, "hard/working")
		k, err := Calibrate(w, h)
		require.NoError(t, err)
		c := NewClock(k, Constant(25))
		assert.InEpsilon(t, 5, Thickening(c.Conversion(w)), 1e-6)
		assert.InEpsilon(t, 0.8, c.Conversion(h*60), 1e-6)
	})
}

func TestCalibrateRefuses(t *testing.T) {
	for _, x := range [][2]float64{{45, 1}, {0, 24}, {45, 0}, {-1, 24}, {math.NaN(), 24}, {45, math.Inf(1)}, {1, 1e9}} {
		_, err := Calibrate(x[0], x[1])
		assert.Error(t, err, "%v", x)
	}
	_, err := Calibrate(60, 2)
	assert.ErrorIs(t, err, ErrSheet)
}

// The closed form of an n-th order reaction (any text on kinetics, published)
// against the adaptive integrator, for orders on both sides of 1.
func TestIntegratorMeetsTheClosedForm(t *testing.T) {
	for _, n := range []float64{0.5, 1, 2, 3.0679} {
		k := Kinetics{K: 1.5e-4, N: n}
		flow := func(_ float64, y, dy []float64) { dy[0] = k.K * math.Pow(1-y[0], k.N) }
		end := 9000.0
		var got float64
		require.NoError(t, numeric.Integrate(flow, 0, []float64{0}, end, 1e-10,
			func(s numeric.Step) bool { got = s.To[0]; return true }))
		assert.InDelta(t, k.Conversion(end), got, 1e-8, "order %g", n)
		assert.InDelta(t, end, k.Seconds(got), 1e-2, "order %g", n)
	}
}

// The clock's one integral against solving the rate equation along the same
// curve step by step.
func TestRoomCurveMeetsTheIntegrator(t *testing.T) {
	k, err := Calibrate(45, 24)
	require.NoError(t, err)
	room, err := NewRoom([]Reading{{0, 24}, {120, 19}, {400, 16}, {700, 16}, {760, 22}, {1500, 22}})
	require.NoError(t, err)
	clock := NewClock(k, room)
	flow := func(s float64, y, dy []float64) {
		dy[0] = RateFactor(room.At(s/60)) * k.K * math.Pow(1-y[0], k.N)
	}
	for _, minute := range []float64{30, 119, 300, 555.5, 900, 3000} {
		var got float64
		require.NoError(t, numeric.Integrate(flow, 0, []float64{0}, minute*60, 1e-10,
			func(s numeric.Step) bool { got = s.To[0]; return true }))
		assert.InDelta(t, got, clock.Conversion(minute), 1e-7, "%g min", minute)
		assert.InDelta(t, minute, clock.Minute(clock.Conversion(minute)), 1e-4)
	}
}

// A warmer room is never slower, and the clock never runs back.
func TestClockLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k, err := Calibrate(rapid.Float64Range(15, 120).Draw(t, "working"), rapid.Float64Range(20, 60).Draw(t, "hard"))
		require.NoError(t, err)
		a := rapid.Float64Range(10, 35).Draw(t, "°C")
		cool, warm := NewClock(k, Constant(units.Temperature(a))), NewClock(k, Constant(units.Temperature(a+1)))
		m := rapid.Float64Range(1, 5000).Draw(t, "min")
		assert.Greater(t, warm.Conversion(m), cool.Conversion(m))
		assert.GreaterOrEqual(t, cool.Conversion(m+1), cool.Conversion(m))
		last := -1.0
		for _, w := range cool.Windows() {
			assert.LessOrEqual(t, w.From, w.To)
			if w.Phase != Lacing && w.Phase != Holding {
				assert.GreaterOrEqual(t, w.From, last, "%s opens in order", w.Phase)
			}
			last = w.From
		}
	})
}

func TestRoomRefuses(t *testing.T) {
	for _, r := range [][]Reading{nil, {{0, 200}}, {{0, 20}, {0, 21}}, {{5, 20}, {1, 21}}, {{math.NaN(), 20}},
		{{0, units.Temperature(math.NaN())}}} {
		_, err := NewRoom(r)
		assert.Error(t, err, "%v", r)
	}
}

// Limits of the batch that heats itself: a cup that loses no heat would rise by
// ΔH/c_p·α, and a tiny one stays at room temperature and follows the film.
func TestCupLimits(t *testing.T) {
	k, err := Calibrate(45, 24)
	require.NoError(t, err)
	drop, err := k.InCup(0.001, 25, 25)
	require.NoError(t, err)
	film := NewClock(k, Constant(25))
	assert.InEpsilon(t, film.Gel(), drop.Gel, 0.02)
	assert.InDelta(t, 25, float64(drop.Peak), 1)
	pail, err := k.InCup(20_000, 25, 25)
	require.NoError(t, err)
	assert.Less(t, float64(pail.Peak), 25+reactionHeat/heatCapacity, "no hotter than all its heat can make it")
	assert.Greater(t, float64(pail.Peak), 100.0)
	last := math.Inf(1)
	for _, m := range []units.Mass{10, 50, 150, 500, 2000} {
		f, err := k.InCup(m, 25, 25)
		require.NoError(t, err)
		assert.Less(t, f.UseBy, last, "larger lots last less long")
		assert.Less(t, f.UseBy, f.Gel)
		last = f.UseBy
	}
	hot, err := k.InCup(100, 60, 25)
	require.NoError(t, err)
	assert.Zero(t, hot.UseBy, "a lot that starts above 50 °C is past its use-by")
	_, err = k.InCup(0, 25, 25)
	assert.Error(t, err)
}

// While fresh and at 25 °C nothing thickens much: ∫dt/ν is t/ν.
func TestFlowOfAFreshResin(t *testing.T) {
	k, err := Calibrate(300, 100)
	require.NoError(t, err)
	c := NewClock(k, Constant(25))
	assert.InEpsilon(t, 60*1100/1.0, c.Flow(0, 1, 1000, 1100), 0.01)
	assert.InEpsilon(t, c.Flow(0, 50, 1000, 1100), c.Flow(0, 20, 1000, 1100)+c.Flow(20, 50, 1000, 1100), 1e-6)
	assert.Zero(t, c.Flow(c.Gel(), c.Gel()+10, 1000, 1100))
}

func BenchmarkClock72h(b *testing.B) {
	k, err := Calibrate(45, 24)
	if err != nil {
		b.Fatal(err)
	}
	readings := make([]Reading, 72*12+1)
	for i := range readings {
		readings[i] = Reading{float64(i) * 5, units.Temperature(20 + 4*math.Sin(float64(i)/46))}
	}
	room, err := NewRoom(readings)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		c := NewClock(k, room)
		c.Windows()
	}
}
