package words

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"jevvo/internal/msg"
)

// Figures implements msg.Lang: it writes the numbers of a text with the language's decimal mark.
// Figures with several points, as of an address, and those within a word or after a quotation
// mark stay.
func (c *Catalogue) Figures(text string) string {
	mark := c.DecimalMark()
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

// Sizes are counted sizes as they are typed, 2 of 40.5 x 60 cm, in a language.
func Sizes(typed string, l msg.Lang) string {
	return l.Figures(strings.ReplaceAll(typed, " of ", l.Text(" of ")))
}

// DecimalMark is how the language writes the point of a number.
func (c *Catalogue) DecimalMark() string {
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
