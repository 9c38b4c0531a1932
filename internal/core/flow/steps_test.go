package flow_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
)

// After every step, on cells of 0.3 to 8 mm, with edges open all round, whatever is done: the
// film of each cell is what its layers are, and board and run-off are what was poured.
func TestFilmIsLayersAfterEveryStep(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		const n = 14
		cell := 0.3 * math.Pow(8/0.3, rapid.Float64Range(0, 1).Draw(t, "cell"))
		size := n * cell
		s := board(size, n, 1100, 1130, 1090)
		s.Edge = rapid.SampledFrom([]float64{0, 1.2e-3, 0.4}).Draw(t, "edge")
		s.Contact.EdgeHeight = rapid.SampledFrom([]float64{0, 1.63e-3}).Draw(t, "stands")
		s.Tension = rapid.SampledFrom([]float64{0, 0.04}).Draw(t, "tension")
		place := func() geom.Point {
			part := rapid.Float64Range(0.1, 0.9)
			return geom.At(size*part.Draw(t, "x"), size*part.Draw(t, "y"))
		}
		bed := size * size * 1e-6 * 1e-3
		s.Moves = []flow.Move{{Kind: flow.Bed, Film: 1e-3}}
		poured := []float64{bed} // with each move
		for k := range rapid.IntRange(1, 5).Draw(t, "moves") {
			m := flow.Move{At: 10 * float64(k+1), Cup: k % 3}
			m.Kind = rapid.SampledFrom([]flow.Kind{flow.Puddle, flow.Ribbon, flow.Tilting, flow.Warm, flow.Blow}).Draw(t, "kind")
			switch m.Kind {
			case flow.Puddle, flow.Ribbon:
				m.Volume, m.Points = bed*rapid.Float64Range(0.1, 0.5).Draw(t, "volume"), []geom.Point{place(), place()}
				poured = append(poured, m.Volume)
			case flow.Tilting:
				tip := rapid.Float64Range(-8, 8)
				small := math.Min(1, cell/2) // nobody tips 3 mm of board: it takes ten thousand steps
				m.TiltX, m.TiltY, m.For = small*tip.Draw(t, "tx"), small*tip.Draw(t, "ty"), 7
			case flow.Warm:
				m.Points, m.Radius, m.To, m.For = []geom.Point{place()}, size/3000, 60, 5
			case flow.Blow:
				m.Points, m.Width, m.Shear, m.For = []geom.Point{place(), place()}, size/3000, 4, 3
			}
			s.Moves = append(s.Moves, m)
		}
		r, err := flow.Start(s)
		require.NoError(t, err)
		steps, ran := 0, 0.0
		r.EachStep(func(apart, on, over float64) {
			steps++
			require.Less(t, apart, 1e-11, "m, in step %d", steps)
			require.GreaterOrEqual(t, over, ran, "something came back")
			ran = over
			all, left := on+over, 0.0
			for _, v := range poured { // in their order, of which so many have been
				left += v
				if math.Abs(all-left) < 1e-9*left {
					return
				}
			}
			t.Fatalf("%g mL in step %d, poured %v", 1e6*all, steps, poured)
		})
		require.NoError(t, r.To(t.Context(), 120))
		require.Positive(t, steps)
	})
}
