package form_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
	"jevvo/internal/form"
)

// A film is typed and shown in the studio's units: a sixteenth of an inch is 1.5875 mm (an inch is 25.4 mm,
// NIST SP 811), and a number alone is of whichever unit makes a film.
func TestFilmsInTheStudiosUnits(t *testing.T) {
	type coat struct{ film units.Length }
	f := form.Film("film", "Film", func(c *coat) *units.Length { return &c.film }, 0.2, 150)
	for text, want := range map[string]float64{"1/16": 1.5875, "1/16 in": 1.5875, "0.0625": 1.5875, "1.6": 1.6,
		"1.6 mm": 1.6,
		"60 mil": 1.524} {
		var c coat
		_, err := f.Set(&c, text, units.US)
		require.NoError(t, err, text)
		assert.InDelta(t, want, c.film.Millimetres(), 1e-9, text)
	}
	c := coat{1.5875}
	assert.Equal(t, "1/16 in", f.Get(&c, units.US))
	assert.Equal(t, "1.59 mm", f.Get(&c, units.Metric))
	_, err := f.Set(&c, "1/16", units.Metric)
	assert.Error(t, err, "a sixteenth of a millimetre is no film")
}
