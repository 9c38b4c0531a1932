package words

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// An Own text is a painter's: a name, a note. It is printed as it was written, though it may
// read like one of the program's.
type Own string

// Figures writes the numbers of a text with the decimal mark of the studio's language.
// Figures with several points, as of an address, and those within a word or after a quotation
// mark stay.
func Figures(text string) string {
	mark := DecimalMark()
	if mark == "." || !strings.Contains(text, ".") {
		return text
	}
	var b strings.Builder
	before := ' '
	for text != "" {
		n := numeral(text)
		if n == 0 {
			r, size := utf8.DecodeRuneInString(text)
			b.WriteString(text[:size])
			before, text = r, text[size:]
			continue
		}
		number := text[:n]
		if stands(before, text[n:]) && strings.Count(number, ".") == 1 {
			number = strings.Replace(number, ".", mark, 1)
		}
		b.WriteString(number)
		before, text = '0', text[n:]
	}
	return b.String()
}

// Sizes are counted sizes as they are typed, 2 of 40.5 x 60 cm, in the studio's language.
func Sizes(typed string) string { return Figures(strings.ReplaceAll(typed, " of ", T(" of "))) }

// PlainFigures writes the numbers of a typed text with a point, whatever the language's mark.
func PlainFigures(text string) string {
	if mark := DecimalMark(); mark != "." {
		return strings.ReplaceAll(text, mark, ".")
	}
	return text
}

// DecimalMark is that of the studio's language.
func DecimalMark() string { return catalogue().decimalMark() }

// decimalMark is how the language writes the point of a number.
func (c *Catalogue) decimalMark() string {
	const english = "decimal mark ."
	return strings.TrimPrefix(c.Text(english), strings.TrimSuffix(english, "."))
}

// numeral is how long the figures and points are that a text begins with; a point at their
// end is the sentence's.
func numeral(text string) int {
	end := 0
	for end < len(text) && (isDigit(text[end]) || end > 0 && text[end] == '.' && end+1 < len(text) &&
		isDigit(text[end+1])) {
		end++
	}
	return end
}

func isDigit(c byte) bool { return c >= '0' && c <= '9' }

// stands reports whether figures between these are a number by themselves, not a piece of a
// word, a pair as 0.3,0.5 or what somebody typed.
func stands(before rune, after string) bool {
	if unicode.IsLetter(before) || strings.ContainsRune(`"'_/#,`, before) {
		return false
	}
	return len(after) < 2 || after[0] != ',' || !isDigit(after[1])
}
