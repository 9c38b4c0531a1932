// Package web serves the studio as pages and as JSON. It holds no sums: each
// page is a struct filled by one function and rendered by one template.
package web

import (
	"context"
	"embed"
	"errors"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/calc"
	"jevvo/internal/studio"
)

//go:embed static
var static embed.FS

// maxForm bounds a posted form; outlines are uploaded under their own limit.
const maxForm = 1 << 20

// Options are what the pages need besides the studio.
type Options struct {
	Version string
	Demo    bool
	Log     *slog.Logger
	Clock   interface{ Jumped() time.Duration } // nil: the computer's clock is not watched
}

// A Server is the web application.
type Server struct {
	studio  *studio.Studio
	opts    Options
	pages   *pages
	engine  *gin.Engine
	openAPI []byte
}

// New builds the application.
func New(st *studio.Studio, opts Options) (*Server, error) {
	p, err := parsePages()
	if err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	s := &Server{studio: st, opts: opts, pages: p, engine: gin.New()}
	s.engine.HandleMethodNotAllowed = true
	if err := s.engine.SetTrustedProxies(nil); err != nil {
		return nil, err
	}
	s.engine.Use(s.logRequests, s.recoverPanics, secure, limitForms)
	s.engine.NoRoute(func(c *gin.Context) { s.fail(c, errNoPage) })
	if s.openAPI, err = calc.OpenAPI(opts.Version); err != nil {
		return nil, err
	}
	if err := s.routes(); err != nil {
		return nil, err
	}
	return s, nil
}

// Handler returns the application with cross-site requests refused: by the
// browser's own word on where a request comes from, and by the host it was
// sent to, so that a page elsewhere can neither post nor rebind its name.
func (s *Server) Handler() http.Handler {
	return localOnly(http.NewCrossOriginProtection().Handler(s.engine))
}

func (s *Server) routes() error {
	files, err := fs.Sub(static, "static")
	if err != nil {
		return err
	}
	s.engine.Group("/static", func(c *gin.Context) { c.Header("Cache-Control", "max-age=3600") }).StaticFS("/", http.FS(files))
	s.engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	for _, area := range []func(*gin.Engine){s.pieceRoutes, s.jumpRoutes, s.shelfRoutes, s.sumRoutes, s.settingsRoutes, s.apiRoutes, s.levelRoutes, s.weighRoutes,
		s.composeRoutes, s.mixerRoutes, s.paletteRoutes, s.benchRoutes, s.techniqueRoutes, s.dayRoutes, s.commissionRoutes} {
		area(s.engine)
	}
	return nil
}

// Serve answers on the listener until ctx ends, then lets running requests
// finish.
func (s *Server) Serve(ctx context.Context, l net.Listener) error {
	srv := &http.Server{
		Handler:           s.Handler(),
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

// secure sets the headers every answer carries. Styles and scripts come from
// this program alone; nothing is inline.
func secure(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	if !strings.HasPrefix(c.Request.URL.Path, "/static/") {
		h.Set("Cache-Control", "no-store")
	}
}

// limitForms bounds every body that a handler does not bound itself.
func limitForms(c *gin.Context) {
	if c.Request.Body != nil && !strings.HasPrefix(c.Request.URL.Path, "/api/") && !strings.HasSuffix(c.Request.URL.Path, "/outline") && c.Request.URL.Path != "/palettes" && !strings.HasSuffix(c.Request.URL.Path, "/photo") && !strings.HasSuffix(c.Request.URL.Path, "/pictures") {
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxForm)
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

func (s *Server) logRequests(c *gin.Context) {
	start := time.Now()
	c.Next()
	s.opts.Log.Debug("request", "method", c.Request.Method, "path", c.Request.URL.Path,
		"status", c.Writer.Status(), "ms", float64(time.Since(start).Microseconds())/1000)
}

func (s *Server) recoverPanics(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			s.opts.Log.Error("a request failed", "path", c.Request.URL.Path, "panic", r)
			s.fail(c, errInside)
		}
	}()
	c.Next()
}
