package surface

import (
	"math/rand/v2"
	"testing"

	"jevvo/internal/core/geom"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// crosses is the textbook test of two segments by orientation, written
// independently of the grid.
func crosses(a, b, c, d geom.Point) bool {
	side := func(p, q, r geom.Point) float64 { return q.Sub(p).Cross(r.Sub(p)) }
	return side(a, b, c)*side(a, b, d) < 0 && side(c, d, a)*side(c, d, b) < 0
}

// The grid finds a crossing exactly when comparing every pair does.
func TestGridFindsWhatEveryPairFinds(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 9))
		line := make([]geom.Point, rapid.IntRange(4, 40).Draw(t, "points"))
		for i := range line {
			line[i] = geom.At(1000*r.Float64(), 1000*r.Float64())
		}
		want := false
		n := len(line)
		for i := range n {
			for j := i + 2; j < n; j++ {
				if (j+1)%n != i && crosses(line[i], line[(i+1)%n], line[j], line[(j+1)%n]) {
					want = true
				}
			}
		}
		box := geom.Box{MaxX: 1000, MaxY: 1000}
		_, got := crossing([][]geom.Point{line}, box)
		assert.Equal(t, want, got)
	})
}

// The place that is named lies on both edges.
func TestCrossingNamesThePlace(t *testing.T) {
	line := []geom.Point{geom.At(0, 0), geom.At(100, 100), geom.At(100, 0), geom.At(0, 100)}
	at, crossed := crossing([][]geom.Point{line}, geom.Box{MaxX: 100, MaxY: 100})
	assert.True(t, crossed)
	assert.True(t, at.Sub(geom.At(50, 50)).Norm() < 1e-9)
}

// Outlines that touch in a point do not cross: a corner on an edge, two corners
// that meet, a figure that comes back to its own corner. One that goes through a
// corner of the other does.
func TestTouchingIsNotCrossing(t *testing.T) {
	square := []geom.Point{geom.At(0, 0), geom.At(100, 0), geom.At(100, 100), geom.At(0, 100)}
	for name, x := range map[string]struct {
		lines   [][]geom.Point
		crossed bool
	}{
		"a corner on an edge from inside": {[][]geom.Point{square, {geom.At(50, 0), geom.At(80, 50), geom.At(20, 50)}},
			false},
		"a corner on an edge, through it": {[][]geom.Point{square, {geom.At(50, -20), geom.At(80, 50), geom.At(20, 50)}},
			true},
		"two corners": {[][]geom.Point{square,
			{geom.At(100, 100), geom.At(150, 120), geom.At(120, 150)}}, false},
		"a figure that comes back": {[][]geom.Point{{geom.At(0, 0), geom.At(50, 50), geom.At(0, 100),
			geom.At(100, 100), geom.At(50, 50), geom.At(100, 0)}}, false},
		"a bow tie through one corner": {[][]geom.Point{{geom.At(0, 0), geom.At(50, 50), geom.At(100, 100),
			geom.At(0, 100), geom.At(50, 50), geom.At(100, 0)}}, true},
		"an hourglass, corner through edge": {[][]geom.Point{{geom.At(0, 0), geom.At(100, 100), geom.At(0, 100),
			geom.At(50, 50), geom.At(100, 0)}}, true},
		"two edges along each other": {[][]geom.Point{square, {geom.At(20, 0), geom.At(80, 0), geom.At(50, 50)}},
			true},
	} {
		_, crossed := crossing(x.lines, geom.Box{MinX: -50, MinY: -50, MaxX: 150, MaxY: 150})
		assert.Equal(t, x.crossed, crossed, name)
	}
}

// Maps of a drawing: area grows by the determinant, arcs included.
func TestAffineMapsKeepArcsArcs(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		m := Affine{v("a", 0.5, 3), v("b", -0.4, 0.4), v("c", -0.4, 0.4), v("d", 0.5, 3), v("e", -50, 50), v("f", -50, 50)}
		path := "M0 0H80A40 30 20 0 1 80 90C60 140 20 60 0 90Z"
		plain, err := Compose([]Part{{path, Identity}})
		assert.NoError(t, err)
		mapped, err := Compose([]Part{{path, m}})
		assert.NoError(t, err)
		det := m[0]*m[3] - m[1]*m[2]
		assert.InEpsilon(t, float64(plain.Area())*det, float64(mapped.Area()), 1e-9)
		back := Affine{m[3] / det, -m[1] / det, -m[2] / det, m[0] / det, 0, 0}
		round, err := Compose([]Part{{path, back.Then(m)}})
		assert.NoError(t, err)
		assert.InEpsilon(t, float64(plain.Perimeter()), float64(round.Perimeter()), 1e-8)
	})
}
