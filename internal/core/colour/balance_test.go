package colour_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
)

// A picture with a known cast, through eight bits, comes back to within 2
// CIEDE2000 by its grey card, whatever its light (the cast is the test's own).
func TestACastIsTakenOut(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cast := colour.RGB{R: rapid.Float64Range(0.6, 1.4).Draw(t, "r"), G: rapid.Float64Range(0.7, 1.2).Draw(t, "g"),
			B: rapid.Float64Range(0.6, 1.4).Draw(t, "b")}
		taken := func(c colour.RGB) colour.RGB { // with the cast, in bytes
			byteOf := colour.RGB{R: c.R * cast.R, G: c.G * cast.G, B: c.B * cast.B}.Hex()
			back, err := colour.ParseHex(byteOf)
			require.NoError(t, err)
			return back
		}
		grey := colour.RGB{R: colour.GreyCard, G: colour.GreyCard, B: colour.GreyCard}
		balance, err := colour.NewBalance(taken(grey), grey)
		require.NoError(t, err)
		channel := func(name string) float64 { return rapid.Float64Range(0.02, 0.65).Draw(t, name) }
		true1 := colour.RGB{R: channel("cr"), G: channel("cg"), B: channel("cb")}
		require.Less(t, colour.Difference(true1.XYZ().Lab(), balance.Of(taken(true1)).XYZ().Lab()), 2.0)
	})
}

func TestAPatchThatSaysNothing(t *testing.T) {
	grey := colour.RGB{R: 0.18, G: 0.18, B: 0.18}
	for _, bad := range []colour.RGB{{}, {R: 1, G: 1, B: 1}, {R: 0.2, G: 0.2, B: 0.999}, {R: 0.2, G: 0.001, B: 0.2}} {
		_, err := colour.NewBalance(bad, grey)
		assert.Error(t, err, "%v", bad)
	}
	_, err := colour.NewBalance(grey, colour.RGB{R: 0.5})
	assert.Error(t, err)
	assert.Equal(t, grey, colour.Unbalanced.Of(grey))
	assert.Equal(t, colour.RGB{R: 1, G: 1, B: 1}, colour.Encoded(255, 255, 255))
}

// CIELAB there and back (CIE 15).
func TestLabThereAndBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := colour.Lab{L: rapid.Float64Range(0, 100).Draw(t, "L"), A: rapid.Float64Range(-60, 60).Draw(t, "a"),
			B: rapid.Float64Range(-60, 60).Draw(t, "b")}
		d := c.XYZ().Lab()
		require.InDelta(t, c.L, d.L, 1e-9)
		require.InDelta(t, c.A, d.A, 1e-9)
		require.InDelta(t, c.B, d.B, 1e-9)
	})
}
