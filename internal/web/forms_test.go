package web_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/stock"
	"jevvo/internal/studiotest"
	"jevvo/internal/web/frame"
)

func (s *site) htmx(path string, form map[string]string) (int, string) {
	s.t.Helper()
	w := s.do(http.MethodPost, path, form, true)
	return w.Code, w.Body.String()
}

// Sums calculate with what is typed in either system, and refuse what cannot be.
func TestSumsOverForms(t *testing.T) {
	s := open(t)
	for path, form := range map[string]map[string]string{
		"/calculators/surface": {"shape": "circle", "diameter_mm": "300 mm"},
		"/calculators/correct": {"product": "2", "poured_a_g": "200", "poured_b_g": "100"},
		"/calculators/portion": {"cups": "sea 30%; sand 50; very long name of a cup 20"},
		"/calculators/line":    {"at_s": "10 s, 1 min, 5 min"},
		"/calculators/clock":   {"room": "70F"},
	} {
		code, body := s.htmx(path, form)
		assert.Equal(t, http.StatusOK, code, path)
		assert.Contains(t, body, "lead-figures", path)
	}
	for path, form := range map[string]map[string]string{
		"/calculators/surface": {"shape": "polygon", "points_mm": "0,0 9,9 9,0 0,9"},
		"/calculators/line":    {"at_s": "soon"},
		"/calculators/portion": {"cups": "sea"},
		"/calculators/correct": {"product": "99"},
		"/calculators/stages":  {"max_lot_ml": "1 mL"},
	} {
		w := s.post(path, form)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, path)
		assert.NotContains(t, w.Body.String(), "lead-figures", path)
	}
}

// A pigment is entered, drawn down, retired and put back; what was refused stays
// in its field.
func TestPigmentsOverForms(t *testing.T) {
	s := open(t)
	w := s.post("/pigments", map[string]string{"name": "Own", "swatch": "#zz0000", "bottle": "many"})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), `value="many"`)
	w = s.post("/pigments", map[string]string{"name": "Own", "swatch": "#304050"})
	require.Equal(t, http.StatusSeeOther, w.Code)
	path := w.Header().Get("Location")
	s.get(path)
	w = s.post(path+"/drawdown",
		map[string]string{"over_black": "#777777", "over_white": "#222222", "chart_white": "#eeeeee", "draw_film": "0.2 mm",
			"draw_load": "2%"})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code, "black over white: they are mixed up")
	assert.Contains(t, w.Body.String(), `value="#777777"`)
	require.Equal(t, http.StatusSeeOther, s.post(path+"/retire", nil).Code)
	assert.Contains(t, s.get("/materials/pigments"), "retired")
	assert.Equal(t, http.StatusSeeOther, s.post(path+"/return", nil).Code)
}

// A pigment chosen in place sends the fields back, because its swatch is now the
// colour's; another film does not, so that the field with the cursor is left alone.
func TestChoosingAPigmentRenewsTheForm(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	at := frame.Piece(p.ID, "/edit")
	cup := p.First().Coat.Colours[2].ID
	code, body := s.htmx(at, map[string]string{"rev": "1", "coat": plan.FirstCoat, "part": "composition",
		pieces.CupKey(plan.FirstCoat, cup, "pigment"): "1", pieces.CupKey(plan.FirstCoat, cup, "swatch"): "#123456"})
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, `id="plan-form"`)
	// A technique with choices of its own brings fields that were not there.
	code, body = s.htmx(at, map[string]string{"rev": "2", "coat": plan.FirstCoat, "part": "composition",
		pieces.CoatKey(plan.FirstCoat, "technique"): "dots"})
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, pieces.OptionKey(plan.FirstCoat, "apart"))
	code, body = s.htmx(at, map[string]string{"rev": "3", "coat": plan.FirstCoat, "part": "composition",
		pieces.OptionKey(plan.FirstCoat, "apart"): "closest"})
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, "is not one of the options")
	code, _ = s.htmx(at, map[string]string{"rev": "3", "coat": plan.FirstCoat, "part": "composition",
		pieces.OptionKey(plan.FirstCoat, "apart"): "40", pieces.ExtraKey(plan.FirstCoat, "wipe-rim"): "yes"})
	assert.Equal(t, http.StatusOK, code)
	sheet := plainText(s.get(frame.Piece(p.ID, "/run-sheet")))
	assert.Contains(t, sheet, "40 mm apart")
	assert.Contains(t, sheet, "Wipe rim and sides")
}

// A set is planned board by board until it is poured.
func TestASetIsPlannedBoardByBoard(t *testing.T) {
	s := open(t)
	set := s.piece(map[string]string{"name": "Pair", "count": "2"})
	w := s.post(frame.Piece(set.ID, "/apart"), nil)
	require.Equal(t, http.StatusSeeOther, w.Code)
	assert.Contains(t, s.get("/pieces"), "Pair, 2 of 2")
	assert.Equal(t, http.StatusUnprocessableEntity, s.post(frame.Piece(set.ID, "/apart"), nil).Code, "it is one board")
	poured := s.piece(map[string]string{"name": "Poured", "count": "2"})
	require.NoError(t, s.Agenda.Mark(t.Context(), poured.ID, plan.PourKey(plan.FirstCoat), s.Now()))
	w = s.post(frame.Piece(poured.ID, "/apart"), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), "poured together")
}

// What mends the gravest verdict stands beside it, and is gone with it.
func TestAVerdictComesWithWhatMendsIt(t *testing.T) {
	s := open(t)
	spec, _, err := s.Pieces.Draft(t.Context())
	require.NoError(t, err)
	spec.Name, spec.Count, spec.Width, spec.Height = "Pair", 2, 500, 700
	set, err := s.Pieces.Add(t.Context(), spec)
	require.NoError(t, err)
	head := func(id int64) string {
		_, from, ok := strings.Cut(s.get(frame.Piece(id, "")), `id="out-head"`)
		require.True(t, ok)
		head, _, _ := strings.Cut(from, `id="out-ways"`)
		return head
	}
	require.Contains(t, head(set.ID), "It does not fit")
	assert.Contains(t, head(set.ID), `form="apart-form">Plan each by itself`)
	require.Equal(t, http.StatusSeeOther, s.post(frame.Piece(set.ID, "/apart"), nil).Code)
	for _, id := range []int64{set.ID, set.ID + 1} {
		assert.NotContains(t, head(id), "-form\"")
	}
}

// Of what was never counted nobody knows whether it lasts: the stock says so, and shows no figure for it.
func TestNothingUncountedIsCalledCovered(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	require.NoError(t, s.Stock.Count(t.Context(), stock.Thing{Kind: store.Pigments, ID: 1}, "90 g", "a bottle"))
	body := s.get("/stock")
	assert.NotContains(t, body, "is covered")
	assert.Contains(t, body, "never counted")
	require.NoError(t, s.Stock.Count(t.Context(), studiotest.ResinOf(p.Spec), "50 L", "all there is"))
	assert.Equal(t, strings.Count(body, ">count it<")-1, strings.Count(s.get("/stock"), ">count it<"))
}

func TestPieceCommands(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	at := frame.Piece(p.ID)
	for _, x := range []struct {
		path string
		want int
	}{
		{at + "/coats/first/colours", 303}, {at + "/undo", 303}, {at + "/redo", 303}, {at + "/layers", 422},
		{at + "/copy", 303},
		{at + "/remove", 303}, {at + "/undo", 404}, {at + "/restore", 303}, {at + "/undo", 303},
		{"/pieces/77/copy", 404}, {"/pieces/77/undo", 404}, {"/pieces/77/remove", 404},
		{"/learning/swipe/reset", 303}, {"/learning/magic/reset", 404}, {"/bench/round", 303},
	} {
		assert.Equal(t, x.want, s.post(x.path, nil).Code, x.path)
	}
	w := s.do(http.MethodPost, "/pieces/999/undo", nil, true)
	assert.Equal(t, http.StatusNotFound, w.Code)
	assert.Equal(t, "#alert", w.Header().Get("HX-Retarget"), "a failed step is said where it is seen")
	assert.NotContains(t, w.Body.String(), "<html")
}

// The stand-in for a scale is switched on where the instruments are, and played
// with there.
func TestTheScaleIsPlayedWith(t *testing.T) {
	s := open(t)
	assert.Equal(t, http.StatusNotFound, s.post("/scale/cup", nil).Code, "there is none in a studio")
	require.Equal(t, http.StatusSeeOther, s.post("/devices/scale/on", nil).Code)
	for form, want := range map[string]int{"50": 204, "0": 204, "-1": 422, "101": 422, "NaN": 422, "tip": 422, "": 422} {
		assert.Equal(t, want, s.post("/scale/lever", map[string]string{"lever": form}).Code, form)
	}
	assert.Equal(t, http.StatusNoContent, s.post("/scale/cup", nil).Code)
	assert.Equal(t, http.StatusNotFound, s.post("/scale/hammer", nil).Code)
	require.Equal(t, http.StatusSeeOther, s.post("/devices/scale/off", nil).Code)
}

// An outline that cannot be is said with the reason on every page that needs it,
// and mended where it stands.
func TestAnOutlineThatCannotBe(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	at := frame.Piece(p.ID)
	code, body := s.htmx(at+"/edit", map[string]string{"rev": "1", "outline": "polygon"})
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, "type the corners of the board")
	assert.Contains(t, s.get(at), "type the corners of the board")
	for _, below := range []string{"/run-sheet", "/level", "/weigh", "/bench"} {
		w := s.do(http.MethodGet, at+below, nil, false)
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code, below)
		assert.Contains(t, w.Body.String(), "ype the corners of the board", below)
	}
	s.get("/pieces")
	s.get("/days")
	code, _ = s.htmx(at+"/edit", map[string]string{"rev": "2", "outline": "polygon", "points": "0,0 300,0 150,200"})
	assert.Equal(t, http.StatusOK, code)
	assert.InDelta(t, 300*200/2, float64(s.view(s.again(p)).Face), 1e-6)
}

func (s *site) again(p pieces.Piece) pieces.Piece {
	s.t.Helper()
	fresh, err := s.Pieces.Piece(s.t.Context(), p.ID)
	require.NoError(s.t, err)
	return fresh
}

// Where a link jumps to is found by any part of its name.
func TestJump(t *testing.T) {
	s := open(t)
	s.piece(map[string]string{"name": "Night ferry"})
	for find, want := range map[string]string{"lacing": "/pigments/", "qqqq": "Nothing found with that name",
		"settings": "/settings", "ferry": "/pieces/1",
		"bench+ferry": "/pieces/1/bench", "weigh+out+night": "/pieces/1/weigh", "wei+night": "/pieces/1/weigh",
		"pre+ferry": "/pieces/1/preview", "be+ferry": "Nothing found with that name"} {
		assert.Contains(t, s.do(http.MethodGet, "/jump?q="+find, nil, true).Body.String(), want, find)
	}
	assert.Equal(t, "/pieces/1", s.do(http.MethodGet, "/jump?q=ferry", nil, false).Header().Get("Location"),
		"without scripts the first is taken")
}

// A rehearsal runs beside the work: it is listed apart and records nothing.
func TestARehearsalOverForms(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	address := s.post(frame.Piece(p.ID, "/bench/first"), map[string]string{"speed": "60"}).Header().Get("Location")
	require.True(t, strings.HasPrefix(address, "/rehearsals/"))
	assert.Contains(t, s.get(address), "rehearsal, 60×")
	assert.Equal(t, http.StatusNotFound,
		s.do(http.MethodGet, strings.Replace(address, "rehearsals", "benches", 1), nil, false).Code, "it is no bench day")
	assert.NotContains(t, s.get("/bench"), `href="`+address)
	assert.NotContains(t, s.get("/pieces"), "At the bench", "nothing cures after a rehearsal")
	code, body := s.htmx(address+"/close", map[string]string{"rev": "1"})
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, "The rehearsal is over.")
	assert.Equal(t, http.StatusUnprocessableEntity,
		s.post(frame.Piece(p.ID, "/bench/first"), map[string]string{"speed": "600"}).Code)
}

// The room's forms lead back to pages of this program only.
func TestTheRoomLeadsBack(t *testing.T) {
	s := open(t)
	assert.Equal(t, "/pieces/1",
		s.post("/room", map[string]string{"room": "24 °C", "back": "/pieces/1"}).Header().Get("Location"))
	for _, back := range []string{"//elsewhere.invalid", `/\elsewhere.invalid`, "https://elsewhere.invalid/", ""} {
		assert.Equal(t, "/devices", s.post("/room", map[string]string{"room": "24", "back": back}).Header().Get("Location"),
			back)
	}
	for _, what := range []string{"door", "heater"} {
		assert.Equal(t, http.StatusNotFound, s.post("/room/"+what, nil).Code, "no heater stands in a studio")
	}
	require.Equal(t, http.StatusSeeOther, s.post("/devices/room/on", nil).Code)
	for _, what := range []string{"door", "heater", "silent", "broken"} {
		assert.Equal(t, http.StatusSeeOther, s.post("/room/"+what, nil).Code, what)
	}
}

// A technique of one's own starts as a copy; the ones that came with the program
// are left alone.
func TestOwnTechniquesOverForms(t *testing.T) {
	s := open(t)
	assert.NotEqual(t, http.StatusSeeOther, s.post("/techniques/swipe", map[string]string{"name": "Mine now"}).Code,
		"what came along stays as it is")
	w := s.post("/techniques/swipe/copy", nil)
	require.Equal(t, http.StatusSeeOther, w.Code)
	own := w.Header().Get("Location")
	rev := between(t, s.get(own), `name="rev" value="`, `"`)
	require.Equal(t, http.StatusSeeOther, s.post(own, map[string]string{"rev": rev, "name": "Slack-water swipe"}).Code)
	assert.Contains(t, s.get("/techniques"), "Slack-water swipe")
	assert.Contains(t, s.get("/pieces/new"), "Slack-water swipe", "a piece can be made with it")
	w = s.post(own, map[string]string{"rev": rev, "name": "Behind"})
	assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
	assert.Contains(t, w.Body.String(), `value="Behind"`)
	before := strings.Count(s.get(own), own+"/steps/")
	for _, how := range []string{"after", "up", "remove"} {
		assert.Equal(t, http.StatusSeeOther, s.post(own+"/steps/1/"+how, nil).Code, how)
	}
	assert.Equal(t, before, strings.Count(s.get(own), own+"/steps/"), "one more, moved, and one less")
	assert.Equal(t, http.StatusNotFound, s.post(own+"/steps/99/remove", nil).Code)
	assert.NotEqual(t, http.StatusSeeOther, s.post(own+"/steps/1/burn", nil).Code)
}

// Copying no example is said on the page it was asked on.
func TestNoExampleIsChosen(t *testing.T) {
	s := open(t)
	for _, at := range []string{"/materials", "/materials/pigments"} {
		w := s.post("/materials/examples", map[string]string{"to": at})
		assert.Equal(t, http.StatusUnprocessableEntity, w.Code)
		assert.Contains(t, w.Body.String(), "hoose an example that is not in your materials yet")
		assert.Contains(t, w.Body.String(), `href="/materials"`)
	}
}
