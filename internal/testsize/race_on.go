//go:build race

package testsize

// Raced says that the race detector is on.
const Raced = true
