package heat_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/heat"
	"jevvo/internal/core/units"
)

// Handbook 5 (Carslaw & Jaeger, published).
func TestSurfaceRise(t *testing.T) {
	for _, x := range []struct{ flux, dwell, rise float64 }{{60, 0.5, 76}, {60, 2, 152}, {25, 2, 63}} {
		s, err := heat.Surface(x.flux, x.dwell, 25)
		require.NoError(t, err)
		assert.InDelta(t, x.rise, float64(s)-25, 0.5)
	}
}

// Staying exactly as long as allowed reaches exactly the scorch limit.
func TestMaxDwellReachesScorch(t *testing.T) {
	for _, flux := range []float64{5, 25, 60, 120} {
		d, err := heat.MaxDwell(flux, 30)
		require.NoError(t, err)
		s, err := heat.Surface(flux, d, 30)
		require.NoError(t, err)
		assert.InDelta(t, float64(heat.Scorch), float64(s), 1e-9)
	}
	d, err := heat.MaxDwell(60, 160)
	require.NoError(t, err)
	assert.Zero(t, d)
}

func TestHeatRefuses(t *testing.T) {
	_, err := heat.Surface(0, 1, 25)
	assert.Error(t, err)
	_, err = heat.Surface(60, -1, 25)
	assert.Error(t, err)
	_, err = heat.MaxDwell(60, units.AbsoluteZero-1)
	assert.Error(t, err)
}

// Passes: by 2q√(αt/π)/k of Carslaw & Jaeger 60 kW/m² for 0.5 s warm by 76 K; the slowest travel is the
// spot over the longest dwell; cooling is the same law twice (Carslaw & Jaeger).
func TestAPassOverABoard(t *testing.T) {
	p, err := heat.PassOver(60, 0.5, 40, 160_000, 25)
	require.NoError(t, err)
	assert.InDelta(t, 101, float64(p.Surface), 0.5)
	most, err := heat.MaxDwell(60, 25)
	require.NoError(t, err)
	assert.InDelta(t, 40/most, float64(p.Slowest), 1e-9)
	assert.InDelta(t, 160_000./40/80, p.Time, 1e-9, "4 m of lane at 80 mm/s")
	after, err := heat.Surface(60, p.Pause+0.5, 0)
	require.NoError(t, err)
	less, err := heat.Surface(60, p.Pause, 0)
	require.NoError(t, err)
	assert.InDelta(t, 10, float64(after-less), 1e-6, "what is left at the end of the pause")
	_, err = heat.PassOver(60, 0, 40, 1, 25)
	assert.Error(t, err)
}
