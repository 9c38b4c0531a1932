package frame

import (
	"bufio"
	"encoding/hex"
	"fmt"
	"io"
	"net"
	"os"
	"slices"
	"strconv"
	"strings"
)

// KnowsPeers says that whose a connection is can be looked up on this system.
const KnowsPeers = true

// foreign reports whether the other end of a connection on this machine is known to
// be another user's than this program's, root apart.
func foreign(remote, local net.Addr) bool {
	f, err := os.Open("/proc/net/tcp")
	if err != nil {
		return false
	}
	defer f.Close()
	uid, ok := ownerOf(f, remote, local)
	return ok && uid != 0 && uid != os.Getuid()
}

// ownerOf finds the user of the socket at remote that is connected to local in the
// kernel's table of connections (proc(5)).
func ownerOf(table io.Reader, remote, local net.Addr) (uid int, ok bool) {
	from, to := entryOf(remote), entryOf(local)
	if from == "" || to == "" {
		return 0, false
	}
	lines := bufio.NewScanner(table)
	for lines.Scan() {
		f := strings.Fields(lines.Text())
		if len(f) > 7 && f[1] == from && f[2] == to {
			uid, err := strconv.Atoi(f[7])
			return uid, err == nil
		}
	}
	return 0, false
}

// entryOf is an IPv4 address as the table has it: the bytes of the address in the
// machine's order, the port in hexadecimal.
func entryOf(a net.Addr) string {
	t, ok := a.(*net.TCPAddr)
	if !ok || t.IP.To4() == nil {
		return ""
	}
	ip := slices.Clone(t.IP.To4())
	slices.Reverse(ip) // little-endian machines
	return fmt.Sprintf("%s:%04X", strings.ToUpper(hex.EncodeToString(ip)), t.Port)
}
