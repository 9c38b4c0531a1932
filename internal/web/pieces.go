package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/exchange/svgoutline"
	"jevvo/internal/studio"
)

func (s *Server) pieceRoutes(e *gin.Engine) {
	e.GET("/pieces", s.listPieces)
	e.POST("/pieces", s.createPiece)
	e.GET("/pieces/new", s.newPiece)
	g := e.Group("/pieces/:id")
	g.GET("", s.showPiece)
	g.POST("/edit", s.editPiece)
	g.POST("/undo", s.stepPiece(s.studio.Undo))
	g.POST("/redo", s.stepPiece(s.studio.Redo))
	g.POST("/colours", s.stepPiece(s.studio.AddColour))
	g.POST("/colours/:colour/remove", s.removeColour)
	g.POST("/copy", s.copyPiece)
	g.POST("/remove", s.removePiece(false))
	g.POST("/restore", s.removePiece(true))
	g.POST("/uses/:coat", s.recordUse)
	g.GET("/run-sheet", s.runSheet)
	g.POST("/outline", s.uploadOutline)
	g.POST("/layers", s.changeLayers("add"))
	g.POST("/layers/usual", s.changeLayers("usual"))
	g.POST("/layers/:layer/:how", s.changeLayers(""))
}

// id reads the record's number from the address.
func id(c *gin.Context) int64 {
	n, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		return 0
	}
	return n
}

// typed returns the posted form as field texts; a form that cannot be read has
// been answered when ok is false.
func (s *Server) typed(c *gin.Context) (values map[string]string, ok bool) {
	if err := c.Request.ParseForm(); err != nil {
		s.fail(c, err)
		return nil, false
	}
	return flat(c.Request.PostForm), true
}

// flat takes the last value of each field, so that a hidden "no" before a
// checkbox is overruled by it.
func flat(form url.Values) map[string]string {
	out := make(map[string]string, len(form))
	for k, v := range form {
		out[k] = v[len(v)-1]
	}
	return out
}

const pageSize = 24

func lastPage(total int) int { return max(1, (total+pageSize-1)/pageSize) }

type pieceList struct {
	Cards      []pieceCard
	Find       string
	Total      int
	Page, Last int
	Removed    int64
}

type pieceCard struct {
	studio.Plan
	Broken string // why it could not be reckoned
	Drawing
}

// card reckons a piece for a list; one that cannot be reckoned says why.
func (s *Server) card(c *gin.Context, p studio.Piece) pieceCard {
	var card pieceCard
	var err error
	if card.Plan, err = s.studio.PlanPiece(c.Request.Context(), p); err != nil {
		card.Broken = err.Error()
		card.Plan = studio.Plan{Piece: p, Settings: card.Plan.Settings}
	}
	card.Drawing = draw(card.Plan)
	return card
}

func (s *Server) listPieces(c *gin.Context) {
	page, _ := strconv.Atoi(c.Query("page"))
	page = max(page, 1)
	find := strings.TrimSpace(c.Query("find"))
	pieces, total, err := s.studio.Pieces(c.Request.Context(), find, pageSize, (page-1)*pageSize)
	if last := lastPage(total); err == nil && page > last { // a page that has gone
		page = last
		pieces, total, err = s.studio.Pieces(c.Request.Context(), find, pageSize, (page-1)*pageSize)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	list := pieceList{Find: find, Total: total, Page: page, Last: lastPage(total)}
	list.Removed, _ = strconv.ParseInt(c.Query("removed"), 10, 64)
	for _, p := range pieces {
		list.Cards = append(list.Cards, s.card(c, p))
	}
	if fromHTMX(c) {
		s.fragment(c, http.StatusOK, "pieces", "cards", list)
		return
	}
	s.show(c, http.StatusOK, "pieces", Page{Title: "Pieces", Nav: "pieces", Data: list})
}

// A formPage is a form with what was typed and what is wrong with it.
type formPage struct {
	Values  map[string]string
	Notices studio.Notices
	Choices choices
	Product studio.Product
	Colours []studio.Colour // of a new piece
}

// choices are the options of select fields.
type choices struct {
	Products   []studio.Product
	Techniques []technique.Technique
	Pigments   []studio.Pigment
	Between    []technique.Technique
	Prepare    []technique.Preparation
}

func (s *Server) choices(c *gin.Context) (choices, error) {
	products, err := s.studio.Products(c.Request.Context())
	if err != nil {
		return choices{}, err
	}
	pigments, err := s.studio.Pigments(c.Request.Context())
	if err != nil {
		return choices{}, err
	}
	book, err := s.studio.Techniques(c.Request.Context())
	return choices{products, book.Coats(), pigments, book.Between(), technique.Preparations}, err
}

func (s *Server) newPiece(c *gin.Context) {
	draft, err := s.studio.Draft(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	set, err := s.studio.Settings(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.pieceForm(c, http.StatusOK, formPage{Values: draft.Values(set.Units), Colours: draft.Colours})
}

func (s *Server) pieceForm(c *gin.Context, status int, f formPage) {
	var err error
	if f.Choices, err = s.choices(c); err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, status, "new", Page{Title: "New piece", Nav: "pieces", Data: f})
}

func (s *Server) createPiece(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	p, notices, err := s.studio.CreatePiece(c.Request.Context(), values)
	if err != nil {
		s.fail(c, err)
		return
	}
	if !notices.OK() {
		s.pieceForm(c, http.StatusUnprocessableEntity, formPage{Values: values, Notices: notices, Colours: p.Colours})
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID))
}

func pieceURL(id int64) string { return "/pieces/" + strconv.FormatInt(id, 10) }

// A piecePage is the page of one piece, whole or in its changing parts.
type piecePage struct {
	studio.Plan
	Drawing Drawing
	Charts  []clockChart
	Values  map[string]string
	Notices studio.Notices
	Choices choices
	Uses    map[string]studio.Use
	Keys    []string // of all typed fields, to refresh what is said beside them
	Live    bool     // only the changing parts are sent
	Broken  string

	Forecast studio.Forecast
	Reliefs  []coatRelief
}

// A coatRelief is what would help a coat that does not fit.
type coatRelief struct {
	Coat string
	Ways []studio.Relief
}

func (s *Server) piecePage(c *gin.Context, p studio.Piece, n studio.Notices) (piecePage, error) {
	page := piecePage{Notices: n}
	var err error
	if page.Choices, err = s.choices(c); err != nil {
		return page, err
	}
	if page.Uses, err = s.studio.Uses(c.Request.Context(), p.ID); err != nil {
		return page, err
	}
	if page.Plan, err = s.studio.PlanPiece(c.Request.Context(), p); err != nil {
		// A plan that cannot be reckoned is shown with the reason, never lost.
		page.Broken = err.Error()
		page.Plan = studio.Plan{Piece: p, Settings: page.Plan.Settings}
	}
	page.Drawing = draw(page.Plan)
	if len(page.Coats) > 0 {
		page.Forecast = page.Plan.Forecast(page.Coats[0])
		for _, coat := range page.Coats {
			page.Reliefs = append(page.Reliefs, coatRelief{coat.Name, page.Plan.Reliefs(coat, page.Choices.Products)})
		}
	}
	for _, coat := range page.Coats {
		page.Charts = append(page.Charts, chart(coat, page.Settings.Units))
	}
	page.Values = p.Values(page.Settings.Units)
	for k := range page.Values {
		page.Keys = append(page.Keys, k)
	}
	return page, nil
}

func (s *Server) showPiece(c *gin.Context) {
	p, err := s.studio.Piece(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	notices := studio.Notices{}
	if c.Query("unsized") != "" {
		notices.Notes = map[string]string{"size": "the drawing names no real size: taken at 96 units to the inch. Type the true width."}
	}
	s.sendPiece(c, http.StatusOK, p, notices, nil)
}

// sendPiece answers with the page, or its changing parts for htmx. typed
// texts that were refused stay in their fields.
func (s *Server) sendPiece(c *gin.Context, status int, p studio.Piece, n studio.Notices, typed map[string]string) {
	page, err := s.piecePage(c, p, n)
	if err != nil {
		s.fail(c, err)
		return
	}
	for key := range n.Errors {
		if text, ok := typed[key]; ok {
			page.Values[key] = text
		}
	}
	if fromHTMX(c) {
		page.Live = true
		block := "piece-live"
		if typed == nil || adopted(p, typed) {
			block = "piece-form" // the fields themselves changed
		}
		s.fragment(c, http.StatusOK, "piece", block, page)
		return
	}
	s.show(c, status, "piece", Page{Title: p.Name, Nav: "pieces", Data: page})
}

// adopted reports whether a colour took on a pigment's swatch, so that its
// fields no longer show what is kept.
func adopted(p studio.Piece, typed map[string]string) bool {
	for _, c := range p.Colours {
		if swatch, ok := typed["colour."+c.ID+".swatch"]; ok && swatch != c.Swatch {
			return true
		}
	}
	return false
}

func (s *Server) editPiece(c *gin.Context) {
	values, ok := s.typed(c)
	if !ok {
		return
	}
	base, _ := strconv.ParseInt(values["rev"], 10, 64)
	p, notices, err := s.studio.EditPiece(c.Request.Context(), id(c), base, values)
	if err != nil {
		s.fail(c, err)
		return
	}
	status := http.StatusOK
	if !notices.OK() {
		status = http.StatusUnprocessableEntity
	}
	s.sendPiece(c, status, p, notices, values)
}

// stepPiece runs a change that takes only the piece.
func (s *Server) stepPiece(do func(ctx context.Context, id int64) (studio.Piece, error)) gin.HandlerFunc {
	return func(c *gin.Context) {
		p, err := do(c.Request.Context(), id(c))
		s.stepped(c, p, err)
	}
}

func (s *Server) stepped(c *gin.Context, p studio.Piece, err error) {
	if err != nil {
		s.fail(c, err)
		return
	}
	if fromHTMX(c) {
		s.sendPiece(c, http.StatusOK, p, studio.Notices{}, nil)
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID))
}

func (s *Server) removeColour(c *gin.Context) {
	p, err := s.studio.RemoveColour(c.Request.Context(), id(c), c.Param("colour"))
	s.stepped(c, p, err)
}

func (s *Server) copyPiece(c *gin.Context) {
	p, err := s.studio.CopyPiece(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID))
}

func (s *Server) removePiece(restore bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		if err := s.studio.RemovePiece(c.Request.Context(), id(c), restore); err != nil {
			s.fail(c, err)
			return
		}
		if restore {
			c.Redirect(http.StatusSeeOther, pieceURL(id(c)))
			return
		}
		c.Redirect(http.StatusSeeOther, "/pieces?removed="+c.Param("id"))
	}
}

func (s *Server) recordUse(c *gin.Context) {
	plan, err := s.studio.Plan(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	key := "used." + c.Param("coat")
	values, ok := s.typed(c)
	if !ok {
		return
	}
	notices := studio.Notices{Errors: map[string]string{}, Notes: map[string]string{}}
	note, err := s.studio.RecordUse(c.Request.Context(), plan, c.Param("coat"), values[key])
	if err != nil {
		notices.Errors[key] = err.Error()
	} else {
		notices.Notes[key] = strings.TrimSpace("recorded; the next estimate learns from it. " + note)
	}
	s.sendPiece(c, http.StatusOK, plan.Piece, notices, values)
}

// changeLayers edits the coat plan; how is in the address when it is empty.
func (s *Server) changeLayers(how string) gin.HandlerFunc {
	return func(c *gin.Context) {
		typed, ok := s.typed(c)
		if !ok {
			return
		}
		do := how
		if do == "" {
			do = c.Param("how")
		}
		p, err := s.studio.ChangeLayers(c.Request.Context(), id(c), do, c.Param("layer"), typed)
		if err != nil {
			s.fail(c, err)
			return
		}
		if fromHTMX(c) {
			s.sendPiece(c, http.StatusOK, p, studio.Notices{}, nil)
			return
		}
		c.Redirect(http.StatusSeeOther, pieceURL(p.ID)+"#days")
	}
}

// uploadOutline takes a board's outline from an SVG drawing.
func (s *Server) uploadOutline(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, svgoutline.MaxBytes+64<<10)
	file, _, err := c.Request.FormFile("drawing")
	if err != nil {
		var tooLarge *http.MaxBytesError
		if errors.As(err, &tooLarge) {
			err = svgoutline.ErrTooLarge
		} else {
			err = errors.New("choose an SVG drawing first")
		}
		s.refuseOutline(c, err)
		return
	}
	defer file.Close()
	p, sized, err := s.studio.UploadOutline(c.Request.Context(), id(c), file)
	var refused *studio.RefusedError
	if errors.As(err, &refused) {
		s.refuseOutline(c, refused.Err)
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	note := ""
	if !sized {
		note = "?unsized=1"
	}
	c.Redirect(http.StatusSeeOther, pieceURL(p.ID)+note+"#surface")
}

// refuseOutline shows the piece as it was, with what is wrong at the field.
func (s *Server) refuseOutline(c *gin.Context, why error) {
	p, err := s.studio.Piece(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	status := http.StatusUnprocessableEntity
	if errors.Is(why, svgoutline.ErrTooLarge) {
		status = http.StatusRequestEntityTooLarge
	}
	s.sendPiece(c, status, p, studio.Notices{Errors: map[string]string{"drawing": why.Error()}}, map[string]string{})
}

// A sheetPage is the run sheet: the plan as a list of things to do.
type sheetPage struct {
	studio.Plan
	Drawing Drawing
	Sheet   []studio.SheetCoat
	Printed string
}

func (s *Server) runSheet(c *gin.Context) {
	plan, err := s.studio.Plan(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "runsheet", Page{Title: "Run sheet: " + plan.Piece.Name, Nav: "pieces", Data: sheetPage{
		Plan: plan, Drawing: draw(plan), Sheet: plan.Sheet(), Printed: s.studio.Now().Local().Format("Mon 2 Jan 2006 15:04"),
	}})
}

// supportNames are the words for supports on pages.
var supportNames = map[surface.Support]string{
	surface.Canvas: "stretched canvas", surface.Panel: "panel", surface.Cradled: "cradled panel", surface.Tile: "tile",
	surface.Tray: "tray", surface.TableTop: "table top", surface.MouldSlab: "cast slab",
}
