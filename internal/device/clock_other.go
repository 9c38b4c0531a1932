//go:build !linux

package device

import "time"

// sinceBoot is not known here; the computer's clock is taken as it is.
func sinceBoot() (time.Duration, bool) { return 0, false }
