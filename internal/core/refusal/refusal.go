// Package refusal is bad input refused in a sentence that can be said in any language: an
// error that keeps its format and its values.
//
//	refusal.New("%q is not %s; write %s", typed, msg.ID("a length"), msg.ID("46 cm"))
package refusal

import (
	"errors"
	"fmt"

	"jevvo/internal/msg"
)

// An Error is an input that cannot be accepted, told to the person who gave it.
type Error struct {
	english error
	format  msg.ID
	values  []any
}

// New makes a refusal by a format as fmt.Errorf takes it. Texts among the values are said in
// the language of the sentence.
func New(format msg.ID, values ...any) error {
	english := make([]any, len(values))
	for i, v := range values {
		english[i] = v
		if t, ok := v.(msg.Text); ok {
			if _, isErr := v.(error); !isErr {
				english[i] = t.In(msg.English)
			}
		}
	}
	return &Error{fmt.Errorf(string(format), english...), format, values}
}

// Error is the sentence in English.
func (e *Error) Error() string { return e.english.Error() }

// In implements msg.Text.
func (e *Error) In(l msg.Lang) string { return msg.Sprintf(l, l.Text(string(e.format)), e.values...) }

// Unwrap is what the format takes as %w.
func (e *Error) Unwrap() error { return errors.Unwrap(e.english) }
