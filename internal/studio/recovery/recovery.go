// Package recovery keeps what runs on goroutines of its own from ending the program: a
// panic there has nobody above it to answer with an error.
package recovery

import (
	"fmt"
	"log/slog"
	"runtime/debug"
)

// Do runs do and returns its error, or its panic as one. Where it happened is logged.
func Do(do func() error) (err error) {
	defer func() {
		if r := recover(); r != nil {
			slog.Error("panic", "value", r, "stack", string(debug.Stack()))
			err = fmt.Errorf("panic: %v", r)
		}
	}()
	return do()
}
