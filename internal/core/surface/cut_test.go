package surface_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/geom"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
)

func shape(tb require.TestingT, path string) surface.Shape {
	s, err := surface.Outline(path)
	require.NoError(tb, err)
	return s
}

// A cut divides: what lies to its left and what lies to its right are the face,
// whatever the line, holes taken out of each.
func TestACutDividesTheFace(t *testing.T) {
	for name, path := range map[string]string{"square": "M0 0H300V300H0Z",
		"with a hole": "M0 0H300V300H0Z M100 100H200V200H100Z", "away from the corner": "M50 80L350 80L200 380Z"} {
		s := shape(t, path)
		rapid.Check(t, func(t *rapid.T) {
			a := geom.At(rapid.Float64Range(-50, 350).Draw(t, "ax"), rapid.Float64Range(-50, 350).Draw(t, "ay"))
			b := geom.At(rapid.Float64Range(-50, 350).Draw(t, "bx"), rapid.Float64Range(-50, 350).Draw(t, "by"))
			if b.Sub(a).Norm() < 1 {
				return
			}
			left, right := s.Whole().Left(a, b), s.Whole().Left(b, a)
			assert.InDelta(t, float64(s.Area()), float64(left.Area()+right.Area()), 1e-6*float64(s.Area()), name)
			assert.LessOrEqual(t, float64(left.Left(b, a).Area()), 1e-6*float64(s.Area()), "nothing lies on both sides")
		})
		assert.InDelta(t, float64(s.Area()), float64(s.Whole().Area()), 1e-9*float64(s.Area()))
	}
	// Seen with y growing down, the left of a line to the right is above it.
	top := shape(t, "M0 0H300V300H0Z").Whole().Left(geom.At(0, 100), geom.At(300, 100))
	assert.InDelta(t, 300*100, float64(top.Area()), 1e-9)
	for _, loop := range top.Loops() {
		for _, p := range loop {
			assert.LessOrEqual(t, p.Y, 100+1e-9)
		}
	}
}

// Points are measured from the corner of the box, holes are outside.
func TestInside(t *testing.T) {
	s := shape(t, "M100 100H400V400H100Z M200 200H300V300H200Z")
	assert.True(t, s.Inside(geom.At(50, 50)))
	assert.False(t, s.Inside(geom.At(150, 150)), "in the hole")
	assert.False(t, s.Inside(geom.At(350, 50)))
	assert.Equal(t, geom.Box{MinX: 100, MinY: 100, MaxX: 400, MaxY: 400}, s.Bounds())
	assert.Len(t, s.Loops(), 2)
	assert.False(t, s.IsZero())
	assert.True(t, surface.Shape{}.IsZero())
	assert.Contains(t, s.Path(), "M0.00 0.00L300.00 0.00")
	again := shape(t, s.Path())
	assert.InDelta(t, float64(s.Area()), float64(again.Area()), 1, "drawn and read again")
}

// An inset of a rectangle is the smaller rectangle, that of a ring grows into it
// from both sides (plane geometry).
func TestInset(t *testing.T) {
	board, err := surface.Rectangle(300, 200)
	require.NoError(t, err)
	in := board.Inset(10)
	require.Len(t, in, 1)
	assert.InDelta(t, 280*180, math.Abs(geom.SignedArea(in[0])), 1e-6)
	ring := shape(t, "M0 0H300V300H0Z M100 100H200V200H100Z")
	both := ring.Inset(10)
	require.Len(t, both, 2)
	assert.InDelta(t, 280*280, math.Abs(geom.SignedArea(both[0])), 1e-6)
	assert.InDelta(t, 120*120, math.Abs(geom.SignedArea(both[1])), 1e-6, "the band lies on the face, around the hole")
}

// A face drinks by what it is made of, a sealed one nothing; a mould is its
// outline times its depth, or the water it holds.
func TestBoardsAndMoulds(t *testing.T) {
	for _, r := range surface.Supports {
		assert.Equal(t, r, r.Support.Rule())
		assert.Zero(t, r.Support.Absorbed(1e6, true))
		assert.InDelta(t, r.Absorbency, float64(r.Support.Absorbed(1e6, false)), 1e-9, "a square metre of %s", r.Name)
	}
	assert.Equal(t, surface.Panel.Rule(), surface.Support("cheese").Rule())
	board, err := surface.Rectangle(300, 200)
	require.NoError(t, err)
	v, err := surface.MouldByDepth(board, 20)
	require.NoError(t, err)
	assert.InDelta(t, 1200, float64(v), 1e-9)
	w, err := surface.MouldByWater(998.2)
	require.NoError(t, err)
	assert.InDelta(t, 1000, float64(w), 1e-9, "998.2 g of water are a litre at 20 °C (from memory)")
	for _, bad := range []float64{0, -1, math.NaN()} {
		_, err := surface.MouldByDepth(board, units.Length(bad))
		assert.Error(t, err)
		_, err = surface.MouldByWater(units.Mass(bad))
		assert.Error(t, err)
	}
}

// Sizes nobody has a board of are refused, each where it is.
func TestBoardsThatCannotBe(t *testing.T) {
	for _, bad := range []units.Length{0, -1, units.Length(math.NaN()), 1e7} {
		_, err := surface.Rectangle(bad, 100)
		assert.Error(t, err)
		_, err = surface.Rectangle(100, bad)
		assert.Error(t, err)
		_, err = surface.Circle(bad)
		assert.Error(t, err)
		_, err = surface.Ellipse(100, bad)
		assert.Error(t, err)
		_, err = surface.Regular(6, bad)
		assert.Error(t, err)
	}
	for _, n := range []int{2, 65} {
		_, err := surface.Regular(n, 100)
		assert.Error(t, err)
	}
	board, err := surface.Rectangle(300, 200)
	require.NoError(t, err)
	for _, f := range []float64{0, -2, math.Inf(1), math.NaN()} {
		_, err := board.Scaled(f)
		assert.Error(t, err)
	}
	for _, path := range []string{"", "M0 0", "M0 0L10", "L0 0 10 10Z", "M0 0H10V10", "M0 0A10 10 0 2 0 5 5Z",
		"M0 0A10 10 0 0 2 5 5Z", "M0 0C1 1Z", "M0 0Q1Z", "M0 0X9Z", "M0 0H1e9V9H0Z", "M0 0L5 5Z"} {
		_, err := surface.Outline(path)
		assert.Error(t, err, "%q", path)
	}
	for _, tilt := range []surface.Tilt{{Along: 46}, {Across: -80}, {Along: units.Angle(math.NaN())}} {
		_, err := surface.Level(300, 200, tilt, 1.6, 1000, 1100)
		assert.Error(t, err, "%+v", tilt)
	}
}
