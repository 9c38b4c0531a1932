// Package api is the JSON side of the program: the calculators, what is kept for
// programs with a key, and the description of both.
package api

import (
	"errors"
	"log/slog"
	"mime"
	"net/http"
	"strings"

	"jevvo/internal/calc"
	"jevvo/internal/msg"
	"jevvo/internal/studio"
)

const (
	jsonType    = "application/json"
	problemType = "application/problem+json"
	schemaType  = "application/schema+json"
	calcPath    = "/api/v1/calc/"
	// OpenAPIPath is where the description lies.
	OpenAPIPath = "/api/openapi.json"
)

// Handler answers everything below /api/.
func Handler(version string, log *slog.Logger, rooms Rooms, st *studio.Studio) (http.Handler, error) {
	kept := &records{st, log}
	operations := []calc.Operation{roomOperation}
	for _, at := range kept.routes() {
		operations = append(operations, at.operation())
	}
	described, err := calc.OpenAPI(version, operations...)
	if err != nil {
		return nil, err
	}
	schema, err := calc.PieceSchema()
	if err != nil {
		return nil, err
	}
	mux := http.NewServeMux()
	mux.HandleFunc("GET "+calc.PieceSchemaPath,
		func(w http.ResponseWriter, _ *http.Request) { send(w, http.StatusOK, schemaType, schema, log) })
	mux.HandleFunc("GET "+OpenAPIPath,
		func(w http.ResponseWriter, _ *http.Request) { send(w, http.StatusOK, jsonType, described, log) })
	mux.HandleFunc("POST "+calcPath, func(w http.ResponseWriter, r *http.Request) { calculate(w, r, log) })
	mux.HandleFunc("POST "+RoomPath, func(w http.ResponseWriter, r *http.Request) { postRoom(w, r, rooms, log) })
	for _, at := range kept.routes() {
		mux.HandleFunc(at.method+" "+at.path, kept.answer(at))
	}
	return mux, nil
}

func send(w http.ResponseWriter, status int, media string, body []byte, log *slog.Logger) {
	w.Header().Set("Content-Type", media)
	w.WriteHeader(status)
	if _, err := w.Write(body); err != nil {
		log.Debug("the caller has gone", "error", err)
	}
}

func calculate(w http.ResponseWriter, r *http.Request, log *slog.Logger) {
	if p := notJSON(r); p != nil {
		refuse(w, r, p, log)
		return
	}
	name := strings.TrimPrefix(r.URL.Path, calcPath)
	out, err := calc.Run(r.Context(), name, r.Body)
	if err == nil {
		send(w, http.StatusOK, jsonType, out, log)
		return
	}
	p := &calc.Problem{Title: "Internal error", Status: http.StatusInternalServerError}
	if !errors.As(err, &p) {
		log.Error("calculator", "name", name, "error", err)
	}
	refuse(w, r, p, log)
}

func refuse(w http.ResponseWriter, r *http.Request, p *calc.Problem, log *slog.Logger) {
	send(w, p.Status, problemType, p.JSON(msg.LangOf(r.Context())), log)
}

// notJSON is the problem for a request that is not JSON.
func notJSON(r *http.Request) *calc.Problem {
	t := r.Header.Get("Content-Type")
	if t == "" {
		return nil
	}
	if media, _, err := mime.ParseMediaType(t); err != nil || media != jsonType {
		return &calc.Problem{Title: "Unsupported media type", Status: http.StatusUnsupportedMediaType,
			Detail: msg.ID("send application/json")}
	}
	return nil
}
