package flow

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/geom"
)

// carried paints a shape on a skin of n by n cells, takes it along a flow for some steps,
// and returns which share of the shape is not where it should be in the end.
func carried(
	t *testing.T,
	n, steps int,
	shape func(x, y float64) bool,
	by func(x, y float64, step int) (dx, dy float64),
) float64 {
	t.Helper()
	const points = 4
	grid, err := NewGrid(float64(n), float64(n), n, func(geom.Point) bool { return true })
	require.NoError(t, err)
	s := newSkin(grid, points)
	all := make([]int32, grid.Len())
	for i := range all {
		all[i] = int32(i)
	}
	s.cover(0, all, nil)
	s.cover(1, all, func(p geom.Point) bool { return shape(p.X, p.Y) })
	for step := range steps {
		s.shift(grid.whole(), func(x, y int) (float64, float64) { return by(float64(x)+0.5, float64(y)+0.5, step) })
	}
	s.draw()
	wrong, in := 0.0, 0.0
	for i, cup := range s.cup {
		x, y := (float64(i%(n*points))+0.5)/points, (float64(i/(n*points))+0.5)/points
		if shape(x, y) {
			in++
		}
		if shape(x, y) != (cup == 1) {
			wrong++
		}
	}
	return wrong / in
}

// A slotted disc keeps its corners through a turn (the setting of Zalesak 1979, from memory: 100 by 100
// cells, radius 15, a slot 5 wide and 25 long, 628 steps).
func TestASlottedDiscGoesRound(t *testing.T) {
	disc := func(x, y float64) bool {
		return math.Hypot(x-50, y-75) < 15 && (math.Abs(x-50) > 2.5 || y > 85)
	}
	const turn = 2 * math.Pi / 628
	off := carried(t, 100, 628, disc, func(x, y float64, _ int) (float64, float64) {
		// the chord of a step, so that the path is the circle's
		c, s := math.Cos(turn), math.Sin(turn)
		dx, dy := x-50, y-50
		return dx - (c*dx + s*dy), dy - (c*dy - s*dx)
	})
	assert.Less(t, off, 0.02)
}

// A disc drawn out into a thread by a vortex, and back again, is the disc (the setting of
// LeVeque 1996, from memory: 128 by 128 cells, radius 0.15 at ½, ¾, period 8).
func TestADiscIsDrawnOutAndBack(t *testing.T) {
	const n, steps, period = 128, 1024, 8.0
	disc := func(x, y float64) bool { return math.Hypot(x/n-0.5, y/n-0.75) < 0.15 }
	speed := func(x, y, at float64) (u, v float64) {
		x, y = math.Pi*x/n, math.Pi*y/n
		turn := math.Cos(math.Pi * at / period)
		return -math.Pow(math.Sin(x), 2) * math.Sin(2*y) * turn, math.Pow(math.Sin(y), 2) * math.Sin(2*x) * turn
	}
	const dt = period / steps
	off := carried(t, n, steps, disc, func(x, y float64, step int) (float64, float64) {
		at := (float64(step) + 0.5) * dt
		u, v := speed(x, y, at)
		u, v = speed(x-u*dt*n/2, y-v*dt*n/2, at) // half way back
		return u * dt * n, v * dt * n
	})
	assert.Less(t, off, 0.05)
}
