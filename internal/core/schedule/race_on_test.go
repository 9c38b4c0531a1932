//go:build race

package schedule_test

// raced says that the race detector is on: long searches are then sampled, and
// run whole without it.
const raced = true
