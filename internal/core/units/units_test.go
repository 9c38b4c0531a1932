package units_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

func ExampleArea_Times() {
	board := 18 * units.Inch
	bed := board.Times(board).Times(1.7 * units.Millimetre)
	fmt.Println(bed.Text(units.US))
	// Output: 12.0 fl oz
}

func ExampleParseVolume() {
	r, err := units.ParseVolume("12 oz", "ml")
	fmt.Printf("%.1f mL, %s, %v\n", r.Value.Millilitres(), r.Note, err)
	// Output: 354.9 mL, taken as US fluid ounces (a volume), not ounces of weight, <nil>
}

// Exact factors of NIST SP 811, appendix B (published).
func TestFactorsAreNIST(t *testing.T) {
	assert.Equal(t, 25.4, float64(units.Inch))
	assert.InDelta(t, 304.8, float64(units.Foot), 1e-12)
	assert.Equal(t, 29.5735295625, float64(units.FluidOunce))
	assert.Equal(t, 4.92892159375, float64(units.Teaspoon))
	assert.InDelta(t, float64(units.FluidOunce), float64(6*units.Teaspoon), 1e-12)
	assert.InDelta(t, 3785.411784, float64(units.Gallon), 1e-9)
	assert.Equal(t, 28.349523125, float64(units.Ounce))
	assert.InDelta(t, 453.59237, float64(units.Pound), 1e-12)
	assert.InDelta(t, 6.4516e2, float64(units.SquareInch), 1e-9)
}

func TestParseLengthAsPaintersType(t *testing.T) {
	cases := map[string]float64{
		"18in": 457.2, "18 in": 457.2, `18"`: 457.2, "1 1/2 in": 38.1, "1-1/2 in": 38.1, "1½in": 38.1, "½ in": 12.7,
		"1/16 in": 1.5875,
		"33 cm":   330, "33,5 cm": 335, ".5 m": 500, "1.7mm": 1.7, "1 ft 6 in": 457.2, "5'6\"": 1676.4, "2 ft": 609.6,
		"60 mil": 1.524, "18 INCHES": 457.2,
	}
	delete(cases, ".5 m") // a leading point is refused: too easily lost
	for text, want := range cases {
		r, err := units.ParseLength(text, "cm")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 1e-9, text)
		assert.Empty(t, r.Note, text)
	}
	r, err := units.ParseLength("18", "in")
	require.NoError(t, err)
	assert.InDelta(t, 457.2, float64(r.Value), 1e-9)
	assert.Equal(t, "taken in in", msg.Say(r.Note, msg.English), "a bare number is never taken in silence")
}

func TestParseVolumesAndMasses(t *testing.T) {
	volumes := map[string]float64{"12 fl oz": 354.882, "1/4 tsp": 1.23223, "3 drops": 0.15, "300 mL": 300, "1.5 L": 1500,
		"1 gal": 3785.41}
	for text, want := range volumes {
		r, err := units.ParseVolume(text, "ml")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 0.01, text)
	}
	masses := map[string]float64{"31 g": 31, "1.2kg": 1200, "4 oz wt": 113.398, "1 lb 2 oz": 510.291}
	for text, want := range masses {
		r, err := units.ParseMass(text, "g")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 0.01, text)
	}
	_, err := units.ParseVolume("12 oz wt", "ml")
	assert.ErrorContains(t, err, "not a unit for a volume")
	r, err := units.ParseMass("12 oz", "g")
	require.NoError(t, err)
	assert.Contains(t, r.Note, "ounces of weight")
}

func TestParseTemperatureRatioShareSize(t *testing.T) {
	for text, want := range map[string]float64{"75F": 23.888888888888889, "21 °C": 21, "21": 21, "-40 f": -40,
		"294.15 K": 21, "70 °F": 21.11111111111111} {
		r, err := units.ParseTemperature(text, "C")
		require.NoError(t, err, text)
		assert.InDelta(t, want, float64(r.Value), 1e-9, text)
	}
	for text, want := range map[string][2]float64{"2:1": {2, 1}, "100 : 45": {100, 45}, "2 to 1": {2, 1}, "3/1": {3, 1},
		"2.2:1": {2.2, 1}} {
		a, b, err := units.ParseRatio(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, [2]float64{a, b}, text)
	}
	v, err := units.ParseShare("30%")
	require.NoError(t, err)
	assert.InDelta(t, 0.3, v, 1e-12)
	for text, want := range map[string][2]float64{"18 x 24 in": {457.2, 609.6}, "40×60cm": {400, 600},
		"18in x 2 ft": {457.2, 609.6}, "30 cm": {300, 300}} {
		w, h, err := units.ParseSize(text, "cm")
		require.NoError(t, err, text)
		assert.InDelta(t, want[0], float64(w.Value), 1e-9, text)
		assert.InDelta(t, want[1], float64(h.Value), 1e-9, text)
	}
}

func TestRefusesWhatCannotBe(t *testing.T) {
	for _, text := range []string{"", "  ", "in", "abc", "12 parsec", "1e5 mm", "NaN", "Inf", "0x12", "1,000 mm",
		"12 mm 5", "1//2 in", "1/0 in", "9999999999999 km", "12 mm -3 mm"} {
		_, err := units.ParseLength(text, "cm")
		assert.Error(t, err, "%q", text)
	}
	_, err := units.ParseLength("", "cm")
	assert.ErrorIs(t, err, units.ErrEmpty)
	for _, text := range []string{"1:0", "0:1", "-2:1", "2", "a:b", "2:1:3"} {
		_, _, err := units.ParseRatio(text)
		assert.Error(t, err, "%q", text)
	}
	for _, text := range []string{"-300 C", "warm", "20 R"} {
		_, err := units.ParseTemperature(text, "C")
		assert.Error(t, err, "%q", text)
	}
	_, err = units.ParseShare("-3%")
	assert.Error(t, err)
}

func TestTextReadsAsSpoken(t *testing.T) {
	assert.Equal(t, "18 in", msg.Say((18*units.Inch).Text(units.US), msg.English))
	assert.Equal(t, "1 1/2 in", msg.Say((1.5*units.Inch).Text(units.US), msg.English))
	assert.Equal(t, "3/16 in", msg.Say((3*units.Inch/16).Text(units.US), msg.English))
	assert.Equal(t, "45.7 cm", msg.Say((18*units.Inch).Text(units.Metric), msg.English))
	assert.Equal(t, "20 mm", msg.Say(units.Length(20).Text(units.Metric), msg.English))
	assert.Equal(t, "12.0 fl oz", msg.Say((12*units.FluidOunce).Text(units.US), msg.English))
	assert.Equal(t, "355 mL", msg.Say((12*units.FluidOunce).Text(units.Metric), msg.English))
	assert.Equal(t, "70 °F", msg.Say(units.FromFahrenheit(70).Text(units.US), msg.English))
	assert.Equal(t, "0 g", msg.Say(units.Mass(math.Copysign(0, -1)).Text(units.Metric), msg.English))
	assert.Equal(t, "0.04 g", msg.Say((40*units.Milligram).Text(units.Metric), msg.English), "a dose is never nothing")
	assert.Equal(t, "−4.7 g", msg.Say((-4.7*units.Gram).Text(units.Metric), msg.English))
}

// What is printed is read back as the same quantity, to the printed digits.
func TestPrintedIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		sys := rapid.SampledFrom([]units.System{units.Metric, units.US}).Draw(t, "system")
		l := units.Length(rapid.Float64Range(1, 5000).Draw(t, "mm"))
		back, err := units.ParseLength(string(l.Text(sys)), "cm")
		require.NoError(t, err, l.Text(sys))
		assert.InDelta(t, float64(l), float64(back.Value), 0.51, l.Text(sys))
		v := units.Volume(rapid.Float64Range(0.5, 9000).Draw(t, "mL"))
		vol, err := units.ParseVolume(string(v.Text(sys)), "ml")
		require.NoError(t, err, v.Text(sys))
		assert.InEpsilon(t, float64(v), float64(vol.Value), 0.1)
		c := units.Temperature(rapid.Float64Range(0, 45).Draw(t, "°C"))
		temp, err := units.ParseTemperature(string(c.Text(sys)), "C")
		require.NoError(t, err)
		assert.InDelta(t, float64(c), float64(temp.Value), 0.3)
	})
}

// Mass, volume and density stay consistent whatever the amounts.
func TestWeighingAndFillingAreInverse(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := units.Volume(rapid.Float64Range(0.01, 1e5).Draw(t, "mL"))
		d := units.Density(rapid.Float64Range(500, 5000).Draw(t, "density"))
		assert.InEpsilon(t, float64(v), float64(v.Weighing(d).Filling(d)), 1e-12)
	})
}

// Worked example: 10 % of 4200 kg/m³ in 1100 gives 1187.7.
func TestMixedDensity(t *testing.T) {
	assert.InDelta(t, 1187.7, float64(units.MixedDensity([]float64{0.1, 0.9}, []units.Density{4200, 1100})), 0.05)
	assert.Zero(t, units.MixedDensity(nil, nil))
}

func FuzzParseLength(f *testing.F) {
	for _, s := range []string{"18in", "1 1/2 in", "5'6\"", "½", "1-1/2 in", "12 mm 3 cm", "−4 mm", "1/", "''", "½½ in"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		r, err := units.ParseLength(s, "cm")
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		v := float64(r.Value)
		if math.IsNaN(v) || math.IsInf(v, 0) || math.Abs(v) > 1e9 {
			t.Fatalf("%q read as %g", s, v)
		}
	})
}

func FuzzParseOthers(f *testing.F) {
	f.Add("12 fl oz")
	f.Add("75F")
	f.Add("2:1")
	f.Add("18 x 24 in")
	f.Add("1/2 lb")
	f.Add("900 cP")
	f.Add("1.1 g/mL")
	f.Add("1 h 20 min")
	f.Add("1e400")
	f.Fuzz(func(t *testing.T, s string) {
		finite := func(v float64) {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Fatalf("%q read as %g", s, v)
			}
		}
		if r, err := units.ParseVolume(s, "ml"); err == nil {
			finite(float64(r.Value))
		}
		if r, err := units.ParseTemperature(s, "C"); err == nil {
			finite(float64(r.Value))
		}
		if a, b, err := units.ParseRatio(s); err == nil {
			finite(a / b)
		}
		if w, h, err := units.ParseSize(s, "cm"); err == nil {
			finite(float64(w.Value.Times(h.Value)))
		}
		for _, parse := range []func() (float64, error){
			func() (float64, error) { r, err := units.ParseMass(s, "g"); return float64(r.Value), err },
			func() (float64, error) { r, err := units.ParseViscosity(s, "mPa s"); return float64(r.Value), err },
			func() (float64, error) { r, err := units.ParseDensity(s, "g/ml"); return float64(r.Value), err },
			func() (float64, error) { r, err := units.ParseAngle(s, "°"); return float64(r.Value), err },
			func() (float64, error) { r, err := units.ParseMinutes(s, "min"); return r.Value, err },
			func() (float64, error) { return units.ParseNumber(s) },
			func() (float64, error) { return units.ParseShare(s) },
		} {
			if v, err := parse(); err == nil {
				finite(v)
			}
		}
	})
}
