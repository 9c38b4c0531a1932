package web_test

import (
	"encoding/csv"
	"maps"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/web/frame"
)

var stageThing = regexp.MustCompile(`data-thing="([^"]+)"`)

// things lists the things drawn on a composition page, in order, once each.
func things(body string) []string {
	var out []string
	seen := map[string]bool{}
	for _, m := range stageThing.FindAllStringSubmatch(body, -1) {
		if !seen[m[1]] {
			seen[m[1]] = true
			out = append(out, m[1])
		}
	}
	return out
}

// A composition is begun, changed and cleared over plain forms, and undo goes
// all the way back.
func TestACompositionOverForms(t *testing.T) {
	s := open(t)
	page := frame.Piece(s.piece(map[string]string{"size": "40 x 30 cm"}).ID, "/composition")
	none := things(s.get(page))
	step := func(path string, form map[string]string) string {
		t.Helper()
		with := map[string]string{"coat": plan.FirstCoat}
		maps.Copy(with, form)
		res := s.do(http.MethodPost, page+path, with, true)
		require.Equal(t, http.StatusOK, res.Code, path)
		assert.NotContains(t, res.Body.String(), "<html", "only the part that changes")
		return res.Body.String()
	}
	begun := things(step("/start", map[string]string{"start": "lanes"}))
	require.Greater(t, len(begun), len(none))

	body := step("/things", map[string]string{"kind": "puddle", "cup": "c2", "points": "100,100", "snap": "no"})
	added := things(body)
	require.Len(t, added, len(begun)+1)
	fresh := added[len(added)-1]
	assert.Contains(t, body, `value="100,100"`, "the new one is selected, its point typed out")

	body = step("/things/"+fresh+"/move", map[string]string{"dx": "25", "dy": "-10", "snap": "no"})
	assert.Contains(t, body, `value="125,90"`)
	assert.Len(t, things(step("/things/"+fresh+"/copy", nil)), len(begun)+2)
	assert.NotContains(t, things(step("/things/"+fresh+"/remove", nil)), fresh)
	assert.Less(t, len(things(step("/clear", nil))), len(begun))
	for range 6 {
		body = step("/undo", nil)
	}
	assert.Equal(t, none, things(body), "six changes, six steps back")
	assert.Equal(t, begun, things(step("/redo", nil)))
}

// A thing's own fields say what is wrong with them and keep what was typed.
func TestAThingIsTyped(t *testing.T) {
	s := open(t)
	page := frame.Piece(s.piece(map[string]string{"size": "40 x 30 cm"}).ID, "/composition")
	body := s.do(http.MethodPost, page+"/things",
		map[string]string{"coat": plan.FirstCoat, "kind": "puddle", "cup": "c2", "points": "100,100"}, true).Body.String()
	all := things(body)
	require.NotEmpty(t, all)
	at := page + "/things/" + all[len(all)-1]
	wrong := s.do(http.MethodPost, at, map[string]string{"coat": plan.FirstCoat, "points": "somewhere"},
		true).Body.String()
	assert.Contains(t, wrong, `value="somewhere"`, "what was refused stays in its field")
	right := s.do(http.MethodPost, at, map[string]string{"coat": plan.FirstCoat, "points": "140, 80", "volume": "2 ml"},
		true).Body.String()
	assert.Contains(t, right, `value="140,80"`)
	assert.Regexp(t, `name="volume" value="2(.0+)? mL"`, right)
}

// Numbers no board has are refused or bounded, and nothing is lost by them.
func TestPlacingNonsense(t *testing.T) {
	s := open(t)
	page := frame.Piece(s.piece(map[string]string{"size": "40 x 30 cm"}).ID, "/composition")
	s.do(http.MethodPost, page+"/start", map[string]string{"coat": plan.FirstCoat, "start": "lanes"}, true)
	old := things(s.get(page))
	require.NotEmpty(t, old)
	for _, form := range []map[string]string{
		{"kind": "comet", "cup": "c1"},
		{"kind": "puddle", "cup": "c99", "points": "10,10"},
		{"kind": "ribbon", "cup": "c1", "points": "10,10"},
		{"kind": "puddle", "cup": "c1", "points": "1e400,NaN"},
		{"kind": "puddle", "cup": "c1", "points": strings.Repeat("1,1 ", 20000)},
	} {
		form["coat"] = plan.FirstCoat
		assert.Equal(t, http.StatusUnprocessableEntity, s.do(http.MethodPost, page+"/things", form, true).Code, "%.60v", form)
	}
	moved := s.do(http.MethodPost, page+"/things/"+old[len(old)-1]+"/move",
		map[string]string{"coat": plan.FirstCoat, "dx": "NaN", "dy": "1e308", "at": "9999999999999999999999"}, true)
	assert.Less(t, moved.Code, 500)
	assert.GreaterOrEqual(t, s.do(http.MethodPost, page+"/start",
		map[string]string{"coat": plan.FirstCoat, "start": "chaos"}, true).Code, 400)
	assert.Equal(t, old, things(s.get(page)))
}

var hexColour = regexp.MustCompile(`#[0-9a-f]{6}`)

// Drops are counted in the cup; an amount that is none comes back as typed.
func TestDosesOverForms(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{})
	cup := frame.Piece(p.ID, "/coats/"+plan.FirstCoat+"/cups/"+p.First().Coat.Colours[1].ID)
	before := s.get(cup)
	dose := func(pigment, amount string) (int, string) {
		res := s.do(http.MethodPost, cup+"/dose", map[string]string{"pigment": pigment, "amount": amount}, true)
		return res.Code, res.Body.String()
	}
	code, body := dose("1", "half a handful")
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, `value="half a handful"`)
	code, body = dose("1", "0.4 g")
	assert.Equal(t, http.StatusOK, code)
	assert.NotEqual(t, hexColour.FindAllString(before, -1), hexColour.FindAllString(body, -1), "and is seen in the film")
	code, _ = dose("999", "1 g")
	assert.GreaterOrEqual(t, code, 400)
	assert.Less(t, code, 500)
	assert.Equal(t, http.StatusOK, s.post(cup+"/undo", nil).Code)
	after := s.get(cup)
	assert.Equal(t, hexColour.FindAllString(before, -1), hexColour.FindAllString(after, -1), "taken back")
	assert.NotEqual(t, hexColour.FindAllString(before, -1), hexColour.FindAllString(s.get(cup+"?ground=black"), -1),
		"colour is judged over the ground asked for")
}

// The sheet of cups is plain RFC 4180, one row a cup; shares of a coat add up
// to one and every cup of a coat has its parts in the same ratio.
func TestCupSheet(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"size": "40 x 30 cm"})
	rows, err := csv.NewReader(strings.NewReader(s.get(frame.Piece(p.ID, "/cups.csv")))).ReadAll()
	require.NoError(t, err)
	require.Greater(t, len(rows), 4)
	column := map[string]int{}
	for i, name := range rows[0] {
		column[name] = i
	}
	number := func(row []string, name string) float64 {
		v, err := strconv.ParseFloat(row[column[name]], 64)
		require.NoError(t, err, name)
		return v
	}
	shares, ratio := map[string]float64{}, map[string]float64{}
	for _, row := range rows[1:] {
		coat, r := row[column["coat"]], number(row, "a_ml")/number(row, "b_ml")
		shares[coat] += number(row, "share")
		if ratio[coat] == 0 {
			ratio[coat] = r
		}
		assert.InEpsilon(t, ratio[coat], r, 0.005, "%s, %s", coat, row[column["cup"]])
	}
	for coat, sum := range shares {
		assert.InDelta(t, 1, sum, 0.01, coat)
	}
}

// A rescaled recipe is a preview until it is kept.
func TestRescaleOverForms(t *testing.T) {
	s := open(t)
	page := frame.Piece(s.piece(map[string]string{"size": "10 x 10 cm"}).ID, "/rescale")
	assert.Contains(t, s.get(page+"?size=60+x+40+cm&count=2"), `value="60 cm × 40 cm"`)
	res := s.do(http.MethodPost, page, map[string]string{"size": "big"}, true)
	assert.Equal(t, http.StatusUnprocessableEntity, res.Code)
	assert.Contains(t, res.Body.String(), "big")
	_, n, err := s.Pieces.Pieces(t.Context(), "", 1, 0)
	require.NoError(t, err)
	require.Equal(t, 1, n)
	res = s.post(page, map[string]string{"size": "60 x 40 cm", "name": "Ebb tide, large"})
	require.Equal(t, http.StatusSeeOther, res.Code)
	assert.Contains(t, s.get(res.Header().Get("Location")), "Ebb tide, large")
	_, n, err = s.Pieces.Pieces(t.Context(), "", 9, 0)
	require.NoError(t, err)
	assert.Equal(t, 2, n, "one more piece, the old one untouched")
}
