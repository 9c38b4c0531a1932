package film_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/film"
	"jevvo/internal/core/units"
)

// drained integrates the thin film's own equation outright: ∂h/∂s =
// ∂/∂x(g·h³/3·∂h/∂x) in s = ∫dt/ν, the edge held at what stands there, far inside
// undisturbed. It returns the volume over the edge, in m² for each metre of it.
func drained(h, stands, flow float64) float64 {
	const n = 200
	reach := 0.3 // m, farther than it is felt
	dx := reach / n
	film := make([]float64, n+1)
	for i := range film {
		film[i] = h
	}
	film[0] = stands
	ds := 0.2 * dx * dx * 3 / (9.81 * h * h * h)
	over := 0.0
	for s := 0.0; s < flow; s += ds {
		step := min(ds, flow-s)
		flux := make([]float64, n)
		for i := range n {
			m := (film[i] + film[i+1]) / 2
			flux[i] = 9.81 * m * m * m / 3 * (film[i+1] - film[i]) / dx
		}
		over += flux[0] * step
		for i := 1; i < n; i++ {
			film[i] += (flux[i] - flux[i-1]) / dx * step
		}
	}
	return over
}

// The closed form against the full equation.
func TestOverAnEdgeAgainstTheFullEquation(t *testing.T) {
	for _, x := range []struct{ h, stands, flow float64 }{{2.0, 1.63, 2e5}, {2.5, 1.63, 4e5}, {4, 1.63, 1e5},
		{4.9, 1.63, 1e5}} {
		got, err := film.OverEdge(units.Length(x.h), units.Length(x.stands), x.flow)
		require.NoError(t, err)
		want := drained(x.h/1000, x.stands/1000, x.flow)
		assert.InEpsilon(t, want, float64(got.Runs)/1000*x.h/1000, 0.06, "%v", x)
		assert.InEpsilon(t, 1.5*float64(got.Runs), float64(got.Drift), 1e-12,
			"the surface moves 1.5 times the mean (Nusselt's parabola)")
	}
}

// What stands by itself stays; more flow runs farther; nonsense is refused.
func TestOverAnEdgeLaws(t *testing.T) {
	still, err := film.OverEdge(1.6, 1.63, 1e6)
	require.NoError(t, err)
	assert.Zero(t, still)
	set, err := film.OverEdge(3, 1.63, 0)
	require.NoError(t, err)
	assert.Zero(t, set, "a film that has gelled runs no more")
	a, err := film.OverEdge(3, 1.63, 1e5)
	require.NoError(t, err)
	b, err := film.OverEdge(3, 1.63, 4e5)
	require.NoError(t, err)
	assert.InEpsilon(t, 2, float64(b.Drift/a.Drift), 1e-9, "twice as far in four times the flow")
	for _, bad := range [][3]float64{{0, 1, 1}, {1, 0, 1}, {1, 1, -1}} {
		_, err := film.OverEdge(units.Length(bad[0]), units.Length(bad[1]), bad[2])
		assert.Error(t, err)
	}
}
