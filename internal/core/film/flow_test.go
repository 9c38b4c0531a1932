package film_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

// With a constant viscosity the integrated laws are the plain ones (Huppert
// 1982, Stokes 1851, Orchard 1962): ∫dt/ν is t/ν.
func TestIntegratedLawsAreThePlainOnes(t *testing.T) {
	l := film.DefaultLiquid
	nu := l.Viscosity.PascalSeconds() / float64(l.Density)
	for _, seconds := range []float64{1, 60, 900} {
		flow := seconds / nu
		line, err := film.LineHalfWidth(10, 300, l, seconds)
		require.NoError(t, err)
		after, err := film.LineAfter(10, 300, flow)
		require.NoError(t, err)
		assert.InEpsilon(t, float64(line), float64(after), 1e-12)
		puddle, err := film.PuddleRadius(50, l, seconds)
		require.NoError(t, err)
		pooled, err := film.PuddleAfter(50, flow)
		require.NoError(t, err)
		assert.InEpsilon(t, float64(puddle), float64(pooled), 1e-12)
		speed, err := film.SettlingSpeed(0.05, 3600, l)
		require.NoError(t, err)
		way, err := film.Travelled(0.05, 3600, l.Density, flow)
		require.NoError(t, err)
		assert.InEpsilon(t, speed*seconds/1000, float64(way), 1e-12)
		rate, err := film.OrchardRate(20, 1.6, l)
		require.NoError(t, err)
		left, err := film.LeftOf(20, 1.6, l, flow)
		require.NoError(t, err)
		assert.InDelta(t, math.Exp(-rate*seconds), left, 1e-12)
	}
}

// The smallest bubble that leaves is the one that just rises the film: by
// Stokes 1851 (2/9·Δρ·g·r²/μ) a bubble of 0.2 mm rises 23.9 µm/s, so 1.6 mm take it 67 s.
func TestSmallestBubble(t *testing.T) {
	l := film.DefaultLiquid
	nu := l.Viscosity.PascalSeconds() / float64(l.Density)
	d, err := film.SmallestEscaping(1.6, 1600/23.97/nu)
	require.NoError(t, err)
	assert.InDelta(t, 0.2, float64(d), 0.001)
	for _, bad := range []float64{0, -1, math.NaN()} {
		_, err := film.SmallestEscaping(units.Length(bad), 1)
		assert.Error(t, err)
	}
}
