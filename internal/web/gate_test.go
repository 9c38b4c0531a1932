package web_test

import (
	"context"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/certificate"
	"jevvo/internal/studio/access"
	"jevvo/internal/testsize"
	"jevvo/internal/web/frame"
)

// A network is a studio that answers other computers; what is asked at its address
// comes by the network.
type network struct {
	*site
	now     *time.Time
	address string // https://…
	port    int
	pool    *x509.CertPool
}

func onNetwork(t *testing.T) network {
	t.Helper()
	own := certificate.Addresses()
	if len(own) == 0 {
		t.Skip("this computer is on no network")
	}
	cert, err := certificate.Own(t.TempDir(), time.Now())
	require.NoError(t, err)
	now := monday
	s := openWith(t, frame.Options{LAN: &frame.LAN{Certificate: cert, Fingerprint: certificate.Fingerprint(cert)}},
		func() time.Time { return now })
	l, err := net.Listen("tcp4", "0.0.0.0:0")
	require.NoError(t, err)
	ctx, end := context.WithCancel(t.Context())
	ended := make(chan error, 1)
	go func() { ended <- s.frame.Serve(ctx, l) }()
	t.Cleanup(func() { end(); assert.NoError(t, <-ended) })
	n := network{s, &now, "", l.Addr().(*net.TCPAddr).Port, x509.NewCertPool()}
	n.address = fmt.Sprintf("https://%s:%d", own[0], n.port)
	n.pool.AddCert(cert.Leaf)
	return n
}

// A device is a browser on another computer.
type device struct {
	t *testing.T
	n network
	*http.Client
}

func (n network) device() device {
	jar, err := cookiejar.New(nil)
	require.NoError(n.t, err)
	t := &http.Transport{TLSClientConfig: &tls.Config{RootCAs: n.pool}, ForceAttemptHTTP2: true}
	n.t.Cleanup(t.CloseIdleConnections)
	return device{n.t.(*testing.T), n,
		&http.Client{Transport: t, Jar: jar,
			CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}}
}

func (d device) ask(method, path string, form url.Values, header ...string) (*http.Response, string) {
	d.t.Helper()
	r, err := http.NewRequestWithContext(d.t.Context(), method, d.n.address+path, strings.NewReader(form.Encode()))
	require.NoError(d.t, err)
	r.Header.Set("Accept", "text/html")
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	for i := 0; i+1 < len(header); i += 2 {
		if r.Header.Set(header[i], header[i+1]); header[i] == "Host" {
			r.Host = header[i+1]
		}
	}
	w, err := d.Do(r)
	require.NoError(d.t, err)
	defer w.Body.Close()
	body, err := io.ReadAll(io.LimitReader(w.Body, 1<<20))
	require.NoError(d.t, err)
	return w, string(body)
}

func (n network) paired(role access.Role) device {
	d := n.device()
	code, _, err := n.Access.Offer(n.t.Context(), role, "Imke")
	require.NoError(n.t, err)
	*n.now = n.now.Add(time.Minute) // the tries of a minute are not used up
	w, body := d.ask(http.MethodPost, "/pair", url.Values{"code": {strings.ToLower(code)}, "name": {"Bench tablet"}})
	require.Equal(n.t, http.StatusSeeOther, w.StatusCode, body)
	return d
}

// concrete fills an address with a number nothing has.
func concrete(path string) string {
	parts := strings.Split(path, "/")
	for i, p := range parts {
		if strings.HasPrefix(p, ":") {
			parts[i] = "999999"
		}
		if strings.HasPrefix(p, "*") {
			parts[i] = "v1/calc/coat"
		}
	}
	return strings.Join(parts, "/")
}

// openRoutes are what anyone may ask for.
var openRoutes = []string{"/healthz", "/readyz", "/pair", "/unlock", "/enter", "/static/*filepath", "/calendar/:secret",
	"/manifest.webmanifest", "/worker.js", "/certificate.crt"}

func eachAddress(s *site, do func(method, path string)) {
	for _, at := range s.frame.Addresses() {
		if !slices.Contains([]string{http.MethodGet, http.MethodPost}, at[0]) || at[0] == http.MethodGet &&
			strings.HasPrefix(at[1], "/api/") {
			continue
		}
		do(at[0], at[1])
	}
}

// Who was not paired sees the door, and nothing of the studio, whatever is asked for.
func TestNobodyComesInUnpaired(t *testing.T) {
	n := onNetwork(t)
	n.piece(map[string]string{"name": "Heron over mudflats"})
	d := n.device()
	eachAddress(n.site, func(method, path string) {
		if slices.Contains(openRoutes, path) {
			return
		}
		w, body := d.ask(method, concrete(path), nil)
		if method == http.MethodGet {
			assert.Equal(t, http.StatusSeeOther, w.StatusCode, path)
			assert.True(t, strings.HasPrefix(w.Header.Get("Location"), "/pair?to="), path)
			return
		}
		assert.Equal(t, http.StatusUnauthorized, w.StatusCode, path)
		assert.NotContains(t, body, "Heron")
		assert.NotContains(t, body, "/commissions")
	})
	w, _ := d.ask(http.MethodGet, "/nowhere", nil)
	assert.Equal(t, http.StatusSeeOther, w.StatusCode)
	w, body := d.ask(http.MethodGet, "/streams?of=/benches/1", nil, "Accept", "text/event-stream")
	assert.Equal(t, http.StatusUnauthorized, w.StatusCode, body)
	for _, path := range []string{"/healthz", "/readyz", "/pair", "/static/built/site.css"} {
		w, _ := d.ask(http.MethodGet, path, nil)
		assert.Equal(t, http.StatusOK, w.StatusCode, path)
	}
	// Plain http is led to https, and nothing is taken in by it.
	plain := strings.Replace(n.address, "https", "http", 1)
	r, err := d.Get(plain + "/")
	require.NoError(t, err)
	r.Body.Close()
	assert.Equal(t, n.address+"/", r.Header.Get("Location"))
	r, err = d.PostForm(plain+"/pair", url.Values{"code": {"x"}})
	require.NoError(t, err)
	r.Body.Close()
	assert.Equal(t, http.StatusUpgradeRequired, r.StatusCode)
	r, err = d.Get(plain + "/calendar/0123.ics")
	require.NoError(t, err)
	r.Body.Close()
	assert.Equal(t, http.StatusUpgradeRequired, r.StatusCode, "an address that is a key is not led on")
	assert.Equal(t, http.StatusOK, n.do(http.MethodGet, "/pieces", nil, false).Code, "the first screen needs no pairing")
}

// The calendar's address is shown to the studio alone, and another after a device is let
// in no longer.
func TestTheCalendarsAddressIsTheStudios(t *testing.T) {
	n := onNetwork(t)
	n.piece(map[string]string{})
	address := "/calendar/" + between(t, n.get("/days"), "/calendar/", "<")
	for _, role := range []access.Role{access.Bench, access.Look} {
		w, body := n.paired(role).ask(http.MethodGet, "/days", nil)
		require.Equal(t, http.StatusOK, w.StatusCode)
		assert.NotContains(t, body, "/calendar/", role)
	}
	_, body := n.paired(access.Studio).ask(http.MethodGet, "/days", nil)
	assert.Contains(t, body, address)
	visitors, err := n.Access.Visitors(t.Context())
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, n.do(http.MethodGet, address, nil, false).Code)
	require.Equal(t, http.StatusSeeOther, n.post(fmt.Sprintf("/screens/%d/revoke", visitors[0].ID), nil).Code)
	assert.Equal(t, http.StatusNotFound, n.do(http.MethodGet, address, nil, false).Code)
}

// What each role may change: of all addresses that change something.
// What devices that are not the studio's own never see, what everyone sees, what the
// bench does, and what may be sent by anybody: by what is at stake, not by the rule.
var (
	businessOnly = regexp.MustCompile(
		`^/(commissions|papers|year|client|settings|outbox|shared|days\.ics|calendar/renew)|/price\b|^/pieces/:id/share|orders`)
	everybodys = regexp.MustCompile(
		`^/(pieces|pieces/:id|pieces/:id/run-sheet|days|bench|benches/:id|help|glossary|techniques|calculators)?$`)
	atBench = regexp.MustCompile(
		`bench|weigh|rehears|^/(room|scale)|/level$|/photos$|/result$|/days/done$|^/pieces/:id/(faults|judge)|^/journal$`)
	harmless = regexp.MustCompile(`^/(calculators|preview/:key)`)
)

func TestRolesMayWhatTheyMay(t *testing.T) {
	testsize.Sequential(t)
	n := onNetwork(t)
	for _, role := range []access.Role{access.Studio, access.Bench, access.Look} {
		d := n.paired(role)
		eachAddress(n.site, func(method, path string) {
			if strings.HasPrefix(path, "/screens") || strings.HasPrefix(path, "/devices") || slices.Contains(openRoutes, path) ||
				strings.HasSuffix(path, "/events") || path == "/streams" || path == "/lock" {
				return
			}
			w, body := d.ask(method, concrete(path), nil)
			refused := w.StatusCode == http.StatusForbidden
			switch {
			case strings.HasPrefix(path, "/api"): // has keys of its own
			case role == access.Studio:
				assert.False(t, refused, "%s %s", method, path)
			case businessOnly.MatchString(path):
				assert.True(t, refused, "%s: %s %s: %d %s", role, method, path, w.StatusCode, brief(body))
			case method == http.MethodGet && everybodys.MatchString(path):
				assert.False(t, refused, "%s: %s %s: %s", role, method, path, brief(body))
			case role == access.Bench && atBench.MatchString(path):
				assert.False(t, refused, "%s %s: %s", method, path, brief(body))
			case method == http.MethodPost && role == access.Look:
				assert.Equal(t, !harmless.MatchString(path), refused, "%s %s", method, path)
			case method == http.MethodPost:
				assert.Equal(t, !harmless.MatchString(path) && !atBench.MatchString(path), refused, "%s %s", method, path)
			}
			assert.NotEqual(t, http.StatusUnauthorized, w.StatusCode, path)
		})
	}
	w, _ := n.paired(access.Bench).ask(http.MethodGet, "/screens", nil)
	assert.Equal(t, http.StatusForbidden, w.StatusCode)
	w, body := n.paired(access.Look).ask(http.MethodGet, "/", nil)
	assert.Equal(t, http.StatusOK, w.StatusCode)
	assert.Contains(t, body, "view only")
	assert.Contains(t, body, `data-may="^(?:/calculators/|/preview/[^/]&#43;/stop`, "nothing else is offered")
}

// A page elsewhere can post nothing, by no address, nor by a name of its own.
func TestForeignPagesPostNothing(t *testing.T) {
	s := open(t)
	eachAddress(s, func(method, path string) {
		r := httptest.NewRequestWithContext(t.Context(), method, "http://localhost"+concrete(path), nil)
		r.Header.Set("Origin", "https://evil.example")
		r.Header.Set("Sec-Fetch-Site", "cross-site")
		w := httptest.NewRecorder()
		if method == http.MethodPost {
			s.h.ServeHTTP(w, r)
			assert.Equal(t, http.StatusForbidden, w.Code, path)
		}
		r = httptest.NewRequestWithContext(t.Context(), method, "http://evil.example"+concrete(path), nil)
		w = httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		assert.Equal(t, http.StatusMisdirectedRequest, w.Code, path)
	})
	n := onNetwork(t)
	w, _ := n.device().ask(http.MethodGet, "/pair", nil, "Host", "evil.example")
	assert.Equal(t, http.StatusMisdirectedRequest, w.StatusCode)
	w, _ = n.paired(access.Studio).ask(http.MethodPost, "/pieces", nil, "Origin", "https://evil.example")
	assert.Equal(t, http.StatusForbidden, w.StatusCode)
}

// A code serves once and ten minutes; tries are limited; what is sent away is out at once.
func TestPairing(t *testing.T) {
	n := onNetwork(t)
	d := n.device()
	pair := func(code string) (int, string) {
		w, body := d.ask(http.MethodPost, "/pair", url.Values{"code": {code}, "name": {"Phone"}, "to": {"/pieces"}})
		return w.StatusCode, body
	}
	code, _, err := n.Access.Offer(t.Context(), access.Bench, "")
	require.NoError(t, err)
	status, body := pair("ZZZZ ZZZZ")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, body, "does not work")
	*n.now = n.now.Add(11 * time.Minute)
	status, _ = pair(code)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "it is over")
	code, _, err = n.Access.Offer(t.Context(), access.Bench, "")
	require.NoError(t, err)
	status, _ = pair(code)
	require.Equal(t, http.StatusSeeOther, status)
	cookies := d.Jar.Cookies(&url.URL{Scheme: "https", Host: strings.TrimPrefix(n.address, "https://"), Path: "/"})
	require.Len(t, cookies, 1)
	status, _ = pair(code)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "it was used")
	code, _, err = n.Access.Offer(t.Context(), access.Look, "")
	require.NoError(t, err)
	for range 7 {
		status, _ = pair("1111 1111")
	}
	assert.Equal(t, http.StatusTooManyRequests, status)
	_, _, err = n.Access.Pair(t.Context(), code, "Another", "10.0.0.7")
	require.NoError(t, err, "what one source tried in vain voids no code and shuts no other out")
	*n.now = n.now.Add(10 * time.Second)
	status, _ = pair("1111 1111")
	assert.Equal(t, http.StatusUnprocessableEntity, status, "after ten seconds it may try again")

	visitors, err := n.Access.Visitors(t.Context())
	require.NoError(t, err)
	require.Len(t, visitors, 2)
	assert.Equal(t, "Phone", visitors[0].Name)
	assert.NotContains(t, cookies[0].Value, visitors[0].Digest)
	w, _ := d.ask(http.MethodGet, "/pieces", nil)
	assert.Equal(t, http.StatusOK, w.StatusCode)
	held, release := n.Access.Hold(t.Context(), visitors[0].ID)
	defer release()
	require.NoError(t, n.Access.Revoke(t.Context(), visitors[0].ID))
	<-held.Done() // what it was looking at ends
	w, _ = d.ask(http.MethodGet, "/pieces", nil)
	assert.Equal(t, http.StatusSeeOther, w.StatusCode)
}

// A device that was away for long is let in no longer; when it was last there is kept.
func TestDevicesAreForgotten(t *testing.T) {
	n := onNetwork(t)
	d := n.paired(access.Look)
	*n.now = n.now.Add(40 * 24 * time.Hour)
	w, _ := d.ask(http.MethodGet, "/pieces", nil)
	require.Equal(t, http.StatusOK, w.StatusCode)
	require.NoError(t, n.Access.Keep(t.Context()))
	again := access.New(n.db, nil, func() time.Time { return *n.now })
	visitors, err := again.Visitors(t.Context())
	require.NoError(t, err)
	require.Len(t, visitors, 1)
	assert.WithinDuration(t, *n.now, visitors[0].Used, time.Second)
	*n.now = n.now.Add(61 * 24 * time.Hour)
	w, _ = d.ask(http.MethodGet, "/pieces", nil)
	assert.Equal(t, http.StatusSeeOther, w.StatusCode)
}

// A locked screen asks for the passphrase: at once, after it was left, and when it is
// told to.
func TestLockedScreen(t *testing.T) {
	now := monday
	s := openWith(t, frame.Options{}, func() time.Time { return now })
	ask := func(method, path string, form url.Values, cookies ...*http.Cookie) *httptest.ResponseRecorder {
		r := httptest.NewRequestWithContext(t.Context(), method, "http://localhost"+path, strings.NewReader(form.Encode()))
		r.Header.Set("Accept", "text/html")
		if method == http.MethodPost {
			r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		}
		for _, c := range cookies {
			r.AddCookie(c)
		}
		w := httptest.NewRecorder()
		s.h.ServeHTTP(w, r)
		return w
	}
	const words = "tide marks on grey sand"
	assert.Equal(t, http.StatusUnprocessableEntity, ask(http.MethodPost, "/screens/passphrase",
		url.Values{"passphrase": {"short"}}).Code)
	w := ask(http.MethodPost, "/screens/passphrase", url.Values{"passphrase": {words}})
	require.Equal(t, http.StatusSeeOther, w.Code)
	screen := w.Result().Cookies()[0]
	assert.True(t, screen.HttpOnly)
	assert.Equal(t, http.SameSiteLaxMode, screen.SameSite)
	assert.Equal(t, http.StatusOK, ask(http.MethodGet, "/pieces", nil, screen).Code)

	w = ask(http.MethodGet, "/pieces?find=a", nil)
	assert.Equal(t, "/unlock?to=%2Fpieces%3Ffind%3Da", w.Header().Get("Location"))
	assert.Equal(t, http.StatusUnauthorized, ask(http.MethodPost, "/pieces", nil).Code)
	assert.Equal(t, http.StatusUnprocessableEntity, ask(http.MethodPost, "/unlock",
		url.Values{"passphrase": {"tide marks on gray sand"}}).Code)
	w = ask(http.MethodPost, "/unlock", url.Values{"passphrase": {words}, "to": {"/pieces?find=a"}})
	assert.Equal(t, "/pieces?find=a", w.Header().Get("Location"))

	now = now.Add(access.LockAfter + time.Second)
	assert.Equal(t, http.StatusSeeOther, ask(http.MethodGet, "/pieces", nil, screen).Code, "it was left")
	for range 7 {
		w = ask(http.MethodPost, "/unlock", url.Values{"passphrase": {"guessed, guessed"}})
	}
	assert.Equal(t, http.StatusTooManyRequests, w.Code)
	require.NoError(t, s.Access.ResetPassphrase(""))
	assert.Equal(t, http.StatusOK, ask(http.MethodGet, "/pieces", nil).Code)
}

// Where the system does not tell whose a connection is, the printed address holds a key.
func TestScreenKey(t *testing.T) {
	s := openWith(t, frame.Options{Key: "printed-key"}, time.Now)
	w := s.do(http.MethodGet, "/pieces", nil, false)
	assert.Equal(t, http.StatusForbidden, w.Code)
	assert.Contains(t, w.Body.String(), "address the program printed")
	assert.Equal(t, http.StatusForbidden, s.do(http.MethodGet, "/enter?key=guess", nil, false).Code)
	w = s.do(http.MethodGet, "/enter?key=printed-key", nil, false)
	require.Equal(t, http.StatusSeeOther, w.Code)
	r := httptest.NewRequestWithContext(t.Context(), http.MethodGet, "http://localhost/pieces", nil)
	r.AddCookie(w.Result().Cookies()[0])
	w = httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	assert.Equal(t, http.StatusOK, w.Code)
}

// Every answer carries the headers that keep a page to itself, and a number.
func TestHeaders(t *testing.T) {
	s := open(t)
	for _, path := range []string{"/", "/pieces", "/settings", "/nowhere", "/static/built/site.css",
		"/api/openapi.json"} {
		h := s.do(http.MethodGet, path, nil, false).Header()
		policy := h.Get("Content-Security-Policy")
		for _, want := range []string{"default-src 'none'", "script-src 'self';", "frame-ancestors 'none'",
			"form-action 'self'", "base-uri 'none'"} {
			assert.Contains(t, policy, want, path)
		}
		assert.NotContains(t, policy, "unsafe", path)
		assert.Equal(t, "nosniff", h.Get("X-Content-Type-Options"), path)
		assert.Equal(t, "DENY", h.Get("X-Frame-Options"), path)
		assert.Equal(t, "same-origin", h.Get("Referrer-Policy"), path)
		assert.Contains(t, h.Get("Permissions-Policy"), "geolocation=()", path)
		assert.Len(t, h.Get("X-Request-Id"), 12, path)
	}
	assert.Equal(t, "no-store", s.do(http.MethodGet, "/pieces", nil, false).Header().Get("Cache-Control"))
}

// What is logged names requests, not what was sent or searched for, nor any secret.
func TestNothingPrivateIsLogged(t *testing.T) {
	var log strings.Builder
	s := openWith(t, frame.Options{Log: slog.New(slog.NewTextHandler(&log, &slog.HandlerOptions{Level: slog.LevelDebug}))},
		func() time.Time { return monday })
	secret, err := s.Mail.FeedSecret(t.Context())
	require.NoError(t, err)
	s.get("/calendar/" + secret)
	s.get("/pieces?find=mara")
	s.post("/pieces", map[string]string{"name": "Heron for Mara"})
	s.post("/unlock", map[string]string{"passphrase": "tide marks on grey sand"})
	s.do(http.MethodGet, "/pair?code=AAAABBBB", nil, false)
	said := log.String()
	assert.Contains(t, said, "/calendar/:secret")
	for _, private := range []string{secret, "mara", "Mara", "Heron", "tide", "AAAABBBB"} {
		assert.NotContains(t, said, private)
	}
	assert.Regexp(t, `id=[A-Z0-9]{12} method=POST path=/pieces status=303`, said)
}
