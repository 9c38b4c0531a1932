package web_test

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"io"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
	"jevvo/internal/words"
)

var monday = studiotest.Monday

// A site is the application over a studio in a folder of its own.
type site struct {
	*studio.Studio
	t  testing.TB
	db *store.Store
	h  http.Handler

	frame *frame.Frame
}

func open(t testing.TB) *site {
	return openWith(t, frame.Options{}, func() time.Time { return monday })
}

func openWith(t testing.TB, o frame.Options, now func() time.Time) *site {
	t.Helper()
	dir := t.TempDir()
	studiotest.LayOut(t, dir)
	return openIn(t, dir, o, now)
}

// openIn opens the studio of a folder, a new one where there is none.
func openIn(t testing.TB, dir string, o frame.Options, now func() time.Time) *site {
	t.Helper()
	db, err := store.Open(t.Context(), filepath.Join(dir, studiotest.Database))
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	st, err := studio.New(t.Context(), db, studio.Options{Now: now, Secrets: studiotest.Secrets(dir)})
	require.NoError(t, err)
	st.Preview.Cells = 32
	o.Version = "test"
	if o.Log == nil {
		o.Log = slog.New(slog.NewTextHandler(io.Discard, nil))
	}
	f, err := web.New(st, o)
	require.NoError(t, err)
	return &site{st, t, db, f.Handler(), f}
}

func (s *site) do(method, path string, form map[string]string, htmx bool) *httptest.ResponseRecorder {
	s.t.Helper()
	values := url.Values{}
	for k, v := range form {
		values.Set(k, v)
	}
	r := httptest.NewRequestWithContext(s.t.Context(), method, "http://localhost"+path, strings.NewReader(values.Encode()))
	if method == http.MethodPost {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	if htmx {
		r.Header.Set("HX-Request", "true")
	}
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	if strings.HasPrefix(w.Header().Get("Content-Type"), "text/html") { // however its source is broken into lines
		w.Body = bytes.NewBufferString(blank.ReplaceAllString(w.Body.String(), " "))
	}
	return w
}

var blank = regexp.MustCompile(`[ \n]+`)

func (s *site) get(path string) string {
	s.t.Helper()
	w := s.do(http.MethodGet, path, nil, false)
	require.Equal(s.t, http.StatusOK, w.Code, path)
	return w.Body.String()
}

func (s *site) post(path string, form map[string]string) *httptest.ResponseRecorder {
	return s.do(http.MethodPost, path, form, false)
}

func (s *site) piece(typed map[string]string) pieces.Piece {
	s.t.Helper()
	return studiotest.Piece(s.t, s.Studio, typed)
}

func (s *site) view(p pieces.Piece) agenda.View {
	s.t.Helper()
	v, err := s.Agenda.Plan(s.t.Context(), p)
	require.NoError(s.t, err)
	return v
}

var pages = []string{"/", "/pieces", "/pieces/new", "/days", "/days/print", "/commissions", "/commissions/new",
	"/palettes", "/bench", "/devices", "/outbox",
	"/materials", "/materials/new", "/materials/1", "/materials/pigments", "/pigments/new", "/pigments/1", "/techniques",
	"/techniques/swipe", "/calculators", "/calculators/coat", "/settings", "/healthz"}

var ofPiece = []string{"", "/composition", "/level", "/weigh", "/bench", "/run-sheet", "/card", "/cups.csv", "/rescale"}

func TestEveryPageAnswers(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Mudflat"})
	for _, path := range pages {
		s.get(path)
	}
	for _, below := range ofPiece {
		s.get(frame.Piece(p.ID, below))
	}
}

// Getting pages writes nothing, whatever is looked at.
func TestGetsWriteNothing(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Mudflat"})
	before, err := s.db.Versions(t.Context())
	require.NoError(t, err)
	for _, path := range pages {
		s.get(path)
	}
	for _, below := range ofPiece {
		s.get(frame.Piece(p.ID, below))
	}
	s.get("/days.ics")
	after, err := s.db.Versions(t.Context())
	require.NoError(t, err)
	assert.Equal(t, before, after)
}

func TestErrorsHaveOneWayEach(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Mudflat"})
	at := frame.Piece(p.ID)
	assert.Equal(t, http.StatusNotFound, s.do("GET", "/pieces/99", nil, false).Code)
	assert.Equal(t, http.StatusNotFound, s.do("GET", "/nowhere", nil, false).Code)
	assert.Equal(t, http.StatusNotFound, s.post(at+"/layers/first/sideways", nil).Code)

	for _, c := range p.First().Coat.Colours[1:] {
		assert.Equal(t, http.StatusSeeOther, s.post(at+"/coats/first/colours/"+c.ID+"/remove", nil).Code)
	}
	last := s.do("POST", at+"/coats/first/colours/"+p.First().Coat.Colours[0].ID+"/remove", nil, true)
	assert.Equal(t, http.StatusUnprocessableEntity, last.Code, "the last cup is refused")
	assert.Equal(t, "#alert", last.Header().Get("HX-Retarget"), "and htmx is told where to say so")

	refused := s.do("POST", at+"/edit", map[string]string{"rev": "1", "depth": "rather deep"}, true)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Code)
	assert.Contains(t, refused.Body.String(), "rather deep")

	require.NoError(t, s.db.Close())
	broken := s.do("GET", at, nil, true)
	assert.Equal(t, http.StatusInternalServerError, broken.Code, "what the store cannot do is no remark at a field")
}

// The mail password is on no page and in no answer.
func TestThePasswordIsNeverShown(t *testing.T) {
	s := open(t)
	assert.Equal(t, http.StatusSeeOther,
		s.post("/settings", map[string]string{"mail_host": "mail.example.org", "mail_password": "hunter2"}).Code)
	kept, err := s.Setup.Password()
	require.NoError(t, err)
	assert.Equal(t, "hunter2", kept)
	assert.NotContains(t, s.get("/settings"), "hunter2")
	assert.NotContains(t, s.get("/outbox"), "hunter2")
}

// Clear is drawn as the film that will be there, the ground through it, on
// large boards and on small cards.
func TestClearCupsShowTheGround(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Clear", "ground": "#aa7733",
		pieces.CoatKey(plan.FirstCoat, "technique"): "flood"})
	v := s.view(p)
	var clear *plan.Cup
	for i, c := range v.Coats[0].Cups {
		if c.Colour.Role == technique.Clear {
			clear = &v.Coats[0].Cups[i]
		}
	}
	require.NotNil(t, clear)
	film := clear.Swatch()
	assert.NotEqual(t, "#ffffff", film)
	assert.Less(t, distance(film, "#aa7733"), 40.0, "clear on a warm ground is near that ground: %s", film)
	for _, path := range []string{frame.Piece(p.ID), "/pieces", frame.Piece(p.ID, "/composition"),
		frame.Piece(p.ID, "/run-sheet"), frame.Piece(p.ID, "/board.svg")} {
		assert.Contains(t, s.get(path), film, path)
	}
}

// A list of pieces holds no drawings: each is a file of its own, kept for as long as the plan
// stays what it is.
func TestDrawingsOfAListAreFilesOfTheirOwn(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Spit"})
	address := regexp.MustCompile(`<img class="board" src="(/pieces/\d+/board\.svg\?v=\w+)" alt="([^"]+)"`)
	shown := func() []string {
		page := s.get("/pieces")
		assert.NotContains(t, page, "clipPath")
		return address.FindStringSubmatch(page)
	}
	first := shown()
	require.NotNil(t, first)
	assert.Contains(t, first[2], "Second colour", "its colours are said to who cannot see it")
	w := s.do(http.MethodGet, first[1], nil, false)
	assert.Equal(t, "image/svg+xml", w.Header().Get("Content-Type"))
	assert.Contains(t, w.Header().Get("Cache-Control"), "immutable")
	var drawing struct {
		XMLName xml.Name `xml:"http://www.w3.org/2000/svg svg"`
		Boards  []struct {
			Transform string `xml:"transform,attr"`
		} `xml:"g"`
	}
	require.NoError(t, xml.Unmarshal(w.Body.Bytes(), &drawing))
	assert.Len(t, drawing.Boards, len(s.view(p).Plan.Boards))

	s.post(frame.Piece(p.ID, "/edit"), map[string]string{"rev": fmt.Sprint(s.again(p).Rev), "ground": "#aa7733"})
	assert.NotEqual(t, first[1], shown()[1], "another plan is another address")
	assert.NotContains(t, s.do(http.MethodGet, first[1], nil, false).Header().Get("Cache-Control"), "immutable")
}

func distance(a, b string) float64 {
	var x, y [3]int
	_, err1 := fmt.Sscanf(a, "#%02x%02x%02x", &x[0], &x[1], &x[2])
	_, err2 := fmt.Sscanf(b, "#%02x%02x%02x", &y[0], &y[1], &y[2])
	if err1 != nil || err2 != nil {
		return 1e9
	}
	sum := 0.0
	for i := range x {
		sum += float64((x[i] - y[i]) * (x[i] - y[i]))
	}
	return sum
}

// "Écume rapide" stays itself wherever a technique is named within a sentence.
func TestNamesAreNotMangled(t *testing.T) {
	s := open(t)
	own, err := s.Materials.CopyTechnique(t.Context(), "swipe", msg.English)
	require.NoError(t, err)
	_, rev, err := s.Materials.Technique(t.Context(), own)
	require.NoError(t, err)
	_, n, err := s.Materials.SaveTechnique(t.Context(), own, rev, map[string]string{"name": "Écume rapide"}, msg.English)
	require.NoError(t, err)
	require.True(t, n.OK(), n.Errors)
	p := s.piece(map[string]string{"name": "Mudflat", pieces.CoatKey(plan.FirstCoat, "technique"): own})
	for _, path := range []string{frame.Piece(p.ID), "/days/print", "/days.ics", frame.Piece(p.ID, "/run-sheet"), "/"} {
		body := strings.ReplaceAll(s.get(path), "\r\n ", "")
		assert.NotContains(t, body, "\ufffd", path)
		assert.NotContains(t, body, "\xc3\xa9"[:1]+"\"", path)
	}
	assert.Contains(t, s.get(frame.Piece(p.ID, "/run-sheet")), "écume rapide")
}

// law: over random pieces, every page that prints an amount, a time or a step
// prints the plan's, and all of them print the one agenda.
func TestPagesPrintThePlan(t *testing.T) {
	testsize.Sequential(t)
	s := open(t)
	rng := rand.New(rand.NewPCG(7, 11))
	var list []pieces.Piece
	coats := []string{"swipe", "cell", "flow", "flood", "lines", "veil"}
	many := 8
	if testsize.Raced {
		many = 3
	}
	for i := range many {
		typed := map[string]string{
			"name":    fmt.Sprintf("Law %d", i),
			"support": []string{"canvas", "panel", "tile", "tray"}[rng.IntN(4)],
			"size":    fmt.Sprintf("%d x %d cm", 15+rng.IntN(70), 15+rng.IntN(70)),
			"sealed":  []string{"yes", "no"}[rng.IntN(2)],
			"sides":   []string{"run-over", "taped", "painted"}[rng.IntN(3)],
		}
		typed[pieces.CoatKey(plan.FirstCoat, "technique")] = coats[rng.IntN(3)]
		p := s.piece(typed)
		p, _, err := s.Pieces.Edit(t.Context(), p.ID, p.Rev,
			map[string]string{pieces.CoatKey(plan.SecondCoat, "technique"): coats[rng.IntN(len(coats))]})
		require.NoError(t, err)
		list = append(list, p)
	}
	ics := strings.ReplaceAll(s.get("/days.ics"), "\r\n ", "")
	require.NoError(t, s.Mail.RemindNow(t.Context()))
	letters, err := s.Mail.Letters(t.Context())
	require.NoError(t, err)
	require.NotEmpty(t, letters)
	for _, p := range list {
		s.checkPiece(p, ics)
		for _, task := range s.view(p).Agenda.TasksOf(p.ID) {
			if task.Start.YearDay() == monday.YearDay() && task.Kind != plan.TaskLook {
				assert.Contains(t, letters[0].Body,
					task.Start.Format("15:04")+"  "+p.Name+": "+
						msg.Lower(words.Task(task.Task, task.Plan)).In(msg.English), "the letter says the same")
			}
		}
	}
}

func (s *site) checkPiece(p pieces.Piece, ics string) {
	t := s.t
	v := s.view(p)
	require.NotNil(t, v.Slot, p.Name)
	sys := v.Agenda.Book.Settings.Units
	sheet := plainText(s.get(frame.Piece(p.ID, "/run-sheet")))
	card := plainText(s.get(frame.Piece(p.ID, "/card")))
	csv := s.get(frame.Piece(p.ID, "/cups.csv"))
	for i := range v.Coats {
		c := &v.Coats[i]
		page := plainText(s.get(frame.Piece(p.ID, "?part=all&coat="+c.ID)))
		sum := 0.0
		for _, cup := range c.Cups {
			sum += cup.Volume.Millilitres()
			amounts := []msg.Figure{cup.A.Mass.Text(sys), cup.B.Mass.Text(sys)}
			if c.Split() {
				amounts = []msg.Figure{cup.Resin().Text(sys)}
			}
			for _, text := range amounts {
				for where, body := range map[string]string{"piece": page, "run sheet": sheet, "card": card} {
					assert.Contains(t, body, string(text), "%s, %s of the %s on the %s", p.Name, cup.Colour.Name, words.Coat(c), where)
				}
			}
			assert.Contains(t, csv, fmt.Sprintf("%.3f", cup.A.Mass.Grams()))
		}
		for _, lot := range c.Batches {
			if c.Split() {
				for where, body := range map[string]string{"piece": page, "run sheet": sheet, "card": card} {
					assert.Contains(t, body, "A "+string(lot.A.Mass.Text(sys)), "%s, the jug of the %s on the %s", p.Name,
						words.Coat(c),
						where)
				}
			}
		}
		assert.InDelta(t, c.Total.Millilitres(), sum, 0.5, "the cups of the %s make the coat", words.Coat(c))
	}
	for _, task := range v.Agenda.TasksOf(p.ID) {
		name, hour := words.Task(task.Task, v.Plan).In(msg.English), task.Start.Format("15:04")
		if task.Kind == plan.TaskPour {
			assert.Equal(t, v.Plan.Coat(task.Coat).Start, task.Start, "the plan pours when the agenda does")
		} else {
			assert.Contains(t, sheet, hour+" "+name, "the run sheet has the task at the agenda's time")
		}
		assert.Contains(t, ics, "DTSTART:"+task.Start.UTC().Format("20060102T150405Z"), "%s: %s", p.Name, name)
		day := plainText(s.get("/days/print?from=" + task.Start.Format(time.DateOnly)))
		assert.Contains(t, day, name+" "+p.Name)
	}
	prepared := map[string]int{}
	for _, task := range v.Tasks {
		if task.Kind == plan.TaskPrepare {
			prepared[task.Layer] = task.Of
		}
	}
	for _, l := range v.Layers {
		if l.Kind == plan.Prepare {
			assert.Equal(t, max(1, l.Times), max(1, prepared[l.ID]), "%s: layer %s is a task", p.Name, l.What)
			assert.Contains(t, sheet, v.NameOf(l))
		}
	}
}

var tags = regexp.MustCompile(`(?s)<(script|style|svg).*?</(script|style|svg)>|<[^>]+>`)

// plainText is a page as it is read: without tags, blanks run together.
func plainText(page string) string {
	text := tags.ReplaceAllString(page, " ")
	for from, to := range map[string]string{"&amp;": "&", "&#39;": "'", "&#34;": `"`, "&#43;": "+"} {
		text = strings.ReplaceAll(text, from, to)
	}
	return strings.Join(strings.Fields(text), " ")
}

// A tray has no sides for resin to run over: nothing paints them.
func TestATraysSidesAreNotPainted(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Tray", "support": "tray", "sealed": "no"})
	sheet := plainText(s.get(frame.Piece(p.ID, "/run-sheet")))
	assert.NotContains(t, sheet, "Paint the sides")
	panel := s.piece(map[string]string{"name": "Panel", "support": "panel", "sealed": "no"})
	sheet = plainText(s.get(frame.Piece(panel.ID, "/run-sheet")))
	assert.Contains(t, sheet, "Paint the sides")
}

// Without a scale a weigh-out is led by what is to be poured, and takes what is
// typed; nothing is said of a scale.
func TestWeighingOutWithoutAScale(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Mudflat"})
	begun := s.post(frame.Piece(p.ID, "/weigh/first"), nil)
	require.Equal(t, http.StatusSeeOther, begun.Code)
	at := begun.Header().Get("Location")
	assert.NotContains(t, plainText(s.get(at)), "Simulated", "no test rig stands in a studio")
	require.Equal(t, http.StatusSeeOther, s.post(at+"/tare", map[string]string{"rev": "1"}).Code)
	page := plainText(s.get(at))
	target := s.view(p).Coats[0].Batches[0].A.Mass
	assert.Contains(t, page, fmt.Sprintf("%.1f g", target.Grams()))
	assert.NotContains(t, page, "Use the reading", "there is no reading to confirm")
	require.Equal(t, http.StatusSeeOther, s.post(at+"/typed", map[string]string{"rev": "2", "grams": fmt.Sprintf("%.1f",
		target.Grams())}).Code)
	assert.Contains(t, plainText(s.get(at)), "part B")
	refused := s.do("POST", at+"/typed", map[string]string{"rev": "3", "grams": "a spoonful"}, true)
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Code)
	assert.Contains(t, refused.Body.String(), "a spoonful")
}
