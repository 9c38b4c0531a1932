//go:build race

package studiotest

// Raced says that the race detector is on: long searches and simulations are then
// sampled, and run whole without it.
const Raced = true
