// Package form is the catalogue of fields: one entry says a value's key, its
// label, what kind of value it is, which options it has, how it reads and how
// typed text is understood. Pages, merging of two tabs and the API all read the
// same entry; no template repeats a label or an option.
//
// fields := form.Fields[Board]{form.Length("depth", "Side depth", func(b *Board) *units.Length { return &b.Depth }, 0,
// 150)}
//
//	notices := fields.Apply(&board, map[string]string{"depth": "1 in"}, form.Metric)
package form

import (
	"slices"
	"strings"
	"time"

	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
)

// Kind is how a value is typed.
type Kind string

// The kinds of fields.
const (
	Line   Kind = "text"
	Long   Kind = "long"
	Choose Kind = "choice"
	Yes    Kind = "yes"
	Moment Kind = "datetime-local"
	Day    Kind = "date"
	Hour   Kind = "time"
	Colour Kind = "color"
	Secret Kind = "password"
)

// An Option is one way of a choice.
type Option struct {
	Value string
	Label msg.Text
}

// A Field is one typed value of a T. Set leaves the T alone when it refuses.
type Field[T any] struct {
	Key     string
	Label   msg.Text
	Kind    Kind
	Hint    msg.Text
	Options []Option
	Of      string // options that only a studio knows: "products", "pigments", "techniques"
	For     string // shown only where another field has one of some values: "edge:rim,dam"
	Wide    bool
	Say     func(string, msg.Lang) string // how its text is written in a language; nil for as it is
	Get     func(t *T, sys units.System) string
	Set     func(t *T, text string, sys units.System) (note msg.Text, err error)
}

// shown is its text as it stands in the form.
func (f Field[T]) shown(t *T, s Style) string {
	if f.Say != nil {
		return f.Say(f.Get(t, s.Units), s.Lang)
	}
	return f.Get(t, s.Units)
}

// Read sets a text that was typed; figures may have the decimal mark of the language, whose 1,250 is no
// thousand where a comma is the mark.
func (f Field[T]) Read(t *T, text string, s Style) (msg.Text, error) {
	note, err := f.Set(t, text, s.Units)
	if plain := s.point(text); err != nil && f.Say != nil && plain != text {
		if again, e := f.Set(t, plain, s.Units); e == nil {
			return again, nil
		}
	}
	return note, err
}

// A Style is how a studio writes: its units and its language.
type Style struct {
	Units units.System
	Lang  msg.Lang
}

// Metric is in English.
var Metric = Style{units.Metric, msg.English}

// point writes a typed text with a point for the language's decimal mark.
func (s Style) point(text string) string {
	mark := strings.Trim(s.Lang.Figures("0.5"), "05")
	return strings.ReplaceAll(text, mark, ".")
}

// Hinted returns the field with an example of what is typed.
func (f Field[T]) Hinted(hint msg.ID) Field[T] { f.Hint = hint; return f }

// Said returns the field with the way its text is written in a language.
func (f Field[T]) Said(say func(string, msg.Lang) string) Field[T] { f.Say = say; return f }

// Shown returns the field shown only where another has one of some values.
func (f Field[T]) Shown(when string) Field[T] { f.For = when; return f }

// Broad returns the field across the whole row.
func (f Field[T]) Broad() Field[T] { f.Wide = true; return f }

// OrNothing lets a text be empty; nothing is what it then means.
func (f Field[T]) OrNothing(empty func(*T) bool, clear func(*T)) Field[T] {
	get, set := f.Get, f.Set
	f.Get = func(t *T, sys units.System) string {
		if empty(t) {
			return ""
		}
		return get(t, sys)
	}
	f.Set = func(t *T, text string, sys units.System) (msg.Text, error) {
		if blank(text) {
			clear(t)
			return nil, nil
		}
		return set(t, text, sys)
	}
	return f
}

// Within returns the field of a U that holds the T.
func Within[U, T any](f Field[T], key string, at func(*U) *T) Field[U] {
	return Field[U]{Key: key, Label: f.Label, Kind: f.Kind, Hint: f.Hint, Options: f.Options, Of: f.Of, For: f.For,
		Wide: f.Wide, Say: f.Say,
		Get: func(u *U, sys units.System) string {
			if t := at(u); t != nil {
				return f.Get(t, sys)
			}
			return ""
		},
		Set: func(u *U, text string, sys units.System) (msg.Text, error) {
			if t := at(u); t != nil {
				return f.Set(t, text, sys)
			}
			return nil, nil // another page took it away: a late edit changes nothing
		}}
}

// Fields is the table of all typed values of a T.
type Fields[T any] []Field[T]

// Find returns the field with the key.
func (fs Fields[T]) Find(key string) (Field[T], bool) {
	i := slices.IndexFunc(fs, func(f Field[T]) bool { return f.Key == key })
	if i < 0 {
		return Field[T]{}, false
	}
	return fs[i], true
}

// Values prints every field.
func (fs Fields[T]) Values(t *T, sys units.System) map[string]string {
	out := make(map[string]string, len(fs))
	for _, f := range fs {
		out[f.Key] = f.Get(t, sys)
	}
	return out
}

// Changed returns what was typed anew: texts that differ from what t shows.
// Text that still reads as the field is shown leaves the exact value alone, so
// that rounding for display never creeps into what is kept, and a value that
// follows from a changed one is not overwritten by its old text.
func (fs Fields[T]) Changed(t *T, typed map[string]string, s Style) map[string]string {
	out := map[string]string{}
	for _, f := range fs {
		if text, ok := typed[f.Key]; ok && text != f.Get(t, s.Units) && text != f.shown(t, s) {
			out[f.Key] = text
		}
	}
	return out
}

// Apply sets every field that was typed anew.
func (fs Fields[T]) Apply(t *T, typed map[string]string, s Style) Notices {
	return fs.Set(t, fs.Changed(t, typed, s), s)
}

// Set sets the fields that have a text.
func (fs Fields[T]) Set(t *T, texts map[string]string, s Style) Notices {
	n := NewNotices()
	for _, f := range fs {
		text, ok := texts[f.Key]
		if !ok {
			continue
		}
		note, err := f.Read(t, text, s)
		if err != nil {
			n.Errors[f.Key] = msg.Of(err)
		} else if note != nil {
			n.Notes[f.Key] = note
		}
	}
	return n
}

// Notices are the errors in typed values and the assumptions about
// them, by field key.
type Notices struct {
	Errors map[string]msg.Text
	Notes  map[string]msg.Text
}

// NewNotices returns notices to fill.
func NewNotices() Notices {
	return Notices{Errors: map[string]msg.Text{}, Notes: map[string]msg.Text{}}
}

// OK reports whether nothing was refused.
func (n Notices) OK() bool { return len(n.Errors) == 0 }

// Refuse says what is wrong at a field that nothing was said of yet.
func (n Notices) Refuse(key string, words msg.Text) {
	if n.Errors[key] == nil {
		n.Errors[key] = words
	}
}

// A View is a field with its value, as a page or the API shows it.
type View struct {
	Key         string
	Label       msg.Text
	Value       string
	Kind        Kind
	Hint        msg.Text
	For         string
	Options     []Option
	Wide        bool
	Error, Note msg.Text
}

// Shown is the value as it is read: of a choice, the label of what is chosen; of a day, its date.
func (v View) Shown() msg.Text {
	switch v.Kind {
	case Moment:
		if t, err := time.Parse(MomentLayout, v.Value); err == nil {
			return msg.Date(t, "Mon 2 Jan 15:04")
		}
	case Day:
		if t, err := time.Parse(time.DateOnly, v.Value); err == nil {
			return msg.Date(t, "Mon 2 Jan 2006")
		}
	}
	for _, o := range v.Options {
		if o.Value == v.Value {
			return o.Label
		}
	}
	return msg.Own(v.Value)
}

// Views prints every field with what is said beside it. Refused texts stay in
// their fields. of gives the options that only a studio knows.
func (fs Fields[T]) Views(t *T, s Style, typed map[string]string, n Notices,
	of map[string][]Option) map[string]View {
	out := make(map[string]View, len(fs))
	for _, f := range fs {
		v := View{Key: f.Key, Label: f.Label, Value: f.shown(t, s), Kind: f.Kind, Hint: f.Hint, For: f.For,
			Options: f.Options, Wide: f.Wide,
			Error: n.Errors[f.Key], Note: n.Notes[f.Key]}
		if f.Of != "" {
			v.Options = of[f.Of]
		}
		if text, ok := typed[f.Key]; ok && v.Error != nil {
			v.Value = text
		}
		out[f.Key] = v
	}
	return out
}

// A Refused is bad input, in words for the person who gave it, at the field it
// was typed in ("" for none in particular).
type Refused struct {
	Field string
	Err   error
}

func (e *Refused) Error() string { return e.Err.Error() }

// In implements msg.Text.
func (e *Refused) In(l msg.Lang) string { return msg.Error(e.Err, l) }

func (e *Refused) Unwrap() error { return e.Err }

// Refusef makes a refusal.
func Refusef(field string, format msg.ID, args ...any) error {
	return &Refused{field, refusal.New(format, args...)}
}
