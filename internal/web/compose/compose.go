// Package compose is the page on which things are placed on a board, by
// pointer, by keyboard, or typed.
package compose

import (
	"embed"
	"math"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/geom"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

//go:embed all:templates
var templates embed.FS

type area struct{ *frame.Area }

// A change is one edit on the board. It returns the thing to select next.
type change func(c *gin.Context, v values) (pieces.Piece, string, error)

// Routes adds the area to the frame.
func Routes(f *frame.Frame) error {
	pages, err := f.Area(templates)
	if err != nil {
		return err
	}
	a := &area{pages}
	const at = "/pieces/:id/composition"
	a.GET(at, a.show)
	for path, do := range map[string]change{
		"/start": a.start, "/clear": a.clear, "/undo": a.undo, "/redo": a.redo, "/things": a.add,
		"/things/:thing/move": a.move, "/things/:thing/remove": a.remove, "/things/:thing/copy": a.copy,
	} {
		a.POST(at+path, a.changing(do))
	}
	a.POST(at+"/things/:thing", a.edit)
	return nil
}

// values are the values sent with every change on the page.
type values struct {
	typed     map[string]string
	coat, sel string
	placing   pieces.Placing
}

// coarsest is the widest grid that can be typed, in mm.
const coarsest = 500

func read(typed map[string]string) values {
	v := values{typed: typed, coat: typed["coat"], sel: typed["sel"]}
	v.placing.Snap = typed["snap"] != "no"
	v.placing.Grid, _ = strconv.ParseFloat(typed["grid"], 64)
	if !(v.placing.Grid >= 0 && v.placing.Grid <= coarsest) {
		v.placing.Grid = 0
	}
	return v
}

// changing runs a change and answers with the page's changing part.
func (a *area) changing(do change) frame.Handler {
	return func(c *gin.Context) error {
		typed, err := frame.Typed(c)
		if err != nil {
			return err
		}
		v := read(typed)
		p, sel, err := do(c, v)
		if err != nil {
			return err
		}
		v.sel = sel
		return a.send(c, http.StatusOK, p, v, form.NewNotices())
	}
}

func (a *area) start(c *gin.Context, v values) (pieces.Piece, string, error) {
	p, err := a.Studio.Pieces.StartComposition(c.Request.Context(), frame.ID(c), v.coat, v.typed["start"])
	return p, "", err
}

func (a *area) clear(c *gin.Context, v values) (pieces.Piece, string, error) {
	p, err := a.Studio.Pieces.ClearComposition(c.Request.Context(), frame.ID(c), v.coat)
	return p, "", err
}

func (a *area) undo(c *gin.Context, v values) (pieces.Piece, string, error) {
	p, err := a.Studio.Pieces.Undo(c.Request.Context(), frame.ID(c))
	return p, v.sel, err
}

func (a *area) redo(c *gin.Context, v values) (pieces.Piece, string, error) {
	p, err := a.Studio.Pieces.Redo(c.Request.Context(), frame.ID(c))
	return p, v.sel, err
}

func (a *area) remove(c *gin.Context, v values) (pieces.Piece, string, error) {
	p, err := a.Studio.Pieces.RemoveThing(c.Request.Context(), frame.ID(c), v.coat, c.Param("thing"))
	return p, "", err
}

func (a *area) copy(c *gin.Context, v values) (pieces.Piece, string, error) {
	return a.Studio.Pieces.CopyThing(c.Request.Context(), frame.ID(c), v.coat, c.Param("thing"))
}

func (a *area) add(c *gin.Context, v values) (pieces.Piece, string, error) {
	t := composition.Thing{Kind: composition.Kind(v.typed["kind"]), Cup: v.typed["cup"]}
	if text := strings.TrimSpace(v.typed["points"]); text != "" {
		points, err := pieces.ParsePoints(text)
		if err != nil {
			return pieces.Piece{}, "", &form.Refused{Field: "points", Err: err}
		}
		t.Points = points
	}
	return a.Studio.Pieces.AddThing(c.Request.Context(), frame.ID(c), v.coat, t, v.placing)
}

func (a *area) move(c *gin.Context, v values) (pieces.Piece, string, error) {
	at := -1
	if text := v.typed["at"]; text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 0 {
			n = math.MaxInt
		}
		at = n
	}
	thing := c.Param("thing")
	p, err := a.Studio.Pieces.MoveThing(c.Request.Context(), frame.ID(c), v.coat, thing, at, millimetres(v.typed["dx"]),
		millimetres(v.typed["dy"]), v.placing)
	return p, thing, err
}

// millimetres reads how far a pointer has moved; nothing for what is no number.
func millimetres(text string) float64 {
	f, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsNaN(f) || math.Abs(f) > 1e5 {
		return 0
	}
	return f
}

func (a *area) edit(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	v := read(typed)
	v.sel = c.Param("thing")
	p, n, err := a.Studio.Pieces.EditThing(c.Request.Context(), frame.ID(c), v.coat, v.sel, typed)
	if err != nil {
		return err
	}
	status := http.StatusOK
	if !n.OK() {
		status = http.StatusUnprocessableEntity
	}
	return a.send(c, status, p, v, n)
}

func (a *area) show(c *gin.Context) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	return a.send(c, http.StatusOK, p, read(frame.Flat(c.Request.URL.Query())), form.NewNotices())
}

// A composePage is the board with its things, one of them selected.
type composePage struct {
	plan.Composition
	Piece   pieces.Piece
	Plan    *plan.Plan
	Sys     units.System
	Sel     *plan.ThingView
	Fields  map[string]form.View
	Kinds   []composition.KindRule
	Kind    string // last placed
	Cup     string
	Placing pieces.Placing
	Board   stageBoard
}

// Tells says what a kind of thing is, of the one that is placed.
func (p composePage) Tells() msg.ID {
	rule, ok := composition.RuleOf(composition.Kind(p.Kind))
	if !ok {
		return ""
	}
	return rule.Tells
}

func (a *area) send(c *gin.Context, status int, p pieces.Piece, v values, n form.Notices) error {
	view, err := a.Studio.Agenda.Plan(c.Request.Context(), p)
	if err != nil {
		return err
	}
	coat := view.Plan.Coat(v.coat)
	if coat == nil {
		coat = &view.Plan.Coats[0]
	}
	page := composePage{Composition: view.Plan.Composition(coat), Piece: p, Plan: view.Plan,
		Sys:   view.Agenda.Book.Settings.Units,
		Kinds: composition.Kinds, Kind: v.typed["kind"], Cup: v.typed["cup"], Placing: v.placing}
	for i := range page.Things {
		if page.Things[i].ID == v.sel {
			page.Sel = &page.Things[i]
			page.Fields = pieces.ThingViews(view.Plan, coat, page.Sel.Thing, view.Agenda.Book.Settings.Style(), v.typed, n)
		}
	}
	page.Board = stage(page)
	if frame.FromHTMX(c) {
		return a.Part(c, status, "compose", "compose", page)
	}
	return a.Show(c, status, "compose", frame.Page{Title: msg.F("Composition: %s", p.Name), Nav: "pieces", Data: page})
}

// A stageBoard is the drawing surface: the board in mm with its view box.
type stageBoard struct {
	X, Y, W, H   float64
	Path, Ground string
	Line, Handle float64
	Below        []drawing.Region
	Top          []stageShape
}

type stageShape struct {
	Thing            string
	Path             string
	Fill             string
	Label            msg.Text
	Selected, Hollow bool
	Points           []geom.Point
}

// stage prepares the drawing.
func stage(p composePage) stageBoard {
	board := p.Plan.Boards[0]
	w, h := float64(board.Bounds().Width()), float64(board.Bounds().Height())
	m := math.Max(w, h)
	b := stageBoard{X: -0.04 * m, Y: -0.04 * m, W: w + 0.08*m, H: h + 0.08*m, Path: board.Path(), Ground: p.Piece.Ground,
		Line: m / 400, Handle: m / 70}
	if p.Under != nil {
		b.Below = drawing.Regions(p.Below, drawing.Fills(p.Under), m)
	}
	views := map[string]plan.ThingView{}
	for _, t := range p.Things {
		views[t.ID] = t
	}
	fills := drawing.Fills(p.Coat)
	for _, r := range p.Regions {
		shape := stageShape{Thing: r.Thing, Path: r.Path(drawing.Detail(m)), Fill: "none"}
		if fill, ok := fills[r.Colour]; ok {
			shape.Fill = fill
		}
		if t, ok := views[r.Thing]; ok {
			shape.Points, shape.Label = t.Points, label(t, p.Sys)
			shape.Hollow = !t.Rule.Pours
			shape.Selected = p.Sel != nil && p.Sel.ID == t.ID
		}
		b.Top = append(b.Top, shape)
	}
	return b
}

func label(t plan.ThingView, sys units.System) msg.Text {
	text := msg.Text(t.Rule.Name)
	if t.Colour.Name != "" {
		text = msg.F("%s of %s", text, words.Filled(t.Colour.Name))
	}
	if t.Amount > 0 {
		text = msg.Join(", ", text, t.Amount.Text(sys))
	}
	if t.Rule.HasWidth() && t.Width > 0 {
		text = msg.F("%s, %s wide", text, t.Width.Text(sys))
	}
	return text
}
