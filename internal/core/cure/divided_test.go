package cure_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/units"
)

// A batch that is never divided keeps as long as the cup's own balance says, of
// which the handbook gives 14.7 min for 150 g.
func TestABatchInItsJugKeepsAsACup(t *testing.T) {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	assert.InDelta(t, 14.7, k.Keeps(25, 25, cure.Standing{Mass: 150}), 0.1, "handbook 4, the cup")
	rapid.Check(t, func(t *rapid.T) {
		work := rapid.Float64Range(15, 90).Draw(t, "working time")
		k, err := cure.Calibrate(work, work*0.5)
		require.NoError(t, err)
		m := units.Mass(rapid.Float64Range(20, 1500).Draw(t, "mass"))
		start, room := units.Temperature(
			rapid.Float64Range(12, 40).Draw(t, "start"),
		), units.Temperature(
			rapid.Float64Range(12, 35).Draw(t, "room"),
		)
		f, err := k.InCup(m, start, room)
		require.NoError(t, err)
		assert.InEpsilon(t, f.UseBy, k.Keeps(start, room, cure.Standing{Mass: m}), 0.01)
	})
}

// Small cups shed more of their warmth: the sooner a batch is divided, the longer
// it keeps, and never longer than one mixed in the cup.
func TestDividedSoonerKeepsLonger(t *testing.T) {
	k, err := cure.Calibrate(45, 24)
	require.NoError(t, err)
	last := k.Keeps(25, 25, cure.Standing{600, 0}, cure.Standing{Mass: 100})
	for _, at := range []float64{2, 5, 8, math.Inf(1)} {
		now := k.Keeps(25, 25, cure.Standing{600, at}, cure.Standing{Mass: 100})
		assert.LessOrEqual(t, now, last+1e-9)
		last = now
	}
	assert.Less(t, last, k.Keeps(25, 25, cure.Standing{600, 4}, cure.Standing{Mass: 100}))
}
