package peer

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

// Known says that whose a connection is can be looked up on this system.
const Known = true

// ownerOf tells whose the other end of a connection on this machine is, root being as
// good as this program's own user.
func ownerOf(remote, local net.Addr) Owner {
	from, isTCP := remote.(*net.TCPAddr)
	to, isToo := local.(*net.TCPAddr)
	if isTCP && isToo && canDiagnose() {
		return ownedBy(diagnosed(from, to))
	}
	for _, name := range []string{"/proc/net/tcp", "/proc/net/tcp6"} {
		f, err := os.Open(name)
		if err != nil {
			continue
		}
		uid, ok := socketOwner(f, remote, local)
		f.Close()
		if who := ownedBy(uid, ok); who != Unknown {
			return who
		}
	}
	return Unknown
}

func ownedBy(uid int, known bool) Owner {
	switch {
	case !known:
		return Unknown
	case uid == 0 || uid == os.Getuid():
		return Ours
	}
	return Another
}

// established is the state of a connection both ends of which are open.
const established = "01"

// socketOwner finds the user of the socket at remote that is connected to local in the
// kernel's table of connections (proc(5)). A socket its owner has closed stays in the
// table as root's, in another state and without an inode: it says nothing.
func socketOwner(table io.Reader, remote, local net.Addr) (uid int, ok bool) {
	lines := bufio.NewScanner(table)
	for lines.Scan() {
		f := strings.Fields(lines.Text())
		if len(f) < 10 || !is(f[1], remote) || !is(f[2], local) {
			continue
		}
		if f[3] != established || f[9] == "0" {
			return 0, false
		}
		uid, err := strconv.Atoi(f[7])
		return uid, err == nil
	}
	return 0, false
}

// is reports whether an entry of the table names an address: its bytes by words of four
// in the machine's order, and the port, in hexadecimal.
func is(entry string, a net.Addr) bool {
	t, ok := a.(*net.TCPAddr)
	if !ok {
		return false
	}
	host, _, _ := strings.Cut(entry, ":")
	ip := t.IP.To4()
	if len(host) > 8 {
		ip = t.IP.To16()
	}
	ip = slices.Clone(ip)
	for i := 0; i+4 <= len(ip); i += 4 {
		slices.Reverse(ip[i : i+4]) // little-endian machines
	}
	return entry == fmt.Sprintf("%s:%04X", strings.ToUpper(hex.EncodeToString(ip)), t.Port)
}
