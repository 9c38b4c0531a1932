package units_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
)

// Lines as bench scales send them (common practice): status, sign apart, unit.
func TestLinesOfAScale(t *testing.T) {
	for line, want := range map[string]units.Display{
		"ST,GS,+  123.4 g":   {Mass: 123.4},
		"US,GS,-    0.2 g":   {Mass: -0.2, Moving: true},
		"+ 0012.50 g\r":      {Mass: 12.5},
		"123,4":              {Mass: 123.4},
		"  1.2 kg ":          {Mass: 1200},
		"12.5 g ?":           {Mass: 12.5, Moving: true},
		"N  +  .5 g":         {Mass: 0.5},
		"ST,NT,+ 1.000 oz":   {Mass: 28.349523125}, // NIST SP 811
		"wt: 87.3g (stable)": {Mass: 87.3},
	} {
		got, err := units.ParseDisplay(line)
		require.NoError(t, err, line)
		assert.InDelta(t, want.Mass.Grams(), got.Mass.Grams(), 1e-9, line)
		assert.Equal(t, want.Moving, got.Moving, line)
	}
	for _, line := range []string{"", "   ", "ready", "OL", "ST,OL,+ 12.0 g", "------", "g", string(make([]byte, 200))} {
		_, err := units.ParseDisplay(line)
		assert.Error(t, err, "%q", line)
	}
}

func FuzzParseDisplay(f *testing.F) {
	for _, s := range []string{"ST,GS,+  123.4 g", "-3,2", "9e9 kg", "\x00\xff12", "--1"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		d, err := units.ParseDisplay(line)
		if err == nil && (math.IsNaN(d.Mass.Grams()) || math.Abs(d.Mass.Grams()) > 1e12) {
			t.Errorf("%q reads as %g g", line, d.Mass.Grams())
		}
	})
}
