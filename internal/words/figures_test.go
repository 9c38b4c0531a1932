package words_test

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"jevvo/internal/core/units"
	"jevvo/internal/words"
)

// German writes a comma before decimals (DIN 1333); English a point.
func TestFiguresOfALanguage(t *testing.T) {
	for text, want := range map[string]string{
		"12.5 g": "12,5 g", "−0.25°": "−0,25°", "(1.5–2.5 mm)": "(1,5–2,5 mm)", "1.6 mm.": "1,6 mm.",
		"ends at 3.": "ends at 3.",
		"1:0.45":     "1:0,45", "€1200.50": "€1200,50", "40.0×60.0 cm": "40,0×60,0 cm",
		"192.168.0.3:8080": "192.168.0.3:8080", "0.3,0.5 0.7,0.6": "0.3,0.5 0.7,0.6", "v1.2": "v1.2",
		`"1.5x" is not a number`: `"1.5x" is not a number`,
		"/boards/1.5":            "/boards/1.5", "no figures.": "no figures.", "": "",
	} {
		assert.Equal(t, text, words.In(words.English).Figures(text), "in English")
		assert.Equal(t, want, german.Figures(text))
	}
}

// A number is printed so that it is read back as it was.
func TestFiguresAreReadBack(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		v := rapid.Float64Range(0, 1e6).Draw(rt, "v")
		decimals := rapid.IntRange(0, 4).Draw(rt, "decimals")
		plain := strconv.FormatFloat(v, 'f', decimals, 64)
		if decimals == 3 {
			plain += "0" // three decimals after a comma may be a thousand
		}
		want, _ := strconv.ParseFloat(plain, 64)
		got, err := units.ParseNumber(german.Figures(plain))
		if err != nil || got != want || strings.Contains(german.Figures(plain), ".") {
			rt.Fatalf("%s became %s, read as %v, %v", plain, german.Figures(plain), got, err)
		}
	})
}
