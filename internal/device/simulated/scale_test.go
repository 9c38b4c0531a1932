package simulated_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"jevvo/internal/core/units"
	"jevvo/internal/device/simulated"
)

func pour(s *simulated.Scale) []units.Mass {
	var out []units.Mass
	s.Place(9)
	s.Advance(2 * time.Second)
	s.Tare()
	s.Lever(1)
	for range 40 {
		s.Advance(100 * time.Millisecond)
		out = append(out, s.Read().Grams)
	}
	s.Lever(0)
	s.Advance(3 * time.Second)
	return append(out, s.Read().Grams)
}

func TestSameSeedReadsAlike(t *testing.T) {
	a, b, c := simulated.NewScale(7, 0.1), simulated.NewScale(7, 0.1), simulated.NewScale(8, 0.1)
	x, y, z := pour(a), pour(b), pour(c)
	assert.Equal(t, x, y)
	assert.NotEqual(t, x, z, "another seed flickers otherwise")
}

func TestScaleBehaves(t *testing.T) {
	s := simulated.NewScale(1, 0.1)
	s.Place(100)
	s.Advance(100 * time.Millisecond)
	assert.Less(t, float64(s.Read().Grams), 60.0, "it lags")
	assert.False(t, s.Read().Stable)
	s.Advance(4 * time.Second)
	assert.InDelta(t, 100, float64(s.Read().Grams), 0.3)
	assert.True(t, s.Read().Stable)
	s.Tare()
	assert.InDelta(t, 0, float64(s.Read().Grams), 1e-9)
	r := float64(s.Read().Grams) / 0.1
	assert.InDelta(t, math.Round(r), r, 1e-6, "it reads in steps")
	s.Lever(1)
	s.Advance(2 * time.Second)
	s.Lever(0)
	before := s.Read().Grams
	s.Advance(2 * time.Second)
	assert.Greater(t, s.Read().Grams, before+2, "the stream runs on after the jug is set down")
	s.Lever(math.NaN())
	s.Advance(time.Second)
	s.Clear()
	s.Advance(4 * time.Second)
	assert.InDelta(t, -100, float64(s.Read().Grams), 1, "without the cup it shows the tare")
}

// Whatever it reads to, a scale with nothing moving on it comes to rest.
func TestEveryScaleComesToRest(t *testing.T) {
	for _, step := range []units.Mass{0.01, 0.1, 1, 5} {
		s := simulated.NewScale(2, 0.1)
		s.SetStep(step)
		s.Place(50)
		s.Advance(5 * time.Second)
		assert.True(t, s.Read().Stable, "reading to %g g", float64(step))
		assert.Equal(t, step, s.Step())
		assert.InDelta(t, 50, float64(s.Read().Grams), float64(step)+0.1)
	}
}

func TestScaleDrifts(t *testing.T) {
	s := simulated.NewScale(3, 0.01)
	s.Advance(time.Hour)
	assert.NotZero(t, float64(s.Read().Grams))
	assert.Less(t, math.Abs(float64(s.Read().Grams)), 1.0)
}
