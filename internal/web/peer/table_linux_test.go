package peer

import (
	"net"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A table as proc(5) shows it; the last two ends were closed by their owner.
const table = `  sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode
   0: 0100007F:1F51 00000000:0000 0A 00000000:00000000 00:00000000 00000000  1000        0 22351 1 0000000000000000 100 0 0 10 0
   1: 0100007F:D2B8 0100007F:1F51 01 00000000:00000000 00:00000000 00000000  1001        0 22352 1 0000000000000000 20 4 30 10 -1
   2: 0100007F:1F51 0100007F:D2B8 01 00000000:00000000 00:00000000 00000000  1000        0 22353 1 0000000000000000 20 4 30 10 -1
   3: 0100007F:D2BA 0100007F:1F51 05 00000000:00000000 00:00000000 00000000     0        0 0 1 0000000000000000 20 4 30 10 -1
   4: 0100007F:D2BB 0100007F:1F51 01 00000000:00000000 00:00000000 00000000     0        0 0 1 0000000000000000 20 4 30 10 -1
`

const table6 = `  sl  local_address                         remote_address                        st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode
   0: 00000000000000000000000001000000:D2B8 00000000000000000000000001000000:1F51 01 00000000:00000000 00:00000000 00000000  1001        0 22352 1 0
`

func TestWhoseConnectionItIs(t *testing.T) {
	addr := func(port int) net.Addr { return &net.TCPAddr{IP: net.IPv4(127, 0, 0, 1), Port: port} }
	uid, ok := socketOwner(strings.NewReader(table), addr(0xD2B8), addr(0x1F51))
	assert.True(t, ok)
	assert.Equal(t, 1001, uid)
	for name, from := range map[string]net.Addr{"no row": addr(0xD2B9), "closed": addr(0xD2BA), "nobody's": addr(0xD2BB),
		"no TCP": &net.UnixAddr{}} {
		_, ok = socketOwner(strings.NewReader(table), from, addr(0x1F51))
		assert.False(t, ok, name)
	}
	_, ok = socketOwner(strings.NewReader("nonsense\n1: 0100007F:D2B8 0100007F:1F51 01"), addr(0xD2B8), addr(0x1F51))
	assert.False(t, ok)
	six := func(port int) net.Addr { return &net.TCPAddr{IP: net.IPv6loopback, Port: port} }
	uid, ok = socketOwner(strings.NewReader(table6), six(0xD2B8), six(0x1F51))
	assert.True(t, ok)
	assert.Equal(t, 1001, uid)
}

// The kernel, asked for one connection, says of an open one what its table says, of one
// that was closed nothing, by both families of addresses.
func TestTheKernelIsAskedForOneConnection(t *testing.T) {
	if !canDiagnose() {
		t.Skip("this kernel has no sock_diag")
	}
	for _, network := range []string{"tcp4", "tcp6"} {
		l, err := net.Listen(network, "localhost:0")
		if err != nil {
			t.Logf("%s is not here: %v", network, err)
			continue
		}
		defer l.Close()
		c, err := net.Dial(network, l.Addr().String())
		require.NoError(t, err)
		here, err := l.Accept()
		require.NoError(t, err)
		assert.Equal(t, Ours, ownerOf(here.RemoteAddr(), here.LocalAddr()), network)
		c.Close()
		assert.Equal(t, Unknown, ownerOf(here.RemoteAddr(), here.LocalAddr()), "%s, closed", network)
		here.Close()
	}
}
