package frame

import (
	"context"
	"net"
	"net/http"
)

// A peer is the other end of a connection.
type peer struct {
	here    bool // on this computer
	foreign bool // another user's of it
}

// peerKey is where a connection's peer is kept in its context.
type peerKey struct{}

// whose notes whose a connection is, once for all its requests.
func whose(ctx context.Context, c net.Conn) context.Context {
	p := peer{}
	if a, ok := c.RemoteAddr().(*net.TCPAddr); ok && a.IP.IsLoopback() {
		p.here, p.foreign = true, foreign(c.RemoteAddr(), c.LocalAddr())
	}
	return context.WithValue(ctx, peerKey{}, p)
}

// ownUser refuses connections of other users of this computer: a port is everyone's
// here, the studio is not.
func ownUser(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if p, _ := r.Context().Value(peerKey{}).(peer); p.foreign {
			http.Error(w, "This studio belongs to another user of this computer. Its owner can open it to all with --any-user.", http.StatusForbidden)
			return
		}
		next.ServeHTTP(w, r)
	})
}
