package frame

import (
	"context"
	"crypto/subtle"
	"net"
	"net/http"
)

// An owner is whose the other end of a connection on this computer is.
type owner int

// The owners. Only what is known to be ours is ours: a socket that was closed at once
// belongs to nobody any more.
const (
	unknown owner = iota
	ours
	another
)

// A peer is the other end of a connection.
type peer struct {
	here  bool // on this computer
	owner owner
}

// peerKey is where a connection's peer is kept in its context.
type peerKey struct{}

// whose notes whose a connection is, once for all its requests.
func whose(ctx context.Context, c net.Conn) context.Context {
	p := peer{}
	if a, ok := c.RemoteAddr().(*net.TCPAddr); ok && a.IP.IsLoopback() {
		p.here, p.owner = true, ownerOf(c.RemoteAddr(), c.LocalAddr())
	}
	return context.WithValue(ctx, peerKey{}, p)
}

// ownUser refuses other users of this computer: a port is everyone's here, the studio is
// not. Where it cannot be known whose a connection is, the key in the printed address
// decides.
func (f *Frame) ownUser(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p, _ := r.Context().Value(peerKey{}).(peer)
		switch {
		case p.here && p.owner == another:
			http.Error(w, "This studio belongs to another user of this computer. Its owner can open it to all with --any-user.",
				http.StatusForbidden)
		case p.here && p.owner == unknown && r.URL.Path != "/enter" && !f.showsKey(r):
			http.Error(w, errNoKey.Error(), http.StatusForbidden)
		default:
			next.ServeHTTP(w, r)
		}
	})
}

// showsKey reports whether a request carries the key of the printed address.
func (f *Frame) showsKey(r *http.Request) bool {
	c, err := r.Cookie(keyCookie)
	return err == nil && f.Key != "" && subtle.ConstantTimeCompare([]byte(c.Value), []byte(f.Key)) == 1
}
