// Package preview is the page on which a planned coat is poured on the screen: the
// program calculates the frames, the browser shows them.
package preview

import (
	"embed"
	"errors"
	"math"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/preview"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
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
	changes := map[string]change{"undo": s.Undo, "redo": s.Redo, "keep": s.Keep, "drop": s.Drop, "swap": s.Swap}
	for name, do := range changes {
		a.POST(at+"/"+name, a.change(do))
	}
	a.POST(at+"/set", a.set)
	a.GET(at+"/still.png", a.still)
	a.POST(at+"/apply", a.apply)
	a.GET(at+"/small.png", a.small)
	a.GET(at+"/ranges", a.ranges)
	a.GET(at+"/differing.png", a.differing)
	a.GET(at+"/helps", a.helps)
	a.GET(at+"/most", a.most)
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
	Broken msg.Text
	Sys    units.System
	Rules  []preview.HandRule
	Typed  map[string]string
	Notice *form.Refused
	Photos []journal.Photo // of the coat, to lay over the board
}

// Shown are the cups of the scene, with what they were meant to show, and its powder.
func (p previewPage) Shown() []plan.Cup { return p.Play.Scene.Cups }

// Alcohol reports whether the coat takes some, which the preview knows nothing of.
func (p previewPage) Alcohol() bool {
	return slices.ContainsFunc(p.Coat.Materials, func(m plan.Material) bool { return m.Burns && m.Amount > 0 })
}

// Cups are those that can be poured from.
func (p previewPage) Cups() []plan.Cup { return p.Coat.Cups }

// At is where a moment lies on the time line, in per cent.
func (p previewPage) At(seconds float64) string {
	s := p.Play.Scene
	return strconv.FormatFloat(100*math.Max(0, math.Min(1, (seconds-s.From)/(s.Until-s.From))), 'f', 2, 64)
}

// A stretch is a window on the time line.
type stretch struct {
	Name msg.Text
	From string
	Wide string
}

// Windows are those of the clock that lie on the time line.
func (p previewPage) Windows() []stretch {
	var out []stretch
	for _, w := range p.Play.Scene.Windows {
		if rank, ok := shown[w.Phase]; !ok || rank == 0 {
			continue
		}
		from, to := p.share(60*w.From), p.share(60*w.To)
		if to-from > 0.5 {
			out = append(out, stretch{msg.Capital(msg.ID(w.Phase)), fixed(from), fixed(to - from)})
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
	return slices.ContainsFunc(
		p.Tried.Moves,
		func(h preview.Hand) bool { rule, _ := preview.RuleOf(h.Kind); return rule.Thing != "" },
	)
}

// Told says a move made by hand.
func (p previewPage) Told(h preview.Hand) msg.Text {
	rule, _ := preview.RuleOf(h.Kind)
	text := msg.Text(rule.Name)
	if c := p.Coat.Layer.Coat.Colour(h.Cup); rule.Pours && c != nil {
		text = msg.F("%s of %s, %s", text, words.Filled(c.Name), h.Amount.Text(p.Sys))
	}
	if rule.Sided() {
		text = msg.F("%s at the %s", text, msg.ID(h.Side))
	}
	return msg.F("%s at %s min", text, msg.Figure(strconv.FormatFloat(h.Minute, 'f', -1, 64)))
}

func (a *area) show(c *gin.Context) error {
	v, err := a.Studio.Preview.View(c.Request.Context(), frame.ID(c), c.Query("coat"))
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, v, nil, nil)
}

func (a *area) send(c *gin.Context, status int, v preview.View, typed map[string]string, refused *form.Refused) error {
	page := previewPage{
		View:   v,
		Sys:    v.Agenda.Book.Settings.Units,
		Rules:  preview.HandRules,
		Typed:  typed,
		Notice: refused,
	}
	var err error
	if page.Play, err = a.Studio.Preview.Play(v); err != nil {
		page.Broken = msg.Of(err)
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
	return a.Show(c, status, "preview", frame.Page{Title: msg.F("Preview: %s", v.Piece.Name), Nav: "pieces", Data: page})
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

// slowFrom is from which time on a play says beforehand how long it takes.
const slowFrom = time.Minute

// Slow says how long the play takes when that is long; "" otherwise.
func (p previewPage) Slow() msg.Text {
	if p.Play.Takes < slowFrom {
		return nil
	}
	return msg.F("This takes about %s.", words.Spoken(p.Play.Takes.Minutes()))
}

// A choice is another way to play the coat, as the page offers it.
type choice struct {
	Name   msg.Text
	Fields url.Values
	Small  string // the query of its picture
}

// Choices are the other ways.
func (p previewPage) Choices() []choice {
	var out []choice
	for _, v := range p.Variants(p.Play.Scene.Ribbons()) {
		out = append(out, choiceOf(v.Name, v.Way, p.Coat.ID))
	}
	return out
}

func choiceOf(name msg.Text, way preview.Way, coat string) choice {
	fields := wayFields(way)
	fields.Set("coat", coat)
	return choice{name, fields, "?" + fields.Encode()}
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
	sendPNG(c, data)
	return nil
}

// sendPNG sends a picture that may be another one next time.
func sendPNG(c *gin.Context, data []byte) {
	c.Header("Cache-Control", "no-cache")
	c.Data(http.StatusOK, "image/png", data)
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
