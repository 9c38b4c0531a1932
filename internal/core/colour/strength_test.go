package colour_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
)

// A film made of a pigment of a known strength gives that strength back; one that
// hides at any strength, or a colour of another hue, gives none.
func TestStrengthFromOneCuredColour(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o := colour.Optics{K: colour.Flat(0), S: colour.Flat(0)}
		for i := range o.K {
			o.K[i] = rapid.Float64Range(0.02, 0.5).Draw(t, "k")
			o.S[i] = rapid.Float64Range(0.2, 1.2).Draw(t, "s")
		}
		s, film := colour.Finish(1), units.Length(0.8)
		backing := s.In(colour.Flat(0.1))
		times := rapid.Float64Range(0.45, 2.2).Draw(t, "times")
		want := s.Out((colour.Optics{}).Add(o, times).Over(backing, film)).Lab()
		got, before, after, err := colour.Strength(o, film, backing, s, want)
		if err != nil {
			require.Less(t, before, 0.8, "only what hardly differs says nothing")
			return
		}
		require.InEpsilon(t, times, got, 0.02)
		require.Less(t, after, 0.05)
		require.Greater(t, before, after)
	})
	hides := colour.Optics{K: colour.Flat(5), S: colour.Flat(60)}
	_, _, _, err := colour.Strength(hides, 3, colour.Flat(0.05), colour.Finish(1), colour.Lab{L: 60, A: 1, B: 1})
	assert.ErrorIs(t, err, colour.ErrNoStrength)
	thin := colour.Optics{K: colour.Flat(0.05), S: colour.Flat(0.5)}
	_, _, _, err = colour.Strength(thin, 1, colour.Flat(0.05), colour.Finish(1), colour.Lab{L: 99, A: 80, B: -80})
	assert.ErrorIs(t, err, colour.ErrNoStrength)
}
