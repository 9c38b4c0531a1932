package money

import (
	"strings"

	"github.com/shopspring/decimal"

	"jevvo/internal/core/refusal"
	"jevvo/internal/msg"
)

// A Currency is how amounts are written: its name beside the number, so many digits
// after the mark, which is a comma or a point.
type Currency struct {
	Name   string
	Digits int
	Comma  bool
}

// narrow is the space between thousands and before a name (ISO 80000-1: a small
// space), such that no line breaks in a number.
const narrow = "\u202f"

// Text writes an amount, rounded, with its currency: 1 234.50 EUR.
func (c Currency) Text(v decimal.Decimal) msg.Figure {
	text := c.Number(v)
	if c.Name != "" {
		text += narrow + msg.Figure(c.Name)
	}
	return text
}

// Number writes an amount without its currency.
func (c Currency) Number(v decimal.Decimal) msg.Figure {
	v = Round(v, c.Digits)
	whole, rest, _ := strings.Cut(v.Abs().StringFixed(int32(c.Digits)), ".")
	var b strings.Builder
	if v.IsNegative() {
		b.WriteString("−")
	}
	for i, r := range whole {
		if i > 0 && (len(whole)-i)%3 == 0 {
			b.WriteString(narrow)
		}
		b.WriteRune(r)
	}
	if c.Digits > 0 {
		if c.Comma {
			b.WriteByte(',')
		} else {
			b.WriteByte('.')
		}
		b.WriteString(rest)
	}
	return msg.Figure(b.String())
}

// most letters an amount is written with.
const longest = 40

// Parse reads an amount as people write it: 1234.5, 1.234,50, 1'234.50, 1 234,5. Where
// a comma and a point both stand, the last is the decimal mark; one alone before
// exactly three digits parts thousands in a currency of fewer digits, which the note
// then says. More digits than the currency has are refused.
func Parse(text string, digits int) (v decimal.Decimal, note msg.Text, err error) {
	plain := strings.Map(func(r rune) rune {
		switch r {
		case ' ', '\u00a0', '\u202f', '\u2009', '\'', '’':
			return -1
		}
		return r
	}, strings.TrimSpace(text))
	if plain == "" {
		return v, nil, refusal.New("needs an amount")
	}
	if len(plain) > longest {
		return v, nil, refusal.New("is longer than %d characters", longest)
	}
	for _, r := range plain {
		if (r < '0' || r > '9') && r != '.' && r != ',' && r != '-' {
			return v, nil, refusal.New("%q is not an amount; write 1234.50", text)
		}
	}
	whole, rest, parted := split(plain, digits)
	if v, err = decimal.NewFromString(whole + "." + rest + "0"); err != nil {
		return decimal.Zero, nil, refusal.New("%q is not an amount; write 1234.50", text)
	}
	if v.IsNegative() {
		return decimal.Zero, nil, errNegative
	}
	if len(rest) > digits {
		return decimal.Zero, nil, refusal.New("has %d decimal places; this currency has %d", len(rest), digits)
	}
	if v.GreaterThan(mostMoney) {
		return decimal.Zero, nil, errLarge
	}
	if parted {
		note = msg.F("read as %s", msg.Figure(v.String()))
	}
	return v, note, nil
}

// split cuts an amount at its decimal mark and takes out what parts thousands; parted
// says that a lone mark was taken for one of those. What parts thousands stands before
// groups of three, or the text stays as it is and is refused.
func split(text string, digits int) (whole, rest string, parted bool) {
	at := strings.LastIndexAny(text, ".,")
	if at < 0 {
		return text, "", false
	}
	mark := text[at : at+1]
	other := strings.Trim(".,", mark)
	lone := !strings.Contains(text, other)
	if n := strings.Count(text, mark); lone &&
		(n > 1 || digits < 3 && len(text)-at == 4 && at > 0 && strings.Trim(text[:at], "0-") != "") {
		return groups(text, mark), "", n == 1
	}
	return groups(text[:at], other), text[at+1:], false
}

// groups takes marks before groups of three digits out.
func groups(text, mark string) string {
	parts := strings.Split(text, mark)
	for _, p := range parts[1:] {
		if len(p) != 3 {
			return text
		}
	}
	return strings.Join(parts, "")
}
