// Package card shows a piece at a glance, in lists of pieces and on the page of
// a commission.
package card

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"html/template"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/preview"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A Card is a piece at a glance.
type Card struct {
	ID     int64
	Name   string
	Broken error // why it cannot be calculated
	View   agenda.View
	Coat   *plan.Coat    // the first
	Board  template.HTML // or the newest photograph of it
	Says   words.Sentence
	Sys    units.System
}

// Made reports whether all its coats are.
func (c Card) Made() bool {
	if c.View.Plan == nil {
		return false
	}
	for i := range c.View.Coats {
		if !c.View.Coats[i].Made {
			return false
		}
	}
	return true
}

// Hang is how large it hangs among others: "small", "medium" or "large", by its longer side.
func (c Card) Hang() string {
	side := 0.0
	if c.Coat != nil {
		box := c.View.Plan.Boards[0].Bounds()
		side = max(box.Width().Millimetres(), box.Height().Millimetres())
	}
	switch {
	case side < 300:
		return "small"
	case side < 500:
		return "medium"
	}
	return "large"
}

// Section is the piece from the side, the sign of how far it has come.
func (c Card) Section() *drawing.Section {
	if c.Coat == nil {
		return nil
	}
	return drawing.SectionOf(c.View.Plan, c.Sys)
}

// A Maker makes cards and remembers their drawings.
type Maker struct {
	frame *frame.Frame
	drawn cache.Memo[key, drawn]
}

// key is the key of a drawing.
type key struct {
	plan *plan.Plan
	sys  units.System
}

// drawn is a drawing of a first coat.
type drawn struct {
	svg     []byte
	version string // changes with it
	label   msg.Text
}

// most drawings are remembered; a page shows some two dozen.
const most = 1024

// NewMaker returns a maker for the frame's areas.
func NewMaker(f *frame.Frame) *Maker {
	return &Maker{frame: f, drawn: cache.Memo[key, drawn]{Most: most}}
}

// Of returns the cards of some pieces, each laid where the agenda has it.
func (m *Maker) Of(ctx context.Context, list []pieces.Piece) ([]Card, error) {
	views, err := m.frame.Studio.Agenda.Views(ctx, list)
	if err != nil {
		return nil, err
	}
	ids := make([]int64, len(list))
	for i, p := range list {
		ids[i] = p.ID
	}
	stills, err := m.frame.Studio.Preview.Stills(ctx, ids...)
	if err != nil {
		return nil, err
	}
	glances, err := m.frame.Studio.Journal.Glances(ctx, ids)
	if err != nil {
		return nil, err
	}
	cards := make([]Card, len(views))
	for i, v := range views {
		cards[i] = of(v)
		g := glances[v.ID]
		cards[i].Says = cards[i].says(g.Result)
		if g.Photo > 0 {
			cards[i].Board, err = m.photo(ctx, v.ID, g.Photo)
		} else {
			cards[i].Board, err = m.draw(ctx, cards[i], stills[v.ID])
		}
		if err != nil {
			return nil, err
		}
	}
	return cards, nil
}

// of is a card as far as its view goes.
func of(v agenda.View) Card {
	c := Card{ID: v.ID, Name: v.Name, Broken: v.Broken, View: v, Sys: v.Agenda.Book.Settings.Units}
	if v.Plan != nil && v.Broken == nil {
		c.Coat = &v.Coats[0]
	}
	return c
}

// says is what to say of it: of a piece that was poured what came of it, of others what
// the plan comes to.
func (c Card) says(came journal.Result) words.Sentence {
	switch {
	case c.Coat == nil:
		return words.Sentence{}
	case c.Made():
		return came.Verdict()
	}
	return words.Verdict(c.View.Plan, c.Sys)
}

func (m *Maker) photo(ctx context.Context, piece, photo int64) (template.HTML, error) {
	src := frame.Piece(piece, "/photos/", strconv.FormatInt(photo, 10), "/small.jpg")
	return m.image(ctx, "photo", src, msg.ID("Photograph of the piece"))
}

// image is a picture fetched by itself, once it comes into sight.
func (m *Maker) image(ctx context.Context, class string, src string, alt msg.Text) (template.HTML, error) {
	return m.render(ctx, "image", struct {
		Class string
		Src   string
		Alt   msg.Text
	}{class, src, alt})
}

// render is what a template of the frame's base makes of a value.
func (m *Maker) render(ctx context.Context, name string, data any) (template.HTML, error) {
	var b bytes.Buffer
	err := m.frame.Draw(ctx, &b, name, data)
	return template.HTML(b.String()), err // rendered by a template
}

// draw shows the first coat: as its preview left it, or by a drawing of its plan.
func (m *Maker) draw(ctx context.Context, c Card, stills preview.Stills) (template.HTML, error) {
	if c.Coat == nil {
		return m.render(ctx, "board", drawing.Card(c.View.Plan, c.Coat, c.ID, c.Sys))
	}
	if still := stills.Address(c.ID, c.View.Plan, c.Coat); still != "" {
		board := drawing.Card(c.View.Plan, c.Coat, c.ID, c.Sys)
		board.Still = still
		return m.render(ctx, "board", board)
	}
	d, err := m.drawing(ctx, c)
	if err != nil {
		return "", err
	}
	return m.image(ctx, "board", frame.Piece(c.ID, "/board.svg?v=", d.version), d.label)
}

// drawing is the first coat of a card; it is drawn once a plan.
func (m *Maker) drawing(ctx context.Context, c Card) (drawn, error) {
	return m.drawn.Get(ctx, key{c.View.Plan, c.Sys}, func(ctx context.Context) (drawn, error) {
		board := drawing.Card(c.View.Plan, c.Coat, c.ID, c.Sys)
		board.Alone = true
		svg, err := m.render(ctx, "board", board)
		sum := sha256.Sum256([]byte(svg))
		return drawn{[]byte(svg), hex.EncodeToString(sum[:8]), board.Label}, err
	})
}

// Picture answers with the drawing of a piece's first coat.
func (m *Maker) Picture(c *gin.Context) error {
	ctx := c.Request.Context()
	p, err := m.frame.Studio.Pieces.Piece(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	views, err := m.frame.Studio.Agenda.Views(ctx, []pieces.Piece{p})
	if err != nil {
		return err
	}
	card := of(views[0])
	if card.Coat == nil {
		return store.ErrNotFound
	}
	d, err := m.drawing(ctx, card)
	if err != nil {
		return err
	}
	if c.Query("v") == d.version {
		c.Header("Cache-Control", "private, max-age=31536000, immutable")
	}
	c.Data(http.StatusOK, "image/svg+xml", d.svg)
	return nil
}
