package geom_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
)

var unit = [4]geom.Point{{X: 0, Y: 0}, {X: 1, Y: 0}, {X: 1, Y: 1}, {X: 0, Y: 1}}

// A pinhole camera at height 1 over a floor sees a point at depth z at 1/z (geometry):
// the middle of a strip in the picture is not the middle of the floor.
func TestProjectionOfAFloor(t *testing.T) {
	see := func(x, z float64) geom.Point { return geom.At(x/z, 1/z) }
	p, err := geom.Project([4]geom.Point{{X: -1, Y: 1}, {X: 1, Y: 1}, {X: 1, Y: 4}, {X: -1, Y: 4}},
		[4]geom.Point{see(-1, 1), see(1, 1), see(1, 4), see(-1, 4)})
	require.NoError(t, err)
	for _, q := range []geom.Point{{X: 0, Y: 2}, {X: 0.7, Y: 3}, {X: -3, Y: 8}} {
		got, ok := p.At(q)
		require.True(t, ok)
		want := see(q.X, q.Y)
		assert.InDelta(t, want.X, got.X, 1e-9)
		assert.InDelta(t, want.Y, got.Y, 1e-9)
	}
}

func TestFourCornersThatAreNone(t *testing.T) {
	for _, bad := range [][4]geom.Point{
		{}, {{X: 0, Y: 0}, {X: 1, Y: 0}, {X: 2, Y: 0}, {X: 0, Y: 1}},
		{{X: 0, Y: 0}, {X: 1, Y: 1}, {X: 1, Y: 0}, {X: 0, Y: 1}},
		{{X: 0, Y: 0}, {X: 2, Y: 0}, {X: 0.3, Y: 0.3}, {X: 0, Y: 2}},
	} {
		_, err := geom.Project(unit, bad)
		assert.ErrorIs(t, err, geom.ErrNoProjection)
	}
}

// Corners go to corners, and there and back again is where it began.
func TestProjectionLaws(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := func(name string) float64 { return rapid.Float64Range(-0.25, 0.25).Draw(t, name) }
		to := [4]geom.Point{{X: d("a"), Y: d("b")}, {X: 1 + d("c"), Y: d("d")}, {X: 1 + d("e"), Y: 1 + d("f")},
			{X: d("g"), Y: 1 + d("h")}}
		there, err := geom.Project(unit, to)
		if err != nil {
			t.Skip("dented")
		}
		back, err := geom.Project(to, unit)
		require.NoError(t, err)
		p := geom.At(rapid.Float64Range(0, 1).Draw(t, "x"), rapid.Float64Range(0, 1).Draw(t, "y"))
		q, ok := there.At(p)
		require.True(t, ok)
		r, ok := back.At(q)
		require.True(t, ok)
		require.InDelta(t, p.X, r.X, 1e-6)
		require.InDelta(t, p.Y, r.Y, 1e-6)
	})
}
