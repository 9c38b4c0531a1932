// Package words turns what the core says in codes and quantities into
// sentences. It is the one place where they are made, one catalogue a language;
// nothing ever reads a sentence back.
package words

import (
	"fmt"
	"math"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Spoken prints minutes as people say them: "40 s", "12 min", "3 h 20 min",
// "29 days".
func Spoken(m float64) string {
	switch {
	case math.IsInf(m, 0) || math.IsNaN(m):
		return T("ever")
	case math.Abs(m) < 1:
		return F("%.0f s", m*60)
	case math.Abs(m) < 90:
		return F("%.0f min", m)
	case math.Abs(m) < 48*60:
		h, rest := math.Floor(m/60), math.Round(math.Mod(m, 60))
		if rest == 60 {
			h, rest = h+1, 0
		}
		if rest == 0 {
			return F("%.0f h", h)
		}
		return F("%.0f h %.0f min", h, rest)
	}
	return F("%.0f days", m/1440)
}

// Plural prints a count with its word.
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + T(one)
	}
	return fmt.Sprintf("%d %s", n, T(many))
}

// Lower returns the text with its first letter small, for the middle of a
// sentence. A word that is all capitals stays, and so does any other language.
func Lower(s string) string {
	if c := catalogue(); !c.Language.English() { // whose nouns may be capitals
		return c.Text(s)
	} else if c.Language != English {
		s = c.Text(s)
	}
	first, size := utf8.DecodeRuneInString(s)
	if size == 0 || first == utf8.RuneError {
		return s
	}
	if second, _ := utf8.DecodeRuneInString(s[size:]); unicode.IsUpper(second) {
		return s
	}
	return string(unicode.ToLower(first)) + s[size:]
}

// Capital returns the text with its first letter large.
func Capital(s string) string {
	first, size := utf8.DecodeRuneInString(s)
	if size == 0 || first == utf8.RuneError {
		return s
	}
	return string(unicode.ToUpper(first)) + s[size:]
}

// Join joins texts of the program's, each in the studio's language.
func Join(texts []string, sep string) string {
	out := make([]string, len(texts))
	for i, text := range texts {
		out[i] = T(text)
	}
	return strings.Join(out, sep)
}

// List joins names as they are said: "a, b and c".
func List(names []string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	return F("%s and %s", strings.Join(names[:len(names)-1], ", "), names[len(names)-1])
}
