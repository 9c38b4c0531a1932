package words

import (
	"strings"

	"jevvo/internal/core/units"
)

// single are the units one of which has another word.
var single = map[string]string{"pieces": "piece", "pairs": "pair", "sheets": "sheet", "drops": "drop"}

// Amount is an amount as it is kept, 2.5 m or 1 drops, with its number and its unit as the
// studio's language has them: 1 drop.
func Amount(text string) string {
	number, unit, ok := strings.Cut(text, " ")
	if !ok {
		return Figures(text)
	}
	if one, ok := single[unit]; ok && number == "1" {
		unit = one
	}
	return Figures(number) + " " + unitWord(unit)
}

// unitWord is a unit in the studio's language, where a piece is not one of art.
func unitWord(unit string) string {
	const mark = "unit: "
	return strings.TrimPrefix(T(mark+unit), mark)
}

// Counted prints so many of a unit to some decimals.
func Counted(v float64, decimals int, unit string) string {
	return Amount(units.Fixed(v, decimals) + " " + unit)
}

// Uncounted is the number of a typed amount of a unit, whichever of its words it has.
func Uncounted(text, unit string) string {
	text = strings.TrimSpace(text)
	for _, u := range []string{unit, single[unit]} {
		for _, word := range []string{u, unitWord(u)} {
			if rest, ok := strings.CutSuffix(text, word); ok && word != "" {
				return strings.TrimSpace(rest)
			}
		}
	}
	return text
}
