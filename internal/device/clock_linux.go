package device

import (
	"time"

	"golang.org/x/sys/unix"
)

// sinceBoot is the time the machine has run, sleep included.
func sinceBoot() (time.Duration, bool) {
	var t unix.Timespec
	if err := unix.ClockGettime(unix.CLOCK_BOOTTIME, &t); err != nil {
		return 0, false
	}
	return time.Duration(t.Nano()), true
}
