package journal

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/propose"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A judgePage is a dry coat that is looked at: what was marked, and what could come
// next.
type judgePage struct {
	journal.Judging
	Sys    units.System
	Board  drawing.Boards
	Wet    string // address of a picture of it wet; "" for none
	Sort   propose.Sort
	Cup    string // that a mark is of
	Wrong  *form.Refused
	Offers []offer
	Mended []msg.Text // what was done at the bench, in words
}

// An offer is a proposal as it is shown.
type offer struct {
	ID      string
	Name    msg.ID
	Reasons []msg.Text
	Cups    []offerCup
	Film    msg.Text
	Total   msg.Text
	Mends   bool
	Taken   bool
}

type offerCup struct {
	Name   msg.Text
	Swatch string
	Volume msg.Text
}

// Sorts are the ratings a place can get.
func (p judgePage) Sorts() any { return propose.Sorts }

// OfCup reports whether what is being said is said of a cup.
func (p judgePage) OfCup() bool {
	of, _ := propose.Known(p.Sort)
	return of
}

// Colours are the cups of the coat.
func (p judgePage) Colours() []plan.Colour { return p.Coat.Layer.Coat.Colours }

// A spot is a place of the board with what was said of it.
type spot struct {
	Place technique.Place
	Said  []msg.Text
	On    bool // what is being said is said of it already
}

// Spots are the nine places.
func (p judgePage) Spots() []spot {
	var out []spot
	for _, at := range technique.Spots {
		s := spot{Place: at}
		for _, m := range p.Marks {
			if m.Place != at {
				continue
			}
			s.Said = append(s.Said, p.said(m))
			s.On = s.On || m.Sort == p.Sort && m.Cup == p.Cup
		}
		out = append(out, s)
	}
	return out
}

func (p judgePage) said(m propose.Mark) msg.Text {
	var name msg.Text
	for _, s := range propose.Sorts {
		if s.Sort == m.Sort {
			name = s.Name
		}
	}
	if c := p.Coat.Layer.Coat.Colour(m.Cup); c != nil {
		return msg.F("%s: %s", c.Name, msg.Lower(name))
	}
	return name
}

func (a *area) judge(c *gin.Context) error { return a.showJudge(c, nil) }

func (a *area) showJudge(c *gin.Context, wrong *form.Refused) error {
	ctx := c.Request.Context()
	j, err := a.Studio.Journal.Judging(ctx, frame.ID(c), coatOf(c))
	if err != nil {
		return err
	}
	sys := j.Agenda.Book.Settings.Units
	page := judgePage{Judging: j, Sys: sys, Board: drawing.Of(j.Plan, j.Coat, j.ID, sys), Wrong: wrong,
		Sort: propose.Sort(asked(c, "sort")), Cup: asked(c, "cup")}
	if _, ok := propose.Known(page.Sort); !ok {
		page.Sort = propose.Keep
	}
	if !page.OfCup() {
		page.Cup = ""
	} else if j.Coat.Layer.Coat.Colour(page.Cup) == nil {
		page.Cup = page.Colours()[0].ID
	}
	benches, err := a.Studio.Bench.Log().BenchesOf(ctx, j.ID, false)
	if err != nil {
		return err
	}
	page.fromBench(benches)
	page.Mended = atBench(benches, j.Coat.ID, page.Sys)
	for _, photo := range j.Photos {
		if photo.Moment == journal.Wet {
			page.Wet = fmt.Sprintf("/pieces/%d/photos/%d/shown", j.ID, photo.ID)
		}
	}
	for _, x := range j.Proposals {
		page.Offers = append(page.Offers, page.offer(x))
	}
	status := http.StatusOK
	if wrong != nil {
		status = http.StatusUnprocessableEntity
	}
	return a.Show(c, status, "judge", frame.Page{Title: msg.F("Check once dry: %s", j.Name), Nav: "journal", Data: page})
}

// fromBench takes the newest photograph of the day.
func (p *judgePage) fromBench(benches []session.Bench) {
	for _, b := range slices.Backward(benches) {
		if b.Coat != p.Coat.ID {
			continue
		}
		for _, e := range b.Events {
			if e.What == session.Photo {
				p.Wet = fmt.Sprintf("/benches/%d/photos/%d", b.ID, e.Photo)
			}
		}
	}
}

// offer lays a proposal out, its amounts as they are planned.
func (p judgePage) offer(x propose.Proposal) offer {
	o := offer{ID: x.ID, Name: words.Proposal(x.ID), Mends: x.Mends}
	for _, r := range x.Reasons {
		o.Reasons = append(o.Reasons, words.ProposalReason(r, p.Sys))
	}
	for _, t := range p.Taken {
		o.Taken = o.Taken || t.Proposal == x.ID && p.Plan.Coat(t.Layer) != nil
	}
	if x.Mends {
		return o
	}
	spec := p.Plan.Spec.Clone()
	id, err := propose.Apply(&spec, p.Plan.Context, p.Coat.ID, x)
	if err != nil {
		return o
	}
	planned, err := plan.Evaluate(spec, p.Plan.Context, plan.Timing{})
	if err != nil {
		return o
	}
	if coat := planned.Coat(id); coat != nil {
		o.Film, o.Total = coat.Film.Film(p.Sys), coat.Total.Text(p.Sys)
		for _, cup := range coat.Cups {
			o.Cups = append(o.Cups, offerCup{words.Filled(cup.Colour.Name), cup.Swatch(), cup.Volume.Text(p.Sys)})
		}
	}
	return o
}

// mark says something of a place.
func (a *area) mark(c *gin.Context) error {
	m := propose.Mark{
		Place: technique.Place(c.PostForm("place")),
		Sort:  propose.Sort(c.PostForm("sort")),
		Cup:   c.PostForm("cup"),
	}
	err := a.Studio.Journal.Mark(c.Request.Context(), frame.ID(c), coatOf(c), m)
	if refused, ok := frame.Refusal(err); ok {
		return a.showJudge(c, refused)
	}
	if err != nil {
		return err
	}
	return frame.Go(
		c,
		frame.Piece(
			frame.ID(c),
			"/judge?",
			url.Values{"coat": {coatOf(c)}, "sort": {string(m.Sort)}, "cup": {m.Cup}}.Encode(),
		),
	)
}

// take makes a proposal a coat of the piece.
func (a *area) take(c *gin.Context) error {
	_, layer, err := a.Studio.Journal.Take(c.Request.Context(), frame.ID(c), coatOf(c), c.PostForm("proposal"))
	if refused, ok := frame.Refusal(err); ok {
		return a.showJudge(c, refused)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, frame.Piece(frame.ID(c), "?", url.Values{"coat": {layer}}.Encode()))
}
