//go:build !race

package schedule_test

// raced says that the race detector is on.
const raced = false
