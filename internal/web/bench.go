package web

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/exchange/picture"
	"jevvo/internal/studio"
)

func (s *Server) benchRoutes(e *gin.Engine) {
	e.GET("/bench", s.listBenches)
	e.GET("/pieces/:id/bench", s.pieceBench)
	e.POST("/pieces/:id/bench/:coat", s.startBench)
	for _, kind := range []string{"benches", "rehearsals"} {
		rehearsal := kind == "rehearsals"
		g := e.Group("/" + kind + "/:id")
		g.GET("", s.showBench(rehearsal))
		g.GET("/stream", s.streamBench(rehearsal))
		for path, do := range map[string]func(context.Context, int64, int64, bool) (studio.Bench, error){
			"met": s.studio.PartsMet, "done": s.studio.StepDone, "skip": s.studio.StepSkipped, "undo": s.studio.UndoBench, "close": s.studio.CloseBench,
		} {
			g.POST("/"+path, s.benchPress(rehearsal, do))
		}
		g.POST("/note", s.noteBench(rehearsal))
	}
	e.POST("/benches/:id/photo", s.photoBench)
	e.GET("/benches/:id/photos/:photo", s.showPhoto)
	e.POST("/room", s.typeRoom)
	e.POST("/room/:what", s.playRoom)
}

// A benchPage is the screen at the bench.
type benchPage struct {
	studio.BenchView
	Drawing  Drawing
	Settings studio.Settings
	Base     string // address of the bench day
	Wrong    string
	CanPlay  bool
	Later    []studio.StepView
	Mark     float64 // minute of the newest lot, for the strip
}

func (s *Server) benchPage(ctx context.Context, b studio.Bench) (benchPage, error) {
	v, err := s.studio.LookAtBench(ctx, b)
	if err != nil {
		return benchPage{}, err
	}
	page := benchPage{BenchView: v, Base: fmt.Sprintf("/benches/%d", b.ID)}
	if b.Rehearsal {
		page.Base = fmt.Sprintf("/rehearsals/%d", b.ID)
	}
	if page.Settings, err = s.studio.Settings(ctx); err != nil {
		return page, err
	}
	if len(v.Next) > 1 {
		page.Later = v.Next[1:]
	}
	if n := len(v.Lots); n > 0 {
		page.Mark = v.Lots[n-1].Minutes
	}
	_, page.CanPlay = s.studio.RoomSensor().(roomPlayer)
	if s.opts.Clock != nil {
		page.Jumped = s.opts.Clock.Jumped()
	}
	if plan, err := s.studio.Plan(ctx, b.PieceID); err == nil { // a piece that was removed since has no board to show
		page.Drawing = draw(plan)
		if b.Rehearsal {
			page.Drawing = rehearsalBoard(page.Drawing, v)
		}
	}
	return page, nil
}

func (s *Server) showBench(rehearsal bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		b, err := s.studio.Bench(c.Request.Context(), id(c), rehearsal)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.sendBench(c, http.StatusOK, b, "")
	}
}

func (s *Server) sendBench(c *gin.Context, status int, b studio.Bench, wrong string) {
	page, err := s.benchPage(c.Request.Context(), b)
	if err != nil {
		s.fail(c, err)
		return
	}
	page.Wrong = wrong
	if fromHTMX(c) {
		s.fragment(c, http.StatusOK, "bench", "bench-body", page)
		return
	}
	title := "Bench: "
	if b.Rehearsal {
		title = "Rehearsal: "
	}
	s.show(c, status, "bench", Page{Title: title + b.Piece, Nav: "bench", Data: page})
}

// benchPress runs one button for the state the screen was showing.
func (s *Server) benchPress(rehearsal bool, do func(context.Context, int64, int64, bool) (studio.Bench, error)) gin.HandlerFunc {
	return func(c *gin.Context) {
		rev, _ := strconv.ParseInt(c.PostForm("rev"), 10, 64)
		b, err := do(c.Request.Context(), id(c), rev, rehearsal)
		if b.ID == 0 {
			s.fail(c, err)
			return
		}
		s.pressed(c, b, err)
	}
}

func (s *Server) pressed(c *gin.Context, b studio.Bench, err error) {
	wrong, status := "", http.StatusOK
	if err != nil {
		wrong, status = err.Error(), http.StatusUnprocessableEntity
	}
	if fromHTMX(c) || err != nil {
		s.sendBench(c, status, b, wrong)
		return
	}
	path := "benches"
	if b.Rehearsal {
		path = "rehearsals"
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/%s/%d", path, b.ID))
}

func (s *Server) noteBench(rehearsal bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		_, err := s.studio.NoteBench(c.Request.Context(), id(c), rehearsal, c.PostForm("note"))
		s.appended(c, rehearsal, err)
	}
}

// appended shows the bench day after a note or a photograph.
func (s *Server) appended(c *gin.Context, rehearsal bool, err error) {
	words, refused := asRefused(err)
	if err != nil && !refused {
		s.fail(c, err)
		return
	}
	b, readErr := s.studio.Bench(c.Request.Context(), id(c), rehearsal)
	if readErr != nil {
		s.fail(c, readErr)
		return
	}
	if refused {
		err = errors.New(words)
	}
	s.pressed(c, b, err)
}

func (s *Server) photoBench(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, picture.MaxBytes+64<<10)
	file, _, err := c.Request.FormFile("photo")
	if err != nil {
		s.appended(c, false, &studio.RefusedError{Err: errors.New("choose a photograph first")})
		return
	}
	defer file.Close()
	_, err = s.studio.PhotoBench(c.Request.Context(), id(c), file)
	s.appended(c, false, err)
}

func (s *Server) showPhoto(c *gin.Context) {
	n, _ := strconv.ParseInt(c.Param("photo"), 10, 64)
	data, err := s.studio.Photo(c.Request.Context(), id(c), n)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Data(http.StatusOK, "image/jpeg", data)
}

// lookAgain is how often a bench screen is sent anew when nothing happened:
// verdicts change as the resin does.
const lookAgain = 20 * time.Second

// streamBench sends the whole screen whenever a step was done on any screen,
// the room changed, or some time has passed (server-sent events).
func (s *Server) streamBench(rehearsal bool) gin.HandlerFunc {
	return func(c *gin.Context) {
		changes, stop := s.studio.WatchBench(id(c), rehearsal)
		defer stop()
		ctx := c.Request.Context()
		b, err := s.studio.Bench(ctx, id(c), rehearsal)
		if err != nil {
			s.fail(c, err)
			return
		}
		s.beginStream(c)
		every := lookAgain
		if b.Speed > 1 {
			every = time.Second
		}
		look := time.NewTicker(every)
		defer look.Stop()
		for {
			select {
			case <-ctx.Done():
				return
			case <-changes:
			case <-look.C:
			}
			if b, err = s.studio.Bench(ctx, b.ID, rehearsal); err != nil {
				return
			}
			page, err := s.benchPage(ctx, b)
			if err != nil || !s.event(c, "bench", "body", "bench-body", page) {
				return
			}
		}
	}
}

// beginStream opens a stream of server-sent events.
func (s *Server) beginStream(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("X-Accel-Buffering", "no")
	c.Status(http.StatusOK)
	c.Writer.Flush()
}

type benchListPage struct {
	Open []benchPage
}

func (s *Server) listBenches(c *gin.Context) {
	open, err := s.studio.OpenBenches(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	var page benchListPage
	for _, b := range open {
		one, err := s.benchPage(c.Request.Context(), b)
		if err != nil {
			s.fail(c, err)
			return
		}
		page.Open = append(page.Open, one)
	}
	s.show(c, http.StatusOK, "benches", Page{Title: "Bench", Nav: "bench", Data: page})
}

type pieceBenchPage struct {
	Plan       studio.Plan
	Benches    []studio.Bench
	Rehearsals []studio.Bench
	Speeds     []float64
}

func (s *Server) pieceBench(c *gin.Context) {
	plan, err := s.studio.Plan(c.Request.Context(), id(c))
	if err != nil {
		s.fail(c, err)
		return
	}
	page := pieceBenchPage{Plan: plan, Speeds: studio.Speeds}
	if page.Benches, err = s.studio.BenchesOf(c.Request.Context(), id(c), false); err == nil {
		page.Rehearsals, err = s.studio.BenchesOf(c.Request.Context(), id(c), true)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.show(c, http.StatusOK, "piecebench", Page{Title: "Bench: " + plan.Piece.Name, Nav: "pieces", Data: page})
}

func (s *Server) startBench(c *gin.Context) {
	speed, _ := strconv.ParseFloat(c.PostForm("speed"), 64)
	b, err := s.studio.StartBench(c.Request.Context(), id(c), c.Param("coat"), speed)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.pressed(c, b, nil)
}

func (s *Server) typeRoom(c *gin.Context) {
	_, err := s.studio.TypeRoom(c.Request.Context(), c.PostForm("room"))
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, localReferer(c, "/bench"))
}

// localReferer is the page a form was sent from, or another when it is not
// one of this program's.
func localReferer(c *gin.Context, other string) string {
	if u := c.PostForm("back"); len(u) > 1 && u[0] == '/' && u[1] != '/' && u[1] != '\\' {
		return u
	}
	return other
}

// roomPlayer is a room that can be played with on the page.
type roomPlayer interface {
	Door()
	Heater() bool
	Silence() bool
	Break() bool
}

// playRoom opens the simulated door, turns the heater, or spoils the sensor.
func (s *Server) playRoom(c *gin.Context) {
	room, ok := s.studio.RoomSensor().(roomPlayer)
	if !ok {
		s.fail(c, errNoPage)
		return
	}
	switch c.Param("what") {
	case "door":
		room.Door()
	case "heater":
		room.Heater()
	case "silent":
		room.Silence()
	case "broken":
		room.Break()
	default:
		s.fail(c, errNoPage)
		return
	}
	if _, err := s.studio.LookAtRoom(c.Request.Context()); err != nil {
		s.fail(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, localReferer(c, "/bench"))
}

// stripWidth is the strip's length in its own units.
const stripWidth = 1000.0

// A stripSpan is a window on the strip under the clock.
type stripSpan struct {
	Name string
	X, W float64
	Row  int
}

// Spans lays the newest lot's windows on the strip.
func (p benchPage) Spans() []stripSpan {
	var out []stripSpan
	for i, w := range p.Windows {
		out = append(out, stripSpan{w.Name, w.From / p.Strip * stripWidth, math.Max(1, (w.To-w.From)/p.Strip*stripWidth), i})
	}
	return out
}

// MarkX is where now is on the strip.
func (p benchPage) MarkX() float64 {
	if p.Strip <= 0 {
		return 0
	}
	return math.Min(stripWidth, p.Mark/p.Strip*stripWidth)
}

// Seconds is what the screen counts down from, in its own seconds: a
// rehearsal's run faster.
func (p benchPage) Seconds() int {
	if p.Current == nil || p.Current.Left <= 0 || math.IsInf(p.Current.Left, 0) {
		return 0
	}
	return int(math.Ceil(p.Current.Left * 60))
}

// Rate is how many of the bench's seconds pass in one of the wall's.
func (p benchPage) Rate() float64 {
	if p.Rehearsal {
		return p.Speed
	}
	return 1
}

// Percent is how much of the coat is done.
func (p benchPage) Percent() int { return 100 * p.Past / max(1, len(p.Steps)) }

// rehearsalBoard shows what a rehearsal has poured so far: regions appear as
// the steps that pour are done, and lace where a heat step met its window.
func rehearsalBoard(d Drawing, v studio.BenchView) Drawing {
	pours, poured, laced := 0, 0, 0
	score := v.Bench.Score(v.RoomCurve())
	for i, st := range v.Steps {
		if st.Kind == studio.StepHands && !st.Heats {
			pours++
			if i < v.Past {
				poured++
			}
		}
	}
	laced = score.Heat
	for i := range d.Boards {
		b := &d.Boards[i]
		n := len(b.Regions) * poured / max(1, pours)
		b.Regions = b.Regions[:min(n, len(b.Regions))]
		if n == 0 {
			continue
		}
		for k := range 12 * laced { // the plastic-number sequence spreads evenly
			x, y := math.Mod(0.7548776662*float64(k+1), 1), math.Mod(0.5698402910*float64(k+1), 1)
			b.Lace = append(b.Lace, drawnCell{X: x * b.W, Y: y * b.H, R: math.Min(b.W, b.H) * (0.008 + 0.012*math.Mod(float64(k)*0.618, 1))})
		}
	}
	return d
}
