package flow_test

import (
	"context"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/film"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/units"
)

// board is a square scene of 1 Pa·s and 1 100 kg/m³ with dams round it.
func board(size float64, cells int, cups ...float64) flow.Scene {
	grid, err := flow.NewGrid(size, size, cells, func(geom.Point) bool { return true })
	if err != nil {
		panic(err)
	}
	s := flow.Scene{
		Grid:    grid,
		Edge:    0.4,
		Free:    2.7e-3,
		Depth:   0.02,
		Density: 1100,
		Room:    25,
		Clock:   flow.Constant{Viscous: 1, Density: 1100},
	}
	for _, d := range cups {
		s.Cups = append(s.Cups, flow.Cup{Density: d})
	}
	return s
}

func play(t require.TestingT, s flow.Scene, to float64) *flow.Run {
	r, err := flow.Start(s)
	require.NoError(t, err)
	require.NoError(t, r.To(context.Background(), to))
	require.NoError(t, r.Settle(context.Background()))
	return r
}

func at(x, y float64) geom.Point { return geom.At(x, y) }

// Whatever is poured, tilted, drawn, blown, warmed, stirred and unmasked: of every
// cup there is on the board, on the sides and below exactly what was poured, the
// film is what its layers are, and no layer is less than nothing.
func TestNoCupIsLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := board(120, 16, 1100, 1160, 1090)
		s.Contact.EdgeHeight = rapid.SampledFrom([]float64{0, 1.6e-3}).Draw(t, "stands")
		s.Edge = rapid.SampledFrom([]float64{0.4, 1.5e-3, 0}).Draw(t, "edge")
		s.Tension = rapid.SampledFrom([]float64{0, 0.04}).Draw(t, "tension")
		s.Cells = rapid.Bool().Draw(t, "cells")
		point := func() geom.Point {
			return at(
				rapid.Float64Range(5, 40).Draw(t, "x"),
				rapid.Float64Range(5, 115).Draw(t, "y"),
			) // a barrier between two cells is none
		}
		poured := make([]float64, 3)
		s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3}}
		poured[0] = 1e-3 * 0.12 * 0.12
		for k := range rapid.IntRange(2, 7).Draw(t, "moves") {
			m := flow.Move{
				Kind:   rapid.SampledFrom(flow.Kinds()).Draw(t, "kind"),
				At:     3 * float64(k+1),
				Cup:    rapid.IntRange(0, 2).Draw(t, "cup"),
				Points: []geom.Point{point(), at(60, 60.5)},
				Volume: rapid.Float64Range(1e-7, 8e-6).Draw(t, "volume"),
				Film:   4e-4,
				Width:  0.03,
				Radius: 0.03,
				Gap:    rapid.Float64Range(2e-4, 3e-3).Draw(t, "gap"),
				Depth:  6e-4,
				Speed:  0.05,
				Shear:  5,
				For:    rapid.SampledFrom([]float64{0.5, 6}).Draw(t, "for"),
				To:     60,
				Count:  3,
				TiltX:  rapid.Float64Range(-20, 20).Draw(t, "tilt"),
				TiltY:  5,
				Side:   flow.West,
			}
			s.Moves = append(s.Moves, m)
			switch m.Kind {
			case flow.Bed, flow.Ribbon, flow.Puddle, flow.Drops, flow.Mist, flow.Dust:
				poured[m.Cup] += m.Volume
			}
		}
		r, err := flow.Start(s)
		require.NoError(t, err)
		for _, to := range []float64{10, 25, 40} {
			require.NoError(t, r.To(context.Background(), to))
		}
		b := r.Sample()
		for k, v := range poured {
			require.InDelta(t, v, b.OnBoard[k]+b.Sides[k]+b.Below[k], 1e-6*v+1e-18, "cup %d, before it has settled", k)
		}
		require.NoError(t, r.Settle(context.Background()))
		b = r.Sample()
		for k, v := range poured {
			require.InDelta(t, v, b.OnBoard[k]+b.Sides[k]+b.Below[k], 1e-6*v+1e-18, "cup %d", k)
		}
		for i, h := range r.Coat().Film().H() {
			sum := 0.0
			for _, l := range r.Coat().Column(i) {
				require.Greater(t, l.Film, 0.0)
				sum += l.Film
			}
			require.InDelta(t, h, sum, 1e-12)
		}
	})
}

// A film runs down an incline as Nusselt has it, its surface at h²·g_t/2ν, 1.5 times
// as fast as the whole (published); a thin layer on it is carried that far.
func TestTheSurfaceRunsAheadOfTheFilm(t *testing.T) {
	s := board(300, 100, 1100, 1100)
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 2e-3},
		{Kind: flow.Bed, Cup: 1, Film: 1e-5, Within: func(p geom.Point) bool { return p.X > 140 && p.X < 170 }},
		{Kind: flow.Tilting, TiltX: -5},
	}
	const seconds = 12
	r := play(t, s, seconds)
	x, _ := r.SurfaceSpeed(s.Grid.CellAt(at(230, 150)))
	h, pull := 2e-3, flow.Gravity*math.Sin(5*math.Pi/180)
	assert.InEpsilon(t, pull*h*h/2*1100, x, 0.005, "surface speed")
	sum, first, went := 0.0, 0.0, 0.0
	q := pull * h * h * h / 3 * 1100
	for i, v := range r.Coat().Film().H() {
		for _, l := range r.Coat().Column(i) {
			if l.Cup == 1 {
				sum += l.Film
				first += l.Film * s.Grid.Middle(i).X / 1000
			}
		}
		if s.Grid.Middle(i).X > 200 {
			went += (v - h) * s.Grid.Cell * s.Grid.Cell
		}
	}
	assert.InEpsilon(t, pull*h*h/2*1100*seconds, first/sum-0.155, 0.06, "carried as fast as the surface")
	assert.InEpsilon(t, q*seconds*0.3, went, 0.005, "the whole goes two thirds as fast")
}

// A flat blade leaves half of its gap behind (the mean of a linear profile).
func TestABladeLeavesHalfItsGap(t *testing.T) {
	s := board(200, 100, 1100, 1100)
	s.Clock = flow.Constant{Viscous: 1e9, Density: 1100} // so that nothing levels meanwhile
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 2e-3},
		{Kind: flow.Swipe, Points: []geom.Point{at(0, 100), at(199, 100)}, Width: 0.2, Gap: 1.6e-3, Speed: 0.1},
	}
	r := play(t, s, 5)
	for _, x := range []float64{20, 60, 100, 140} {
		assert.InEpsilon(t, 0.8e-3, r.FilmAt(at(x, 100)), 1e-6, "x %g", x)
	}
}

// A sheet drawn over a white stripe drags it out over the bed, thinner the farther,
// and on top.
func TestASheetDragsAStripeOut(t *testing.T) {
	s := board(200, 100, 1100, 1150)
	s.Clock = flow.Constant{Viscous: 1e9, Density: 1100}
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1.2e-3},
		{Kind: flow.Bed, Cup: 1, Film: 1e-3, Within: func(p geom.Point) bool { return p.X > 30 && p.X < 40 }},
		{Kind: flow.Swipe, Points: []geom.Point{at(20, 100), at(180, 100)}, Width: 0.2, Gap: 2.4e-3, Speed: 0.1}}
	r := play(t, s, 5)
	white := func(x float64) float64 {
		col := r.Coat().Column(r.Coat().Film().Grid().CellAt(at(x, 100)))
		if top := col[len(col)-1]; top.Cup == 1 {
			return top.Film
		}
		return 0
	}
	assert.Greater(t, white(60), 2e-5)
	assert.Greater(t, white(60), white(90))
	assert.Greater(t, white(90), white(130))
	assert.Zero(t, white(15), "behind where it began nothing is dragged")
}

// What is dragged through the surface leaves what lies lower where it was.
func TestAStickLeavesWhatLiesLower(t *testing.T) {
	s := board(200, 100, 1100, 1100, 1100)
	s.Clock = flow.Constant{Viscous: 1e9, Density: 1100}
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3},
		{Kind: flow.Bed, Cup: 1, Film: 5e-4, Within: func(p geom.Point) bool { return p.X < 100 }},
		{Kind: flow.Bed, Cup: 2, Film: 5e-4, Within: func(p geom.Point) bool { return p.X >= 100 }},
		{Kind: flow.Drag, Points: []geom.Point{at(50, 100), at(150, 100)}, Width: 0.008, Depth: 5e-4, Speed: 0.1}}
	r := play(t, s, 5)
	grid := r.Coat().Film().Grid()
	for x := 55.0; x < 145; x += 5 {
		assert.InDelta(t, 1e-3, r.Coat().Column(grid.CellAt(at(x, 100)))[0].Film, 1e-11, "the bed at %g", x)
	}
	over := 0.0
	for _, l := range r.Coat().Column(grid.CellAt(at(106, 100))) {
		if l.Cup == 1 {
			over += l.Film
		}
	}
	assert.Greater(t, over, 5e-5, "the first colour is drawn into the second")
	assert.Len(t, r.Coat().Column(grid.CellAt(at(106, 130))), 2, "beside the stick nothing moved")
}

// Wind over a film moves its surface twice as fast as the whole: τh/μ against
// τh/2μ (a linear profile).
func TestWindMovesTheSurface(t *testing.T) {
	s := board(200, 50, 1100)
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1.6e-3},
		{Kind: flow.Blow, At: 1, Points: []geom.Point{at(60, 100), at(140, 100)}, Width: 0.06, Shear: 10, For: 5},
	}
	r := play(t, s, 3.4)
	x, _ := r.SurfaceSpeed(r.Coat().Film().Grid().CellAt(at(100, 100)))
	assert.InDelta(t, 10*1.6e-3, x, 0.008)
	after := play(t, s, 6.2)
	assert.Greater(t, after.FilmAt(at(150, 100)), 1.65e-3, "it is heaped up ahead")
	assert.Less(t, after.FilmAt(at(60, 100)), 1.55e-3, "and missing behind")
}

// A warm place thins: a ribbon over it spreads farther than one that is cool.
func TestAWarmPlaceIsThinner(t *testing.T) {
	s := board(300, 100, 1100)
	s.Moves = []flow.Move{
		{Kind: flow.Warm, Points: []geom.Point{at(75, 150)}, Radius: 0.07, To: 60, For: 60},
		{Kind: flow.Bed, Film: 2e-4},
		{Kind: flow.Puddle, At: 1, Points: []geom.Point{at(75, 150)}, Volume: 8e-6},
		{Kind: flow.Puddle, At: 1, Points: []geom.Point{at(225, 150)}, Volume: 8e-6},
	}
	r := play(t, s, 40)
	assert.Less(t, r.FilmAt(at(75, 150)), 0.9*r.FilmAt(at(225, 150)))
}

// A side whose dam is taken away lets the film go; before, nothing does. What runs
// down the side stays there as Jeffreys has it: ⅔·√(νD/gt) on average, at most.
func TestAnUnmaskedSideLetsGo(t *testing.T) {
	s := board(200, 50, 1100)
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 5e-3}, {Kind: flow.Unmask, At: 100, Side: flow.West}}
	r := play(t, s, 99)
	assert.Zero(t, r.Sample().Below[0]+r.Sample().Sides[0])
	require.NoError(t, r.To(context.Background(), 660)) // at marks of its clock, between which it goes in copies
	b := r.Sample()
	assert.Greater(t, b.Below[0], 1e-5)
	assert.Less(t, r.FilmAt(at(2, 100)), r.FilmAt(at(198, 100)))
	drained := 2. / 3 * math.Sqrt(1./1100*0.02/(flow.Gravity*560))
	runs := b.Below[0] + b.Sides[0]
	require.NoError(t, r.To(context.Background(), 720))
	b = r.Sample()
	runs = (b.Below[0] + b.Sides[0] - runs) / 60 / 0.2  // m²/s over the edge
	steady := math.Cbrt(3 * runs / 1100 / flow.Gravity) // Nusselt's film of what runs over now
	_, mean := r.Coat().SideFilm()
	assert.Greater(t, mean, drained*0.95)
	assert.Less(t, mean, drained+steady)
	assert.Greater(t, mean, steady/2)
}

// A ripple decays by gravity and by the surface's tension, h³/3·(g k² + γ/ρ·k⁴)
// (the thin-film limit of Orchard 1962), to 1 %.
func TestRipplesAndTheSurfacesTension(t *testing.T) {
	const h0, wave, n = 1.6e-3, 0.02, 80
	cell := wave / n
	f := strip(t, n, cell, flow.Wetted)
	require.NoError(t, f.Tension(0.04/1100))
	k := 2 * math.Pi / wave
	pour(t, f, func(i int) float64 { return h0 * (1 + 0.001*math.Cos(k*(float64(i)+0.5)*cell)) })
	rate := h0 * h0 * h0 / 3 * (g*k*k + 0.04/1100*k*k*k*k)
	for range 400 {
		require.NoError(t, f.Advance(t.Context(), 1/rate/400))
	}
	amplitude := 0.0
	for i, h := range f.H() {
		amplitude += 2 * h * math.Cos(k*(float64(i)+0.5)*cell) / n
	}
	assert.InDelta(t, 1, -math.Log(amplitude/(0.001*h0)), 0.01)
}

// A steady stream from a point down an incline is as wide as x^{3/7} and as deep as
// x^{−1/7} (Smith 1973, exponents from memory), within 0.02.
func TestAStreamWidensAsSmithHasIt(t *testing.T) {
	grid, err := flow.NewGrid(150, 80, 75, func(geom.Point) bool { return true })
	require.NoError(t, err)
	s := board(100, 10, 1100)
	s.Grid, s.Edge = grid, 0
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1e-6},
		{Kind: flow.Puddle, Points: []geom.Point{at(10, 40)}, Volume: 8e-6, For: 400, Radius: 0.005},
		{Kind: flow.Tilting, TiltX: -20},
	}
	r := play(t, s, 390)
	across := func(x float64) (half, deep float64) {
		deep = r.FilmAt(at(x, 40))
		for half = 0; r.FilmAt(at(x, 40+half)) > 0.6*deep; half += 0.05 {
		}
		return half, deep
	}
	w1, h1 := across(45)
	w2, h2 := across(85)
	run := math.Log(75. / 35)
	assert.InDelta(t, 3./7, math.Log(w2/w1)/run, 0.02)
	assert.InDelta(t, -1./7, math.Log(h2/h1)/run, 0.02)
}

// Cells open when and as far apart as the stability of the two layers has it.
func TestCellsOpenWhenTheLayersSaySo(t *testing.T) {
	s := board(100, 40, 1100, 1160)
	s.Cells, s.Tension = true, 0.04
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1.2e-3}, {Kind: flow.Bed, Cup: 1, Film: 4e-4}}
	r := play(t, s, 400)
	layer := func(mm units.Length, d units.Density) film.Layer {
		return film.Layer{Film: mm, Viscosity: 1000, Density: d}
	}
	want, err := film.Stack{Lower: layer(1.2, 1100), Upper: layer(0.4, 1160), SurfaceTension: 40}.Fastest()
	require.NoError(t, err)
	open := r.Openings()
	require.Len(t, open, 1)
	assert.InEpsilon(t, want.Spacing.Metres(), open[0].Spacing, 0.02)
	assert.InEpsilon(t, flow.Grown/want.Growth, open[0].Seen, 0.2)
	s.Cups[1].Density = 1090 // lighter on top
	assert.Empty(t, play(t, s, 400).Openings())
	s.Cups[1].Density, s.Cells = 1160, false
	assert.Empty(t, play(t, s, 400).Openings())
}

// The same scene is the same to the last bit.
func TestTheSameSeedDrawsTheSame(t *testing.T) {
	s := board(200, 100, 1100, 1160)
	s.Seed = 7
	s.Moves = []flow.Move{
		{Kind: flow.Bed, Film: 1e-3},
		{Kind: flow.Drops, Cup: 1, Points: []geom.Point{at(100, 100)}, Radius: 0.06, Count: 9, Volume: 5e-6},
	}
	a, b := play(t, s, 30), play(t, s, 30)
	assert.Equal(t, a.Coat().Film().H(), b.Coat().Film().H())
	s.Seed = 8
	assert.NotEqual(t, a.Coat().Film().H(), play(t, s, 30).Coat().Film().H())
}

func TestScenesRefuseNonsense(t *testing.T) {
	line := []geom.Point{at(10, 10), at(90, 90)}
	for name, m := range map[string]flow.Move{
		"no such move":        {Kind: "sing"},
		"no such cup":         {Kind: flow.Bed, Cup: 3, Film: 1e-3},
		"no film":             {Kind: flow.Bed},
		"no volume":           {Kind: flow.Ribbon, Points: line},
		"a point only":        {Kind: flow.Ribbon, Points: line[:1], Volume: 1e-6},
		"beside the board":    {Kind: flow.Puddle, Points: []geom.Point{at(900, 900)}, Volume: 1e-6},
		"nowhere":             {Kind: flow.Puddle, Points: []geom.Point{at(math.NaN(), 0)}, Volume: 1e-6},
		"a bucket on a spot":  {Kind: flow.Puddle, Points: line[:1], Volume: 0.05, Radius: 0.01},
		"before the pour":     {Kind: flow.Bed, At: -1, Film: 1e-3},
		"upside down":         {Kind: flow.Tilting, TiltX: 120},
		"not a number":        {Kind: flow.Tilting, TiltX: math.NaN()},
		"no side":             {Kind: flow.Unmask},
		"a sheet of no width": {Kind: flow.Swipe, Points: line, Gap: 1e-3, Speed: 0.1},
		"a stir beside it":    {Kind: flow.Stir, Points: []geom.Point{at(500, 500)}, Radius: 0.01},
	} {
		s := board(100, 20, 1100)
		s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3}, m}
		_, err := flow.Start(s)
		var which flow.MoveError
		require.ErrorAs(t, err, &which, name)
		assert.Equal(t, 1, which.Move, name)
		assert.NotEmpty(t, which.Error())
	}
	s := board(100, 20, 1100)
	s.Moves = make([]flow.Move, flow.MostMoves+1)
	_, err := flow.Start(s)
	assert.Error(t, err)
	s.Moves, s.Cups = nil, nil
	_, err = flow.Start(s)
	assert.Error(t, err)
}

// What stands thick beside a dry place once wetted it in one step to 10¹⁷⁵ m: found by
// the law above, kept here as it was drawn.
func TestAWettedPlaceDoesNotRunAway(t *testing.T) {
	s := board(120, 16, 1100, 1160, 1090)
	s.Contact.EdgeHeight, s.Edge, s.Tension = 1.6e-3, 0, 0.04
	move := func(k flow.Kind, at float64, cup int, from geom.Point, volume, takes float64) flow.Move {
		return flow.Move{
			Kind:   k,
			At:     at,
			Cup:    cup,
			Points: []geom.Point{from, geom.At(60, 60.5)},
			Volume: volume,
			Film:   4e-4,
			Width:  0.03,
			Radius: 0.03,
			Gap:    3e-3,
			Depth:  6e-4,
			Speed:  0.05,
			Shear:  5,
			For:    takes,
			To:     60,
			Count:  3,
			TiltX:  1,
			TiltY:  5,
			Side:   flow.West,
		}
	}
	s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3},
		move(flow.Bed, 3, 1, geom.At(5, 5), 2.7334317564964294e-07, 0.5),
		move(flow.Ribbon, 6, 0, geom.At(10.25, 6.125), 8e-6, 6),
		move(flow.Drops, 9, 0, geom.At(23.5, 10.3203125), 7.629405843090353e-06, 0.5)}
	r, err := flow.Start(s)
	require.NoError(t, err)
	for _, to := range []float64{10, 25, 40} {
		require.NoError(t, r.To(t.Context(), to))
		b := r.Sample()
		poured := 1e-3*0.12*0.12 + 8e-6 + 7.629405843090353e-06
		if to > 12 { // all of the ribbon is out
			require.InEpsilon(t, poured, b.OnBoard[0]+b.Sides[0]+b.Below[0], 1e-6)
		}
	}
}
