package geom_test

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
)

func ExampleSpans() {
	frame := [][]geom.Point{{{0, 0}, {10, 0}, {10, 10}, {0, 10}}, {{4, 4}, {6, 4}, {6, 6}, {4, 6}}}
	for from, to := range geom.Spans(frame, 5) {
		fmt.Println(from, to)
	}
	// Output:
	// 0 4
	// 6 10
}

// The area of a polygon, three ways: the shoelace formula, chords summed over
// its height, and the closed form of a regular polygon, ½·n·r²·sin(2π/n).
func TestAreasAgree(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, r := rapid.IntRange(3, 60).Draw(t, "corners"), rapid.Float64Range(1, 1000).Draw(t, "radius")
		ring := geom.Round(geom.Point{X: r, Y: -r}, r, n)
		want := float64(n) / 2 * r * r * math.Sin(2*math.Pi/float64(n))
		assert.InEpsilon(t, want, math.Abs(geom.SignedArea(ring)), 1e-9)
		sum := 0.0
		const rows = 4000
		for i := range rows {
			sum += geom.Chord([][]geom.Point{ring}, -2*r+(float64(i)+0.5)*2*r/rows) * 2 * r / rows
		}
		assert.InEpsilon(t, want, sum, 2e-3)
		assert.True(t, geom.Inside([][]geom.Point{ring}, geom.Point{X: r, Y: -r}))
		assert.False(t, geom.Inside([][]geom.Point{ring, ring}, geom.Point{X: r, Y: -r}),
			"even-odd: a loop over itself is a hole")
	})
}

func onEdge(loops [][]geom.Point, p geom.Point) bool {
	return slices.ContainsFunc(loops, func(loop []geom.Point) bool {
		for k, a := range loop {
			if geom.FromSegment(p, a, loop[(k+1)%len(loop)]) < 1e-9 {
				return true
			}
		}
		return false
	})
}

// Row by row, the same lies inside as point by point.
func TestWithinIsInside(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var loops [][]geom.Point
		for range rapid.IntRange(1, 3).Draw(t, "loops") {
			var loop []geom.Point
			for range rapid.IntRange(3, 9).Draw(t, "corners") {
				loop = append(loop, geom.At(rapid.Float64Range(0, 100).Draw(t, "x"), rapid.Float64Range(0, 100).Draw(t, "y")))
			}
			loops = append(loops, loop)
		}
		within := geom.Within(loops)
		for range 20 {
			p := geom.At(rapid.Float64Range(-5, 105).Draw(t, "px"), float64(rapid.IntRange(-5, 105).Draw(t, "py")))
			if onEdge(loops, p) {
				continue // where rounding decides
			}
			if within(p) != geom.Inside(loops, p) {
				t.Fatalf("%v", p)
			}
		}
	})
}
