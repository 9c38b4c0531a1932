package heat_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/heat"
	"jevvo/internal/core/units"
)

// Worked points (Carslaw & Jaeger, published).
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
	p, err := heat.PassOver(60, 0.5, 40, 50, 160_000, 25)
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
	_, err = heat.PassOver(60, 0, 40, 2, 1, 25)
	assert.Error(t, err)
}

// A film on a ground that takes no heat, against the heat equation stepped
// forward on a grid (independent integration).
func TestAFilmFeelsItsGround(t *testing.T) {
	const k, rho, c = 0.20, 1100.0, 1800.0
	const h, flux, cells = 0.0016, 8000.0, 80
	dx := h / cells
	dt := 0.2 * dx * dx * rho * c / k
	rise := make([]float64, cells)
	next := make([]float64, cells)
	now := 0.0
	for _, dwell := range []float64{3, 20, 60} {
		for ; now < dwell; now += dt {
			for i := range rise {
				in := flux // of the top cell
				if i > 0 {
					in = k * (rise[i-1] - rise[i]) / dx
				}
				out := 0.0 // of the bottom one
				if i < cells-1 {
					out = k * (rise[i] - rise[i+1]) / dx
				}
				next[i] = rise[i] + dt*(in-out)/(rho*c*dx)
			}
			rise, next = next, rise
		}
		surface := rise[0] + flux/k*dx/2
		got, err := heat.InFilm(flux/1000, dwell, h*1000, 0)
		require.NoError(t, err)
		assert.InEpsilon(t, surface, float64(got), 0.005, "%g s", dwell)
	}
	// Long after, all the heat is spread over the film: q/(ρ·c·h) a second.
	late, err := heat.InFilm(8, 600, 1.6, 0)
	require.NoError(t, err)
	later, err := heat.InFilm(8, 601, 1.6, 0)
	require.NoError(t, err)
	assert.InEpsilon(t, flux/(rho*c*h), float64(later-late), 1e-6)
	quick, err := heat.InFilm(60, 0.5, 1.6, 25)
	require.NoError(t, err)
	open, err := heat.Surface(60, 0.5, 25)
	require.NoError(t, err)
	assert.InDelta(t, float64(open), float64(quick), 1e-6, "a quick pass never feels the ground")
	slow, err := heat.PassOver(8, 3, 80, 1.6, 160_000, 25)
	require.NoError(t, err)
	deep, err := heat.PassOver(8, 3, 80, 50, 160_000, 25)
	require.NoError(t, err)
	assert.Greater(t, slow.Slowest, deep.Slowest, "a thin film must be crossed faster")
	_, err = heat.InFilm(8, 3, 0, 25)
	assert.Error(t, err)
}
