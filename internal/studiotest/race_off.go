//go:build !race

package studiotest

// Raced says that the race detector is on.
const Raced = false
