package journal

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/journal"
	"jevvo/internal/web/drawing"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// A resultPage is the form for a coat's result.
type resultPage struct {
	journal.View
	Sys      units.System
	Board    drawing.Boards
	Wrong    *form.Refused
	Outcomes []journal.Choice
	Faces    []journal.Choice
	Agains   []journal.Choice
	Moments  []journal.Choice
	SpotText string
	Greys    [2]string
	Still    string
	AtBench  []msg.Text // what nobody had planned
	Saved    bool       // a moment ago
}

// Marks are those a coat can have.
func (resultPage) Marks() []int { return []int{1, 2, 3, 4, 5} }

// Has reports whether the face was so.
func (p resultPage) Has(face string) bool { return contains(p.Result.Face, face) }

// TookOver and GotLost report it of a cup.
func (p resultPage) TookOver(name string) bool { return contains(p.Result.Took, name) }

// GotLost reports whether a cup got lost.
func (p resultPage) GotLost(name string) bool { return contains(p.Result.Lost, name) }

func contains(list []string, v string) bool {
	for _, l := range list {
		if l == v {
			return true
		}
	}
	return false
}

// A change is a spot with its two colours as swatches and how far they are apart.
type change struct {
	Name  string
	Wet   string
	Cured string
	Words msg.Text
}

// Changes are the spots as they are shown.
func (p resultPage) Changes() []change {
	var out []change
	for _, s := range p.Result.Spots {
		wet, cured := colour.Lab{L: s.Wet[0], A: s.Wet[1], B: s.Wet[2]}, colour.Lab{L: s.Cured[0], A: s.Cured[1],
			B: s.Cured[2]}
		c := change{Name: s.Name, Wet: wet.XYZ().RGB().Hex(), Cured: cured.XYZ().RGB().Hex()}
		c.Words = msg.F("differs by %.0f", colour.Difference(wet, cured))
		switch lighter := cured.L - wet.L; {
		case lighter > 2:
			c.Words = msg.Join(", ", c.Words, msg.ID("lighter"))
		case lighter < -2:
			c.Words = msg.Join(", ", c.Words, msg.ID("darker"))
		}
		if yellower := cured.B - wet.B; yellower > 3 {
			c.Words = msg.Join(", ", c.Words, msg.ID("yellower"))
		}
		out = append(out, c)
	}
	return out
}

// Cells is how wide a pair's cells are, as it is typed.
func (p resultPage) Cells(pair journal.Pair) msg.Text {
	if pair.Cells == 0 {
		return nil
	}
	return pair.Cells.Text(p.Sys)
}

// Foretold is the forecast of a pair.
func (p resultPage) Foretold(pair journal.Pair) msg.Text {
	if pair.Far == 0 {
		return nil
	}
	return msg.F("forecast %s apart", words.Between(pair.Near, pair.Far, p.Sys))
}

// Minutes prints a figure that may be nothing.
func (resultPage) Minutes(v float64) string { return blank(v, 1) }

// Shares prints a share as a percentage that may be nothing.
func (resultPage) Shares(v float64) string { return blank(v, 100) }

func blank(v, times float64) string {
	if v == 0 {
		return ""
	}
	return strconv.FormatFloat(math.Round(v*times), 'f', -1, 64)
}

func resultPath(c *gin.Context) string {
	return frame.Piece(frame.ID(c), "/result?", url.Values{"coat": {coatOf(c)}}.Encode())
}

func coatOf(c *gin.Context) string { return asked(c, "coat") }

// asked is the request's form value or query.
func asked(c *gin.Context, name string) string {
	if v := c.PostForm(name); v != "" {
		return v
	}
	return c.Query(name)
}

func (a *area) result(c *gin.Context) error { return a.showResult(c, nil, nil) }

// showResult shows the form, as it was typed where something was refused.
func (a *area) showResult(c *gin.Context, typed *journal.Result, err error) error {
	var refused *form.Refused
	if err != nil && !errors.As(err, &refused) {
		return err
	}
	v, err := a.Studio.Journal.View(c.Request.Context(), frame.ID(c), coatOf(c))
	if err != nil {
		return err
	}
	if typed != nil {
		typed.Made = v.Result.Made
		v.Result = *typed
	}
	sys := v.Agenda.Book.Settings.Units
	page := resultPage{View: v, Sys: sys, Board: drawing.Of(v.Plan, v.Coat, v.ID, sys).Small(), Wrong: refused,
		Outcomes: journal.Outcomes, Faces: journal.Faces, Agains: journal.Agains, Moments: journal.Moments,
		SpotText: spotText(v.Result.Spots), Saved: c.Query("saved") != ""}
	if err := page.still(c.Request.Context(), a); err != nil {
		return err
	}
	benches, err := a.Studio.Bench.Log().BenchesOf(c.Request.Context(), v.ID, false)
	if err != nil {
		return err
	}
	page.AtBench = atBench(benches, v.Coat.ID, sys)
	status := http.StatusOK
	if refused != nil {
		status = http.StatusUnprocessableEntity
		page.SpotText, page.Greys = c.PostForm("spots"), [2]string{c.PostForm("grey-wet"), c.PostForm("grey-cured")}
	}
	return a.Show(c, status, "result", frame.Page{Title: msg.F("Result: %s", v.Name), Nav: "journal", Data: page})
}

// still is the preview's picture, if there is one.
func (p *resultPage) still(ctx context.Context, a *area) error {
	stills, err := a.Studio.Preview.Stills(ctx, p.ID)
	if err != nil {
		return err
	}
	p.Still = stills[p.ID].Address(p.ID, p.Plan, p.Coat)
	p.Board.Still = p.Still
	return nil
}

func spotText(spots []journal.Spot) string {
	parts := make([]string, len(spots))
	for k, s := range spots {
		parts[k] = fmt.Sprintf("%.3f,%.3f", s.X, s.Y)
	}
	return strings.Join(parts, " ")
}

func (a *area) keepResult(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	ctx := c.Request.Context()
	v, err := a.Studio.Journal.View(ctx, frame.ID(c), typed["coat"])
	if err != nil {
		return err
	}
	r, err := readResult(v.Result, typed, v.Agenda.Book.Settings.Units)
	if err == nil {
		err = a.compare(ctx, v.ID, &r, typed)
	}
	if err == nil {
		err = a.Studio.Journal.Keep(ctx, v, r)
	}
	if err != nil {
		return a.showResult(c, &r, err)
	}
	return frame.Go(c, resultPath(c)+"&saved=1")
}

// compare measures the spots that were picked in both photographs.
func (a *area) compare(ctx context.Context, piece int64, r *journal.Result, typed map[string]string) error {
	places, err := readPlaces(typed["spots"])
	if err != nil {
		return err
	}
	if len(places) == 0 || r.Wet == 0 || r.Cured == 0 {
		r.Spots = nil
		return nil
	}
	var greys [2]*journal.Place
	for k, field := range []string{"grey-wet", "grey-cured"} {
		list, err := readPlaces(typed[field])
		if err != nil {
			return err
		}
		if len(list) > 0 {
			greys[k] = &list[0]
		}
	}
	for k := range places {
		places[k].Name = msg.F("Spot %d", k+1).In(msg.LangOf(ctx))
	}
	r.Spots, err = a.Studio.Journal.Compare(ctx, piece, r.Wet, r.Cured, greys[0], greys[1], places)
	return err
}

// mostSpots is how many places are compared.
const mostSpots = 12

// readPlaces reads shares of a picture's width and height: "0.3,0.5 0.7,0.2".
func readPlaces(text string) ([]journal.Place, error) {
	var out []journal.Place
	for _, pair := range strings.Fields(text) {
		x, y, ok := strings.Cut(pair, ",")
		px, errX := strconv.ParseFloat(x, 64)
		py, errY := strconv.ParseFloat(y, 64)
		if !ok || errX != nil || errY != nil || !(px >= 0 && px <= 1 && py >= 0 && py <= 1) {
			return nil, form.Refusef("spots", "write a spot as two shares of the picture, such as 0.3,0.5")
		}
		out = append(out, journal.Place{X: px, Y: py})
	}
	if len(out) > mostSpots {
		return nil, form.Refusef("spots", "at most %d spots are compared", mostSpots)
	}
	return out, nil
}

// readResult reads a result as it was typed.
func readResult(r journal.Result, typed map[string]string, sys units.System) (journal.Result, error) {
	r.Rev = frame.Number(typed["rev"])
	r.Edges, r.Moments, r.Sentence, r.Again = typed["edges"], typed["moments"], typed["sentence"], typed["again"]
	r.Mark, r.Preview = int(frame.Number(typed["mark"])), int(frame.Number(typed["preview"]))
	r.Wet, r.Cured = frame.Number(typed["wet"]), frame.Number(typed["cured"])
	r.Face, r.Took, r.Lost = nil, nil, nil
	for _, f := range journal.Faces {
		if typed["face."+f.ID] == "yes" {
			r.Face = append(r.Face, f.ID)
		}
	}
	r.Pairs = append([]journal.Pair(nil), r.Pairs...)
	names := map[string]bool{}
	for k := range r.Pairs {
		p := &r.Pairs[k]
		names[p.Upper.Name], names[p.Under.Name] = true, true
		p.What = typed[fmt.Sprint("pair.", k)]
		cells, err := length(typed[fmt.Sprint("cells.", k)], sys)
		if err != nil {
			return r, &form.Refused{Field: "pairs", Err: err}
		}
		p.Cells = cells
	}
	for key, v := range typed {
		if name, ok := strings.CutPrefix(key, "cup."); ok && names[name] {
			switch v {
			case "took":
				r.Took = append(r.Took, name)
			case "lost":
				r.Lost = append(r.Lost, name)
			}
		}
	}
	for field, to := range map[string]*float64{"seen": &r.Figures.Seen, "work": &r.Figures.Work, "tape": &r.Figures.Tape} {
		if err := number(typed[field], field, 1, to); err != nil {
			return r, err
		}
	}
	for field, to := range map[string]*float64{"run-off": &r.Figures.RunOff, "hides": &r.Figures.Hides} {
		if err := number(typed[field], field, 100, to); err != nil {
			return r, err
		}
	}
	return r, nil
}

func length(text string, sys units.System) (units.Length, error) {
	if strings.TrimSpace(text) == "" {
		return 0, nil
	}
	bare := "mm"
	if sys == units.US {
		bare = "in"
	}
	l, err := units.ParseLength(text, bare)
	return l.Value, err
}

// number reads a figure that may be left out, as so many of its unit.
func number(text, field string, per float64, to *float64) error {
	text = strings.TrimSuffix(strings.TrimSpace(strings.Replace(text, ",", ".", 1)), "%")
	*to = 0
	if text == "" {
		return nil
	}
	v, err := strconv.ParseFloat(strings.TrimSpace(text), 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) || v < 0 {
		return form.Refusef(field, "%q is not a number", text)
	}
	*to = v / per
	return nil
}
