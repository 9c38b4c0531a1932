package msg

import (
	"errors"
	"strings"
)

// Error says an error: a text within it in the language, joined ones one by one, any other in
// its own words.
func Error(err error, l Lang) string {
	switch e := err.(type) {
	case nil:
		return ""
	case interface{ Unwrap() []error }:
		all := make([]string, 0, 2)
		for _, one := range e.Unwrap() {
			all = append(all, Error(one, l))
		}
		return strings.Join(all, "; ")
	}
	var t Text
	if errors.As(err, &t) {
		return t.In(l)
	}
	return err.Error()
}

// Of is an error as a text.
func Of(err error) Text { return failure{err} }

type failure struct{ err error }

// In implements Text.
func (f failure) In(l Lang) string { return Error(f.err, l) }

// String is the error in English.
func (f failure) String() string { return f.In(English) }
