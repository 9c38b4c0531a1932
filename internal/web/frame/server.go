package frame

import (
	"context"
	"crypto/rand"
	"crypto/tls"
	"errors"
	"log/slog"
	"net"
	"net/http"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/web/peer"
)

// Handler returns the application with cross-site requests refused: by the
// browser's own word on where a request comes from, and by the host it was
// sent to, so that a page elsewhere can neither post nor rebind its name.
func (f *Frame) Handler() http.Handler {
	return f.knownHosts(http.NewCrossOriginProtection().Handler(compress(f.engine)))
}

// grace is how long requests that run may go on once the program is to end; streams
// end at once.
const grace = 4 * time.Second

// Serve answers on the listener until ctx ends, then lets running requests
// finish. With a certificate it answers other computers too, those by TLS alone.
func (f *Frame) Serve(ctx context.Context, l net.Listener) error {
	handler := f.Handler()
	if !f.AnyUser {
		handler = f.ownUser(handler)
	}
	server := func(h http.Handler) *http.Server {
		return &http.Server{
			Handler:           h,
			ConnContext:       peer.Connected,
			ReadHeaderTimeout: 10 * time.Second,
			ReadTimeout:       60 * time.Second,
			IdleTimeout:       2 * time.Minute,
			MaxHeaderBytes:    64 << 10,
			BaseContext:       func(net.Listener) context.Context { return ctx },
			ErrorLog:          slog.NewLogLogger(f.Log.Handler(), slog.LevelDebug), // what other ends of connections do
		}
	}
	if f.LAN == nil {
		return serveUntil(ctx, map[*http.Server]func(*http.Server) error{
			server(handler): func(s *http.Server) error { return s.Serve(l) },
		})
	}
	plain, secured := split(l)
	byTLS := server(handler)
	byTLS.TLSConfig = &tls.Config{Certificates: []tls.Certificate{f.LAN.Certificate}, MinVersion: tls.VersionTLS12}
	return serveUntil(ctx, map[*http.Server]func(*http.Server) error{
		server(hereOrTLS(handler)): func(s *http.Server) error { return s.Serve(plain) },
		byTLS:                      func(s *http.Server) error { return s.ServeTLS(secured, "", "") },
	})
}

// serveUntil runs servers until ctx ends or one of them does.
func serveUntil(ctx context.Context, servers map[*http.Server]func(*http.Server) error) error {
	ended := make(chan error, len(servers))
	for s, serve := range servers {
		go func() { ended <- serve(s) }()
	}
	var err error
	left := len(servers)
	select {
	case <-ctx.Done():
	case err = <-ended:
		left--
	}
	last, cancel := context.WithTimeout(context.WithoutCancel(ctx), grace)
	defer cancel()
	for s := range servers {
		if e := s.Shutdown(last); e != nil { // what does not end by itself is cut off
			err = errors.Join(err, s.Close())
		}
	}
	for range left {
		err = errors.Join(err, <-ended)
	}
	if errors.Is(err, http.ErrServerClosed) && ctx.Err() != nil {
		return nil
	}
	return err
}

// policy lets styles and scripts come from this program alone; nothing is
// inline.
var policy = strings.Join([]string{
	"default-src 'none'", "script-src 'self'", "style-src 'self'", "img-src 'self' data:", "font-src 'self'",
	"connect-src 'self'", "worker-src 'self'", "manifest-src 'self'", "form-action 'self'", "base-uri 'none'",
	"frame-ancestors 'none'",
}, "; ")

// secure sets the headers every answer carries.
func secure(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("X-Frame-Options", "DENY") // for browsers that do not read frame-ancestors
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Permissions-Policy",
		"camera=(self), screen-wake-lock=(self), accelerometer=(self), gyroscope=(self), geolocation=(), microphone=(), "+
			"payment=(), usb=()")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if !strings.HasPrefix(c.Request.URL.Path, "/static/") {
		h.Set("Cache-Control", "no-store")
	}
}

// knownHosts refuses requests for names that are not this machine's. On the network it
// answers by any address and by its own names: a page elsewhere has a name of its own.
func (f *Frame) knownHosts(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		ip := net.ParseIP(strings.Trim(host, "[]"))
		known := host == "localhost" || ip != nil && (ip.IsLoopback() || f.LAN != nil) || f.LAN != nil &&
			slices.Contains(f.LAN.Names, strings.ToLower(host))
		if !known {
			http.Error(w, "Jevvo does not answer to this name.", http.StatusMisdirectedRequest)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// logRequests gives every request a number, which its answer carries and all that is
// logged of it names, and logs it without what was sent.
func (f *Frame) logRequests(c *gin.Context) {
	start, id := time.Now(), rand.Text()[:12]
	c.Header("X-Request-Id", id)
	c.Set(requestID, id)
	c.Next()
	f.Log.Debug("request", "id", id, "method", c.Request.Method, "path", route(c),
		"status", c.Writer.Status(), "ms", float64(time.Since(start).Microseconds())/1000)
}

// requestID is where the number of a request is kept.
const requestID = "request-id"

// route is the request's path and query, without what only its sender knows: the secret of
// the calendar is part of an address.
func route(c *gin.Context) string {
	if c.Param("secret") != "" {
		return c.FullPath()
	}
	return c.Request.URL.Path
}

func (f *Frame) recoverPanics(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			f.Log.Error("a request failed", "id", c.GetString(requestID), "path", route(c), "panic", r, "stack",
				string(debug.Stack()))
			f.Fail(c, errInside)
		}
	}()
	c.Next()
}
