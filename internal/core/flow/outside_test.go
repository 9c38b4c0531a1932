package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/flow"
)

// A made-up surface H(1 + ε·cos kx·cos ky), H = h0(1 + F/T), under gravity and tension, fed by
// what makes it a solution of ∂h/∂F = ∇·(h³/3·g∇(h − ℓ²∇²h)) + S (manufactured solutions:
// Roache 2002): twice as fine in space and time it is nearer by order 1.8 at least.
func TestAManufacturedSurface(t *testing.T) {
	const (
		h0, epsilon, growsIn = 2e-3, 0.2, 2000.0
		side, ends           = 0.04, 400.0
		tension              = 0.04 / 1100
	)
	k := 2 * math.Pi / side
	bends := 1 + 2*tension/g*k*k
	height := func(F float64) float64 { return h0 * (1 + F/growsIn) }
	shape := func(x, y float64) float64 { return math.Cos(k*x) * math.Cos(k*y) }
	surface := func(x, y, F float64) float64 { return height(F) * (1 + epsilon*shape(x, y)) }
	source := func(x, y, F float64) float64 {
		H, c := height(F), shape(x, y)
		h, drive := H*(1+epsilon*c), H*epsilon*bends
		steep := k * k * (math.Pow(math.Sin(k*x)*math.Cos(k*y), 2) + math.Pow(math.Cos(k*x)*math.Sin(k*y), 2))
		return h0/growsIn*(1+epsilon*c) - g/3*(3*h*h*H*epsilon*drive*steep-2*k*k*h*h*h*drive*c)
	}
	off := func(n, parts int) float64 {
		f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: side / float64(n)}, flow.Wetted)
		require.NoError(t, err)
		require.NoError(t, f.Tension(tension))
		at := func(i int, of func(x, y float64) float64) float64 {
			return of((float64(i%n)+0.5)*side/float64(n), (float64(i/n)+0.5)*side/float64(n))
		}
		pour(t, f, func(i int) float64 { return at(i, func(x, y float64) float64 { return surface(x, y, 0) }) })
		dF := ends / float64(parts)
		feed := func(F float64) { // half a part's
			pour(t, f, func(i int) float64 { return dF / 2 * at(i, func(x, y float64) float64 { return source(x, y, F) }) })
		}
		for m := range parts {
			F := float64(m) * dF
			feed(F + dF/4)
			require.NoError(t, f.Advance(t.Context(), dF))
			feed(F + 3*dF/4)
		}
		worst := 0.0
		for i, h := range f.H() {
			worst = math.Max(worst, math.Abs(h-at(i, func(x, y float64) float64 { return surface(x, y, ends) })))
		}
		return worst
	}
	coarse, fine := off(16, 16), off(32, 32)
	require.Less(t, fine, 0.002*h0)
	require.Greater(t, math.Log2(coarse/fine), 1.8, "%g, %g", coarse, fine)
}

// slowly plays a film by the plainest scheme there is, forward Euler in steps short enough,
// with the mean of cubes at a face and a tilted flow taken from where it comes: nothing of
// it is the program's. It returns what is on the board and what ran over its edges, in m³.
func slowly(h []float64, n int, cell, pull, hold, ends float64) (on, over float64) {
	for F := 0.0; F < ends; {
		top := 0.0
		for _, v := range h {
			top = math.Max(top, v)
		}
		step := math.Min(ends-F, 0.1*cell*cell*3/(g*top*top*top))
		next := append([]float64(nil), h...)
		face := func(i, j int, pull float64) {
			a, b := h[i], h[j]
			from := a
			if pull < 0 {
				from = b
			}
			q := step * ((a*a*a+b*b*b)/6*g*(a-b)/cell + pull*from*from*from/3) / cell
			next[i] -= q
			next[j] += q
		}
		for y := range n {
			for x := range n {
				i := y*n + x
				if x+1 < n {
					face(i, i+1, pull)
				}
				if y+1 < n {
					face(i, i+n, 0)
				}
				for k, at := range []bool{x == n-1, x == 0, y == 0, y == n-1} {
					if v := h[i]; at && v > hold {
						q := g / 3 * v * v * v * (v - hold) / (cell / 2)
						if k == 0 {
							q += pull * v * v * v / 3
						}
						next[i] -= step * q / cell
						over += step * q * cell
					}
				}
			}
		}
		copy(h, next)
		F += step
	}
	for _, v := range h {
		on += v * cell * cell
	}
	return on, over
}

// What stays and what runs off a tilted board with open edges is what a slow solver of its
// own has: to a hundredth.
func TestRunOffAsASlowSolverHasIt(t *testing.T) {
	const n, cell, hold, pull = 24, 4e-3, 1.2e-3, 0.4
	heap := func(i int) float64 {
		x, y := float64(i%n)-9, float64(i/n)-14
		return 1e-3 + 5e-3*math.Exp(-(x*x+y*y)/20)
	}
	for _, ends := range []float64{300, 1500, 6000} {
		f, err := flow.NewFilm(flow.Grid{NX: n, NY: n, Cell: cell}, flow.Wetted)
		require.NoError(t, err)
		pour(t, f, heap)
		require.NoError(t, f.Open(hold, flow.AllRound))
		require.NoError(t, f.Tilt(pull, 0))
		require.NoError(t, f.Advance(t.Context(), ends))
		slow := make([]float64, n*n)
		for i := range slow {
			slow[i] = heap(i)
		}
		on, over := slowly(slow, n, cell, pull, hold, ends)
		b := f.Balance()
		assert.InEpsilon(t, on, b.OnBoard, 0.01, "at %g", ends)
		assert.InDelta(t, over, b.Over, 0.01*b.Poured, "at %g", ends)
	}
}
