package preview

import (
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/preview"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// view is the coat an address asks for.
func (a *area) view(c *gin.Context) (preview.View, error) {
	return a.Studio.Preview.View(c.Request.Context(), frame.ID(c), c.Query("coat"))
}

// A spread is a coat's ranges in words, for the browser to show.
type spread struct {
	Words   string   `json:"words"`
	Visible []string `json:"visible"`
	Ground  string   `json:"ground"`
	RunOff  string   `json:"off"`
	Cells   []string `json:"cells"`
}

// spreads are the coat an address asks for and what it comes to in several plays.
func (a *area) spreads(c *gin.Context) (v preview.View, r *preview.Ranges, err error) {
	if v, err = a.view(c); err == nil {
		r, err = a.Studio.Preview.Ranges(c.Request.Context(), v)
	}
	return v, r, err
}

// ranges answers what a coat comes to in several plays.
func (a *area) ranges(c *gin.Context) error {
	v, r, err := a.spreads(c)
	if err != nil {
		return err
	}
	sys := v.Agenda.Book.Settings.Units
	play, err := a.Studio.Preview.Play(v)
	if err != nil {
		return err
	}
	if f, whole := play.Frame(len(play.Times) - 1); whole {
		r = r.About(f)
	}
	in := func(t msg.Text) string { return msg.Say(t, v.Agenda.Book.Settings.Lang()) }
	out := spread{Words: in(played(r)), Ground: in(percents(r.Ground)), RunOff: in(volumes(r.RunOff, sys)),
		Cells: []string{}}
	for _, share := range r.Visible {
		out.Visible = append(out.Visible, in(percents(share)))
	}
	at := slices.IndexFunc(v.Plan.Coats, func(k plan.Coat) bool { return k.ID == v.Coat.ID })
	say := forecaster{v.Coat.Cups, v.Plan.Forecast(at).Cells, r.Plays, sys}
	for _, at := range r.Cells {
		out.Cells = append(out.Cells, in(say.said(at)))
	}
	c.JSON(http.StatusOK, out)
	return nil
}

// differing shows where the plays differ.
func (a *area) differing(c *gin.Context) error {
	_, r, err := a.spreads(c)
	if err != nil {
		return err
	}
	sendPNG(c, r.Differing)
	return nil
}

// played says what the ranges are of.
func played(r *preview.Ranges) msg.Text {
	text := msg.F(
		"%d runs on a coarse grid: five random results, the edge a fifth lower and higher, the room 3 °C cooler and warmer.",
		r.Plays,
	)
	if r.Apart {
		text = msg.Sentences(text, msg.ID("In one of them two colours part as hard as they may."))
	}
	return text
}

// percents are shares of the face from least to most.
func percents(r preview.Range) msg.Figure {
	least, most := percent(r.Least), percent(min(1, r.Most))
	if least == most {
		return most
	}
	return msg.Figure(strings.TrimSuffix(string(least), " %")) + "–" + most
}

func volumes(r preview.Range, sys units.System) msg.Text {
	least, most := amount(r.Least, sys), amount(r.Most, sys)
	if msg.Same(least, most) {
		return nil // it does not differ
	}
	return fromTo(least, most)
}

// A forecaster says where cells open in the plays, and what the plan expects where it expects
// something else.
type forecaster struct {
	cups      []plan.Cup
	forecasts []plan.CellForecast
	plays     int
	sys       units.System
}

func (f forecaster) far(m float64) msg.Figure { return units.Length(1000 * m).Text(f.sys) }

func (f forecaster) film(l units.Length) msg.Figure { return l.Film(f.sys) }

func (f forecaster) said(r preview.CellRange) msg.Text {
	upper, under := f.cups[r.Upper].Colour, f.cups[r.Under].Colour
	apart := fromTo(f.far(r.Spacing.Least), f.far(r.Spacing.Most))
	seen := fromTo(minutes(r.Seen.Least), minutes(r.Seen.Most))
	text := msg.F("Cells of %s on %s in %d of %d runs: %s apart, first seen at %s.",
		words.Filled(upper.Name), words.Filled(under.Name), r.Plays, f.plays, apart, seen)
	for _, k := range f.forecasts {
		if k.Upper.Colour.ID != upper.ID || k.Lower.Colour.ID != under.ID || k.Far == 0 {
			continue
		}
		least, most := 1000*r.Spacing.Least, 1000*r.Spacing.Most
		if most < alike*float64(k.Near) || alike*least > float64(k.Far) {
			text = msg.Sentences(text, msg.F("The plan expects %s with a film of %s on %s; here the films are different.",
				fromTo(f.far(k.Near.Metres()), f.far(k.Far.Metres())), f.film(k.UpperFilm), f.film(k.LowerFilm)))
		}
	}
	return text
}

// alike is how much nearer cells may lie than the plan says without a word.
const alike = 0.8

func fromTo(least, most msg.Text) msg.Text {
	if least == most {
		return most
	}
	return msg.F("%s to %s", least, most)
}

// A help is something that could be better, and what would change it.
type help struct {
	Words  msg.Text
	Choice *choice // a way to play it that would; nil for none
	Most   string  // the colour that could show more; "" for none
	Link   string  // a place in the plan; "" for none
	Label  msg.ID  // of the button or the link
}

// A helpsPage is what would change what the play came to.
type helpsPage struct {
	Coat  string
	Helps []help
	Cups  []plan.Cup
}

// What is told of: a ground that shows on so much of the face, and a colour that shows less
// than so much of what its share of the pour would be, when it is poured for so much.
const (
	groundShows = 0.01
	colourHides = 1. / 3
	colourMeant = 0.08
	lessBed     = 0.75
)

// helps tells what of the play a painter would change, with a control each.
func (a *area) helps(c *gin.Context) error {
	v, err := a.view(c)
	if err != nil {
		return err
	}
	play, err := a.Studio.Preview.Play(v)
	if err != nil {
		return err
	}
	page := helpsPage{Coat: v.Coat.ID, Cups: v.Coat.Cups}
	if f, whole := play.Frame(len(play.Times) - 1); whole {
		page.Helps = helpsOf(v, play, f)
	}
	return a.Part(c, http.StatusOK, "preview", "helps", page)
}

func helpsOf(v preview.View, play *preview.Play, f *preview.Frame) (out []help) {
	planned := play.Scene.RunOff
	sys, now := v.Agenda.Book.Settings.Units, v.Tried.Way
	with := func(name msg.ID, change func(*preview.Way)) *choice {
		w := now
		change(&w)
		made := choiceOf(name, w, v.Coat.ID)
		return &made
	}
	if f.Ground > groundShows {
		label := msg.ID("A third more bed")
		out = append(out, help{Words: msg.F("The ground shows on %s of the face.", percent(f.Ground)), Label: label,
			Choice: with(label, func(w *preview.Way) { w.Bed = max(w.Bed, 1) * preview.Thicker })})
	}
	if ran := sum(f.Sample.Below); unlike(planned, ran, sys) != nil && ran > planned {
		label := msg.ID("A quarter less bed")
		out = append(
			out,
			help{
				Words:  msg.F("%s more runs off than the plan allows for.", volume([]float64{ran - planned}, sys)),
				Label:  label,
				Choice: with(label, func(w *preview.Way) { w.Bed = max(w.Bed, 1) * lessBed }),
			},
		)
		if !v.Plan.Spec.Dammed() {
			out = append(out, help{Words: msg.ID("A dam keeps it on the board."), Label: "Edge of the piece",
				Link: fmt.Sprintf("/pieces/%d?coat=%s", v.Piece.ID, v.Coat.ID)})
		}
	}
	for k, cup := range v.Coat.Cups {
		if !slices.Contains(play.Scene.OnBed(), cup.Colour.ID) {
			continue // a bed is there to be covered
		}
		if cup.Share >= colourMeant && f.Visible[k] < colourHides*cup.Share {
			out = append(
				out,
				help{
					Words: msg.F(
						"%s is %s of what is poured and shows on %s.",
						words.Filled(cup.Colour.Name),
						percent(cup.Share),
						percent(f.Visible[k]),
					),
					Most:  cup.Colour.ID,
					Label: "Find what shows more of it",
				},
			)
		}
	}
	return out
}

// A foundPage is the play that showed most of a colour.
type foundPage struct {
	*preview.Search
	Colour msg.Text
	Sys    units.System
	Ways   []foundWay
}

// A foundWay is one of the best, as a choice.
type foundWay struct {
	choice
	Shows  msg.Text
	RunOff msg.Text
	How    msg.Text
}

// most looks for what shows most of a colour.
func (a *area) most(c *gin.Context) error {
	v, err := a.view(c)
	if err != nil {
		return err
	}
	colour := c.Query("colour")
	found, err := a.Studio.Preview.Most(c.Request.Context(), v, colour)
	if err != nil {
		return err
	}
	page := foundPage{Search: found, Sys: v.Agenda.Book.Settings.Units}
	for _, cup := range v.Coat.Cups {
		if cup.Colour.ID == colour {
			page.Colour = words.Filled(cup.Colour.Name)
		}
	}
	for _, f := range found.Best {
		page.Ways = append(
			page.Ways,
			foundWay{choiceOf(nil, f.Way, v.Coat.ID), percent(f.Shows), volume([]float64{f.RunOff}, page.Sys), how(f)},
		)
	}
	return a.Part(c, http.StatusOK, "preview", "found", page)
}

// NowShows is how much of the colour shows as it is.
func (p foundPage) NowShows() msg.Text { return percent(p.Now.Shows) }

// leans say by which turn the board is tipped otherwise.
var leans = [4]msg.ID{"", "tipped a quarter turn further", "tipped the other way round", "tipped a quarter turn back"}

// how says a way that was found.
func how(f preview.Found) msg.Text {
	var parts []msg.Text
	if len(f.Order) > 1 {
		parts = append(parts, msg.F("poured in this order: %s", strings.Join(f.Order, ", ")))
	}
	if f.Lean != 0 {
		parts = append(parts, leans[f.Lean])
	}
	return msg.Capital(msg.Join("; ", parts...))
}
