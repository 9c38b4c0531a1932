package numeric_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jevvo/internal/core/numeric"
)

// Against roots and summits known in closed form.
func TestMethodsFindWhatIsKnown(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(0.01, 1e6).Draw(t, "v")
		assert.InEpsilon(t, math.Cbrt(v), numeric.Root(func(x float64) float64 { return x*x*x - v }, 0, 1e3), 1e-12)
		assert.InDelta(t, v, numeric.First(0, 2e6, 1e-3, func(x float64) bool { return x >= v }), 2e-3)
		at, top := numeric.Highest(func(x float64) float64 { return v - (x-3)*(x-3) }, -10, 10, 1e-7)
		assert.InDelta(t, 3, at, 1e-3)
		assert.InEpsilon(t, v, top, 1e-6)
	})
	assert.Equal(t, 7.0, numeric.First(0, 7, 1e-6, func(float64) bool { return false }), "never true: the end")
}

// An even scatter leaves no quarter of the square empty for long: among any 64
// in a row each sixteenth of it holds two to seven.
func TestScatterIsEven(t *testing.T) {
	for from := range 200 {
		var seen [16]int
		for i := range 64 {
			x, y := numeric.Scatter(from + i)
			seen[int(x*4)*4+int(y*4)]++
		}
		for _, n := range seen {
			assert.True(t, n >= 2 && n <= 7, "%d from %d", n, from)
		}
	}
}
