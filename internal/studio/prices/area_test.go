package prices

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
)

// A face is priced by the area a studio thinks in, and what is typed comes back: an inch is 25.4 mm
// (NIST SP 811), so a square decimetre has 15.5 square inches.
func TestAPriceByTheAreaOneThinksIn(t *testing.T) {
	for _, c := range []struct {
		typed string
		sys   units.System
		shown string
		dm2   string
	}{
		{"10", units.Metric, "10.00 / dm²", "10"},
		{"400 / m²", units.Metric, "4.00 / dm²", "4"},
		{"0,05 pro cm2", units.Metric, "5.00 / dm²", "5"},
		{"0.50", units.US, "0.50 / in²", "7.7500155"},
		{"0.375 per sq. in.", units.US, "0.375 / in²", "5.81251163"},
		{"72 / sq ft", units.US, "0.50 / in²", "7.7500155"},
		{"4 / dm2", units.US, "0.2581 / in²", "4"},
	} {
		v, _, err := parseAreaPrice(c.typed, c.sys)
		require.NoError(t, err, c.typed)
		assert.Equal(t, c.dm2, v.String(), c.typed)
		assert.Equal(t, c.shown, areaPrice(v, c.sys), c.typed)
		again, _, err := parseAreaPrice(c.shown, c.sys)
		require.NoError(t, err)
		assert.Equal(t, c.shown, areaPrice(again, c.sys))
	}
	for _, wrong := range []string{"", "much", "4 / inch", "-1"} {
		_, _, err := parseAreaPrice(wrong, units.Metric)
		assert.Error(t, err, wrong)
	}
	v, _, _ := parseAreaPrice("6", units.Metric)
	assert.Equal(t, "93.0 in²", areaText(v, units.US))
}
