package frame

import (
	"context"
	"errors"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
)

// Handler returns the application with cross-site requests refused: by the
// browser's own word on where a request comes from, and by the host it was
// sent to, so that a page elsewhere can neither post nor rebind its name.
func (f *Frame) Handler() http.Handler {
	return localOnly(http.NewCrossOriginProtection().Handler(f.engine))
}

// Serve answers on the listener until ctx ends, then lets running requests
// finish.
func (f *Frame) Serve(ctx context.Context, l net.Listener) error {
	handler := f.Handler()
	if !f.AnyUser {
		handler = ownUser(handler)
	}
	srv := &http.Server{
		Handler:           handler,
		ConnContext:       whose,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       60 * time.Second,
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    64 << 10,
		BaseContext:       func(net.Listener) context.Context { return ctx },
	}
	done := make(chan error, 1)
	go func() {
		<-ctx.Done()
		grace, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
		defer cancel()
		done <- srv.Shutdown(grace)
	}()
	if err := srv.Serve(l); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return <-done
}

// policy lets styles and scripts come from this program alone; nothing is
// inline.
var policy = strings.Join([]string{
	"default-src 'none'", "script-src 'self'", "style-src 'self'", "img-src 'self' data:", "font-src 'self'",
	"connect-src 'self'", "form-action 'self'", "base-uri 'none'", "frame-ancestors 'none'",
}, "; ")

// secure sets the headers every answer carries.
func secure(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if !strings.HasPrefix(c.Request.URL.Path, "/static/") {
		h.Set("Cache-Control", "no-store")
	}
}

// localOnly refuses requests for hosts that are not this machine.
func localOnly(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		if ip := net.ParseIP(strings.Trim(host, "[]")); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
			http.Error(w, "Jevvo answers on this machine only.", http.StatusMisdirectedRequest)
			return
		}
		next.ServeHTTP(w, r)
	})
}

func (f *Frame) logRequests(c *gin.Context) {
	start := time.Now()
	c.Next()
	f.Log.Debug("request", "method", c.Request.Method, "path", route(c),
		"status", c.Writer.Status(), "ms", float64(time.Since(start).Microseconds())/1000)
}

// route is what a request asked for, without what only its sender knows: the secret of
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
			f.Log.Error("a request failed", "path", route(c), "panic", r)
			f.Fail(c, errInside)
		}
	}()
	c.Next()
}
