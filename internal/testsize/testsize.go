// Package testsize bounds what tests do: how often, a few rounds with all tests and many at
// night, and how long they are waited for.
package testsize

import (
	"flag"
	"os"
	"strconv"
	"testing"
)

// OneIn is which part of a long test is made: all of it at night, one in three by day, one in ten
// where it is made many times over, for mutants, or slowly, under the race detector.
func OneIn() int {
	switch {
	case os.Getenv("JEVVO_NIGHTLY") != "":
		return 1
	case Raced || os.Getenv("JEVVO_QUICK") != "":
		return 10
	}
	return 3
}

// Draws passes the tests of a package whose properties take long: a part of the usual hundred
// draws of each.
func Draws(m *testing.M) int {
	if err := flag.Set("rapid.checks", strconv.Itoa(100/OneIn())); err != nil {
		panic(err)
	}
	return m.Run()
}

// Sequential is said by a long test that does one thing after another: the race detector, under
// which it would take minutes, has nothing to find in it.
func Sequential(t testing.TB) {
	t.Helper()
	if Raced {
		t.Skip("one thing after another")
	}
}

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
