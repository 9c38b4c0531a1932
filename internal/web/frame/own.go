package frame

import (
	"crypto/subtle"
	"net/http"

	"jevvo/internal/web/peer"
)

// ownUser refuses other users of this computer: a port is everyone's here, the studio is
// not. Where it cannot be known whose a connection is, the key in the printed address
// decides.
func (f *Frame) ownUser(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p, _ := peer.Of(r.Context())
		switch {
		case p.Here && p.Owner == peer.Another:
			http.Error(w, "This studio belongs to another user of this computer. Its owner can open it to all with --any-user.",
				http.StatusForbidden)
		case p.Here && p.Owner == peer.Unknown && r.URL.Path != "/enter" && !f.showsKey(r):
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
