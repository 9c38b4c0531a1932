package frame

import (
	"bufio"
	"crypto/tls"
	"errors"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"jevvo/internal/web/peer"
)

// LAN is the configuration of a studio that answers on the network.
type LAN struct {
	Certificate tls.Certificate
	Fingerprint string   // of the certificate, to be compared
	Addresses   []string // to open it at, as https://…
	Names       []string // of this computer, besides its addresses
}

// hereOrTLS answers this computer, and sends others to the same address by TLS.
func hereOrTLS(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if p, _ := peer.Of(r.Context()); p.Here {
			next.ServeHTTP(w, r)
			return
		}
		// The calendar's address is its own key: a program that was led on would go on
		// telling it to the whole network.
		secret := strings.HasPrefix(r.URL.Path, "/calendar/")
		if secret || r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "Send this by https.", http.StatusUpgradeRequired)
			return
		}
		http.Redirect(w, r, "https://"+r.Host+r.URL.RequestURI(), http.StatusTemporaryRedirect)
	})
}

// A side is one kind of the connections of a listener.
type side struct {
	net.Listener
	conns chan net.Conn
	ended *ending
}

// ending is how a listener that was divided comes to its end.
type ending struct {
	once sync.Once
	done chan struct{}
	err  error
}

func (e *ending) end(err error) {
	e.once.Do(func() {
		e.err = err
		close(e.done)
	})
}

// Accept returns the next connection of the kind.
func (s *side) Accept() (net.Conn, error) {
	select {
	case c := <-s.conns:
		return c, nil
	case <-s.ended.done:
		return nil, s.ended.err
	}
}

// Close ends both kinds.
func (s *side) Close() error {
	s.ended.end(net.ErrClosed)
	if err := s.Listener.Close(); !errors.Is(err, net.ErrClosed) {
		return err
	}
	return nil
}

// tlsHandshake is the first byte of every TLS connection (RFC 8446, 5.1).
const tlsHandshake = 22

// firstByte is how long a connection may wait with its first byte.
const firstByte = 10 * time.Second

// split divides the connections of a listener into plain ones and those by TLS, so that
// one port serves for both.
func split(l net.Listener) (plain, secured net.Listener) {
	e := &ending{done: make(chan struct{})}
	p, s := &side{l, make(chan net.Conn), e}, &side{l, make(chan net.Conn), e}
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				e.end(err)
				return
			}
			go sort(c, p, s)
		}
	}()
	return p, s
}

func sort(c net.Conn, plain, secured *side) {
	b := bufio.NewReaderSize(c, 1)
	err := c.SetReadDeadline(time.Now().Add(firstByte))
	first, err1 := b.Peek(1)
	if errors.Join(err, err1, c.SetReadDeadline(time.Time{})) != nil {
		c.Close()
		return
	}
	to := plain
	if first[0] == tlsHandshake {
		to = secured
	}
	select {
	case to.conns <- begun{c, b}:
	case <-to.ended.done:
		c.Close()
	}
}

// begun is a connection whose first byte was looked at.
type begun struct {
	net.Conn
	from *bufio.Reader
}

func (b begun) Read(to []byte) (int, error) { return b.from.Read(to) }
