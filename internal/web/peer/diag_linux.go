package peer

import (
	"encoding/binary"
	"net"
	"sync"

	"github.com/mdlayher/netlink"
	"golang.org/x/sys/unix"
)

// The messages of sock_diag(7), by their bytes.
const (
	sockDiagByFamily = 20
	diagIDLength     = 48 // ports, addresses, interface and cookie of a connection
	diagUID          = 4 + diagIDLength + 12
	diagINode        = diagUID + 4
	diagLength       = diagINode + 4
	tcpEstablished   = 1
)

// diagnosed asks the kernel for the one socket at remote that is connected to local, and
// returns whose it is; false when there is none that is open. It costs the same however
// many connections there are.
func diagnosed(remote, local *net.TCPAddr) (uid int, ok bool) {
	c, err := netlink.Dial(unix.NETLINK_SOCK_DIAG, nil)
	if err != nil {
		return 0, false
	}
	defer c.Close()
	answers, err := c.Execute(netlink.Message{
		Header: netlink.Header{Type: sockDiagByFamily, Flags: netlink.Request},
		Data:   diagRequest(remote, local),
	})
	if err != nil || len(answers) != 1 || len(answers[0].Data) < diagLength {
		return 0, false
	}
	data := answers[0].Data
	if data[1] != tcpEstablished || binary.NativeEndian.Uint32(data[diagINode:]) == 0 {
		return 0, false
	}
	return int(binary.NativeEndian.Uint32(data[diagUID:])), true
}

func diagRequest(from, to *net.TCPAddr) []byte {
	family, a, b := byte(unix.AF_INET), from.IP.To4(), to.IP.To4()
	if a == nil || b == nil {
		family, a, b = unix.AF_INET6, from.IP.To16(), to.IP.To16()
	}
	out := []byte{family, unix.IPPROTO_TCP, 0, 0}
	out = binary.NativeEndian.AppendUint32(out, ^uint32(0)) // in any state
	out = binary.BigEndian.AppendUint16(out, uint16(from.Port))
	out = binary.BigEndian.AppendUint16(out, uint16(to.Port))
	for _, ip := range [][]byte{a, b} {
		out = append(out, ip...)
		out = append(out, make([]byte, 16-len(ip))...)
	}
	out = append(out, 0, 0, 0, 0)                              // on any interface
	return append(out, 255, 255, 255, 255, 255, 255, 255, 255) // without a cookie
}

// canDiagnose reports whether this kernel answers: it is asked for a connection of our own.
var canDiagnose = sync.OnceValue(func() bool {
	l, err := net.Listen("tcp4", "127.0.0.1:0")
	if err != nil {
		return false
	}
	defer l.Close()
	c, err := net.Dial("tcp4", l.Addr().String())
	if err != nil {
		return false
	}
	defer c.Close()
	from, isTCP := c.LocalAddr().(*net.TCPAddr)
	to, isToo := l.Addr().(*net.TCPAddr)
	if !isTCP || !isToo {
		return false
	}
	_, ok := diagnosed(from, to)
	return ok
})
