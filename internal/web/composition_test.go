package web_test

import (
	"encoding/csv"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
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
	page := "/pieces/1/composition"
	step := func(path string, form url.Values) string {
		t.Helper()
		res, body := s.post(page+path, form, "HX-Request", "true")
		require.Equal(t, 200, res.StatusCode, path)
		assert.NotContains(t, body, "<html", "only the part that changes")
		return body
	}
	_, empty := s.get(page)
	none := things(empty)

	body := step("/start", url.Values{"start": {"lanes"}})
	begun := things(body)
	require.Greater(t, len(begun), len(none))

	body = step("/things", url.Values{"kind": {"puddle"}, "cup": {"c2"}, "points": {"100,100"}, "snap": {"no"}})
	added := things(body)
	require.Len(t, added, len(begun)+1)
	fresh := added[len(added)-1]
	assert.Contains(t, body, `value="100,100"`, "the new one is selected, its point typed out")

	body = step("/things/"+fresh+"/move", url.Values{"dx": {"25"}, "dy": {"-10"}, "snap": {"no"}})
	assert.Contains(t, body, `value="125,90"`)
	body = step("/things/"+fresh, url.Values{"points": {"somewhere"}})
	assert.Contains(t, body, `value="somewhere"`, "what was refused stays in its field")
	assert.Contains(t, body, `id="say-points"`)
	body = step("/things/"+fresh, url.Values{"points": {"140, 80"}, "volume": {"2 ml"}})
	assert.Contains(t, body, `value="140,80"`)
	assert.Regexp(t, `name="volume" value="2(.0+)? mL"`, body)

	body = step("/things/"+fresh+"/copy", nil)
	assert.Len(t, things(body), len(begun)+2)
	body = step("/things/"+fresh+"/remove", nil)
	assert.NotContains(t, things(body), fresh)
	body = step("/clear", nil)
	assert.Less(t, len(things(body)), len(begun))

	for range 8 {
		body = step("/undo", nil)
	}
	assert.Equal(t, none, things(body), "eight changes, eight steps back")
	body = step("/redo", nil)
	assert.Equal(t, begun, things(body))
}

// Numbers no board has are refused or bounded, and nothing is lost by them.
func TestPlacingNonsense(t *testing.T) {
	s := open(t)
	page := "/pieces/2/composition"
	_, before := s.get(page)
	old := things(before)
	require.NotEmpty(t, old)
	for _, form := range []url.Values{
		{"kind": {"comet"}, "cup": {"c1"}},
		{"kind": {"puddle"}, "cup": {"c99"}, "points": {"10,10"}},
		{"kind": {"ribbon"}, "cup": {"c1"}, "points": {"10,10"}},
		{"kind": {"puddle"}, "cup": {"c1"}, "points": {"1e400,NaN"}},
		{"kind": {"puddle"}, "cup": {"c1"}, "points": {strings.Repeat("1,1 ", 20000)}},
	} {
		res, _ := s.post(page+"/things", form, "HX-Request", "true")
		assert.Equal(t, 422, res.StatusCode, "%.60v", form)
	}
	res, _ := s.post(page+"/things/"+old[len(old)-1]+"/move", url.Values{"dx": {"NaN"}, "dy": {"1e308"}, "at": {"9999999999999999999999"}}, "HX-Request", "true")
	assert.Less(t, res.StatusCode, 500)
	res, _ = s.post(page+"/start", url.Values{"start": {"chaos"}}, "HX-Request", "true")
	assert.Equal(t, 404, res.StatusCode)
	_, after := s.get(page)
	assert.Equal(t, old, things(after))
}

// Drops are counted in the cup; an amount that is none comes back as typed.
func TestDosesOverForms(t *testing.T) {
	s := open(t)
	cup := "/pieces/1/cups/first/c3"
	_, before := s.get(cup)
	res, body := s.post(cup+"/dose", url.Values{"pigment": {"1"}, "amount": {"half a handful"}}, "HX-Request", "true")
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, `value="half a handful"`)
	assert.Contains(t, body, `<option value="1" selected`)
	res, body = s.post(cup+"/dose", url.Values{"pigment": {"1"}, "amount": {"0.4 g"}}, "HX-Request", "true")
	assert.Equal(t, 200, res.StatusCode)
	assert.Contains(t, body, "0.40")
	res, body = s.post(cup+"/dose", url.Values{"pigment": {"999"}, "amount": {"1 g"}}, "HX-Request", "true")
	assert.NotEqual(t, 200, res.StatusCode)
	assert.NotContains(t, body, "goroutine")
	res, _ = s.post(cup+"/undo", nil)
	assert.Equal(t, 200, res.StatusCode)
	_, after := s.get(cup)
	assert.Equal(t, hexes(before), hexes(after), "taken back")
	_, dark := s.get(cup + "?ground=black")
	assert.NotEqual(t, hexes(before), hexes(dark), "colour is judged over the ground asked for")
}

var hexColour = regexp.MustCompile(`#[0-9a-f]{6}`)

func hexes(body string) []string { return hexColour.FindAllString(body, -1) }

// The sheet of cups is plain RFC 4180, one row a cup; shares of a coat add up
// to one and every cup of a coat has its parts in the same ratio.
func TestCupSheet(t *testing.T) {
	s := open(t)
	res, body := s.get("/pieces/1/cups.csv")
	require.Equal(t, 200, res.StatusCode)
	assert.Equal(t, "text/csv; charset=utf-8", res.Header.Get("Content-Type"))
	assert.Contains(t, res.Header.Get("Content-Disposition"), `filename="cups-1.csv"`)
	rows, err := csv.NewReader(strings.NewReader(body)).ReadAll()
	require.NoError(t, err)
	require.Greater(t, len(rows), 5)
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
	_, body := s.get("/pieces/1/rescale?size=60+x+40+cm&count=2")
	assert.Contains(t, body, `value="60 cm × 40 cm"`)
	res, body := s.post("/pieces/1/rescale", url.Values{"size": {"big"}}, "HX-Request", "true")
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, body, "big")
	_, n, err := s.studio.Pieces(t.Context(), "", 1, 0)
	require.NoError(t, err)
	res, _ = s.post("/pieces/1/rescale", url.Values{"size": {"60 x 40 cm"}, "name": {"Ebb tide, large"}})
	require.Equal(t, 303, res.StatusCode)
	_, body = s.get(res.Header.Get("Location"))
	assert.Contains(t, body, "Ebb tide, large")
	_, after, err := s.studio.Pieces(t.Context(), "", 1, 0)
	require.NoError(t, err)
	assert.Equal(t, n+1, after, "one more piece, the old one untouched")
}
