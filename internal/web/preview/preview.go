// Package preview is the page on which a planned coat is poured on the screen: the
// program reckons the frames, the browser shows them.
package preview

import (
	"context"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/flow"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
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
	const at = "/pieces/:id/preview"
	a.GET(at, a.show)
	a.POST(at+"/moves", a.make)
	s := f.Studio.Preview
	for name, do := range map[string]change{"undo": s.Undo, "redo": s.Redo, "keep": s.Keep, "drop": s.Drop, "swap": s.Swap} {
		a.POST(at+"/"+name, a.change(do))
	}
	a.POST(at+"/set", a.set)
	a.GET(at+"/still.png", a.still)
	a.POST(at+"/apply", a.apply)
	a.GET(at+"/small.png", a.small)
	a.GET("/preview/:key/events", a.events)
	a.GET("/preview/:key/frames/:n/:what", a.picture)
	a.GET("/preview/:key/moving.png", a.moving)
	a.POST("/preview/:key/stop", a.stop)
	return nil
}

// A previewPage is a coat about to be played.
type previewPage struct {
	preview.View
	Play   *preview.Play
	Kept   *preview.Play // put aside to compare with; nil for none
	Broken string
	Sys    units.System
	Rules  []preview.HandRule
	Typed  map[string]string
	Notice *form.Refused
	Photos []journal.Photo // of the coat, to lay over the board
}

// Cups are those of the scene, with what they were meant to show.
func (p previewPage) Cups() []plan.Cup { return p.Coat.Cups }

// At is where a moment lies on the time line, in per cent.
func (p previewPage) At(seconds float64) string {
	s := p.Play.Scene
	return strconv.FormatFloat(100*math.Max(0, math.Min(1, (seconds-s.From)/(s.Until-s.From))), 'f', 2, 64)
}

// A stretch is a window on the time line.
type stretch struct{ Name, From, Wide string }

// Windows are those of the clock that lie on the time line.
func (p previewPage) Windows() []stretch {
	var out []stretch
	for _, w := range p.Play.Scene.Windows {
		if rank, ok := shown[w.Phase]; !ok || rank == 0 {
			continue
		}
		from, to := p.share(60*w.From), p.share(60*w.To)
		if to-from > 0.5 {
			out = append(out, stretch{strings.ToUpper(string(w.Phase[:1])) + string(w.Phase[1:]), fixed(from), fixed(to - from)})
		}
	}
	return out
}

// shown are the windows in which a film still moves.
var shown = map[cure.Phase]int{cure.Runny: 1, cure.Lacing: 2, cure.Holding: 3}

// Acts are the steps of the technique on the time line.
func (p previewPage) Acts() []stretch {
	var out []stretch
	for _, a := range p.Play.Scene.Acts {
		from, to := p.share(a.From), p.share(a.To)
		if to > from {
			out = append(out, stretch{a.Name, fixed(from), fixed(to - from)})
		}
	}
	return out
}

func (p previewPage) share(seconds float64) float64 {
	s := p.Play.Scene
	return 100 * math.Max(0, math.Min(1, (seconds-s.From)/(s.Until-s.From)))
}

func fixed(v float64) string { return strconv.FormatFloat(v, 'f', 2, 64) }

// Poured reports whether something was poured by hand that the plan can take over.
func (p previewPage) Poured() bool {
	return slices.ContainsFunc(p.Tried.Moves, func(h preview.Hand) bool { rule, _ := preview.RuleOf(h.Kind); return rule.Thing != "" })
}

// Told says a move made by hand.
func (p previewPage) Told(h preview.Hand) string {
	rule, _ := preview.RuleOf(h.Kind)
	text := rule.Name
	if c := p.Coat.Layer.Coat.Colour(h.Cup); rule.Pours && c != nil {
		text += " of " + c.Name + ", " + h.Amount.Text(p.Sys)
	}
	if rule.Sided() {
		text += " at the " + h.Side
	}
	return fmt.Sprintf("%s at %s min", text, strconv.FormatFloat(h.Minute, 'f', -1, 64))
}

func (a *area) show(c *gin.Context) error {
	v, err := a.Studio.Preview.View(c.Request.Context(), frame.ID(c), c.Query("coat"))
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, v, nil, nil)
}

func (a *area) send(c *gin.Context, status int, v preview.View, typed map[string]string, refused *form.Refused) error {
	page := previewPage{View: v, Sys: v.Agenda.Book.Settings.Units, Rules: preview.HandRules, Typed: typed, Notice: refused}
	var err error
	if page.Play, err = a.Studio.Preview.Play(v); err != nil {
		page.Broken = err.Error()
	} else if v.Tried.Kept != nil {
		if kept, err := v.Kept(); err == nil {
			page.Kept, _ = a.Studio.Preview.Play(kept) // without it the page shows one
		}
	}
	all, err := a.Studio.Journal.Photos(c.Request.Context(), v.Piece.ID)
	if err != nil {
		return err
	}
	for _, p := range all {
		if p.Coat == v.Coat.ID {
			page.Photos = append(page.Photos, p)
		}
	}
	if frame.FromHTMX(c) {
		return a.Part(c, status, "preview", "preview", page)
	}
	return a.Show(c, status, "preview", frame.Page{Title: "Preview: " + v.Piece.Name, Nav: "pieces", Data: page})
}

// changed answers a change with the page as it now is, or with what was wrong.
func (a *area) changed(c *gin.Context, typed map[string]string, do func(preview.View) error) error {
	v, err := a.Studio.Preview.View(c.Request.Context(), frame.ID(c), typed["coat"])
	if err != nil {
		return err
	}
	if err := do(v); err != nil {
		var r *form.Refused
		if !errors.As(err, &r) {
			return err
		}
		return a.send(c, http.StatusUnprocessableEntity, v, typed, r)
	}
	v, err = a.Studio.Preview.View(c.Request.Context(), frame.ID(c), typed["coat"])
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, v, nil, nil)
}

func (a *area) make(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	return a.changed(c, typed, func(v preview.View) error {
		h, err := hand(typed, v.Agenda.Book.Settings.Units)
		if err != nil {
			return err
		}
		return a.Studio.Preview.Make(c.Request.Context(), v, h)
	})
}

// hand reads a move as it was typed.
func hand(typed map[string]string, sys units.System) (preview.Hand, error) {
	h := preview.Hand{Kind: typed["kind"], Cup: typed["cup"]}
	rule, _ := preview.RuleOf(h.Kind)
	var err error
	if h.Minute, err = number(typed, "minute", 0); err != nil {
		return h, err
	}
	if rule.Points > 0 {
		if h.Points, err = pieces.ParsePoints(typed["points"]); err != nil {
			return h, &form.Refused{Field: "points", Err: err}
		}
	}
	if rule.Pours {
		bare := "ml"
		if sys == units.US {
			bare = "floz"
		}
		v, err := units.ParseVolume(typed["amount"], bare)
		if err != nil {
			return h, &form.Refused{Field: "amount", Err: err}
		}
		h.Amount = v.Value
	}
	if rule.Sided() {
		h.Side = typed["side"]
	}
	if rule.Tilts {
		if h.Tilt[0], err = number(typed, "tilt_x", 0); err != nil {
			return h, err
		}
		if h.Tilt[1], err = number(typed, "tilt_y", 0); err != nil {
			return h, err
		}
	}
	h.For, err = number(typed, "for", 0)
	return h, err
}

func number(typed map[string]string, field string, usual float64) (float64, error) {
	text := strings.TrimSpace(typed[field])
	if text == "" {
		return usual, nil
	}
	v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, form.Refusef(field, "%q is not a number", text)
	}
	return v, nil
}

// A change is one of what was tried on a coat.
type change func(ctx context.Context, piece int64, coat string) error

// change answers a change that needs nothing typed.
func (a *area) change(do change) frame.Handler {
	return func(c *gin.Context) error {
		typed, err := frame.Typed(c)
		if err != nil {
			return err
		}
		return a.changed(c, typed, func(v preview.View) error {
			return do(c.Request.Context(), v.Piece.ID, v.Coat.ID)
		})
	}
}

func (a *area) set(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	return a.changed(c, typed, func(v preview.View) error {
		way, err := wayOf(typed)
		if err != nil {
			return err
		}
		return a.Studio.Preview.Set(c.Request.Context(), v.Piece.ID, v.Coat.ID, way)
	})
}

// wayOf reads how a coat is to be played.
func wayOf(typed map[string]string) (preview.Way, error) {
	w := preview.Way{Plain: typed["own"] == "no", Turned: typed["turned"] == "yes"}
	seed, err := number(typed, "seed", 1)
	if err != nil {
		return w, err
	}
	if !(seed >= 0 && seed < 1e9) {
		return w, form.Refusef("seed", "a draw is a number from 0 on")
	}
	w.Seed = uint64(seed)
	white, err := number(typed, "white", 0)
	if err != nil {
		return w, err
	}
	w.White = int64(white)
	for field, to := range map[string]*float64{"later": &w.Later, "bed": &w.Bed, "wide": &w.Wide} {
		if *to, err = number(typed, field, 0); err != nil {
			return w, err
		}
	}
	return w, nil
}

// wayFields are a way as a form or an address has it.
func wayFields(w preview.Way) url.Values {
	v := url.Values{"seed": {strconv.FormatUint(w.Seed, 10)}}
	for field, of := range map[string]float64{"later": w.Later, "bed": w.Bed, "wide": w.Wide, "white": float64(w.White)} {
		if of != 0 {
			v.Set(field, strconv.FormatFloat(of, 'f', -1, 64))
		}
	}
	if w.Plain {
		v.Set("own", "no")
	}
	if w.Turned {
		v.Set("turned", "yes")
	}
	return v
}

// A choice is another way to play the coat, as the page offers it.
type choice struct {
	Name   string
	Fields url.Values
	Small  string // the query of its picture
}

// Choices are the other ways.
func (p previewPage) Choices() []choice {
	var out []choice
	for _, v := range p.Variants(p.Play.Scene.Ribbons()) {
		fields := wayFields(v.Way)
		fields.Set("coat", p.Coat.ID)
		out = append(out, choice{v.Name, fields, "?" + fields.Encode()})
	}
	return out
}

// small shows a coat played another way.
func (a *area) small(c *gin.Context) error {
	typed := frame.Flat(c.Request.URL.Query())
	v, err := a.Studio.Preview.View(c.Request.Context(), frame.ID(c), typed["coat"])
	if err != nil {
		return err
	}
	way, err := wayOf(typed)
	if err != nil {
		return err
	}
	data, err := a.Studio.Preview.Small(c.Request.Context(), v, way)
	if err != nil {
		return err
	}
	c.Header("Cache-Control", "no-cache")
	c.Data(http.StatusOK, "image/png", data)
	return nil
}

// apply takes what was poured by hand over into the plan.
func (a *area) apply(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	return a.changed(c, typed, func(v preview.View) error {
		_, err := a.Studio.Preview.Apply(c.Request.Context(), v)
		return err
	})
}

// events tells of frames as they are reckoned.
func (a *area) events(c *gin.Context) error {
	p, ok := a.Studio.Preview.Find(c.Param("key"))
	if !ok {
		return errGone
	}
	settings, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	stream := frame.OpenStream(c)
	ctx := c.Request.Context()
	var s preview.State
	for seen := 0; ; {
		was := s
		s = p.Wait(ctx, was)
		if s.Waiting && !was.Waiting && !event(stream, "waiting", map[string]string{"words": "Two coats are being reckoned already; this one waits for its turn."}) {
			return nil
		}
		for ; seen < s.Frames; seen++ {
			if f, ok := p.Frame(seen); ok && !event(stream, "frame", told(p, seen, f, settings.Units)) {
				return nil
			}
		}
		switch {
		case ctx.Err() != nil:
			return nil
		case s.Ended && s.Err != nil:
			event(stream, "failed", map[string]string{"words": why(s.Err)})
			return nil
		case s.Ended:
			event(stream, "whole", map[string]int{"frames": seen})
			return nil
		}
	}
}

// errGone is a play that is no longer held.
var errGone = form.Refusef("", "this preview is no longer held; open the page again")

func why(err error) string {
	var m flow.MoveError
	if errors.Is(err, context.Canceled) {
		return "Stopped: the preview goes as far as it was reckoned."
	}
	if errors.As(err, &m) {
		return fmt.Sprintf("One of the moves cannot be made: %v.", m.Err)
	}
	return "The preview was not finished: " + err.Error() + "."
}

func event(s *frame.Stream, name string, data any) bool {
	text, err := json.Marshal(data)
	return err == nil && s.Send(name, string(text))
}

func (a *area) picture(c *gin.Context) error {
	p, ok := a.Studio.Preview.Find(c.Param("key"))
	if !ok {
		return errGone
	}
	n, err := strconv.Atoi(c.Param("n"))
	if err != nil {
		return errGone
	}
	f, ok := p.Frame(n)
	if !ok {
		return errGone
	}
	c.Header("Cache-Control", "private, max-age=3600, immutable")
	switch c.Param("what") {
	case "picture.png":
		c.Data(http.StatusOK, "image/png", f.Picture)
	case "relief.png":
		c.Data(http.StatusOK, "image/png", f.Relief)
	case "layers":
		return a.layers(c, p, n)
	case "still.png":
		data, err := p.Still(f)
		if err != nil {
			return err
		}
		c.Header("Content-Disposition", `attachment; filename="`+stillName(p, f)+`"`)
		c.Data(http.StatusOK, "image/png", data)
	default:
		return errGone
	}
	return nil
}

// still is how a coat looked at the end of its last preview.
func (a *area) still(c *gin.Context) error {
	data, err := a.Studio.Preview.StillPicture(c.Request.Context(), frame.ID(c), c.Query("coat"))
	if err != nil {
		return err
	}
	if c.Query("look") != "" {
		c.Header("Cache-Control", "private, max-age=86400, immutable")
	}
	c.Data(http.StatusOK, "image/png", data)
	return nil
}

// moving is the whole play as an animated picture.
func (a *area) moving(c *gin.Context) error {
	p, ok := a.Studio.Preview.Find(c.Param("key"))
	if !ok {
		return errGone
	}
	data, err := p.Moving()
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="%d-%s-moving.png"`, p.Piece, p.Coat))
	c.Data(http.StatusOK, "image/apng", data)
	return nil
}

// stop ends a play that nobody waits for any longer.
func (a *area) stop(c *gin.Context) error {
	a.Studio.Preview.Stop(c.Param("key"))
	c.Status(http.StatusNoContent)
	return nil
}

// stillName is the name of a still as a file.
func stillName(p *preview.Play, f *preview.Frame) string {
	return fmt.Sprintf("%d-%s-%.0f-min.png", p.Piece, p.Coat, f.At/60)
}

// layers answers what lies under the loupe.
func (a *area) layers(c *gin.Context, p *preview.Play, n int) error {
	x, errX := strconv.ParseFloat(c.Query("x"), 64)
	y, errY := strconv.ParseFloat(c.Query("y"), 64)
	if errX != nil || errY != nil {
		return errGone
	}
	settings, err := a.Studio.Setup.Settings(c.Request.Context())
	if err != nil {
		return err
	}
	seen, err := p.Loupe(n, geom.At(x, y))
	if err != nil {
		c.JSON(http.StatusOK, []layer{})
		return nil
	}
	out := []layer{}
	for _, s := range seen {
		l := layer{Film: film(s.Film, settings.Units), Hides: percent(s.Hiding)}
		if s.Cup == flow.Mixed {
			l.Name = "stirred together"
		} else {
			cup := p.Scene.Cups[s.Cup]
			l.Name, l.Swatch = cup.Colour.Name, cup.Look.Film
		}
		out = append(out, l)
	}
	c.JSON(http.StatusOK, out)
	return nil
}

// A layer is one line under the loupe.
type layer struct {
	Name   string `json:"name"`
	Swatch string `json:"swatch"`
	Film   string `json:"film"`
	Hides  string `json:"hides"`
}
