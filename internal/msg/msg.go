// Package msg holds the program's messages before they have a language: texts of its own, by their
// English wording, with their values; what a painter wrote; figures and dates.
//
// A text is made where something is known and said where it is shown, in the language of
// whoever looks:
//
//	late := msg.F("%s is late by %s", msg.Own(piece.Name), msg.N(days, "day", "days"))
//	page := late.In(german)
//
// A plain string is a painter's, and no language ever changes it. A string constant becomes an
// [ID] by the type of the field, the parameter or the result it is written to.
package msg

import (
	"fmt"
	"slices"
	"strings"
	"time"
)

// A Lang says texts in one language. Its methods return what they are given where the language
// has nothing else.
type Lang interface {
	Text(id string) string                  // of the catalogue
	Plural(one, many string, n int) string  // by the language's plural rule
	Preset(text string) string              // of the catalogue, if the program put it there
	Figures(text string) string             // with its decimal mark
	Date(t time.Time, layout string) string // days, months and their order
	Lower(text string) string               // for the middle of a sentence
}

// A Text is something that is shown to people. No text is nil.
type Text interface{ In(l Lang) string }

// An ID is a text of the program's without values, its English wording.
type ID string

// In implements Text.
func (id ID) In(l Lang) string { return l.Figures(l.Text(string(id))) }

// An Own text is a painter's: a name, a note. It is said as it was written.
type Own string

// In implements Text.
func (o Own) In(Lang) string { return string(o) }

// A Preset is a text that the program put where a painter may write another: the steps of a
// technique, the names of its cups.
type Preset string

// In implements Text.
func (p Preset) In(l Lang) string { return l.Preset(string(p)) }

// A Figure is a number with its unit, written with a point: "12.5 mL".
type Figure string

// In implements Text.
func (f Figure) In(l Lang) string { return l.Figures(string(f)) }

// Say says a text, "" for none.
func Say(t Text, l Lang) string {
	if t == nil {
		return ""
	}
	return t.In(l)
}

// Is reports whether there is something to say.
func Is(t Text) bool { return t != nil && t.In(English) != "" }

// C is a text that other languages say otherwise in a context: catalogues have it behind the
// context's name, as "paper: Sum".
func C(context string, id ID) Text { return sense{context + ": ", id} }

type sense struct {
	mark string
	id   ID
}

// In implements Text.
func (s sense) In(l Lang) string {
	return strings.TrimPrefix(l.Text(s.mark+string(s.id)), s.mark)
}

// String is the text in English.
func (s sense) String() string { return s.In(English) }

// Same reports whether two texts say the same.
func Same(a, b Text) bool { return Say(a, English) == Say(b, English) }

// F is a text with values, as fmt.Sprintf takes them. Texts and errors among them are said in
// the language, numbers with its decimal mark, strings as they are.
func F(id ID, values ...any) Text { return &filled{id: id, values: values} }

// N is a count with its word: 1 cup, 3 cups.
func N(n int, one, many ID) Text { return &filled{id: one, many: many, n: n, values: []any{n}} }

type filled struct {
	id, many ID // many of a count
	n        int
	values   []any
}

// In implements Text.
func (f *filled) In(l Lang) string {
	if f.many != "" {
		return fmt.Sprintf("%d %s", f.n, l.Plural(string(f.id), string(f.many), f.n))
	}
	return Sprintf(l, l.Text(string(f.id)), f.values...)
}

// String is the text in English, for logs and errors.
func (f *filled) String() string { return f.In(English) }

// Sprintf fills a format of a language.
func Sprintf(l Lang, format string, values ...any) string {
	said := make([]any, len(values))
	for i, v := range values {
		said[i] = value(v, l)
	}
	return fmt.Sprintf(strings.ReplaceAll(format, "%w", "%s"), said...)
}

// value is one argument of a format.
func value(v any, l Lang) any {
	switch v := v.(type) {
	case nil:
		return ""
	case Text:
		return v.In(l)
	case error:
		return Error(v, l)
	case float64:
		return number{v, l}
	}
	return v
}

// A number is printed with the decimal mark of a language, whatever its verb.
type number struct {
	v float64
	l Lang
}

// Format implements fmt.Formatter.
func (n number) Format(s fmt.State, verb rune) {
	if verb == 'd' { // a count that was kept as a number
		_, _ = fmt.Fprintf(s, fmt.FormatString(s, verb), int(n.v))
		return
	}
	_, _ = fmt.Fprint(s, n.l.Figures(fmt.Sprintf(fmt.FormatString(s, verb), n.v)))
}

// Date is a time by a layout of package time.
func Date(t time.Time, layout string) Text { return date{t, layout} }

type date struct {
	t      time.Time
	layout string
}

// In implements Text.
func (d date) In(l Lang) string { return l.Date(d.t, d.layout) }

// String is the date in English.
func (d date) String() string { return d.In(English) }

// Lower is a text for the middle of a sentence, its first letter small where the language
// writes it so.
func Lower(t Text) Text { return lowered{t} }

type lowered struct{ text Text }

// In implements Text.
func (t lowered) In(l Lang) string { return l.Lower(Say(t.text, l)) }

// String is the text in English.
func (t lowered) String() string { return t.In(English) }

// Capital is a text with its first letter large.
func Capital(t Text) Text { return capitalised{t} }

type capitalised struct{ text Text }

// In implements Text.
func (t capitalised) In(l Lang) string { return capital(Say(t.text, l)) }

// String is the text in English.
func (t capitalised) String() string { return t.In(English) }

// Join is texts one after the other, what is nothing left out.
func Join(sep string, texts ...Text) Text {
	texts = slices.DeleteFunc(slices.Clone(texts), func(t Text) bool { return t == nil })
	switch len(texts) {
	case 0:
		return nil
	case 1:
		return texts[0]
	}
	return joined{sep, texts}
}

// Sentences are whole sentences in a row.
func Sentences(texts ...Text) Text { return Join(" ", texts...) }

type joined struct {
	sep   string
	texts []Text
}

// In implements Text.
func (j joined) In(l Lang) string { return strings.Join(said(j.texts, l), j.sep) }

// String is the texts in English.
func (j joined) String() string { return j.In(English) }

// And lists texts as people do: a, b and c.
func And(texts ...Text) Text { return list(texts) }

type list []Text

// In implements Text.
func (t list) In(l Lang) string {
	all := said(t, l)
	if len(all) < 2 {
		return strings.Join(all, "")
	}
	last := len(all) - 1
	return fmt.Sprintf(l.Text("%s and %s"), strings.Join(all[:last], ", "), all[last])
}

// String is the list in English.
func (t list) String() string { return t.In(English) }

func said(texts []Text, l Lang) []string {
	out := make([]string, 0, len(texts))
	for _, t := range texts {
		if s := Say(t, l); s != "" {
			out = append(out, s)
		}
	}
	return out
}

// Owns are a painter's texts.
func Owns[S ~string](texts []S) []Text {
	out := make([]Text, len(texts))
	for i, t := range texts {
		out[i] = Own(t)
	}
	return out
}
