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
