package api

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"strings"

	"jevvo/internal/calc"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
)

// RoomPath is where a room sensor posts its readings.
const RoomPath = "/api/v1/room"

// Rooms take what a sensor posts.
type Rooms interface {
	Opens(key string) (bool, error)
	PostRoom(ctx context.Context, t units.Temperature, humidity float64, who string) error
}

// A RoomReading is a sensor's message.
type RoomReading struct {
	Temperature float64  `json:"temperature_c" required:"true" description:"of the room, in °C"`
	Humidity    *float64 `json:"humidity_pct,omitempty" minimum:"0" maximum:"100" description:"relative humidity in per cent"`
	Sensor      string   `json:"sensor,omitempty" maxLength:"60" description:"its name, shown beside the reading"`
}

var roomOperation = calc.Operation{
	Method: http.MethodPost, Path: RoomPath, ID: "post-room", Tag: "sensor",
	Key: "The key that stands on the page of the instruments.", Request: new(RoomReading),
	Summary: "Post a reading of the room: the resin's clock goes by it from then on",
	Problems: map[int]string{400: "Not JSON", 401: "No key, or not the studio's", 413: "Too large",
		415: "Not JSON by its own word",
		422: "A value is missing or cannot be"},
}

// largestReading bounds what a sensor may send.
const largestReading = 4 << 10

func postRoom(w http.ResponseWriter, r *http.Request, rooms Rooms, log *slog.Logger) {
	p := readRoom(r, w, rooms)
	if p == nil {
		w.WriteHeader(http.StatusNoContent)
		return
	}
	if p.Status == http.StatusUnauthorized {
		w.Header().Set("WWW-Authenticate", `Bearer realm="room sensor"`)
	}
	if p.Status == http.StatusInternalServerError {
		log.Error("room sensor", "error", p.Detail)
		p.Detail = nil
	}
	refuse(w, r, p, log)
}

// readRoom keeps a posted reading, or says why not.
func readRoom(r *http.Request, w http.ResponseWriter, rooms Rooms) *calc.Problem {
	key, _ := strings.CutPrefix(r.Header.Get("Authorization"), "Bearer ")
	opens, err := rooms.Opens(key)
	if err != nil {
		return broken(err)
	}
	if !opens {
		return &calc.Problem{Title: "Not your room", Status: http.StatusUnauthorized,
			Detail: msg.ID("send the key that stands on the page of the instruments as Authorization: Bearer")}
	}
	if p := notJSON(r); p != nil {
		return p
	}
	var v struct {
		RoomReading
		Temperature *float64 `json:"temperature_c"`
	}
	var tooLarge *http.MaxBytesError
	d := json.NewDecoder(http.MaxBytesReader(w, r.Body, largestReading))
	switch err := d.Decode(&v); {
	case errors.As(err, &tooLarge):
		return &calc.Problem{Title: "Too large", Status: http.StatusRequestEntityTooLarge,
			Detail: msg.ID("a reading is larger than 4 kB")}
	case err != nil:
		return &calc.Problem{Title: "Not JSON", Status: http.StatusBadRequest,
			Detail: msg.ID("send one object with temperature_c")}
	case v.Temperature == nil:
		return &calc.Problem{Title: "A value is missing", Status: http.StatusUnprocessableEntity,
			Detail: msg.ID("temperature_c is missing")}
	}
	humidity := 0.0
	if v.Humidity != nil {
		humidity = *v.Humidity / 100
	}
	var refused *form.Refused
	switch err := rooms.PostRoom(r.Context(), units.Temperature(*v.Temperature), humidity, v.Sensor); {
	case errors.As(err, &refused):
		return &calc.Problem{Title: "Not valid", Status: http.StatusUnprocessableEntity, Detail: refused}
	case err != nil:
		return broken(err)
	}
	return nil
}

func broken(err error) *calc.Problem {
	return &calc.Problem{Title: "Internal error", Status: http.StatusInternalServerError, Detail: msg.Own(err.Error())}
}
