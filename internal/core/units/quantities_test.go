package units_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

func TestParseTheOtherQuantities(t *testing.T) {
	for text, want := range map[string]float64{"45 min": 45, "1 h 30 min": 90, "24h": 1440, "90 s": 1.5, "2 d": 2880,
		"1.5 hours": 90} {
		r, err := units.ParseMinutes(text, "min")
		require.NoError(t, err, text)
		assert.InDelta(t, want, r.Value, 1e-9, text)
	}
	for text, want := range map[string]float64{"1.13 g/mL": 1130, "1130 kg/m3": 1130, "1130 kg/m³": 1130, "0.98 kg/L": 980,
		"9 lb/gal": 1078.43} {
		r, err := units.ParseDensity(text, "kg/m3")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 0.01, text)
	}
	for text, want := range map[string]float64{"1000 mPa·s": 1000, "1000 cP": 1000, "1 Pa·s": 1000, "10 poise": 1000} {
		r, err := units.ParseViscosity(text, "mpas")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 1e-9, text)
	}
	for text, want := range map[string]float64{"0.2°": 0.2, "-0.1 deg": -0.1, "−0.3": -0.3, "10 mrad": 0.5729578} {
		r, err := units.ParseAngle(text, "deg")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 1e-6, text)
	}
	for _, text := range []string{"soon", "", "3 fortnights", "1:30"} {
		_, err := units.ParseMinutes(text, "min")
		assert.Error(t, err, text)
	}
	for text, want := range map[string]float64{"12": 12, "1,5": 1.5, "1/4": 0.25, "-3": -3, "½": 0.5} {
		v, err := units.ParseNumber(text)
		require.NoError(t, err, text)
		assert.InDelta(t, want, v, 1e-12, text)
	}
	for _, text := range []string{"", "twelve", "1 000", "1e3", "--1"} {
		_, err := units.ParseNumber(text)
		assert.Error(t, err, text)
	}
}

// Every assumption is said: which unit, which ounce, which cup.
func TestAssumptionsAreSaid(t *testing.T) {
	for text, want := range map[string]string{"12 oz": "fluid ounces", "3 drops": "20 drops",
		"1 pint": "US pints", "5": "taken in ml"} {
		r, err := units.ParseVolume(text, "ml")
		require.NoError(t, err, text)
		assert.Contains(t, msg.Say(r.Note, msg.English), want, text)
	}
	r, err := units.ParseTemperature("70", "F")
	require.NoError(t, err)
	assert.Contains(t, msg.Say(r.Note, msg.English), "°F")
	for _, text := range []string{"12 fl oz", "300 mL", "1 tsp"} {
		r, err := units.ParseVolume(text, "ml")
		require.NoError(t, err)
		assert.Empty(t, r.Note, "nothing was assumed about %s", text)
	}
}

// The magnitudes a bench prints, in both systems.
func TestTextsAcrossMagnitudes(t *testing.T) {
	for _, x := range []struct{ got, want msg.Figure }{
		{units.Volume(0.25).Text(units.Metric), "0.25 mL"}, {units.Volume(45.67).Text(units.Metric), "45.7 mL"},
		{units.Volume(1234).Text(units.Metric), "1234 mL"},
		{(12 * units.Litre).Text(units.Metric), "12 L"}, {units.Volume(0.02).Text(units.Metric), "0.020 mL"},
		{units.Mass(12_345).Text(units.Metric), "12.35 kg"}, {units.Mass(12.34).Text(units.US), "12.3 g"},
		{msg.Figure((2 * units.Ounce).Ounces()), "2.00 oz wt"},
		{(2 * units.SquareMetre).Text(units.Metric), "2.00 m²"}, {units.Area(209_031.84).Text(units.Metric), "2090 cm²"},
		{units.Area(209_031.84).Text(units.US), "324 in²"},
		{(1.7 * units.Millimetre).Film(units.Metric), "1.70 mm"}, {(1.7 * units.Millimetre).Film(units.US), "0.067 in"},
		{(1.6 * units.Millimetre).Film(units.US), "1/16 in"}, {(3.2 * units.Millimetre).Film(units.US), "1/8 in"},
		{(-3 * units.Inch / 2).Text(units.US), "-1 1/2 in"}, {units.Length(-3.25).Text(units.Metric), "-3.2 mm"},
	} {
		assert.Equal(t, x.want, x.got)
	}
	assert.Equal(t, units.US, units.Metric.Other())
	assert.Equal(t, units.Metric, units.US.Other())
	assert.False(t, units.System("cubits").Valid())
}

// Fractions of an inch are those of a rule.
func TestInchesAreReadOffARule(t *testing.T) {
	for sixteenths, want := range map[int]string{1: "1/16 in", 2: "1/8 in", 4: "1/4 in", 8: "1/2 in", 15: "15/16 in",
		16: "1 in", 17: "1 1/16 in", 294: "18 3/8 in"} {
		l := units.Inch * units.Length(sixteenths) / 16
		assert.Equal(t, want, msg.Say(l.Text(units.US), msg.English))
		back, err := units.ParseLength(want, "cm")
		require.NoError(t, err)
		assert.InDelta(t, float64(l), float64(back.Value), 1e-9)
	}
}
