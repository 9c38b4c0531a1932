package web_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/bench"
	"jevvo/internal/web/frame"
)

// Every thing that carries a label has a page that says what to do with it next.
func TestLabelsLeadOn(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"name": "Estuary"})
	sheet := s.get(frame.Piece(p.ID, "/labels"))
	v := s.view(p)
	want := len(v.Boards)
	for _, c := range v.Coats {
		want += len(c.Cups)
	}
	assert.Equal(t, want, strings.Count(sheet, `class="qr"`))
	assert.Contains(t, sheet, "answers on this computer only")
	scan := fmt.Sprintf("/scan/piece/%d", p.ID)
	assert.Contains(t, plainText(s.get(scan)), plainText(v.Agenda.TasksOf(p.ID)[0].What.In(msg.English)))

	coat := v.Coats[0]
	cup := coat.Cups[0]
	at := fmt.Sprintf("/scan/cup/%d/%s/%s", p.ID, coat.ID, cup.Colour.ID)
	body := s.get(at)
	assert.Contains(t, body, cup.A.Mass.Text(v.Agenda.Book.Settings.Units))
	assert.Contains(t, body, frame.Piece(p.ID, "/weigh"))
	w, err := s.Bench.StartWeighing(t.Context(), p.ID, coat.ID)
	require.NoError(t, err)
	assert.Contains(t, s.get(at), fmt.Sprintf(`href="/weighings/%d"`, w.ID), "the one that goes on")

	_, err = s.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	assert.Contains(t, s.get(scan), `href="/benches/1"`)

	page := s.get("/labels")
	assert.Contains(t, page, "Resin, part B")
	assert.Contains(t, page, "Place 8")
	assert.Contains(t, s.get("/scan/resin/1"), "Working time")
	assert.Contains(t, s.get("/scan/pigment/1"), "At most")
	assert.Contains(t, s.get("/scan/place/8"), "Place 8")
	for path, status := range map[string]int{"/scan/place/9": 422, "/scan/place/x": 422, "/scan/resin/99": 404,
		"/scan/pigment/99": 404, "/scan/piece/99": 404, "/scan/cup/1/none/x": 404,
		fmt.Sprintf("/scan/cup/%d/%s/none", p.ID, coat.ID): 404} {
		assert.Equal(t, status, s.do(http.MethodGet, path, nil, false).Code, path)
	}
}
