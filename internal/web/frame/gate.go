package frame

import (
	"context"
	"crypto/subtle"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"regexp"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/refusal"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/peer"
)

// A Visitor is who asks for a page.
type Visitor struct {
	Name   string // of the device; "" at the screen the program runs on
	Person string
	Role   access.Role
	Scopes string // of a program with a key, which has no role
	Own    bool   // at the screen the program runs on
}

type visitorKey struct{}

// VisitorOf is who asks; none has come in where everyone may.
func VisitorOf(ctx context.Context) (Visitor, bool) {
	v, ok := ctx.Value(visitorKey{}).(Visitor)
	return v, ok
}

// Cookies, read by no script.
const (
	DeviceCookie = "jevvo_device" // of a paired device
	ScreenCookie = "jevvo_screen" // of a screen that gave the passphrase
	keyCookie    = "jevvo_key"    // of a screen that came by the printed address
)

// SetCookie gives the browser what it is to show from now on; "" takes it away.
func SetCookie(c *gin.Context, name, value string) {
	k := &http.Cookie{Name: name, Value: value, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode,
		Secure: c.Request.TLS != nil, MaxAge: 400 * 24 * 3600}
	if value == "" {
		k.MaxAge = -1
	}
	http.SetCookie(c.Writer, k)
}

func cookie(c *gin.Context, name string) string {
	v, err := c.Cookie(name)
	if err != nil {
		return ""
	}
	return v
}

// Why someone has not come in.
var (
	errUnpaired = refusal.New("this device is not paired yet")
	errLocked   = refusal.New("this screen is locked")
	errNoKey    = refusal.New(
		"open the address the program printed when it started: its key keeps other users of this computer out")
	errNoAPIKey = refusal.New("send a key of this studio as Authorization: Bearer")
	errRole     = refusal.New("this device may not do that; its role is set on the main screen")
)

// enter lets a request go on that may, and shows the others where to come in.
func (f *Frame) enter(c *gin.Context) {
	if openToAll(c) {
		return
	}
	v, id, err := f.visitor(c)
	if err == nil && !v.allows(c.Request.Method, c.FullPath()) {
		err = errRole
	}
	if err != nil {
		f.turnAway(c, err)
		return
	}
	ctx := session.By(context.WithValue(c.Request.Context(), visitorKey{}, v), v.Person)
	if id != 0 {
		held, release := f.Studio.Access.Hold(ctx, id)
		defer release()
		ctx = held
	}
	c.Request = c.Request.WithContext(ctx)
	c.Next()
}

// visitor finds who asks, with the number of a device.
func (f *Frame) visitor(c *gin.Context) (v Visitor, id int64, err error) {
	ctx := c.Request.Context()
	if key, ok := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer "); ok &&
		strings.HasPrefix(c.Request.URL.Path, "/api/") {
		k, ok, err := f.Studio.Access.Key(ctx, key)
		if err != nil || ok {
			return Visitor{Name: k.Name, Scopes: k.May}, k.ID, err
		}
	}
	if here(c.Request) {
		return Visitor{Role: access.Studio}, 0, f.screen(c)
	}
	d, ok, err := f.Studio.Access.Device(ctx, cookie(c, DeviceCookie))
	if err == nil && !ok {
		err = errUnpaired
	}
	return Visitor{Name: d.Name, Person: d.Person, Role: access.Role(d.May)}, d.ID, err
}

// here reports whether a request comes from the computer the program runs on.
func here(r *http.Request) bool {
	p, known := peer.Of(r.Context())
	return !known || p.Here // without a connection, as in tests of handlers, it is
}

// ownScreen is the source of what is tried at the screen the program runs on.
const ownScreen = "here"

// Source is where a request comes from, for counting tries: the screen the program runs
// on, or an address; of IPv6 the network, which is one house's.
func Source(c *gin.Context) string {
	if here(c.Request) {
		return ownScreen
	}
	host, _, err := net.SplitHostPort(c.Request.RemoteAddr)
	if err != nil {
		return c.Request.RemoteAddr
	}
	ip, err := netip.ParseAddr(host)
	if err != nil {
		return host
	}
	if ip = ip.Unmap().WithZone(""); ip.Is4() {
		return ip.String()
	}
	return netip.PrefixFrom(ip, 64).Masked().String()
}

// screen reports what keeps the screen the program runs on shut.
func (f *Frame) screen(c *gin.Context) error {
	if p, _ := peer.Of(c.Request.Context()); f.Key != "" && p.Owner != peer.Ours && !f.showsKey(c.Request) {
		return errNoKey
	}
	locks, err := f.Studio.Access.Locks()
	if err != nil || !locks {
		return err
	}
	touched := !strings.Contains(c.GetHeader("Accept"), "text/event-stream")
	if !f.Studio.Access.Unlocked(cookie(c, ScreenCookie), touched) {
		return errLocked
	}
	return nil
}

// signInPages are the pages that let a visitor in, by what was missing.
var signInPages = map[error]string{errUnpaired: "/pair", errLocked: "/unlock"}

// turnAway shows where to come in, or what may not be done.
func (f *Frame) turnAway(c *gin.Context, err error) {
	door, page := signInPages[err]
	api := strings.HasPrefix(c.Request.URL.Path, "/api/")
	switch {
	case api && door != "":
		c.Header("WWW-Authenticate", `Bearer realm="jevvo"`)
		c.Header("Content-Type", "application/problem+json")
		c.String(http.StatusUnauthorized, `{"title":"Not let in","status":401,"detail":"%s"}`, errNoAPIKey.Error())
	case page && FromHTMX(c):
		c.Header("HX-Redirect", door)
		c.Status(http.StatusUnauthorized)
	case page && c.Request.Method == http.MethodGet && strings.Contains(c.GetHeader("Accept"), "text/html"):
		c.Redirect(http.StatusSeeOther, door+"?"+url.Values{"to": {c.Request.URL.RequestURI()}}.Encode())
	default:
		f.Fail(c, err)
	}
	c.Abort()
}

// The ways in, and what is the same for everyone.
var everyone = []string{"/healthz", "/readyz", "/pair", "/unlock", "/enter", "/manifest.webmanifest", "/worker.js",
	"/certificate.crt", "/static/*filepath", "/calendar/:secret"}

// openToAll reports what needs nobody to be let in. The room's sensor shows its own key.
func openToAll(c *gin.Context) bool {
	return slices.Contains(everyone, c.FullPath()) || c.Request.URL.Path == "/api/v1/room"
}

// What a role may change, as the beginnings of addresses; the studio may change all.
var changes = map[access.Role][]string{
	access.Bench: {"/bench", "/rehears", "/weighings/", "/pieces/:id/weigh", "/pieces/:id/bench", "/pieces/:id/level",
		"/pieces/:id/photos", "/pieces/:id/result",
		"/pieces/:id/faults", "/pieces/:id/judge", "/room", "/scale", "/days/done", "/calculators/", "/preview/",
		"/api/v1/calc/"},
	access.Look: {"/calculators/", "/preview/:key/stop", "/api/v1/calc/"},
}

// changesPattern is what a role may change as a regular expression over addresses, for
// pages that offer nothing else; "" where it may change all.
func changesPattern(r access.Role) string {
	if r == access.Studio {
		return ""
	}
	parts := make([]string, len(changes[r]))
	for i, p := range changes[r] {
		parts[i] = pathParam.ReplaceAllString(regexp.QuoteMeta(p), "[^/]+")
	}
	return "^(?:" + strings.Join(parts, "|") + ")"
}

var pathParam = regexp.MustCompile(`:[a-z]+`)

// What a role may see, as addresses, and as beginnings where they end with a stroke; the
// studio may see all, and what is named nowhere is the studio's. Who looks on sees the
// boards and the days they are worked on: no clients, prices, papers, stock or years.
var (
	onlooker = []string{"/", "/pieces", "/pieces/:id", "/pieces/:id/run-sheet", "/pieces/:id/card",
		"/pieces/:id/composition", "/pieces/:id/coats/",
		"/pieces/:id/parts/", "/pieces/:id/board.svg",
		"/pieces/:id/preview", "/pieces/:id/preview/", "/preview/", "/pieces/:id/photos/", "/pieces/:id/taught",
		"/pieces/:id/judge", "/days", "/days/month", "/days/print", "/days/place",
		"/bench", "/benches/", "/rehearsals/", "/weighings/", "/pieces/:id/bench", "/pieces/:id/weigh", "/pieces/:id/level",
		"/streams", "/calculators", "/calculators/",
		"/techniques", "/techniques/", "/palettes", "/palettes/", "/recipes", "/help", "/help/", "/glossary", "/scan/"}
	sees = map[access.Role][]string{
		access.Look: onlooker,
		access.Bench: append(slices.Clip(onlooker), "/pieces/:id/result", "/pieces/:id/journal", "/pieces/:id/journal.zip",
			"/pieces/:id/faults", "/pieces/:id/strength",
			"/pieces/:id/labels", "/pieces/:id/cups.csv", "/pieces/:id/rescale", "/journal", "/findings", "/findings/",
			"/faults", "/faults/",
			"/materials", "/materials/", "/pigments/", "/stock", "/stock/of/", "/labels", "/jump"),
	}
)

// Sees reports whether a visitor may look at an address.
func (v Visitor) Sees(path string) bool {
	return v.Role == access.Studio || slices.ContainsFunc(sees[v.Role], func(at string) bool {
		return path == at || len(at) > 1 && strings.HasSuffix(at, "/") && strings.HasPrefix(path, at)
	})
}

// allows reports whether a visitor may send that request. A program with a key asks at /api/,
// which looks at its scopes.
func (v Visitor) allows(method, path string) bool {
	if strings.HasPrefix(path, "/api/") {
		return true
	}
	switch {
	case v.Role == access.Studio:
		return true
	case method == http.MethodGet || method == http.MethodHead:
		return v.Sees(path)
	}
	return slices.ContainsFunc(changes[v.Role], func(with string) bool { return strings.HasPrefix(path, with) })
}

// enterByKey lets a screen in that came by the printed address.
func (f *Frame) enterByKey(c *gin.Context) {
	if f.Key == "" || subtle.ConstantTimeCompare([]byte(c.Query("key")), []byte(f.Key)) != 1 {
		f.Fail(c, errNoKey)
		return
	}
	SetCookie(c, keyCookie, f.Key)
	c.Redirect(http.StatusSeeOther, "/")
}
