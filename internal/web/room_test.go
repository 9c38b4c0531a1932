package web_test

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/web/frame"
)

func (s *site) postRoom(key, body string) *httptest.ResponseRecorder {
	s.t.Helper()
	r := httptest.NewRequestWithContext(s.t.Context(), http.MethodPost, "http://localhost/api/v1/room",
		strings.NewReader(body))
	r.Header.Set("Content-Type", "application/json")
	if key != "" {
		r.Header.Set("Authorization", "Bearer "+key)
	}
	w := httptest.NewRecorder()
	s.h.ServeHTTP(w, r)
	return w
}

// A bench begins with the room the piece was planned for; one typed reading is
// enough, and the humidity noted with it stands in the record. Nothing is said
// of sensors where there is none.
func TestTheRoomIsTyped(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"room": "23 °C"})
	begun := s.post(frame.Piece(p.ID, "/bench/"+plan.FirstCoat), map[string]string{"anyway": "yes"})
	at := begun.Header().Get("Location")
	body := plainText(s.get(at))
	assert.Contains(t, body, "23 °C as the piece is planned")
	assert.NotContains(t, strings.ToLower(body), "sensor")
	assert.NotContains(t, body, "heater")
	for _, wrong := range []map[string]string{{"room": "99 °C"}, {"room": "warm"}, {"room": "21", "humidity": "130 %"}} {
		assert.Equal(t, http.StatusUnprocessableEntity, s.post("/room", wrong).Code, "%v", wrong)
	}
	require.Equal(t, http.StatusSeeOther,
		s.post("/room", map[string]string{"room": "21,5", "humidity": "48 %", "back": at}).Code)
	assert.Contains(t, plainText(s.get(at)), "21.5 °C typed, 08:00, 48 % humidity")
	s.post(at+"/met", map[string]string{"rev": "1"})
	s.post(at+"/close", map[string]string{"rev": "2"})
	assert.Contains(t, plainText(s.get(at)), "Room 21.5 °C, 48 % humidity.")
}

// A sensor posts with the studio's key; what cannot be is refused and the last
// reading holds.
func TestASensorPosts(t *testing.T) {
	s := open(t)
	assert.Equal(t, http.StatusUnauthorized, s.postRoom("", `{"temperature_c": 21}`).Code)
	assert.Equal(t, http.StatusUnauthorized, s.postRoom("guess", `{"temperature_c": 21}`).Code, "no key was made yet")
	require.Equal(t, http.StatusSeeOther, s.post("/devices/key/renew", nil).Code)
	key := between(t, s.get("/devices"), "Bearer ", " ")
	refused := s.postRoom("guess", `{"temperature_c": 21}`)
	assert.Equal(t, http.StatusUnauthorized, refused.Code)
	assert.Equal(t, "application/problem+json", refused.Header().Get("Content-Type"))
	assert.Contains(t, refused.Header().Get("WWW-Authenticate"), "Bearer")
	for body, status := range map[string]int{
		`21`: 400, `{`: 400, `{"humidity_pct": 40}`: 422, `{"temperature_c": 400}`: 422, `{"temperature_c": 21, "humidity_pct": 140}`: 422,
		`{"temperature_c": 21, "sensor": "` + strings.Repeat("x", 61) + `"}`: 422, `{"sensor": "` + strings.Repeat("x",
			9000) + `"}`: 413,
	} {
		assert.Equal(t, status, s.postRoom(key, body).Code, "%.60s", body)
	}
	assert.Equal(t, http.StatusNoContent,
		s.postRoom(key, `{"temperature_c": 19.5, "humidity_pct": 61, "sensor": "by the window"}`).Code)
	assert.Contains(t, plainText(s.get("/devices")), "19.5 °C, from the sensor by the window, 08:00, 61 % humidity")
	assert.Equal(t, http.StatusUnprocessableEntity, s.postRoom(key, `{"temperature_c": 33}`).Code,
		"no room jumps by thirteen degrees at once")
	require.Equal(t, http.StatusSeeOther, s.post("/devices/key/drop", nil).Code)
	assert.Equal(t, http.StatusUnauthorized, s.postRoom(key, `{"temperature_c": 20}`).Code)
	assert.Contains(t, s.get("/api/openapi.json"), "/api/v1/room")
}

// Those at the bench are called by their names, across the table.
func TestTheCrewHasNames(t *testing.T) {
	s := open(t)
	p := s.piece(map[string]string{"size": "90 x 60 cm", "coat.first.technique": "flood", "coat.first.people": "2"})
	start := s.get(frame.Piece(p.ID, "/bench"))
	assert.Contains(t, start, `name="who.1"`)
	at := s.post(frame.Piece(p.ID, "/bench/first"),
		map[string]string{"anyway": "yes", "who.0": "Bram",
			"who.1": "  Ines with a name as long as a tide table  "}).Header().Get("Location")
	body := plainText(s.get(at))
	assert.Contains(t, body, "Bram")
	b, err := s.Bench.Log().Bench(t.Context(), 1, false)
	require.NoError(t, err)
	assert.Equal(t, []string{"Bram", "Ines with a name as long"}, b.People)
}
