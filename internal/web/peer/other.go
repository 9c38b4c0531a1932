//go:build !linux

package peer

import "net"

// Known says that whose a connection is cannot be looked up on this system.
const Known = false

// ownerOf is not known on this system.
func ownerOf(_, _ net.Addr) Owner { return Unknown }
