package cure

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
)

// A warmed film cools as Newton's law of cooling has it, and from then on is the
// room.
func TestWarmedBottles(t *testing.T) {
	k := sheet(t)
	l := Slab{1.6, 2, 21, Constant(21)}
	w := Warmed{Start: 35, Poured: 8}
	c, err := k.ClockWarmed(l, w)
	require.NoError(t, err)
	tau := 1100 * 1900 * 0.0016 / (2 * 9.0) / 60 // minutes
	assert.InDelta(t, 3.1, tau, 0.01)
	assert.InDelta(t, 35, float64(c.RoomAt(4)), 1e-9)
	// Two bodies of like effusivity meet halfway (Carslaw & Jaeger 1959, 2.8): from then on
	// half the excess cools as Newton has it.
	for _, m := range []float64{3, 10} {
		assert.InDelta(t, 21+7*math.Exp(-m/tau), float64(c.RoomAt(8+m)), 0.03, "%g min after the pour", m)
	}
	assert.InDelta(t, 0.55*14*math.Exp(-1/tau), float64(c.RoomAt(9))-21, 0.05,
		"nine tenths of the board's half within a minute")
	assert.InDelta(t, 21, float64(c.RoomAt(60)), 0.05)
	plain, err := k.ClockIn(l)
	require.NoError(t, err)
	assert.Less(t, c.Viscosity(2, 1000), plain.Viscosity(2, 1000), "thinner in the jug")
	assert.Less(t, c.Gel(), plain.Gel(), "and sooner thick")
	assert.Greater(t, c.Gel(), plain.Gel()-30)
	later := c.Later(40)
	assert.InDelta(t, 35, float64(later.RoomAt(4)), 1e-9, "the next lot is warm again")
	assert.InDelta(t, c.Gel(), later.Gel(), 1e-6)
	same, err := k.ClockWarmed(l, Warmed{Start: 21, Poured: 8})
	require.NoError(t, err)
	assert.InEpsilon(t, plain.Gel(), same.Gel(), 1e-9, "not warmed at all")
	deep, err := k.ClockWarmed(Slab{20, 1, 21, Constant(21)}, w)
	require.NoError(t, err)
	f, err := k.InSlab(Slab{20, 1, units.Temperature(35), Constant(21)})
	require.NoError(t, err)
	assert.InEpsilon(t, f.Gel, deep.Gel(), 0.01)
	_, err = k.ClockWarmed(l, Warmed{Start: 300})
	assert.Error(t, err)
}
