//go:build !linux

package frame

import "net"

// KnowsPeers says that whose a connection is cannot be looked up on this system.
const KnowsPeers = false

// foreign is not known on this system.
func foreign(_, _ net.Addr) bool { return false }
