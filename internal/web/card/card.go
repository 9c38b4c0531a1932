// Package card shows a piece at a glance, in lists of pieces and on the page of
// a commission.
package card

import (
	"bytes"
	"context"
	"html/template"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
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
	drawn cache.Memo[key, template.HTML]
}

// key is the key of a drawing.
type key struct {
	plan  *plan.Plan
	us    bool
	still string // look of the first coat's preview
}

// most drawings are remembered; a page shows some two dozen.
const most = 1024

// NewMaker returns a maker for the frame's areas.
func NewMaker(f *frame.Frame) *Maker {
	return &Maker{frame: f, drawn: cache.Memo[key, template.HTML]{Most: most}}
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
		sys := v.Agenda.Book.Settings.Units
		cards[i] = Card{ID: v.ID, Name: v.Name, Broken: v.Broken, View: v, Sys: sys}
		if v.Plan != nil && v.Broken == nil {
			cards[i].Coat = &v.Coats[0]
		}
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
	var b bytes.Buffer
	err := m.frame.DrawPhoto(ctx, &b, piece, photo)
	return template.HTML(b.String()), err // rendered by a template
}

// draw draws the first coat; a drawing is made once a plan.
func (m *Maker) draw(ctx context.Context, c Card, stills preview.Stills) (template.HTML, error) {
	draw := func(ctx context.Context) (template.HTML, error) {
		var b bytes.Buffer
		board := drawing.Card(c.View.Plan, c.Coat, c.ID, c.Sys)
		if c.Coat != nil {
			board.Still = stills.Address(c.ID, c.View.Plan, c.Coat)
		}
		err := m.frame.Draw(ctx, &b, board)
		return template.HTML(b.String()), err // rendered by a template
	}
	if c.Coat == nil {
		return draw(ctx)
	}
	return m.drawn.Get(ctx, key{c.View.Plan, c.Sys == units.US, stills[c.Coat.ID]}, draw)
}
