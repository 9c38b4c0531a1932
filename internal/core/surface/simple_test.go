package surface_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/surface"
)

// An outline of 160 000 points is kept as what can be seen of it: area and edge differ
// by no more than a tenth of a millimetre along the edge; a plain one stays as it is.
func TestOutlinesAreKeptAsTheyCanBeSeen(t *testing.T) {
	var b strings.Builder
	const n = 160_000
	for k := range n {
		s, c := math.Sincos(2 * math.Pi * float64(k) / n)
		fmt.Fprintf(&b, "%c%g %g", "ML"[min(k, 1)], 300+300*c, 300+300*s)
	}
	fine, err := surface.Outline(b.String() + "Z")
	require.NoError(t, err)
	kept, err := fine.Simplified()
	require.NoError(t, err)
	points := 0
	for _, l := range kept.Loops() {
		points += len(l)
	}
	assert.Less(t, points, 500)
	assert.InDelta(t, float64(fine.Area()), float64(kept.Area()), 0.1*float64(fine.Perimeter()))
	square, err := surface.Outline("M0 0H100V50H0Z")
	require.NoError(t, err)
	same, err := square.Simplified()
	require.NoError(t, err)
	assert.Equal(t, square, same)
	b.Reset()
	for k := range 24_000 {
		fmt.Fprintf(&b, "%c%g %d", "ML"[min(k, 1)], 10+float64(k)/10, 10+k%2*5)
	}
	comb, err := surface.Outline(b.String() + "V9H10Z")
	require.NoError(t, err)
	_, err = comb.Simplified()
	assert.ErrorContains(t, err, "at most")
}
