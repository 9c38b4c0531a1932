package pieces

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/reorder"
	"jevvo/internal/studio/stock"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A piecePage is the page of one piece, whole or in its changing parts. It
// shows one coat at a time.
type piecePage struct {
	Short  []msg.Text // what runs short for it, or is old, in words
	ID     int64
	Piece  pieces.Piece
	Plan   *plan.Plan
	View   agenda.View
	Sys    units.System
	Broken msg.Text // why it cannot be calculated
	Stands progress

	Coat     *plan.Coat // the one that is shown; nil of a broken plan
	CoatID   string
	Layers   []layerRow
	Cups     []cupFields
	Board    drawing.Boards
	Small    drawing.Boards // the plan among the pictures of the piece
	Clock    drawing.Clock
	Order    []partLink
	Forecast plan.Forecast
	Reliefs  []relief
	Tasks    []agenda.Task
	Uses     map[string]bench.Use

	Fields   map[string]form.View
	Prepare  []technique.Preparation
	Coats    []technique.Technique
	Between  []technique.Technique
	Filled   []string    // parts that are in the page besides their sentences
	Live     bool        // only the changing parts are sent
	SaidBack []form.View // what is said beside the fields that were sent
}

// At is the address of an action on the piece, that comes back to this coat.
func (p piecePage) At(below string) string { return frame.Piece(p.ID, below, toCoat(p.CoatID)) }

// Field returns a field of the coat that is shown.
func (p piecePage) Field(name string) form.View { return p.Fields[pieces.CoatKey(p.CoatID, name)] }

// Options are the choices of the technique of the coat that is shown.
func (p piecePage) Options() []form.View {
	var out []form.View
	if p.Coat != nil {
		for _, o := range p.Coat.Technique.Options {
			out = append(out, p.Fields[pieces.OptionKey(p.CoatID, o.Key)])
		}
	}
	return out
}

// Extras are the steps the coat that is shown can have besides.
func (p piecePage) Extras() []form.View {
	var out []form.View
	for _, e := range technique.Extras {
		out = append(out, p.Fields[pieces.ExtraKey(p.CoatID, e.ID)])
	}
	return out
}

// Taped reports whether tape has to come off the coat that is shown.
func (p piecePage) Taped() bool { return p.Plan != nil && p.Plan.Spec.Taped() }

// Tilts reports whether the coat that is shown is tilted over an open edge.
func (p piecePage) Tilts() bool {
	return p.Coat != nil && p.Coat.Technique.Tilts && !p.Plan.Spec.Dammed()
}

// TiltOf is the tilt its drift is calculated for, in degrees.
func (p piecePage) TiltOf() float64 { return plan.TiltOf.Degrees() }

// Alone reports that the times are a what-if, of a piece that is not planned
// among all others.
func (p piecePage) Alone() bool { return p.View.Slot == nil }

// A window is a phase of a coat's clock as the days list it.
type window struct {
	Name     msg.ID
	From, To time.Time
}

// Windows are the phases after a pour that somebody waits for.
func (p piecePage) Windows(c *plan.Coat) []window {
	soft := msg.ID("Soft set")
	if p.Piece.Taped() {
		soft = "Tape off"
	}
	out := make([]window, 0, 3)
	for _, w := range []struct {
		phase cure.Phase
		name  msg.ID
		ends  bool
	}{{cure.SoftSet, soft, true}, {cure.Tacky, "Tacky", true}, {cure.Hard, "Hard from", false}} {
		span, ok := c.Windows[w.phase]
		if !ok {
			continue
		}
		if !w.ends {
			span.To = time.Time{}
		}
		out = append(out, window{w.name, span.From, span.To})
	}
	return out
}

// Minutes is how long hands are at a layer, all its times together.
func (p piecePage) Minutes(layer string) float64 {
	sum := 0.0
	if p.Plan == nil {
		return sum
	}
	for _, t := range p.Plan.Tasks {
		if t.Layer == layer {
			sum += float64(t.Hands)
		}
	}
	return sum
}

// A partLink is how a part of the page stands.
type partLink struct {
	Part   verdict.Part
	Weight verdict.Weight
}

// A relief is something that would help a coat that does not fit.
type relief struct {
	Kind  plan.ReliefKind
	Holds bool
	Name  msg.Text
	Text  msg.Text
	Why   msg.ID
	Key   string
	Value msg.Text // of the field that does it; "" for one that is done elsewhere
	Each  bool     // every board is planned as a piece
}

// control is the field that does what a relief says, and what is typed there.
func (p piecePage) control(r plan.Relief) (key string, value msg.Text) {
	switch r.Kind {
	case plan.ReliefRoom:
		return pieces.CoatKey(p.CoatID, "room"), r.Room.Text(p.Sys)
	case plan.ReliefResin:
		return pieces.CoatKey(p.CoatID, "product"), msg.Own(strconv.FormatInt(r.Resin, 10))
	case plan.ReliefOption:
		return pieces.OptionKey(p.CoatID, r.Option), msg.Own(r.Choice)
	case plan.ReliefPeople:
		return pieces.CoatKey(p.CoatID, "people"), msg.Own(strconv.Itoa(r.People))
	case plan.ReliefCups:
		return pieces.CoatKey(p.CoatID, "mixing"), msg.ID(school.MixingCups)
	}
	return "", nil
}

// A sending is the part of a piece that an answer shows.
type sending struct {
	Piece  pieces.Piece
	Stands progress // where it was read already
	Coat   string
	Typed  map[string]string
	Said   form.Notices
	Anew   bool // the fields themselves are new
	Parts  []string
}

func (a *area) show(c *gin.Context) error {
	p, err := a.Studio.Pieces.Piece(c.Request.Context(), frame.ID(c))
	if err != nil {
		return err
	}
	said := form.NewNotices()
	if c.Query("unsized") != "" {
		said.Notes["size"] = msg.ID("the drawing names no real size: taken at 96 units to the inch. Type the true width.")
	}
	if len(said.Notes) > 0 || frame.FromHTMX(c) {
		return a.send(c, http.StatusOK, sending{Piece: p, Coat: c.Query("coat"), Said: said})
	}
	return a.showOnce(c, sending{Piece: p, Coat: c.Query("coat"), Said: said, Parts: askedParts(c)})
}

// seen is the key of a piece's page when nothing was typed.
type seen struct {
	plan             *plan.Plan
	agenda           *agenda.Agenda
	id, rev          int64
	canUndo, canRedo bool
	coat, uses       string
	parts            string
	stock            *stock.Ledger
	stands           progress
}

// showOnce answers with the page, drawn once for what it stands on.
func (a *area) showOnce(c *gin.Context, s sending) error {
	ctx := c.Request.Context()
	view, err := a.Studio.Agenda.Plan(ctx, s.Piece)
	if _, refused := frame.Refusal(err); err != nil && !refused {
		return err
	}
	uses, err := a.Studio.Bench.Uses(ctx, s.Piece.ID)
	if err != nil {
		return err
	}
	owned, err := a.Studio.Stock.Ledger(ctx)
	if err != nil {
		return err
	}
	p := s.Piece
	stands, err := a.stand(ctx, p.ID, view.Plan)
	if err != nil {
		return err
	}
	s.Stands = stands
	on := seen{view.Plan, view.Agenda, p.ID, p.Rev,
		p.CanUndo, p.CanRedo, s.Coat, fmt.Sprint(uses), strings.Join(s.Parts, " "),
		owned, stands}
	body, err := a.Once(ctx, "piece", "piece-main", on, func() (any, error) { return a.page(ctx, s) })
	if err != nil {
		return err
	}
	return a.Show(c, http.StatusOK, "piece", frame.Page{Title: msg.Own(p.Name), Nav: "pieces", Data: body})
}

// send answers with the page, or its changing parts for htmx. Typed texts that
// were refused stay in their fields.
func (a *area) send(c *gin.Context, status int, s sending) error {
	s.Parts = askedParts(c)
	page, err := a.page(c.Request.Context(), s)
	if err != nil {
		return err
	}
	if !frame.FromHTMX(c) {
		return a.whole(c, status, page)
	}
	page.Live = true
	block := "piece-live"
	if s.Anew || page.otherFields(s.Typed) {
		block = "piece-form"
	}
	return a.Part(c, status, "piece", block, page)
}

// whole answers with the page as it is now, and remembers nothing of it.
func (a *area) whole(c *gin.Context, status int, page piecePage) error {
	body, err := a.Render(c.Request.Context(), "piece", "piece-main", page)
	if err != nil {
		return err
	}
	return a.Show(c, status, "piece", frame.Page{Title: msg.Own(page.Piece.Name), Nav: "pieces", Data: body})
}

func (a *area) page(ctx context.Context, s sending) (piecePage, error) {
	p := piecePage{ID: s.Piece.ID, Piece: s.Piece, Filled: s.Parts}
	view, err := a.Studio.Agenda.Plan(ctx, s.Piece)
	if refused, ok := frame.Refusal(err); ok {
		p.Broken = refused // shown with the reason and the field to mend it, never lost
		p.Filled = append(slices.Clone(p.Filled), string(verdict.PartSurface))
	} else if err != nil {
		return p, err
	}
	if p.Uses, err = a.Studio.Bench.Uses(ctx, p.ID); err != nil {
		return p, err
	}
	lines, err := a.Studio.Reorder.Lines(ctx)
	if err != nil {
		return p, err
	}
	if p.Stands = s.Stands; p.Stands == (progress{}) {
		if p.Stands, err = a.stand(ctx, p.ID, view.Plan); err != nil {
			return p, err
		}
	}
	now := a.Studio.Now()
	for _, l := range reorder.For(lines, p.ID) {
		if text := l.Words(view.Agenda.Book.Settings.Units, now); text != nil {
			p.Short = append(p.Short, text)
		}
		for _, old := range l.Old {
			p.Short = append(p.Short, old.Words(l.Name))
		}
	}
	book := view.Agenda.Book
	p.View, p.Plan, p.Sys = view, view.Plan, book.Settings.Units
	p.Prepare, p.Coats, p.Between = technique.Preparations, book.Techniques().Coats(), book.Techniques().Between()
	p.choose(s.Coat)
	p.fill(s, book)
	if p.Coat != nil {
		p.follow()
	}
	p.Board = drawing.Of(p.Plan, p.Coat, p.ID, p.Sys)
	if p.Coat != nil && p.Pictured() {
		p.Small = drawing.Card(p.Plan, &p.Plan.Coats[0], p.ID, p.Sys)
		p.Small.Key += "small"
	}
	return p, nil
}

// choose finds the coat to show: the one asked for, else the first.
func (p *piecePage) choose(coat string) {
	if first := p.Piece.First(); p.Piece.Coat(coat) == nil && first != nil {
		coat = first.ID
	}
	p.CoatID = coat
	if p.Plan != nil && p.Broken == nil {
		p.Coat = p.Plan.Coat(coat)
	}
}

// fill reads the fields of the piece and of its layers.
func (p *piecePage) fill(s sending, book *materials.Book) {
	spec := p.Piece.Spec
	p.Fields = pieces.Fields(spec, book).Views(&spec, book.Settings.Style(), refusedOnly(s.Typed, s.Said), s.Said,
		pieces.Options(book))
	for key := range s.Said.Notes {
		if f, ok := p.Fields[key]; ok && f.Note == nil {
			f.Note = s.Said.Notes[key]
			p.Fields[key] = f
		}
	}
	for key := range s.Typed {
		if f, ok := p.Fields[key]; ok {
			p.SaidBack = append(p.SaidBack, f)
		}
	}
	layers := spec.AllLayers(book.Context)
	p.Layers = make([]layerRow, len(layers))
	for i, l := range layers {
		p.Layers[i] = p.row(l, book)
		if l.ID == p.CoatID && l.Coat != nil {
			p.Cups = cupsOf(p.Fields, l, p.Coat)
		}
	}
}

// refusedOnly keeps the typed texts that were refused; what was taken is shown
// as it is kept.
func refusedOnly(typed map[string]string, n form.Notices) map[string]string {
	out := map[string]string{}
	for key := range n.Errors {
		if text, ok := typed[key]; ok {
			out[key] = text
		}
	}
	return out
}

// follow gathers what follows from the plan for the coat that is shown.
func (p *piecePage) follow() {
	i := p.Coat.Place
	p.Clock = drawing.ClockOf(p.Coat, p.Sys)
	p.Forecast = p.Plan.Forecast(i)
	for _, r := range p.Plan.Reliefs(i) {
		name, why := words.Relief(r, p.Sys)
		key, value := p.control(r)
		p.Reliefs = append(p.Reliefs, relief{r.Kind, r.Holds, name, words.ReliefText(r), why, key, value,
			r.Kind == plan.ReliefEach})
	}
	for _, part := range verdict.Parts {
		p.Order = append(p.Order, partLink{part, p.Plan.Diagnostics().Worst(part)})
	}
	if p.View.Slot != nil {
		p.Tasks = p.View.Agenda.TasksOf(p.ID)
	}
}

// otherFields reports whether a change brought other fields than those that
// were sent, or other choices in them, so that they must be drawn anew.
func (p *piecePage) otherFields(typed map[string]string) bool {
	for key, text := range typed {
		f, ok := p.Fields[key]
		switch {
		case !ok && strings.Contains(key, "."):
			return true
		case f.Kind == form.Choose, f.Kind == form.Colour, f.Kind == form.Yes:
			if f.Value != text {
				return true
			}
		}
	}
	if _, asked := typed[pieces.CoatKey(p.CoatID, "technique")]; asked {
		for _, o := range p.Options() {
			if _, sent := typed[o.Key]; !sent {
				return true
			}
		}
	}
	if !p.Has(string(verdict.PartColours)) {
		return false
	}
	for _, cup := range p.Cups {
		if text, ok := typed[cup.Label.Key]; !ok || strings.TrimSpace(text) != cup.Label.Value && cup.Label.Error == nil {
			return true
		}
	}
	return false
}

func (a *area) edit(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	p, n, err := a.Studio.Pieces.Edit(c.Request.Context(), frame.ID(c), frame.Number(typed["rev"]), typed)
	if err != nil {
		return err
	}
	status := http.StatusOK
	if !n.OK() {
		status = http.StatusUnprocessableEntity
	}
	return a.send(c, status, sending{Piece: p, Coat: typed["coat"], Typed: typed, Said: n})
}
