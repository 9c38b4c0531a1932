//go:build !linux

package frame

import "net"

// foreign is not known on this system.
func foreign(_, _ net.Addr) bool { return false }
