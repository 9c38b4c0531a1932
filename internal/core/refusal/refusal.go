// Package refusal is bad input refused in a sentence that can be said in any language: an
// error that keeps its format and its values.
//
//	refusal.New("%q is not %s; write %s", typed, refusal.Word("a length"), refusal.Word("46 cm"))
package refusal

import (
	"errors"
	"fmt"
)

// An Error is what cannot be, for the person who gave it.
type Error struct {
	said   error
	format string
	args   []any
}

// A Word is a text of the program's among the values of a refusal; other texts are those of
// whoever typed them.
type Word string

// New makes a refusal by a format as fmt.Errorf takes it.
func New(format string, args ...any) error {
	return &Error{fmt.Errorf(format, args...), format, args}
}

// Error is the sentence in English.
func (e *Error) Error() string { return e.said.Error() }

// Unwrap is what the format takes as %w.
func (e *Error) Unwrap() error { return errors.Unwrap(e.said) }

// Parts are what another language makes its sentence of.
func (e *Error) Parts() (format string, args []any) { return e.format, e.args }
