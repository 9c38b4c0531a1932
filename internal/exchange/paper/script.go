package paper

import (
	"strings"
	"sync"
	"unicode"

	"golang.org/x/text/unicode/bidi"
	"golang.org/x/text/unicode/norm"
)

// The forms of an Arabic letter, in the order Unicode lists them.
const (
	isolated = iota
	final
	initial
	medial
)

const lam = 'ل'

// The presentation forms of Arabic letters and of lam with an alef behind it
// (Unicode, Arabic Presentation Forms-B).
var arabic = sync.OnceValues(func() (forms map[rune][]rune, lamAlef map[rune][]rune) {
	forms, lamAlef = map[rune][]rune{}, map[rune][]rune{}
	for r := rune(0xfe80); r <= 0xfefc; r++ {
		switch of := []rune(norm.NFKC.String(string(r))); len(of) {
		case 1:
			forms[of[0]] = append(forms[of[0]], r)
		case 2:
			lamAlef[of[1]] = append(lamAlef[of[1]], r)
		}
	}
	return forms, lamAlef
})

// visual is a line as it is printed from left to right: accents on their letters, Arabic
// letters joined, and what runs from right to left turned round (UAX #9).
func visual(line string) string {
	line = join(norm.NFC.String(line))
	var p bidi.Paragraph
	if _, err := p.SetString(line); err != nil {
		return line
	}
	order, err := p.Order()
	if err != nil {
		return line
	}
	var b strings.Builder
	for i := range order.NumRuns() {
		at := i
		if order.Direction() == bidi.RightToLeft {
			at = order.NumRuns() - 1 - i
		}
		run := order.Run(at)
		if run.Direction() == bidi.RightToLeft {
			b.WriteString(bidi.ReverseString(run.String()))
		} else {
			b.WriteString(run.String())
		}
	}
	return b.String()
}

// join puts Arabic letters into the forms they have beside their neighbours.
func join(line string) string {
	forms, lamAlef := arabic()
	letters := []rune(line)
	var out []rune
	before := false // the letter before reaches on
	for i := 0; i < len(letters); i++ {
		r := letters[i]
		of := forms[r]
		switch {
		case unicode.Is(unicode.Mn, r):
			out = append(out, r)
			continue
		case r == lam && i+1 < len(letters) && lamAlef[letters[i+1]] != nil:
			i++
			out, before = append(out, lamAlef[letters[i]][form(2, before, false)]), false
		case of == nil:
			out, before = append(out, r), r == 'ـ' // a stroke that joins
		default:
			next := len(of) > initial && reaches(forms, letters[i+1:])
			out, before = append(out, of[form(len(of), before, next)]), next
		}
	}
	return string(out)
}

// form is which of its forms a letter takes.
func form(has int, before, next bool) int {
	before = before && has > final
	switch {
	case before && next:
		return medial
	case next:
		return initial
	case before:
		return final
	}
	return isolated
}

// reaches reports whether the next letter joins the one before it.
func reaches(forms map[rune][]rune, rest []rune) bool {
	for _, r := range rest {
		if !unicode.Is(unicode.Mn, r) {
			return r == 'ـ' || len(forms[r]) > final
		}
	}
	return false
}
