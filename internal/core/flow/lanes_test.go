package flow

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
)

// A blade that goes straight comes over every cell under it once, and over no other.
func TestABladeComesOverEveryCellOnce(t *testing.T) {
	check := func(t *rapid.T, n int, a, b geom.Point, width float64) {
		grid, err := NewGrid(100, 100, n, func(geom.Point) bool { return true })
		require.NoError(t, err)
		r := &Run{scene: Scene{Grid: grid}}
		passed := make([]int, grid.Len())
		for _, l := range r.lanes([]geom.Point{a, b}, width/1000, 1) {
			for _, i := range l.Cells {
				passed[i]++
			}
		}
		cell, d := 100/float64(n), b.Sub(a)
		for i, times := range passed {
			p := geom.At((float64(i%n)+0.5)*cell, (float64(i/n)+0.5)*cell).Sub(a)
			along, aside := p.Dot(d)/d.Norm(), math.Abs(d.Cross(p))/d.Norm()
			switch {
			case along > 1e-6 && along < d.Norm()-1e-6 && aside < width/2-1e-6:
				require.Equal(t, 1, times, "cell %d, %v", i, p)
			case along < -1e-6 || along > d.Norm()+1e-6 || aside > width/2+1e-6:
				require.Zero(t, times, "cell %d, %v", i, p)
			}
		}
	}
	rapid.Check(t, func(t *rapid.T) { // along the cells, where rounding decides
		n := rapid.IntRange(20, 130).Draw(t, "n")
		x := 100 * float64(rapid.IntRange(0, 2*n).Draw(t, "x")) / float64(2*n)
		check(t, n, geom.At(x, 1), geom.At(x, 115), rapid.Float64Range(5, 120).Draw(t, "width"))
	})
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(-20, 120)
		a, b := geom.At(v.Draw(t, "ax"), v.Draw(t, "ay")), geom.At(v.Draw(t, "bx"), v.Draw(t, "by"))
		if a.Sub(b).Norm() < 1 {
			return
		}
		check(t, rapid.IntRange(20, 130).Draw(t, "n"), a, b, rapid.Float64Range(5, 120).Draw(t, "width"))
	})
}

// A path that turns back passes what lies there twice; one that bends, once.
func TestAPathThatTurnsBackPassesTwice(t *testing.T) {
	grid, err := NewGrid(100, 100, 50, func(geom.Point) bool { return true })
	require.NoError(t, err)
	r := &Run{scene: Scene{Grid: grid}}
	most := func(path ...geom.Point) int {
		passed, most := make([]int, grid.Len()), 0
		for _, l := range r.lanes(path, 0.01, 1) {
			for _, i := range l.Cells {
				passed[i]++
				most = max(most, passed[i])
			}
		}
		return most
	}
	require.Equal(t, 2, most(geom.At(10, 50), geom.At(90, 50), geom.At(20, 50)))
	narrow := r.lanes([]geom.Point{geom.At(10, 50), geom.At(90, 50)}, 1e-4, 1)
	require.Len(t, narrow, 1)
	require.Len(t, narrow[0].Cells, 40)
	require.Equal(t, 1, most(geom.At(10, 50), geom.At(50, 50), geom.At(80, 70)))
}
