package geom_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
)

// No old point lies farther from the simplified line than was allowed, and its ends
// are the old ones.
func TestSimplifiedLinesStayNear(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(2, 60).Draw(t, "n")
		line := make([]geom.Point, n)
		for i := range line {
			line[i] = geom.At(rapid.Float64Range(-50, 50).Draw(t, "x"), rapid.Float64Range(-50, 50).Draw(t, "y"))
		}
		tol := rapid.Float64Range(0.01, 20).Draw(t, "tol")
		short := geom.Simplify(line, tol)
		require.LessOrEqual(t, len(short), n)
		require.Equal(t, line[0], short[0])
		require.Equal(t, line[n-1], short[len(short)-1])
		for _, p := range line {
			near := math.Inf(1)
			for k := 1; k < len(short); k++ {
				near = math.Min(near, geom.FromSegment(p, short[k-1], short[k]))
			}
			if len(short) == 1 {
				near = p.Sub(short[0]).Norm()
			}
			require.LessOrEqual(t, near, tol+1e-9)
		}
	})
	circle := make([]geom.Point, 20001)
	for k := range circle {
		s, c := math.Sincos(2 * math.Pi * float64(k) / 20000)
		circle[k] = geom.At(300*c, 300*s)
	}
	assert.Less(t, len(geom.Simplify(circle, 0.1)), 300, "a circle of 600 mm")
}
