package frame

import (
	"context"
	"net"
	"net/http"
)

// peerKey is where a connection's user is kept in its context.
type peerKey struct{}

// whose notes whose a connection on this machine is, once for all its requests.
func whose(ctx context.Context, c net.Conn) context.Context {
	return context.WithValue(ctx, peerKey{}, foreign(c.RemoteAddr(), c.LocalAddr()))
}

// ownUser refuses connections of other users of this computer: a port is everyone's
// here, the studio is not.
func ownUser(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if other, _ := r.Context().Value(peerKey{}).(bool); other {
			http.Error(w, "This studio belongs to another user of this computer. Its owner can open it to all with --any-user.", http.StatusForbidden)
			return
		}
		next.ServeHTTP(w, r)
	})
}
