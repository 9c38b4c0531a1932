package flow_test

import (
	"context"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// painter shows white, black and grey cups that hide well on a mid ground.
func painter(t require.TestingT, hex ...string) *flow.Painter {
	finish := colour.Finish(1)
	var cups []colour.Optics
	for _, h := range hex {
		cups = append(cups, paste(t, h, 8))
	}
	p, err := flow.NewPainter(finish.In(reflectance(t, "#808080")), cups, finish)
	require.NoError(t, err)
	return p
}

// The edge of a lane poured straight across a board of 60 cm is as sharp after 40 minutes
// of levelling as when it was laid: from a tenth to nine tenths of the way from one colour
// to the other it takes less than half a millimetre, though it has gone ten times as far;
// and its volume is what was poured.
func TestALanesEdgeStaysAnEdge(t *testing.T) {
	const size, cells, scale = 600.0, 112, 11
	s := board(size, cells, 1100, 1100)
	s.Clock, s.Edge, s.Points = newResin(t), 4e-3, scale
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1e-3},
		{Kind: flow.Ribbon, At: 60, Cup: 1, Points: []geom.Point{at(300, -50), at(300, 650)}, Volume: 150e-6},
	}
	r, err := flow.Start(s)
	require.NoError(t, err)
	p := painter(t, "#f0f0f0", "#101010")
	edge := func(sec float64) (width, where float64) {
		require.NoError(t, r.To(t.Context(), sec))
		wide := cells * scale
		pix, err := p.Picture(t.Context(), r, scale)
		require.NoError(t, err)
		row := pix[4*wide*(wide/2):][:4*wide]
		value := func(x int) float64 { return float64(row[4*x]) }
		dark, light := value(wide/2), value(20)
		require.Greater(t, light-dark, 120.0)
		cross := func(share float64) float64 { // going out from the middle of the lane
			for x := wide / 2; x > 0; x-- {
				if a, b := value(x), value(x-1); b >= dark+share*(light-dark) {
					return float64(x) - (dark+share*(light-dark)-a)/math.Max(b-a, 1e-9)
				}
			}
			return math.NaN()
		}
		mm := size / float64(wide)
		return (cross(0.1) - cross(0.9)) * mm, (float64(wide)/2 - cross(0.5)) * mm
	}
	_, first := edge(61)
	width, then := edge(60 + 40*60)
	assert.Less(t, width, 0.5)
	assert.Greater(t, then-first, 5.0, "it has gone there")
	assert.InEpsilon(t, 150e-6, r.Sample().OnBoard[1]+r.Sample().Sides[1]+r.Sample().Below[1], 1e-6)
}

// The rim of a round board is drawn by its outline, not by the cells: points on it are
// partly face, as many as its length has, and the face is as large as the circle.
func TestARimIsDrawnByItsOutline(t *testing.T) {
	const cells, scale = 40, 10
	round := func(p geom.Point) bool { return p.Sub(geom.At(100, 100)).Norm() < 98 }
	grid, err := flow.NewGrid(200, 200, cells, round)
	require.NoError(t, err)
	s := board(200, cells, 1100)
	s.Grid, s.Face, s.Points = grid, round, scale
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1.5e-3}}
	r, err := flow.Start(s)
	require.NoError(t, err)
	require.NoError(t, r.To(t.Context(), 1))
	face, partly := 0.0, 0
	pix, err := painter(t, "#f0f0f0").Picture(t.Context(), r, scale)
	require.NoError(t, err)
	for i := 3; i < len(pix); i += 4 {
		face += float64(pix[i]) / 255
		if pix[i] > 0 && pix[i] < 255 {
			partly++
		}
	}
	gone, leave := context.WithCancel(t.Context())
	leave()
	_, err = painter(t, "#f0f0f0").Picture(gone, r, scale)
	require.ErrorIs(t, err, context.Canceled, "nobody waits for it")
	mm := 200.0 / (cells * scale)
	assert.InEpsilon(t, math.Pi*98*98, face*mm*mm, 0.003)
	assert.Greater(t, partly, int(98/mm))
}

// What is laid goes with the surface, half as fast again as the film (Nusselt): on a tilted
// board the outline of a drop laid on a wet film runs that far.
func TestTheSurfaceGoesHalfAsFastAgain(t *testing.T) {
	const cells, scale = 100, 6
	s := board(400, cells, 1100, 1100)
	s.Points = scale
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 2e-3},
		{
			Kind:   flow.Bed,
			At:     1,
			Cup:    1,
			Volume: 1e-7,
			Within: func(p geom.Point) bool { return p.X > 100 && p.X < 140 && p.Y > 150 && p.Y < 250 },
		},
		{Kind: flow.Tilting, At: 2, TiltX: -3, For: 100},
	}
	r, err := flow.Start(s)
	require.NoError(t, err)
	require.NoError(t, r.To(t.Context(), 42))
	pull := flow.Gravity * math.Sin(3*math.Pi/180)
	went := pull * 2e-3 * 2e-3 / 2 * 40 * 1100 / 1 * 1000 // mm: ρ·g_t·h²/2μ over 40 s
	got := r.Back(geom.At(120+went, 200))
	assert.InDelta(t, 120, got.X, 0.04*went)
	assert.InDelta(t, 200, got.Y, 0.5)
}

// What lies on the surface without an outline of its own is seen: a powder, a mist.
func TestPowderAndMistAreSeen(t *testing.T) {
	const cells, scale = 30, 8
	middle := func(moves ...flow.Move) (sum float64) {
		s := board(150, cells, 1100, 1100, 2000)
		s.Cups[2].Dry, s.Points = true, scale
		s.Moves = append([]flow.Move{{Kind: flow.Bed, Film: 1.5e-3}}, moves...)
		r, err := flow.Start(s)
		require.NoError(t, err)
		require.NoError(t, r.To(t.Context(), 30))
		p := painter(t, "#202020", "#f0f0f0", "#f0f0f0")
		p.Powder(2, colour.Flat(0.8), 5e-6)
		pix, err := p.Picture(t.Context(), r, scale)
		require.NoError(t, err)
		for i := 0; i < len(pix); i += 4 {
			sum += float64(pix[i])
		}
		return sum * 4 / float64(len(pix))
	}
	dark := middle()
	require.Less(t, dark, 60.0)
	dust := flow.Move{Kind: flow.Dust, At: 5, Cup: 2, Points: []geom.Point{geom.At(75, 75)}, Radius: 0.15, Volume: 4e-8}
	assert.Greater(t, middle(dust), dark+8)
	mist := flow.Move{Kind: flow.Mist, At: 5, Cup: 1, Points: []geom.Point{geom.At(75, 75)}, Radius: 0.15, Volume: 3e-7}
	assert.Greater(t, middle(mist), dark+8)
}

// Cells that have opened go with what moves later: a board tipped then takes its network
// along, as far as the surface goes there.
func TestCellsGoWithTheFlow(t *testing.T) {
	const size, n, scale = 120.0, 40, 8
	s := board(size, n, 1100, 1160)
	s.Cells, s.Points, s.Tension = true, scale, 0.04
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1.2e-3}, {Kind: flow.Bed, At: 1, Cup: 1, Film: 4e-4},
		{Kind: flow.Tilting, At: 600, TiltX: -6, For: 4},
	}
	shown := painter(t, "#202020", "#f0f0f0")
	r, err := flow.Start(s)
	require.NoError(t, err)
	look := func(at float64) []byte {
		require.NoError(t, r.To(t.Context(), at))
		pix, err := shown.Picture(t.Context(), r, scale)
		require.NoError(t, err)
		return pix
	}
	before, after := look(600), look(604)
	require.NotEmpty(t, r.Openings())
	gone := r.Home(geom.At(size/2, size/2))
	require.Greater(t, math.Abs(gone.X), 2.0, "mm")
	wide, per := n*scale, float64(n*scale)/size
	alike := func(shift int) float64 { // correlation of the middles
		var a, b, aa, bb, ab, count float64
		for y := wide / 3; y < 2*wide/3; y++ {
			for x := wide / 3; x < 2*wide/3; x++ {
				u, v := float64(after[4*(y*wide+x)]), float64(before[4*(y*wide+x+shift)])
				a, b, aa, bb, ab, count = a+u, b+v, aa+u*u, bb+v*v, ab+u*v, count+1
			}
		}
		return (ab/count - a*b/count/count) / math.Sqrt((aa/count-a*a/count/count)*(bb/count-b*b/count/count))
	}
	require.Greater(t, alike(int(math.Round(gone.X*per))), 0.6)
	require.Less(t, alike(0), 0.3)
}

// A film that has come to rest needs no new picture; one on which anything happens does.
func TestAGlanceTellsWhetherAnythingChanged(t *testing.T) {
	s := board(100, 24, 1100, 1100)
	s.Points, s.Tension = 4, 0.04
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1.2e-3},
		{Kind: flow.Bed, At: 1, Cup: 1, Film: 4e-4, Within: func(p geom.Point) bool { return p.X > 40 && p.X < 60 }},
		{Kind: flow.Tilting, At: 7200, TiltX: 2, For: 5},
		{Kind: flow.Stir, At: 7130, Points: []geom.Point{at(50, 50)}, Radius: 0.02},
	}
	r, err := flow.Start(s)
	require.NoError(t, err)
	glance := func(at float64) *flow.Glance {
		require.NoError(t, r.To(t.Context(), at))
		return r.Glance()
	}
	first := glance(2)
	assert.True(t, first.Same(first))
	assert.False(t, first.Same(nil))
	assert.False(t, glance(60).Same(first), "the heap runs out")
	rests := glance(7000)
	assert.True(t, glance(7100).Same(rests))
	stirred := glance(7140)
	assert.False(t, stirred.Same(rests), "stirred, which lifts nothing")
	assert.False(t, glance(7206).Same(stirred), "it was tipped")
}
