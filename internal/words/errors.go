package words

import (
	"errors"
	"fmt"
	"strings"

	"jevvo/internal/core/refusal"
)

// Error says what was refused in the studio's language, and so what lies in it. Errors that
// are no refusals are looked up as they are, joined ones one by one.
func Error(err error) string {
	if err == nil {
		return ""
	}
	if r, ok := err.(*refusal.Error); ok { // the outermost has the whole sentence
		return refused(r)
	}
	if all, ok := err.(interface{ Unwrap() []error }); ok {
		said := make([]string, 0, 2)
		for _, one := range all.Unwrap() {
			said = append(said, Error(one))
		}
		return strings.Join(said, "; ")
	}
	whole := err.Error()
	if inner := errors.Unwrap(err); inner != nil {
		if before, ok := strings.CutSuffix(whole, inner.Error()); ok {
			return before + Error(inner)
		}
	}
	return T(whole)
}

// refused fills a refusal's sentence; of its values, errors and words of the program's are
// said in the language too.
func refused(r *refusal.Error) string {
	format, args := r.Parts()
	said := make([]any, len(args))
	for i, a := range args {
		switch a := a.(type) {
		case error:
			said[i] = Error(a)
		case refusal.Word:
			said[i] = T(string(a))
		default:
			said[i] = a
		}
	}
	return fmt.Sprintf(strings.ReplaceAll(T(format), "%w", "%s"), said...)
}
