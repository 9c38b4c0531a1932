package flow_test

import (
	"context"
	"flag"
	"math"
	"os"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/testsize"
)

// Under the race detector only what is shared among cores is of interest.
func TestMain(m *testing.M) {
	if testsize.Raced {
		if err := flag.Set("test.run", "^Test(CoresDoNotMatter|TheSameSeedDrawsTheSame|LookingChangesNothing)$"); err != nil {
			panic(err)
		}
	}
	os.Exit(testsize.Draws(m))
}

const g = flow.Gravity

func strip(t require.TestingT, n int, cell float64, c flow.Contact) *flow.Film {
	f, err := flow.NewFilm(flow.Grid{NX: n, NY: 1, Cell: cell}, c)
	require.NoError(t, err)
	return f
}

func pour(t require.TestingT, f *flow.Film, add func(i int) float64) {
	require.NoError(t, f.Pour(add))
}

// width is where a film has fallen to a share of its top, between cell middles.
func width(h []float64, cell, share float64, from int) float64 {
	top := 0.0
	for _, v := range h {
		top = math.Max(top, v)
	}
	mark := share * top
	for i := from; i < len(h); i++ {
		if h[i] < mark {
			return (float64(i-from) - (mark-h[i])/(h[i-1]-h[i])) * cell
		}
	}
	return math.NaN()
}

// Huppert 1982 (published): a line of q a length spreads to x = 0.931·(g q³/3)^⅕·F^⅕
// both ways with h ∝ (1 − (x/X)²)^⅓, on a wetted board; at three times within 2 %,
// and nearer on a finer grid.
func TestALineSpreadsAsHuppertHasIt(t *testing.T) {
	const q, half = 33e-6, 0.06 // 10 mL on 300 mm, m²; half the board, m
	errors := []float64{}
	for _, n := range []int{128, 256, 512} {
		cell := half / float64(n)
		f := strip(t, n, cell, flow.Wetted)
		at := func(F float64) float64 { return 0.931 * math.Pow(g*q*q*q/3*F, 0.2) }
		first := 2e3
		x0 := at(first)
		top := q / (2 * x0 * 0.8413) // ∫(1 − ξ²)^⅓ dξ from 0 to 1 is 0.8413
		pour(t, f, func(i int) float64 {
			xi := (float64(i) + 0.5) * cell / x0
			return 2e-6 + top*math.Cbrt(math.Max(0, 1-xi*xi))
		})
		now, worst := first, 0.0
		for _, F := range []float64{1e4, 6e4, 3e5} {
			require.NoError(t, f.Advance(t.Context(), F-now))
			now = F
			got := width(f.H(), cell, 0.2, 0) / math.Sqrt(1-0.008) // where (1 − ξ²)^⅓ is 0.2
			worst = math.Max(worst, math.Abs(got/at(F)-1))
		}
		errors = append(errors, worst)
	}
	assert.Less(t, errors[2], 0.02, "%v", errors)
	assert.Less(t, errors[2], errors[0], "%v", errors)
}

// A puddle spreads to r = 0.894·(g V³/3)^⅛·F^⅛ with h ∝ (1 − (r/R)²)^⅓ (Huppert
// 1982), round on a square grid.
func TestAPuddleSpreadsAsHuppertHasIt(t *testing.T) {
	const volume, n, size = 50e-6, 120, 0.24
	cell := size / n
	f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: cell}, flow.Wetted)
	require.NoError(t, err)
	at := func(F float64) float64 { return 0.894 * math.Pow(g*volume*volume*volume/3*F, 0.125) }
	first := 3e3
	r0 := at(first)
	top := volume * 4 / (3 * math.Pi * r0 * r0)
	pour(t, f, func(i int) float64 {
		x, y := (float64(i%n)+0.5)*cell, (float64(i/n)+0.5)*cell // a quarter of it, about the corner
		xi := math.Hypot(x, y) / r0
		return 2e-6 + top*math.Cbrt(math.Max(0, 1-xi*xi))
	})
	now := first
	for _, F := range []float64{1e4, 3e4, 1e5} {
		require.NoError(t, f.Advance(t.Context(), F-now))
		now = F
		along := width(f.H()[:n], cell, 0.2, 0) / math.Sqrt(1-0.008)
		assert.InEpsilon(t, at(F), along, 0.02, "F %g", F)
		diagonal := make([]float64, n)
		for k := range diagonal {
			diagonal[k] = f.H()[k*n+k]
		}
		across := width(diagonal, cell*math.Sqrt2, 0.2, 0) / math.Sqrt(1-0.008)
		assert.InEpsilon(t, along, across, 0.015, "round")
	}
	b := f.Balance()
	assert.InEpsilon(t, b.Poured, b.OnBoard, 1e-9)
}

// A resin that thickens spreads as a fresh one does in its fluidity time: minutes 0
// to 40 of the 45 min product are 1 249 s of fresh resin, 12 to 40 only 672 s.
func TestFluidityTimeOfAResin(t *testing.T) {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	c := cure.NewClock(k, cure.Constant(25))
	fresh := func(from, to float64) float64 { return c.Flow(from, to, 1000, 1100) / 1100 } // s of 1 Pa·s
	assert.InDelta(t, 1249, fresh(0, 40), 3)
	assert.InDelta(t, 672, fresh(12, 40), 3)
	run := func(F float64) float64 {
		f := strip(t, 200, 3e-4, flow.Wetted)
		pour(t, f, func(i int) float64 {
			if i < 30 {
				return 2e-3
			}
			return 5e-6
		})
		require.NoError(t, f.Advance(t.Context(), F))
		return f.H()[0]
	}
	half := c.Flow(0, 20, 1000, 1100)
	assert.InEpsilon(t, run(c.Flow(0, 40, 1000, 1100)), run(half+c.Flow(20, 40, 1000, 1100)), 1e-12)
}

// A ripple decays at h³/3·g·k² of fluidity time (the thin-film limit of Orchard
// 1962) to 1 %, and twice as fine a grid is four times as near: the scheme is of
// second order.
func TestRipplesLevelAsOrchardHasIt(t *testing.T) {
	const h0, wave = 1.6e-3, 0.10
	var off []float64
	for _, n := range []int{32, 64, 128} {
		cell := wave / float64(n)
		f := strip(t, n, cell, flow.Wetted)
		k := 2 * math.Pi / wave
		pour(t, f, func(i int) float64 { return h0 * (1 + 0.001*math.Cos(k*(float64(i)+0.5)*cell)) })
		rate := h0 * h0 * h0 / 3 * g * k * k
		F := 1 / rate
		for range 100 { // in short stretches: what is left is the grid's
			require.NoError(t, f.Advance(t.Context(), F/100))
		}
		amplitude := 0.0
		for i, h := range f.H() {
			amplitude += 2 * h * math.Cos(k*(float64(i)+0.5)*cell) / float64(n)
		}
		off = append(off, math.Abs(-math.Log(amplitude/(0.001*h0))-1))
	}
	assert.Less(t, off[0], 0.01, "%v", off)
	assert.InDelta(t, 4, off[0]/off[1], 1.2, "%v", off)
	assert.Less(t, off[2], off[1]/2, "%v", off)
}

// A step of two films flattens with x ∝ √F: profiles at four times the fluidity
// time are the same twice as wide (Boltzmann's transformation), to 1 %.
func TestADamBreakKeepsItsShape(t *testing.T) {
	const n, cell = 800, 5e-4
	f := strip(t, n, cell, flow.Wetted)
	pour(t, f, func(i int) float64 {
		if i < n/2 {
			return 3e-3
		}
		return 1e-3
	})
	at := func(x float64) float64 { // between the middles of cells
		k := (x + n/2*cell) / cell
		i := int(math.Floor(k - 0.5))
		u := k - 0.5 - float64(i)
		return (1-u)*f.H()[i] + u*f.H()[i+1]
	}
	require.NoError(t, f.Advance(t.Context(), 2e4))
	var near []float64
	xs := []float64{-0.03, -0.02, -0.01, 0, 0.01, 0.015, 0.02}
	for _, x := range xs {
		near = append(near, at(x))
	}
	require.NoError(t, f.Advance(t.Context(), 6e4))
	for i, x := range xs {
		assert.InEpsilon(t, near[i], at(2*x), 0.01, "x %g", x)
	}
}

// A ridge of cross-section A on an incline: its front runs as x = (9A²·g_t/4)^⅓·F^⅓
// (Huppert 1982, published), to 3 %.
func TestARidgeRunsDownAnIncline(t *testing.T) {
	const n, cell = 1024, 5e-4
	f := strip(t, n, cell, flow.Wetted)
	const ridge, from = 40, 20
	pour(t, f, func(i int) float64 {
		if i >= from && i < from+ridge {
			return 3e-3
		}
		return 3e-6
	})
	area := 3e-3 * ridge * cell
	pull := g * math.Sin(20*math.Pi/180)
	require.NoError(t, f.Tilt(pull, 0))
	now := 0.0
	for _, F := range []float64{6e4, 1.2e5, 2.4e5} {
		require.NoError(t, f.Advance(t.Context(), F-now))
		now = F
		steepest, where := 0.0, 0
		for i := 1; i < n; i++ {
			if d := f.H()[i-1] - f.H()[i]; d > steepest {
				steepest, where = d, i
			}
		}
		assert.InEpsilon(t, math.Cbrt(9*area*area*pull/4*F), (float64(where)-from)*cell, 0.03, "F %g", F)
	}
}

// A film that drains from an upper edge is h = √(x/(g_t·F)) below it (Jeffreys
// 1930, published), what ran over the lower edge is counted.
func TestADrainedEdgeIsJeffreys(t *testing.T) {
	const n, cell = 400, 1.5e-3
	f := strip(t, n, cell, flow.Wetted)
	pour(t, f, func(int) float64 { return 3e-3 })
	require.NoError(t, f.Open(0, flow.East))
	pull := g * math.Sin(20*math.Pi/180)
	require.NoError(t, f.Tilt(pull, 0))
	require.NoError(t, f.Advance(t.Context(), 1.24e5)) // 180 s at 1.6 Pa·s
	for _, x := range []float64{0.1, 0.2, 0.3, 0.4} {
		i := int(x / cell)
		assert.InEpsilon(t, math.Sqrt((float64(i)+0.5)*cell/(pull*1.24e5)), f.H()[i], 0.02, "x %g", x)
	}
	b := f.Balance()
	assert.InEpsilon(t, b.Poured, b.OnBoard+b.Over, 1e-9)
	assert.Greater(t, b.Over, 0.3*b.Poured)
}

// A puddle on a dry board stops at the height its edge stands at, 1.63 mm at 50°
// (de Gennes et al., published).
func TestAPuddleStopsAtItsHeight(t *testing.T) {
	const n, cell = 60, 2.5e-3
	f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: cell}, flow.Contact{EdgeHeight: 1.63e-3})
	require.NoError(t, err)
	pour(t, f, func(i int) float64 {
		if x, y := i%n, i/n; math.Hypot(float64(x), float64(y)) < 12 {
			return 8e-3
		}
		return 0
	})
	require.NoError(t, f.Advance(t.Context(), 5e6))
	edge, wet := 0.0, 0.0
	for i, h := range f.H() {
		if h > 0 {
			wet++
			edge = math.Max(edge, h)
		}
		if i > 0 && i%n != 0 && f.H()[i] == 0 && f.H()[i-1] > 0 {
			assert.LessOrEqual(t, f.H()[i-1], 1.64e-3)
		}
	}
	b := f.Balance()
	assert.InDelta(t, b.OnBoard/(1.63e-3*cell*cell), wet, 0.12*wet, "it covers what it has at that height")
	assert.InEpsilon(t, b.Poured, b.OnBoard, 1e-9)
}

// Whatever is poured, tilted and let run over whatever outline: nothing is lost,
// nothing is below nothing, and mirrored and turned boards do the same mirrored
// and turned, to rounding.
func TestLawsOfTheFilm(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const n = 14
		hole := geom.At(rapid.Float64Range(5, 95).Draw(t, "hx"), rapid.Float64Range(5, 95).Draw(t, "hy"))
		inside := func(p geom.Point) bool { return p.Sub(geom.At(50, 50)).Norm() < 50 && p.Sub(hole).Norm() > 12 }
		tilt := [2]float64{rapid.Float64Range(-2, 2).Draw(t, "gx"), rapid.Float64Range(-2, 2).Draw(t, "gy")}
		stands := rapid.SampledFrom([]float64{0, 1.6e-3}).Draw(t, "stands")
		open := rapid.Bool().Draw(t, "open")
		seed := rapid.Uint64().Draw(t, "seed")
		film := func(turn func(x, y int) (int, int), pull [2]float64) []float64 {
			grid, err := flow.NewGrid(100, 100, n, func(p geom.Point) bool {
				x, y := turn(int(p.X*n/100), int(p.Y*n/100))
				return inside(geom.At((float64(x)+0.5)*100/n, (float64(y)+0.5)*100/n))
			})
			require.NoError(t, err)
			f, err := flow.NewFilm(grid, flow.Contact{EdgeHeight: stands})
			require.NoError(t, err)
			pour(t, f, func(i int) float64 {
				x, y := turn(i%n, i/n)
				k := uint64(x*31+y*17) * (seed | 1)
				return 4e-3 * float64(k%97) / 97
			})
			if open {
				require.NoError(t, f.Open(1e-3, flow.AllRound))
			}
			require.NoError(t, f.Tilt(pull[0], pull[1]))
			for range 2 {
				require.NoError(t, f.Advance(context.Background(), 4e3))
			}
			b := f.Balance()
			require.InDelta(t, b.Poured, b.OnBoard+b.Over, 1e-9*b.Poured+1e-18)
			require.GreaterOrEqual(t, b.Over, -1e-15)
			for i, h := range f.H() {
				require.GreaterOrEqual(t, h, 0.0)
				if !grid.On(i) {
					require.Zero(t, h)
				}
			}
			return f.H()
		}
		plain := film(func(x, y int) (int, int) { return x, y }, tilt)
		mirror := film(func(x, y int) (int, int) { return n - 1 - x, y }, [2]float64{-tilt[0], tilt[1]})
		for i := range plain {
			require.InDelta(t, plain[i], mirror[i/n*n+n-1-i%n], 2e-6, "mirrored")
		}
	})
}

// Stepping only what moves, while the rest follows, gives the film that stepping the
// whole gives: to 5 µm on average after ten ribbons, in far fewer steps of the whole
// (regression: both are ours).
func TestThePartThatMoves(t *testing.T) {
	s := afternoon(t, 96)
	run := func(whole bool) *flow.Run {
		r, err := flow.Start(s)
		require.NoError(t, err)
		if whole {
			r.StepWhole()
		}
		require.NoError(t, r.To(t.Context(), 330))
		require.NoError(t, r.Settle(t.Context()))
		return r
	}
	all, part := run(true).Coat().Film().H(), run(false).Coat().Film().H()
	sum := 0.0
	for i := range all {
		d := all[i] - part[i]
		sum += d * d
		require.Less(t, math.Abs(d), 2e-4)
	}
	assert.Less(t, math.Sqrt(sum/float64(len(all))), 5e-6)
}

// The same film, to the last bit, on one core as on several.
func TestCoresDoNotMatter(t *testing.T) {
	cells := 96
	if testsize.Raced {
		cells = 48
	}
	s := afternoon(t, cells)
	run := func(cores int) []float64 {
		defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(cores))
		r, err := flow.Start(s)
		require.NoError(t, err)
		require.NoError(t, r.To(t.Context(), 560)) // ribbons, a tilt, two swipes
		return r.Coat().Film().H()
	}
	assert.Equal(t, run(1), run(3))
}

// The rest that waits gets what the part that moves has given it: nothing is lost between
// the two, and a broad flow across the border does not pile up there.
func TestTheRestGetsWhatItIsOwed(t *testing.T) {
	const n = 96
	f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: 2e-3}, flow.Wetted)
	require.NoError(t, err)
	hump := func(i int) float64 {
		x, y := float64(i%n)-30, float64(i/n)-30
		return 1e-3 + 4e-3*math.Exp(-(x*x+y*y)/30)
	}
	pour(t, f, hump)
	poured := f.Balance().Poured
	for range 40 {
		require.NoError(t, f.Advance(t.Context(), 400))
		b := f.Balance()
		require.InEpsilon(t, poured, b.OnBoard+b.Over, 1e-12)
		h := f.H()
		for i := n; i < n*(n-1); i++ { // a hump that levels has no ring about it
			if x, y := i%n, i/n; x > 34 && x < n-1 && y == 30 {
				require.LessOrEqual(t, h[i], h[i-1]+1e-9, "cell %d", x)
			}
		}
	}
}

func TestFilmsRefuseNonsense(t *testing.T) {
	for _, bad := range []flow.Grid{{NX: 0, NY: 1, Cell: 1e-3}, {NX: 9, NY: 9, Cell: 0}, {NX: 9, NY: 9, Cell: math.NaN()},
		{NX: 2000, NY: 2, Cell: 1e-3}, {NX: 1000, NY: 2, Cell: 1}, {NX: 3, NY: 3, Cell: 1e-3, Inside: []bool{true}}} {
		_, err := flow.NewFilm(bad, flow.Wetted)
		assert.Error(t, err, "%+v", bad)
	}
	f := strip(t, 8, 1e-3, flow.Wetted)
	assert.Error(t, f.Pour(func(int) float64 { return -1 }))
	assert.Error(t, f.Pour(func(int) float64 { return math.NaN() }))
	assert.Error(t, f.Tilt(100, 0))
	assert.Error(t, f.Open(-1, flow.East))
	assert.Error(t, f.Advance(t.Context(), -1))
	assert.Error(t, f.Advance(t.Context(), math.Inf(1)))
	pour(t, f, func(i int) float64 { return float64(i) * 1e-3 })
	ended, stop := context.WithCancel(t.Context())
	stop()
	assert.ErrorIs(t, f.Advance(ended, 1e6), context.Canceled)
	_, err := flow.NewGrid(10, 10, 100, func(geom.Point) bool { return false })
	assert.Error(t, err)
	for _, cells := range []int{0, 5000} {
		_, err := flow.NewGrid(100, 100, cells, func(geom.Point) bool { return true })
		assert.Error(t, err)
	}
}

func BenchmarkSpreading256(b *testing.B) {
	for b.Loop() {
		f, err := flow.NewFilm(flow.Grid{NX: 256, NY: 256, Cell: 0.6 / 256}, flow.Contact{EdgeHeight: 1.63e-3})
		require.NoError(b, err)
		pour(b, f, func(i int) float64 {
			if (i%256/24+i/256/24)%2 == 0 {
				return 3.2e-3
			}
			return 0
		})
		require.NoError(b, f.Advance(b.Context(), 1.37e6))
	}
}
