package flow

import (
	"testing"

	"github.com/stretchr/testify/require"
)

// A part that is lower than what lies about it takes from its neighbours no more than they
// have: no cell is ever less than nothing, and all that was poured is there, while the rest
// waits and after it was given what it is owed.
func TestThePartTakesNoMoreThanThereIs(t *testing.T) {
	const n = 48
	for _, about := range []float64{1e-5, 1e-3, 6e-3} {
		f, err := NewFilm(Grid{NX: n, NY: n, Cell: 1e-3}, Wetted)
		require.NoError(t, err)
		hole := part{16, 30, 14, 32}
		require.NoError(t, f.Pour(func(i int) float64 {
			if hole.holds(f.grid.cell(i)) {
				return about / 50
			}
			return about
		}))
		f.move.part, f.at = hole, hole
		whole := func() {
			b := f.Balance()
			require.InEpsilon(t, b.Poured, b.OnBoard, 1e-9, "film %g about it", about)
			for i, h := range f.h {
				require.GreaterOrEqual(t, h, 0.0)
				require.GreaterOrEqual(t, h+f.move.owed[i], 0.0, "what is owed is there")
			}
		}
		for range 60 {
			f.at = hole
			took, err := f.try(t.Context(), 1e9, 1e-6)
			require.NoError(t, err)
			f.move.late += took
			whole()
			if f.deep() {
				require.NoError(t, f.follow(t.Context()))
				whole()
			}
		}
	}
}
