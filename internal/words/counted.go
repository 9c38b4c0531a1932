package words

import (
	"strings"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// single are the units one of which has another word.
var single = map[string]string{"pieces": "piece", "pairs": "pair", "sheets": "sheet", "drops": "drop"}

// Amount is an amount as it is kept, 2.5 m or 1 drops, with its number and its unit as a
// language has them: 1 drop.
func Amount(text string) msg.Text {
	number, unit, ok := strings.Cut(text, " ")
	if !ok {
		return msg.Figure(text)
	}
	if one, ok := single[unit]; ok && number == "1" {
		unit = one
	}
	return msg.F("%s %s", msg.Figure(number), unitOf(unit))
}

// unitOf is a unit, where a piece is not one of art.
func unitOf(unit string) msg.Text { return msg.C("unit", msg.ID(unit)) }

// Counted is so many of a unit to some decimals.
func Counted(v float64, decimals int, unit string) msg.Text {
	return Amount(units.Fixed(v, decimals) + " " + unit)
}

// Uncounted is the number of a typed amount of a unit, whichever of its words in whichever
// language it has.
func Uncounted(text, unit string) string {
	text = strings.TrimSpace(text)
	for _, u := range []string{unit, single[unit]} {
		words := []string{u}
		for _, l := range Languages {
			words = append(words, unitOf(u).In(In(l.Language)))
		}
		for _, word := range words {
			if rest, ok := strings.CutSuffix(text, word); ok && word != "" {
				return strings.TrimSpace(rest)
			}
		}
	}
	return text
}
