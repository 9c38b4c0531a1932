// Package testsize bounds what tests do: how often, a few rounds with all tests and many at
// night, and how long they are waited for.
package testsize

import (
	"os"
	"strconv"
	"testing"
)

// Of returns how often something is done in a test: as many times as the environment's
// variable says, or usual.
func Of(t testing.TB, variable string, usual int) int {
	t.Helper()
	text := os.Getenv(variable)
	if text == "" {
		return usual
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		t.Fatalf("%s is to be a number of times, not %q", variable, text)
	}
	return n
}
