package units_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// What leaflets and painters write is read as they mean it (spellings: common practice; sizes: NIST
// Handbook 44, appendix C).
func TestReadAsMeant(t *testing.T) {
	for text, want := range map[string]float64{"12 US fl oz": 354.882, "12 fl oz US": 354.882, "12 fl. oz.": 354.882,
		"1,5 dl": 150, "1.5 dL": 150, "1 000 ml": 1000, "1\u00a0000 ml": 1000, "1\u202f500 ml": 1500, "12 000": 12000,
		"1 L 250 ml": 1250} {
		r, err := units.ParseVolume(text, "ml")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 0.01, text)
	}
	for text, want := range map[string]float64{"0.98": 980, "1.13": 1130, "1130": 1130, "980 kg/m3": 980, "0,98": 980,
		"9.5 lb/gal": 1138.35} {
		r, err := units.ParseDensity(text, "kg/m3")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 0.01, text)
	}
	for text, want := range map[string]float64{"24-1/2 in": 622.3, "24 1/2\"": 622.3, "2' 6\"": 762} {
		r, err := units.ParseLength(text, "in")
		require.NoError(t, err, text)
		assert.InDelta(t, want, r.Value.Millimetres(), 0.01, text)
	}
	for _, text := range []string{"1 00 ml", "1 0000 ml", "1000 000 ml 5"} {
		_, err := units.ParseVolume(text, "ml")
		assert.Error(t, err, text)
	}
}

// A range on a leaflet is its middle, and says so.
func TestRangesOfALeaflet(t *testing.T) {
	for text, want := range map[string]float64{"40-45 min": 42.5, "40–45 min": 42.5, "40 to 45 min": 42.5,
		"24 - 72 h":     2880,
		"40 bis 45 min": 42.5, "1 h 30 min": 90} {
		r, err := units.ParseMinutes(text, "min")
		require.NoError(t, err, text)
		assert.InDelta(t, want, r.Value, 1e-9, text)
		assert.Equal(t, text != "1 h 30 min", r.Note != nil, text)
	}
	r, err := units.ParseMinutes("40-45 min", "min")
	require.NoError(t, err)
	assert.Equal(t, "taken as the middle of 40 and 45", msg.Say(r.Note, msg.English))
	v, err := units.ParseViscosity("600–900 mPas", "mpas")
	require.NoError(t, err)
	assert.InDelta(t, 750, float64(v.Value), 1e-9)
	for _, text := range []string{"45-40 min", "40- min", "40-45-50 min", "-40-45 min"} {
		_, err := units.ParseMinutes(text, "min")
		assert.Error(t, err, text)
	}
}

// A cup on this bench is a mixing cup: two of them are no amount.
func TestACupIsAsked(t *testing.T) {
	for _, text := range []string{"2 cups", "1 cup", "1 1/2 Cups"} {
		_, err := units.ParseVolume(text, "floz")
		require.ErrorContains(t, err, "a cup here is a mixing cup", text)
	}
}

// Resin is sold and weighed by the kilogram too: its density says how much that is.
func TestResinByWeight(t *testing.T) {
	for text, want := range map[string]float64{"500 g": 454.545, "1.5 kg": 1363.636, "1 lb": 412.357,
		"300 mL": 300, "300": 300} {
		r, err := units.ParseVolumeOf(text, "ml", 1100)
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 0.01, text)
	}
	r, err := units.ParseVolumeOf("500 g", "ml", 1100)
	require.NoError(t, err)
	assert.Equal(t, "500 g at 1.1 g/mL", msg.Say(r.Note, msg.English))
	_, err = units.ParseVolumeOf("some", "ml", 1100)
	assert.ErrorContains(t, err, "is not a volume")
	_, err = units.ParseVolumeOf("500 g", "ml", 0)
	assert.Error(t, err, "of what is not known")
}
