// Package screens is who comes in besides the screen the program runs on: devices are
// paired, programs get keys, a screen is locked and opened.
package screens

import (
	"embed"
	"html/template"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/qr"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/access"
	"jevvo/internal/web/frame"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	a.GET("/screens", a.show)
	a.POST("/screens/offer", a.offer)
	a.POST("/screens/keys", a.makeKey)
	a.POST("/screens/passphrase", a.setPassphrase)
	a.POST("/screens/:id/revoke", a.revoke)
	a.GET("/pair", a.askCode)
	a.POST("/pair", a.pair)
	a.GET("/unlock", a.askPassphrase)
	a.POST("/unlock", a.unlock)
	a.POST("/lock", a.lock)
	return nil
}

// A page of who is let in.
type page struct {
	LAN     *frame.LAN
	Devices []visitor
	Keys    []visitor
	Locks   bool
	After   time.Duration // a screen that is left is locked
	Fields  map[string]form.View
	Scopes  []form.Option
	Chosen  map[string]bool
	Wrong   msg.Text // about scopes
	Offer   *offer
	Key     string // just made, shown once
}

type visitor struct {
	store.Visitor
	May msg.Text // in words
}

// An offer is a code to pair with, shown once.
type offer struct {
	Code    string
	Until   time.Time
	Address string
	QR      template.HTML
	Role    msg.Text
}

func (a *area) show(c *gin.Context) error {
	return a.send(c, http.StatusOK, nil, form.NewNotices(), func(*page) {})
}

func (a *area) send(c *gin.Context, status int, typed map[string]string, n form.Notices, with func(*page)) error {
	all, err := a.Studio.Access.Visitors(c.Request.Context())
	if err != nil {
		return err
	}
	p := page{LAN: a.LAN, After: access.LockAfter, Scopes: access.ScopeTable, Chosen: map[string]bool{},
		Wrong: n.Errors["scopes"]}
	if p.Locks, err = a.Studio.Access.Locks(); err != nil {
		return err
	}
	for _, v := range all {
		if v.Kind == store.VisitorDevice {
			p.Devices = append(p.Devices, visitor{v, label(access.RoleTable, v.May)})
			continue
		}
		var may []msg.Text
		for s := range strings.FieldsSeq(v.May) {
			may = append(may, label(access.ScopeTable, s))
		}
		p.Keys = append(p.Keys, visitor{v, msg.Join(", ", may...)})
	}
	role := typed["role"]
	if role == "" {
		role = string(access.Bench)
	}
	secret := func(key string, words msg.ID) form.View {
		return form.View{Key: key, Label: words, Kind: form.Secret, Error: n.Errors[key]}
	}
	p.Fields = map[string]form.View{
		"role": {Key: "role", Label: msg.ID("It may"), Kind: form.Choose, Value: role, Options: access.RoleTable,
			Error: n.Errors["role"]},
		"person": {Key: "person", Label: msg.ID("Used by"), Hint: msg.ID("whoever is in the studio"), Kind: form.Line,
			Value: typed["person"], Error: n.Errors["person"]},
		"name": {Key: "name", Label: msg.ID("What the key is for"), Kind: form.Line, Value: typed["name"],
			Error: n.Errors["name"]},
		"before":     secret("before", "Current passphrase"),
		"passphrase": secret("passphrase", "New passphrase"),
	}
	with(&p)
	return a.Show(c, status, "screens", frame.Page{Title: msg.ID("Other screens"), Nav: "settings", Data: p})
}

func label(of []form.Option, value string) msg.Text {
	for _, o := range of {
		if o.Value == value {
			return o.Label
		}
	}
	return msg.Own(value)
}

// again shows the page with what was refused at its field.
func (a *area) again(c *gin.Context, typed map[string]string, field string, err error, with func(*page)) error {
	refused, ok := frame.Refusal(err)
	if !ok {
		return err
	}
	return a.send(c, http.StatusUnprocessableEntity, typed, frame.At(refused, field), with)
}

func (a *area) offer(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	code, until, err := a.Studio.Access.Offer(c.Request.Context(), access.Role(typed["role"]), typed["person"])
	if err != nil {
		return a.again(c, typed, "role", err, func(*page) {})
	}
	o := &offer{Code: code, Until: until, Role: label(access.RoleTable, typed["role"])}
	if a.LAN != nil && len(a.LAN.Addresses) > 0 {
		o.Address = a.LAN.Addresses[0] + "/pair"
		svg, err := qr.SVG(o.Address+"?"+url.Values{"code": {strings.ReplaceAll(code, " ", "")}}.Encode(),
			"The address to pair a device at")
		if err != nil {
			return err
		}
		o.QR = template.HTML(svg) // drawn by this program
	}
	return a.send(c, http.StatusOK, typed, form.NewNotices(), func(p *page) { p.Offer = o })
}

func (a *area) makeKey(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	scopes := c.PostFormArray("scopes")
	key, err := a.Studio.Access.MakeKey(c.Request.Context(), typed["name"], scopes)
	if err != nil {
		return a.again(c, typed, "name", err, func(p *page) {
			for _, s := range scopes {
				p.Chosen[s] = true
			}
		})
	}
	return a.send(c, http.StatusOK, nil, form.NewNotices(), func(p *page) { p.Key = key })
}

func (a *area) revoke(c *gin.Context) error {
	if err := a.Studio.Access.Revoke(c.Request.Context(), frame.ID(c)); err != nil {
		return err
	}
	// Whoever had the device may have kept the calendar's address.
	if err := a.Studio.Mail.RenewFeed(c.Request.Context()); err != nil {
		return err
	}
	return frame.Go(c, "/screens")
}

func (a *area) setPassphrase(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	if err := a.Studio.Access.SetPassphrase(typed["before"], typed["passphrase"], frame.Source(c)); err != nil {
		return a.again(c, nil, "passphrase", err, func(*page) {})
	}
	if typed["passphrase"] == "" {
		return frame.Go(c, "/screens#lock")
	}
	frame.SetCookie(c, frame.ScreenCookie, a.Studio.Access.Open())
	return frame.Go(c, "/screens#lock")
}

// A door is what someone sees who is not in yet.
type signInPage struct {
	To     string
	Fields []form.View
}

func (a *area) askCode(c *gin.Context) error {
	return a.door(c, http.StatusOK, map[string]string{"code": c.Query("code"), "to": c.Query("to")}, form.NewNotices())
}

func (a *area) door(c *gin.Context, status int, typed map[string]string, n form.Notices) error {
	field := func(key string, words msg.ID, hint msg.ID) form.View {
		return form.View{Key: key, Label: words, Hint: hint, Kind: form.Line, Value: typed[key], Error: n.Errors[key]}
	}
	return a.Show(c, status, "pair",
		frame.Page{Title: msg.ID("Pair this device"), Data: signInPage{frame.Local(typed["to"], ""), []form.View{
			field("code", "Code", "as the main screen shows it"), field("name", "Name of this device", "Bench tablet"),
		}}})
}

func (a *area) pair(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	token, v, err := a.Studio.Access.Pair(c.Request.Context(), typed["code"], typed["name"], frame.Source(c))
	if refused, ok := frame.Refusal(err); ok {
		return a.door(c, http.StatusUnprocessableEntity, typed, frame.At(refused, "code"))
	}
	if err != nil {
		return err
	}
	frame.SetCookie(c, frame.DeviceCookie, token)
	first := "/"
	if access.Role(v.May) == access.Bench {
		first = "/bench"
	}
	return frame.Go(c, frame.Local(typed["to"], first))
}

func (a *area) askPassphrase(c *gin.Context) error {
	return a.lockedDoor(c, http.StatusOK, c.Query("to"), form.NewNotices())
}

func (a *area) lockedDoor(c *gin.Context, status int, to string, n form.Notices) error {
	return a.Show(c, status, "unlock", frame.Page{Title: msg.ID("Locked"),
		Data: signInPage{frame.Local(to, ""), []form.View{
			{Key: "passphrase", Label: msg.ID("Passphrase"), Kind: form.Secret, Error: n.Errors["passphrase"]},
		}}})
}

func (a *area) unlock(c *gin.Context) error {
	token, err := a.Studio.Access.Unlock(c.PostForm("passphrase"), frame.Source(c))
	if refused, ok := frame.Refusal(err); ok {
		return a.lockedDoor(c, http.StatusUnprocessableEntity, c.PostForm("to"), frame.At(refused, "passphrase"))
	}
	if err != nil {
		return err
	}
	frame.SetCookie(c, frame.ScreenCookie, token)
	return frame.Go(c, frame.Local(c.PostForm("to"), "/"))
}

func (a *area) lock(c *gin.Context) error {
	a.Studio.Access.LockAll()
	return frame.Go(c, "/unlock")
}
