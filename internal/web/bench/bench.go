package bench

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/refusal"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

// errNoPhoto says that a form was sent without a picture.
var errNoPhoto = &form.Refused{Field: "photo", Err: refusal.New("choose a photograph first")}

func (a *area) show(rehearsal bool) frame.Handler {
	return func(c *gin.Context) error {
		b, err := a.Studio.Bench.Log().Bench(c.Request.Context(), frame.ID(c), rehearsal)
		if err != nil {
			return err
		}
		return a.send(c, http.StatusOK, b, nil)
	}
}

func (a *area) send(c *gin.Context, status int, b session.Bench, wrong msg.Text) error {
	page, err := a.screen(c.Request.Context(), b)
	if err != nil {
		return err
	}
	page.Wrong = wrong
	if frame.FromHTMX(c) {
		return a.Part(c, status, "bench", "bench-body", page)
	}
	title := msg.F("Bench: %s", b.Piece)
	if b.Rehearsal {
		title = msg.F("Rehearsal: %s", b.Piece)
	}
	return a.Show(c, status, "bench", frame.Page{Title: title, Nav: "bench", Data: page})
}

// press runs one button for the state the screen was showing.
func (a *area) press(rehearsal bool, press func(*gin.Context) session.Press) frame.Handler {
	return func(c *gin.Context) error {
		b, err := a.Studio.Bench.Log().Press(c.Request.Context(), frame.ID(c), frame.Number(c.PostForm("rev")), rehearsal,
			press(c))
		return a.pressed(c, b, rehearsal, err)
	}
}

// pressed shows the bench after a press. What was refused, or was overtaken by
// another screen, is said on it.
func (a *area) pressed(c *gin.Context, b session.Bench, rehearsal bool, err error) error {
	if err == nil {
		if frame.FromHTMX(c) {
			return a.send(c, http.StatusOK, b, nil)
		}
		return frame.Go(c, base(b))
	}
	status, text, known := frame.Status(err)
	if !known || status == http.StatusNotFound {
		return err
	}
	if b, readErr := a.Studio.Bench.Log().Bench(c.Request.Context(), frame.ID(c), rehearsal); readErr == nil {
		return a.send(c, status, b, text)
	}
	return err
}

func (a *area) note(rehearsal bool) frame.Handler {
	return func(c *gin.Context) error {
		b, err := a.Studio.Bench.Note(c.Request.Context(), frame.ID(c), rehearsal, c.PostForm("note"))
		return a.pressed(c, b, rehearsal, err)
	}
}

func (a *area) photo(c *gin.Context) error {
	file, _, err := c.Request.FormFile("photo")
	var tooLarge *http.MaxBytesError
	if errors.As(err, &tooLarge) {
		return a.pressed(c, session.Bench{}, false, &form.Refused{Field: "photo", Err: picture.ErrTooLarge})
	}
	if err != nil {
		return a.pressed(c, session.Bench{}, false, errNoPhoto)
	}
	defer file.Close()
	b, err := a.Studio.Bench.Photo(c.Request.Context(), frame.ID(c), file, c.PostForm("moment"))
	return a.pressed(c, b, false, err)
}

// leftover keeps what was left as a piece of its own.
func (a *area) leftover(c *gin.Context) error {
	if err := c.Request.ParseForm(); err != nil {
		return err
	}
	p, err := a.Studio.Bench.Leftover(c.Request.Context(), frame.ID(c),
		bench.Rest{Mould: c.PostForm("mould"), Count: c.PostForm("count"),
			Size: c.PostForm("size"), Volume: c.PostForm("volume"), Cups: c.Request.PostForm["cup"]})
	if err != nil {
		return a.pressed(c, session.Bench{}, false, err)
	}
	return frame.Go(c, frame.Piece(p.ID))
}

// left records what the coat took by what was left of it.
func (a *area) left(c *gin.Context) error {
	err := a.Studio.Bench.RecordLeft(c.Request.Context(), frame.ID(c), c.PostForm("left"))
	if err != nil {
		return a.pressed(c, session.Bench{}, false, err)
	}
	return frame.Go(c, fmt.Sprintf("/benches/%d", frame.ID(c)))
}

func (a *area) showPhoto(c *gin.Context) error {
	data, err := a.Studio.Bench.Picture(c.Request.Context(), frame.ID(c), frame.Number(c.Param("photo")))
	if err != nil {
		return err
	}
	c.Data(http.StatusOK, "image/jpeg", data)
	return nil
}

// lookAgain is how often a bench screen is sent anew when nothing happened:
// verdicts change as the resin does.
const lookAgain = 20 * time.Second

// feedBench tells the whole screen whenever a step was done on any screen, the room
// changed, or some time has passed.
func (a *area) feedBench(ctx context.Context, b session.Bench, tell tell) {
	changes, stop := a.Studio.Bench.Log().WatchBench(b.ID, b.Rehearsal)
	defer stop()
	every := lookAgain
	if b.Speed > 1 {
		every = time.Second
	}
	look := time.NewTicker(every)
	defer look.Stop()
	for {
		page, err := a.again(ctx, b)
		if err != nil {
			return // the page says why when it is opened again
		}
		tell("body", "bench", "bench-body", page)
		select {
		case <-ctx.Done():
			return
		case <-changes:
		case <-look.C:
		}
	}
}

func (a *area) again(ctx context.Context, b session.Bench) (screenPage, error) {
	b, err := a.Studio.Bench.Log().Bench(ctx, b.ID, b.Rehearsal)
	if err != nil {
		return screenPage{}, err
	}
	return a.screen(ctx, b)
}

// A listPage is all that is wet, and the next walk with the torch past it.
type listPage struct {
	Benches []screenPage
	Round   *bench.Round
	Next    []agenda.Task // what is poured next
}

// mostNext is how many coats stand under what is poured next.
const mostNext = 6

// roundDone is one press for all pieces of a round.
func (a *area) roundDone(c *gin.Context) error {
	if err := a.Studio.Bench.RoundDone(c.Request.Context()); err != nil {
		return err
	}
	return frame.Go(c, "/bench")
}

func (a *area) list(c *gin.Context) error {
	open, err := a.Studio.Bench.Log().OpenBenches(c.Request.Context())
	if err != nil {
		return err
	}
	var pages []screenPage
	for _, b := range open {
		page, err := a.screen(c.Request.Context(), b)
		if err != nil {
			return err
		}
		pages = append(pages, page)
	}
	round, ok, err := a.Studio.Bench.NextRound(c.Request.Context())
	if err != nil {
		return err
	}
	days, err := a.Studio.Agenda.Current(c.Request.Context())
	if err != nil {
		return err
	}
	busy := func(piece int64) bool {
		return slices.ContainsFunc(open, func(b session.Bench) bool { return b.PieceID == piece })
	}
	page := listPage{Benches: pages, Next: days.NextPours(mostNext, busy)}
	if ok && len(round.Pieces) > 1 {
		page.Round = &round
	}
	return a.Show(c, http.StatusOK, "benches", frame.Page{Title: msg.ID("Bench"), Nav: "bench", Data: page})
}

// A startPage is where a bench day of a piece begins.
type startPage struct {
	View       agenda.View
	Sys        units.System
	Coats      []startCoat
	Benches    []session.Bench
	Rehearsals []session.Bench
	Speeds     []float64
	Wrong      msg.Text
}

// A startCoat is a coat that can be begun, with what is open before it.
type startCoat struct {
	*plan.Coat
	Open []openPoint
	Next bool // the one to do now
}

// Crew are the roles of those who are at the bench, none for one.
func (c startCoat) Crew() []string { return session.Crew(c.People, nil) }

// An openPoint is a guard with what was answered so far.
type openPoint struct {
	Key  string
	Text msg.Text
	Done msg.Text
	How  session.Answer
	Why  string
}

func openPoints(guards []plan.Guard, sys units.System, typed map[string]string) []openPoint {
	out := make([]openPoint, len(guards))
	for i, g := range guards {
		said := words.Say(g.Diagnostic, nil, sys)
		out[i] = openPoint{g.Key, said.Text, said.Advice, session.Answer(typed["guard."+g.Key]), typed["why."+g.Key]}
	}
	return out
}

func (a *area) ofPiece(c *gin.Context) error { return a.sendStart(c, http.StatusOK, nil, nil) }

func (a *area) sendStart(c *gin.Context, status int, wrong msg.Text, typed map[string]string) error {
	ctx := c.Request.Context()
	p, err := a.Studio.Pieces.Piece(ctx, frame.ID(c))
	if err != nil {
		return err
	}
	v, err := a.Studio.Agenda.Plan(ctx, p)
	if err != nil {
		return err
	}
	page := startPage{View: v, Sys: v.Agenda.Book.Settings.Units, Speeds: bench.Speeds, Wrong: wrong}
	next := true
	for i := range v.Coats {
		coat := startCoat{Coat: &v.Coats[i]}
		if !coat.Made {
			guards, err := a.Studio.Bench.Guards(ctx, v, coat.ID)
			if err != nil {
				return err
			}
			coat.Open = openPoints(guards, page.Sys, typed)
			coat.Next, next = next, false
		}
		page.Coats = append(page.Coats, coat)
	}
	if page.Benches, err = a.Studio.Bench.Log().BenchesOf(ctx, p.ID, false); err != nil {
		return err
	}
	if page.Rehearsals, err = a.Studio.Bench.Log().BenchesOf(ctx, p.ID, true); err != nil {
		return err
	}
	return a.Show(c, status, "start", frame.Page{Title: msg.F("Bench: %s", p.Name), Nav: "pieces", Data: page})
}

func (a *area) start(c *gin.Context) error {
	typed, err := frame.Typed(c)
	if err != nil {
		return err
	}
	speed, _ := strconv.ParseFloat(typed["speed"], 64)
	b, err := a.Studio.Bench.Start(c.Request.Context(), frame.ID(c), c.Param("coat"), speed, answersOf(typed))
	if refused, ok := frame.Refusal(err); ok {
		return a.sendStart(c, http.StatusUnprocessableEntity, msg.F("%s.", msg.Capital(refused)), typed)
	}
	if err != nil {
		return err
	}
	return frame.Go(c, base(b))
}

// answersOf reads what was said to the open points.
func answersOf(typed map[string]string) bench.Answers {
	a := bench.Answers{How: map[string]session.Answer{}, Why: map[string]string{}, Anyway: typed["anyway"] == "yes",
		AllDone: typed["done"] == "all"}
	for key, text := range typed {
		if at, ok := strings.CutPrefix(key, "guard."); ok {
			a.How[at] = session.Answer(text)
		}
		if at, ok := strings.CutPrefix(key, "why."); ok {
			a.Why[at] = text
		}
	}
	for i := 0; ; i++ {
		name, ok := typed[fmt.Sprintf("who.%d", i)]
		if !ok {
			return a
		}
		a.Names = append(a.Names, name)
	}
}
