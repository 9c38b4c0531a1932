package flow_test

import (
	"context"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// An edge gives nothing back: whatever lies on whatever grid, cells of 0.3 to 8 mm, and
// however it is tilted, what has run off only grows, and the film is what was poured less
// what ran off.
func TestAnEdgeGivesNothingBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(8, 14).Draw(t, "n")
		cell := 0.3e-3 * math.Pow(8/0.3, rapid.Float64Range(0, 1).Draw(t, "cell"))
		holds := rapid.Float64Range(0, 2e-3).Draw(t, "holds")
		sides := flow.Side(rapid.IntRange(1, 15).Draw(t, "sides"))
		seed := rapid.Uint64().Draw(t, "seed")
		f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: cell}, flow.Contact{})
		require.NoError(t, err)
		require.NoError(t, f.Tension(rapid.SampledFrom([]float64{0, 0.04 / 1100}).Draw(t, "tension")))
		pour(t, f, func(i int) float64 { return 1e-3 + 3e-3*float64(uint64(i)*(seed|1)%97)/97 })
		require.NoError(t, f.Open(holds, sides))
		if rapid.Bool().Draw(t, "tilted") {
			pull, small := rapid.Float64Range(-2, 2), math.Min(1, cell/2e-3)
			require.NoError(t, f.Tilt(small*pull.Draw(t, "x"), small*pull.Draw(t, "y")))
		}
		over := 0.0
		for range 4 {
			require.NoError(t, f.Advance(t.Context(), rapid.Float64Range(10, 1e4).Draw(t, "F")))
			b := f.Balance()
			require.GreaterOrEqual(t, b.Over, over*(1-1e-12), "something came back")
			require.InDelta(t, b.Poured, b.OnBoard+b.Over, 1e-9*b.Poured)
			over = b.Over
		}
	})
}

// A ripple of 20 mm under its tension decays at h³/3·g·k²·(1 + ℓ²k²) (Orchard 1962) on 256
// cells to 1 %, along a row, along a column, and in the middle of a board; twice as fine
// is nearer by order 1.8 at least.
func TestARippleUnderTension(t *testing.T) {
	const h0, wave, tension = 1.6e-3, 0.02, 0.04 / 1100
	k := 2 * math.Pi / wave
	rate := h0 * h0 * h0 / 3 * g * k * k * (1 + tension/g*k*k)
	off := func(nx, ny, n int) float64 {
		f, err := flow.NewFilm(flow.Grid{NX: nx, NY: ny, Cell: wave / float64(n)}, flow.Wetted)
		require.NoError(t, err)
		require.NoError(t, f.Tension(tension))
		at := func(i int) float64 {
			along := i % nx
			if ny > nx {
				along = i / nx
			}
			return math.Cos(k * (float64(along) + 0.5) * wave / float64(n))
		}
		pour(t, f, func(i int) float64 { return h0 * (1 + 0.001*at(i)) })
		for range 40 {
			require.NoError(t, f.Advance(t.Context(), 1/rate/40))
		}
		amplitude := 0.0
		for i, h := range f.H() {
			amplitude += 2 * h * at(i) / float64(nx*ny)
		}
		return -math.Log(amplitude/(0.001*h0)) - 1
	}
	require.InDelta(t, 0, off(256, 1, 256), 0.01)
	require.InDelta(t, 0, off(1, 256, 256), 0.01)
	require.InDelta(t, 0, off(256, 8, 256), 0.01)
	coarse, fine := off(16, 1, 16), off(32, 1, 32)
	require.Greater(t, math.Log2(coarse/fine), 1.8, "%g, %g", coarse, fine)
}

// How often a scene is looked at changes nothing of what it comes to, to the last bit, and
// what is seen on the way is what is seen without the looks before.
func TestLookingChangesNothing(t *testing.T) {
	scene := afternoon(t, 48)
	scene.Tension, scene.Cells = 0.04, true
	run := func(looks ...float64) ([]float64, flow.Sample) {
		r, err := flow.Start(scene)
		require.NoError(t, err)
		for _, at := range append(looks, 713) {
			require.NoError(t, r.To(t.Context(), at))
		}
		return slices.Clone(r.Coat().Film().H()), r.Sample()
	}
	film, sample := run()
	often := make([]float64, 70)
	for k := range often {
		often[k] = 10 * float64(k+1)
	}
	again, seen := run(often...)
	require.Equal(t, film, again)
	require.Equal(t, sample, seen)
}

// A mirrored board does the same mirrored: what is poured, tilted, drawn and blown, on a
// grid of even and of odd cells. The film does to rounding; of the colours, layers thinner
// than a wave of light may trade places under a blade: less than a thousandth of a film.
func TestMirrored(t *testing.T) {
	const side = 200.0
	for _, n := range []int{32, 33} {
		play := func(flip float64) *flow.Run {
			at := func(x, y float64) geom.Point { return geom.At(side/2+flip*(x-side/2), y) }
			s := board(side, n, 1100, 1110, 1120, 1160)
			s.Contact.EdgeHeight, s.Edge, s.Tension = 1.63e-3, 2.2e-3, 0.04
			s.Moves = []flow.Move{
				{Kind: flow.Bed, Film: 1e-3},
				{
					Kind:   flow.Ribbon,
					At:     10,
					Cup:    1,
					Points: []geom.Point{at(30, 40), at(90, 60), at(150, 50)},
					Volume: 9e-6,
					For:    8,
				},
				{Kind: flow.Puddle, At: 40, Cup: 2, Points: []geom.Point{at(60, 140)}, Volume: 6e-6},
				{Kind: flow.Ribbon, At: 60, Cup: 3, Points: []geom.Point{at(120, 20), at(130, 180)}, Volume: 8e-6},
				{Kind: flow.Tilting, At: 100, TiltX: 5 * flip, TiltY: 2, For: 20},
				{Kind: flow.Swipe, At: 200, Points: []geom.Point{at(70, 10), at(70, 190)}, Width: 0.05, Gap: 2.6e-3, Speed: 0.1},
				{Kind: flow.Blow, At: 300, Points: []geom.Point{at(150, 150), at(110, 120)}, Width: 0.05, Shear: 6, For: 6},
			}
			r, err := flow.Start(s)
			require.NoError(t, err)
			require.NoError(t, r.To(t.Context(), 600))
			require.NoError(t, r.Settle(t.Context()))
			return r
		}
		plain, flipped := play(1), play(-1)
		worst, columns := 0.0, 0.0
		for i, h := range plain.Coat().Film().H() {
			j := i/n*n + n - 1 - i%n
			worst = math.Max(worst, math.Abs(h-flipped.Coat().Film().H()[j]))
			a, b := byCup(plain.Coat().Column(i)), byCup(flipped.Coat().Column(j))
			for k := range a {
				columns = math.Max(columns, math.Abs(a[k]-b[k]))
			}
		}
		require.Less(t, worst, 1e-9, "film, %d cells", n)
		require.Less(t, columns, 1e-6, "colours, %d cells", n)
	}
}

// So does whatever is done in any order on any grid: places, amounts and tilts at random.
func TestAnythingMirrored(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const side = 150.0
		n := rapid.IntRange(15, 24).Draw(t, "n")
		part := rapid.Float64Range(0.15, 0.85)
		type place struct{ x, y float64 }
		draw := func() place { return place{side * part.Draw(t, "x"), side * part.Draw(t, "y")} }
		var makes []func(at func(place) geom.Point, flip float64) flow.Move
		for k := range rapid.IntRange(1, 5).Draw(t, "moves") {
			when, cup, a, b := 20*float64(k+1), k%3, draw(), draw()
			volume := 1e-6 * rapid.Float64Range(1, 8).Draw(t, "mL")
			x, y := rapid.Float64Range(-6, 6).Draw(t, "tx"), rapid.Float64Range(-6, 6).Draw(t, "ty")
			kind := rapid.SampledFrom([]flow.Kind{flow.Puddle, flow.Ribbon, flow.Tilting, flow.Blow}).Draw(t, "kind")
			makes = append(makes, func(at func(place) geom.Point, flip float64) flow.Move {
				return flow.Move{
					Kind: kind, At: when, Cup: cup, Points: []geom.Point{at(a), at(b)}, Volume: volume,
					Width: 0.04, Shear: 5, For: 8, TiltX: flip * x, TiltY: y,
				}
			})
		}
		play := func(flip float64) *flow.Run {
			at := func(p place) geom.Point { return geom.At(side/2+flip*(p.x-side/2), p.y) }
			s := board(side, n, 1100, 1120, 1150)
			s.Contact.EdgeHeight, s.Edge, s.Tension = 1.63e-3, 2.2e-3, 0.04
			s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3}}
			for _, make := range makes {
				s.Moves = append(s.Moves, make(at, flip))
			}
			r, err := flow.Start(s)
			require.NoError(t, err)
			require.NoError(t, r.To(t.Context(), 240))
			return r
		}
		mirror := func(i int) int { return i/n*n + n - 1 - i%n }
		require.Less(t, apart(play(1), play(-1), mirror), 1e-9)
	})
}

// byCup is how much of each cup lies in a column, in m.
func byCup(column []flow.Layer) (out [8]float64) {
	for _, l := range column {
		out[l.Cup] += l.Film
	}
	return out
}

// A drop of 50 mL on a dry board comes to rest as wide as its height has it, and stays: from
// one hour to four its radius changes by less than a hundredth, and no finger of single
// cells runs ahead of it. (Under tension one ran to 170 mm.)
func TestADropStaysWhereItCameToRest(t *testing.T) {
	const n = 96
	s := board(400, n, 1100)
	s.Contact.EdgeHeight, s.Tension = 1.63e-3, 0.04
	s.Moves = []flow.Move{{Kind: flow.Puddle, Points: []geom.Point{geom.At(200, 200)}, Volume: 50e-6}}
	r, err := flow.Start(s)
	require.NoError(t, err)
	radius := func(at float64) (mean, farthest float64) {
		require.NoError(t, r.To(t.Context(), at))
		wet := 0.0
		for i, h := range r.Coat().Film().H() {
			if h > 1e-9 {
				wet++
				farthest = math.Max(farthest, s.Grid.Middle(i).Sub(geom.At(200, 200)).Norm())
			}
		}
		return math.Sqrt(wet/math.Pi) * 1000 * s.Grid.Cell, farthest
	}
	first, _ := radius(3600)
	rests := 1000 * math.Sqrt(50e-6/1.63e-3/math.Pi)
	require.InEpsilon(t, rests, first, 0.05)
	later, farthest := radius(4 * 3600)
	require.InEpsilon(t, first, later, 0.01)
	require.Less(t, farthest, 1.08*later)
}

// wet is a board of 200 mm with a bed, on which moves are made, after ten minutes.
func wet(t require.TestingT, n int, moves ...flow.Move) *flow.Run {
	s := board(200, n, 1100, 1110, 1120)
	s.Contact.EdgeHeight, s.Edge, s.Tension = 1.63e-3, 2.2e-3, 0.04
	s.Moves = append([]flow.Move{{Kind: flow.Bed, Film: 1e-3}}, moves...)
	r, err := flow.Start(s)
	require.NoError(t, err)
	require.NoError(t, r.To(context.Background(), 600))
	return r
}

// apart is how far two films lie from one another at most, cell by cell.
func apart(a, b *flow.Run, cell func(i int) int) float64 {
	worst := 0.0
	for i, h := range a.Coat().Film().H() {
		worst = math.Max(worst, math.Abs(h-b.Coat().Film().H()[cell(i)]))
	}
	return worst
}

// The order of moves of one moment, and one move made in two, change nothing of the film, to
// rounding; all is poured less what ran off.
func TestOrderAndHalves(t *testing.T) {
	same := func(i int) int { return i }
	rapid.Check(t, func(t *rapid.T) {
		puddle := func(cup int) flow.Move {
			part, size := rapid.Float64Range(30, 170), rapid.Float64Range(2, 7)
			return flow.Move{
				Kind: flow.Puddle, At: 30, Cup: cup, Points: []geom.Point{geom.At(part.Draw(t, "x"), part.Draw(t, "y"))},
				Volume: 1e-6 * size.Draw(t, "mL"), Radius: 0.02,
			}
		}
		a, b := puddle(1), puddle(2)
		half := a
		half.Volume /= 2
		plain := wet(t, 24, a, b)
		require.Less(t, apart(plain, wet(t, 24, b, a), same), 1e-9)
		require.Less(t, apart(plain, wet(t, 24, half, half, b), same), 1e-9)
		sample, all := plain.Sample(), 0.0
		for k := range sample.OnBoard {
			all += sample.OnBoard[k] + sample.Sides[k] + sample.Below[k]
		}
		require.InEpsilon(t, 0.2*0.2*1e-3+a.Volume+b.Volume, all, 1e-9)
	})
}

// A board turned by a quarter does the same turned, to the order of the scheme.
func TestTurned(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const n = 32
		part := rapid.Float64Range(40, 160)
		move := func(x, y float64, cup int) flow.Move {
			return flow.Move{
				Kind: flow.Puddle, At: 10, Cup: cup, Points: []geom.Point{geom.At(x, y)}, Volume: 6e-6, Radius: 0.02,
			}
		}
		ax, ay, bx, by := part.Draw(t, "ax"), part.Draw(t, "ay"), part.Draw(t, "bx"), part.Draw(t, "by")
		plain := wet(t, n, move(ax, ay, 1), move(bx, by, 2))
		turned := wet(t, n, move(200-ay, ax, 1), move(200-by, bx, 2))
		require.Less(t, apart(plain, turned, func(i int) int { return i%n*n + n - 1 - i/n }), 6e-5, "m")
	})
}

// A step that goes beyond all numbers is a step that failed: here a film ran into a corner,
// 57 mm deep on cells of 8 mm, and was no number from then on.
func TestAStepBeyondNumbersIsTakenBack(t *testing.T) {
	const n = 10
	f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: 8e-3}, flow.Contact{})
	require.NoError(t, err)
	pour(t, f, func(i int) float64 { return 1e-3 + 3e-3*float64(i*0xf5%97)/97 })
	require.NoError(t, f.Open(0.001956939697265625, flow.North))
	require.NoError(t, f.Tilt(-1.1162538708592238, -1.8686901740729809))
	for _, F := range []float64{355, 40000, 2958.9778963923454} {
		require.NoError(t, f.Advance(t.Context(), F))
	}
	b := f.Balance()
	require.InDelta(t, b.Poured, b.OnBoard+b.Over, 1e-9*b.Poured)
}
