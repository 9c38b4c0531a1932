package pieces

import (
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/verdict"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// partIDs are the parts of a piece's page, in order; those from the colours on show one coat.
var partIDs = []string{"brief", "surface", "layers", "composition", "moves", "cups", "clock", "days"}

var headings = map[string]msg.ID{"brief": "Brief", "surface": "Surface", "layers": "Layers", "composition": "Colours",
	"moves": "Moves", "cups": "Cups", "clock": "Clock", "days": "Days"}

// allParts is the name, and the cookie's value, that stands for all of them.
const allParts = "all"

// askedParts are the parts a page is to hold besides their sentences: those in the address,
// those that are in the page that asks, all of them for who chose so.
func askedParts(c *gin.Context) []string {
	asked := slices.Concat(c.QueryArray("part"), c.PostFormArray("part"))
	if chosen, err := c.Cookie("jevvo-parts"); !frame.FromHTMX(c) && err == nil {
		asked = append(asked, chosen)
	}
	var out []string
	for _, id := range partIDs {
		if slices.Contains(asked, id) || slices.Contains(asked, allParts) {
			out = append(out, id)
		}
	}
	return out
}

// Parts are those of the page; a plan that cannot be calculated has no moves.
func (p piecePage) Parts() []string {
	if p.Coat != nil {
		return partIDs
	}
	return slices.DeleteFunc(slices.Clone(partIDs), func(id string) bool { return id == "moves" })
}

// Has reports whether the page holds a part besides its sentence.
func (p piecePage) Has(part string) bool { return slices.Contains(p.Filled, part) }

// Open is the address of the page with a part opened.
func (p piecePage) Open(part string) string {
	q := "?part=" + part
	if p.CoatID != "" {
		q += "&coat=" + p.CoatID
	}
	return frame.Piece(p.ID, q, "#", part)
}

// Heading is that of a part.
func (p piecePage) Heading(part string) msg.ID { return headings[part] }

// part sends one part, to be changed in place, with the revision it was drawn from.
func (a *area) part(c *gin.Context) error {
	ctx, id := c.Request.Context(), c.Param("part")
	if !slices.Contains(partIDs, id) {
		return frame.Missing
	}
	p, err := a.Studio.Pieces.Piece(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	page, err := a.page(ctx, sending{Piece: p, Coat: c.Query("coat"), Said: form.NewNotices(), Parts: []string{id}})
	if err != nil {
		return err
	}
	c.Header("Piece-Revision", strconv.FormatInt(p.Rev, 10))
	return a.Part(c, http.StatusOK, "piece", "part-body", map[string]any{"p": page, "id": id})
}

// A partLine is what a part comes to, as it is read while the part is closed.
type partLine struct {
	ID      string
	Text    msg.Text
	Said    msg.Text // what is amiss
	Weight  verdict.Weight
	Bar     []drawing.Part
	Section *drawing.Section
	Live    bool
}

// RecordLine is the recorded use of the coat shown.
func (p piecePage) RecordLine() msg.Text {
	switch use := p.Uses[p.CoatID]; {
	case p.Coat == nil || !p.Coat.Made:
		return msg.ID("Not poured yet.")
	case use.Used > 0:
		return msg.F("%s poured for %s planned", use.Used.Text(p.Sys), use.Planned.Text(p.Sys))
	}
	return msg.ID("What it took is not recorded.")
}

// Line is the sentence of a part, and what is amiss in it.
func (p piecePage) Line(id string) partLine {
	l := partLine{ID: id, Live: p.Live}
	if p.Coat == nil {
		return l
	}
	l.Text = p.fact(id)
	switch id {
	case "composition":
		l.Bar = drawing.PartsOf(p.Coat, 100)
	case "layers":
		l.Section = drawing.SectionOf(p.Plan, p.Sys)
	}
	for _, o := range p.Order {
		if string(o.Part) != id {
			continue
		}
		l.Weight = o.Weight
		for _, d := range p.Plan.Diagnostics().Of(o.Part, p.partCoat(o.Part)) {
			if o.Weight != verdict.Settled && d.Weight == o.Weight {
				l.Said = words.Say(d, p.Plan, p.Sys).Text
				break
			}
		}
	}
	return l
}

// partCoat is the coat a part is judged for; days are those of the whole piece.
func (p piecePage) partCoat(part verdict.Part) string {
	if part == verdict.PartDays {
		return ""
	}
	return p.CoatID
}

// Lines are those of all parts.
func (p piecePage) Lines() []partLine {
	var out []partLine
	for _, id := range p.Parts() {
		out = append(out, p.Line(id))
	}
	return out
}

// fact is what is decided in a part, in a sentence.
func (p piecePage) fact(id string) msg.Text {
	c, spec := p.Coat, p.Piece.Spec
	switch id {
	case "brief":
		if strings.TrimSpace(spec.Brief) == "" {
			return msg.ID("Nothing written down yet.")
		}
		return msg.Own(strings.TrimSpace(spec.Brief))
	case "surface":
		return p.surfaceFact()
	case "layers":
		names := make([]msg.Text, len(p.Layers))
		for i, l := range p.Layers {
			if names[i] = msg.Lower(l.Name); l.Coat != nil {
				names[i] = msg.Lower(words.Coat(l.Coat))
			}
		}
		return msg.Capital(msg.Join(", ", names...))
	case "composition":
		return msg.F("%s in %s, %s", c.Technique.Name, c.Product.Name, c.Film.Film(p.Sys))
	case "moves":
		return p.movesFact()
	case "cups":
		return msg.Join(", ", msg.F("%s in %s", c.Total.Text(p.Sys), msg.N(len(c.Cups), "cup", "cups")),
			msg.N(len(c.Batches), "batch", "batches"))
	case "clock":
		return msg.F("%s from mixing to the last step, at %s", words.Spoken(c.Fit.Ends), c.Room.Text(p.Sys))
	}
	return p.daysFact()
}

func (p piecePage) surfaceFact() msg.Text {
	spec := p.Piece.Spec
	parts := []msg.Text{
		msg.F("%s, %s × %s", spec.Support.Rule().Words, spec.Width.Text(p.Sys), spec.Height.Text(p.Sys)),
		msg.Lower(p.Fields["outline"].Shown()), msg.F("edge %s", spec.Edge.Rule().Words),
		msg.F("sides: %s", msg.Lower(p.Fields["sides"].Shown()))}
	if n := len(p.Plan.Boards); n > 1 {
		parts = append(parts, msg.N(n, "board", "boards"))
	}
	return msg.Capital(msg.Join(", ", parts...))
}

// daysFact names the day of each coat and when the piece is ready.
func (p piecePage) daysFact() msg.Text {
	var parts []msg.Text
	for i := range p.Plan.Coats {
		c := &p.Plan.Coats[i]
		parts = append(parts, msg.F("%s %s", msg.Lower(words.Coat(c)), msg.Date(c.Start, "Mon 2 Jan")))
	}
	parts = append(parts, msg.F("ready %s", msg.Date(p.Plan.Deliver, "Mon 2 Jan")))
	return msg.Capital(msg.Join(", ", parts...))
}
