// Package peer tells who is at the other end of a connection: on this computer or another, and
// if here, whose program it is.
package peer

import (
	"context"
	"net"
)

// An Owner is whose the other end of a connection on this computer is.
type Owner int

// The owners. Only what is known to be ours is ours: a socket that was closed at once
// belongs to nobody any more.
const (
	Unknown Owner = iota
	Ours
	Another
)

// A Peer is the other end of a connection.
type Peer struct {
	Here  bool // on this computer
	Owner Owner
}

type key struct{}

// With returns a context that knows the peer of its connection.
func With(ctx context.Context, p Peer) context.Context { return context.WithValue(ctx, key{}, p) }

// Of is the peer of a request's connection, false where there is none, as in tests of handlers.
func Of(ctx context.Context) (Peer, bool) {
	p, ok := ctx.Value(key{}).(Peer)
	return p, ok
}

// Connected looks up whose a connection is, once for all its requests; see
// [net/http.Server.ConnContext].
func Connected(ctx context.Context, c net.Conn) context.Context {
	p := Peer{}
	if a, ok := c.RemoteAddr().(*net.TCPAddr); ok && a.IP.IsLoopback() {
		p.Here, p.Owner = true, ownerOf(c.RemoteAddr(), c.LocalAddr())
	}
	return With(ctx, p)
}
