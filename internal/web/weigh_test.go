package web_test

import (
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/web/frame"
)

var revField = regexp.MustCompile(`name="rev" value="(\d+)"`)

// At weigh-out a painter types into the page that is open.
type weighOut struct {
	*site
	at string
}

func (s *site) weighOut(product map[string]string) weighOut {
	s.t.Helper()
	product["name"] = "Worked example"
	r, n, err := s.Materials.SaveProduct(s.t.Context(), 0, 0, product)
	require.NoError(s.t, err)
	require.True(s.t, n.OK(), n.Errors)
	p := s.piece(map[string]string{"coat.first.product": strconv.FormatInt(r.ID, 10), "coat.first.technique": "flood"})
	begun := s.post(frame.Piece(p.ID, "/weigh/"+plan.FirstCoat), nil)
	require.Equal(s.t, http.StatusSeeOther, begun.Code)
	return weighOut{s, begun.Header().Get("Location")}
}

func (w weighOut) say(button, text string) int {
	w.t.Helper()
	rev := revField.FindStringSubmatch(w.get(w.at))
	require.NotNil(w.t, rev)
	return w.post(w.at+button, map[string]string{"rev": rev[1], "grams": text}).Code
}

// figure is the large figure of the page.
func (w weighOut) figure() float64 {
	w.t.Helper()
	v, err := strconv.ParseFloat(between(w.t, between(w.t, w.get(w.at), `<p class="dial-net">`, "</p>"), "<data>",
		"</data>"), 64)
	require.NoError(w.t, err)
	return v
}

func (w weighOut) look(text string) string {
	return plainText(w.get(w.at + "/look?grams=" + url.QueryEscape(text)))
}

// 3:1 by weight: 30 g of A need 10 g of B, 31 g need 10.33 g (common practice,
// the trade's own example), typed with a comma, a unit, or neither.
func TestThreeToOneThroughThePage(t *testing.T) {
	s := open(t)
	w := s.weighOut(map[string]string{"ratio": "3:1", "by": "weight"})
	require.Equal(t, http.StatusSeeOther, w.say("/tare", ""))
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "30"))
	assert.InDelta(t, 10, w.figure(), 0.05)
	require.Equal(t, http.StatusSeeOther, w.say("/undo", ""))
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "31,0 g"))
	assert.InDelta(t, 10.33, w.figure(), 0.05)
	assert.Contains(t, w.look("10.3"), "Stop: on target")
	assert.Contains(t, w.look("ST,GS,+  10.3 g"), "Stop: on target",
		"a scale that types like a keyboard sends all of its display")
	assert.Contains(t, w.look("8"), "2.3 g still to pour")
	assert.Contains(t, w.look("13"), "Confirm, then add", "an overshoot says how it is put right before it is taken")
	assert.Contains(t, w.look("a lot"), "is not a weight")
	assert.Contains(t, w.look("-2"), "less than before")
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "12"))
	body := plainText(s.get(w.at))
	assert.Contains(t, body, "part A, correction")
	assert.InDelta(t, 36-31, w.figure(), 0.05, "12 g of B want 36 g of A")
}

// 300 mL at 2:1 is 200 + 100, read off the marks of one jug (common practice).
func TestTwoToOneByTheMarksOfAJug(t *testing.T) {
	s := open(t)
	_, _, err := s.Setup.Edit(t.Context(),
		map[string]string{"school.measure": school.MeasureVolume, "school.tare": school.TareOnce})
	require.NoError(t, err)
	w := s.weighOut(map[string]string{"ratio": "2:1", "by": "volume", "density_a": "1130 kg/m3", "density_b": "970 kg/m3"})
	require.Equal(t, http.StatusSeeOther, w.say("/tare", ""))
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "200"))
	assert.InDelta(t, 300, w.figure(), 0.5, "part B goes up to the mark of the whole")
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "300 mL"))
	assert.NotContains(t, plainText(s.get(w.at)), "correction")
}

// The same product weighed as 2:1 gets 16.5 % too much hardener (worked example
// of the conversion by densities); the page says so before it is taken.
func TestVolumeRatioTakenForWeight(t *testing.T) {
	s := open(t)
	w := s.weighOut(map[string]string{"ratio": "2:1", "by": "volume", "density_a": "1130 kg/m3", "density_b": "970 kg/m3"})
	require.Equal(t, http.StatusSeeOther, w.say("/tare", ""))
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "100"))
	assert.InDelta(t, 100/2.330, w.figure(), 0.06)
	assert.Contains(t, w.look("50"), "ratio +16.5 %")
}

// How the scale is zeroed is chosen on the page and changes what it asks for.
func TestTheScaleIsZeroedAsThePainterDoes(t *testing.T) {
	s := open(t)
	w := s.weighOut(map[string]string{"ratio": "3:1", "by": "weight"})
	require.Equal(t, http.StatusSeeOther, w.say("/tares", school.TareNever))
	assert.Contains(t, plainText(s.get(w.at)), "type what it shows")
	assert.Equal(t, http.StatusUnprocessableEntity, w.say("/tare", ""), "the empty cup is to be weighed")
	require.Equal(t, http.StatusSeeOther, w.say("/tare", "12 g"))
	require.Equal(t, http.StatusSeeOther, w.say("/typed", "42"))
	assert.InDelta(t, 52, w.figure(), 0.05, "12 g of cup, 30 g of A, 10 g of B")
	assert.Equal(t, http.StatusUnprocessableEntity, w.say("/tares", school.TareEach))
	assert.Equal(t, http.StatusUnprocessableEntity, w.say("/typed", "30"), "less than was in it before")
}
