package web

import (
	"math"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/surface"
	"jevvo/internal/studio"
)

func (s *Server) composeRoutes(e *gin.Engine) {
	g := e.Group("/pieces/:id/composition")
	g.GET("", s.showComposition)
	g.POST("/start", s.composing(func(c *gin.Context, v composeValues) (studio.Piece, string, error) {
		p, err := s.studio.StartComposition(c.Request.Context(), id(c), v.coat, v.typed["start"])
		return p, "", err
	}))
	g.POST("/clear", s.composing(func(c *gin.Context, v composeValues) (studio.Piece, string, error) {
		p, err := s.studio.ClearComposition(c.Request.Context(), id(c), v.coat)
		return p, "", err
	}))
	g.POST("/undo", s.composing(func(c *gin.Context, v composeValues) (studio.Piece, string, error) {
		p, err := s.studio.Undo(c.Request.Context(), id(c))
		return p, v.sel, err
	}))
	g.POST("/redo", s.composing(func(c *gin.Context, v composeValues) (studio.Piece, string, error) {
		p, err := s.studio.Redo(c.Request.Context(), id(c))
		return p, v.sel, err
	}))
	g.POST("/things", s.composing(s.addThing))
	t := g.Group("/things/:thing")
	t.POST("", s.editThing)
	t.POST("/move", s.composing(s.moveThing))
	t.POST("/remove", s.composing(func(c *gin.Context, _ composeValues) (studio.Piece, string, error) {
		p, err := s.studio.RemoveThing(c.Request.Context(), id(c), c.Param("thing"))
		return p, "", err
	}))
	t.POST("/copy", s.composing(func(c *gin.Context, _ composeValues) (studio.Piece, string, error) {
		return s.studio.CopyThing(c.Request.Context(), id(c), c.Param("thing"))
	}))
}

// composeValues are what every change on the composition page sends along.
type composeValues struct {
	typed     map[string]string
	coat, sel string
	placing   studio.Placing
}

func readComposeValues(typed map[string]string) composeValues {
	v := composeValues{typed: typed, coat: typed["coat"], sel: typed["sel"]}
	if v.coat == "" {
		v.coat = "first"
	}
	v.placing.Snap = typed["snap"] != "no"
	v.placing.Grid, _ = strconv.ParseFloat(typed["grid"], 64)
	if !(v.placing.Grid >= 0 && v.placing.Grid <= 500) {
		v.placing.Grid = 0
	}
	return v
}

// composing runs a change and answers with the page's changing part.
func (s *Server) composing(do func(*gin.Context, composeValues) (studio.Piece, string, error)) gin.HandlerFunc {
	return func(c *gin.Context) {
		typed, ok := s.typed(c)
		if !ok {
			return
		}
		v := readComposeValues(typed)
		p, sel, err := do(c, v)
		if err != nil {
			s.fail(c, err)
			return
		}
		v.sel = sel
		s.sendComposition(c, p, v, studio.Notices{})
	}
}

func (s *Server) addThing(c *gin.Context, v composeValues) (studio.Piece, string, error) {
	t := composition.Thing{Kind: composition.Kind(v.typed["kind"]), Cup: v.typed["cup"], Coat: v.coat}
	if text := strings.TrimSpace(v.typed["points"]); text != "" {
		points, err := studio.ParsePoints(text)
		if err != nil {
			return studio.Piece{}, "", &studio.RefusedError{Err: err}
		}
		t.Points = points
	} else if plan, err := s.studio.Plan(c.Request.Context(), id(c)); err == nil && len(plan.Boards) > 0 {
		t.Points = inTheMiddle(t.Kind, plan.Boards[0])
	}
	return s.studio.AddThing(c.Request.Context(), id(c), t, v.placing)
}

// inTheMiddle is where a thing goes that is placed without a pointer.
func inTheMiddle(k composition.Kind, board surface.Shape) []surface.Point {
	rule, _ := composition.RuleOf(k)
	w, h := float64(board.Bounds().Width()), float64(board.Bounds().Height())
	switch rule.Points {
	case 0:
		return nil
	case 1:
		return []surface.Point{{X: w / 2, Y: h / 2}}
	}
	return []surface.Point{{X: w * 0.15, Y: h / 2}, {X: w * 0.85, Y: h / 2}}
}

func (s *Server) moveThing(c *gin.Context, v composeValues) (studio.Piece, string, error) {
	number := func(key string) float64 {
		f, err := strconv.ParseFloat(v.typed[key], 64)
		if err != nil || math.IsNaN(f) || math.Abs(f) > 1e5 {
			return 0
		}
		return f
	}
	at := -1
	if text := v.typed["at"]; text != "" {
		n, err := strconv.Atoi(text)
		if err != nil || n < 0 {
			n = math.MaxInt
		}
		at = n
	}
	p, err := s.studio.MoveThing(c.Request.Context(), id(c), c.Param("thing"), at, number("dx"), number("dy"), v.placing)
	return p, c.Param("thing"), err
}

func (s *Server) editThing(c *gin.Context) {
	typed, ok := s.typed(c)
	if !ok {
		return
	}
	p, notices, err := s.studio.EditThing(c.Request.Context(), id(c), c.Param("thing"), typed)
	if err != nil {
		s.fail(c, err)
		return
	}
	v := readComposeValues(typed)
	v.sel = c.Param("thing")
	s.sendComposition(c, p, v, notices)
}

// A composePage is the board with its things, one of them selected.
type composePage struct {
	studio.Plan
	studio.Composition
	Key     string // of the coat
	Coats   []studio.CoatPlan
	Sel     *studio.ThingView
	Values  map[string]string
	Notices studio.Notices
	Kinds   []composition.KindRule
	Kind    string // last placed
	Cup     string
	Placing studio.Placing
	Board   stageBoard
}

// A stageBoard is the drawing surface: the board in mm with its view box.
type stageBoard struct {
	X, Y, W, H   float64
	BoardW       float64
	BoardH       float64
	Path, Ground string
	Line, Handle float64
	Below, Top   []stageShape
}

type stageShape struct {
	Thing, Path, Fill, Label string
	Selected, Hollow         bool
	Points                   []surface.Point
}

func (s *Server) showComposition(c *gin.Context) {
	p, err := s.studio.Piece(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sendComposition(c, p, readComposeValues(flat(c.Request.URL.Query())), studio.Notices{})
}

func (s *Server) sendComposition(c *gin.Context, p studio.Piece, v composeValues, n studio.Notices) {
	plan, err := s.studio.PlanPiece(c.Request.Context(), p)
	if err != nil {
		s.fail(c, err)
		return
	}
	drawn, err := plan.Composition(v.coat)
	if err != nil {
		s.fail(c, err)
		return
	}
	page := composePage{Plan: plan, Composition: drawn, Key: v.coat, Notices: n, Kinds: composition.Kinds, Kind: v.typed["kind"], Cup: v.typed["cup"], Placing: v.placing}
	for _, coat := range plan.Coats {
		if len(coat.Colours) > 1 {
			page.Coats = append(page.Coats, coat)
		}
	}
	for i := range drawn.Things {
		if drawn.Things[i].ID == v.sel {
			page.Sel = &drawn.Things[i]
			page.Values = plan.ThingValues(drawn.Things[i].Thing)
		}
	}
	for key := range n.Errors {
		page.Values[key] = v.typed[key]
	}
	page.Board = stage(page)
	if fromHTMX(c) {
		s.fragment(c, http.StatusOK, "compose", "compose", page)
		return
	}
	s.show(c, http.StatusOK, "compose", Page{Title: "Composition: " + plan.Piece.Name, Nav: "pieces", Data: page})
}

// stage prepares the drawing.
func stage(p composePage) stageBoard {
	board := p.Boards[0]
	w, h := float64(board.Bounds().Width()), float64(board.Bounds().Height())
	m := math.Max(w, h)
	b := stageBoard{X: -0.04 * m, Y: -0.04 * m, W: w + 0.08*m, H: h + 0.08*m, BoardW: w, BoardH: h,
		Path: board.Path(), Ground: p.Piece.Ground, Line: m / 400, Handle: m / 70}
	for _, r := range p.Below {
		b.Below = append(b.Below, stageShape{Path: r.Path(), Fill: fillOf(p, p.under(), r.Colour)})
	}
	views := map[string]studio.ThingView{}
	for _, t := range p.Things {
		views[t.ID] = t
	}
	for _, r := range p.Regions {
		shape := stageShape{Thing: r.Thing, Path: r.Path(), Fill: fillOf(p, p.Key, r.Colour)}
		if t, ok := views[r.Thing]; ok {
			shape.Points, shape.Label = t.Points, thingLabel(p, t)
			shape.Hollow = !t.Rule.Pours
			shape.Selected = p.Sel != nil && p.Sel.ID == t.ID
		}
		b.Top = append(b.Top, shape)
	}
	return b
}

// under is the key of the coat below.
func (p composePage) under() string {
	key := ""
	for _, c := range p.Plan.Coats {
		if c.Key == p.Key {
			break
		}
		key = c.Key
	}
	return key
}

// fillOf is a cup's swatch in a coat.
func fillOf(p composePage, coat, cup string) string {
	for _, c := range p.Plan.Coats {
		if c.Key != coat {
			continue
		}
		for _, k := range c.Cups {
			if k.Colour.ID == cup {
				return k.Swatch()
			}
		}
	}
	return "none"
}

func thingLabel(p composePage, t studio.ThingView) string {
	words := t.Rule.Name
	if t.Colour.Name != "" {
		words += " of " + t.Colour.Name
	}
	if t.Amount > 0 {
		words += ", " + t.Amount.Text(p.Settings.Units)
	}
	if t.Width > 0 && t.Kind != composition.Bed && t.Kind != composition.Zone {
		words += ", " + t.Width.Text(p.Settings.Units) + " wide"
	}
	return words
}
