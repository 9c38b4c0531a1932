package api

import (
	"encoding/json"
	"errors"
	"log/slog"
	"maps"
	"net/http"
	"slices"
	"strings"

	"jevvo/internal/calc"
	"jevvo/internal/exchange/piecefile"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio"
	"jevvo/internal/studio/access"
	"jevvo/internal/web/frame"
)

// Fields are values as a painter types them, by the keys of the forms; units stand with
// the numbers, bare numbers are in the studio's units.
type Fields map[string]string

// A Change holds new values of fields.
type Change struct {
	Rev    int64  `json:"rev,omitempty" description:"the one the change was made on"`
	Fields Fields `json:"fields" required:"true"`
}

// mostBody bounds what is sent.
const mostBody = 1 << 20

// records are the routes of what is kept, each with the scope it needs.
type records struct {
	st  *studio.Studio
	log *slog.Logger
}

// A route answers one kind of request.
type route struct {
	method, path string
	scope        access.Scope
	summary      string
	request      any // nil for none
	answer       any
	query        any
	do           func(r *http.Request, body []byte) (any, error)
}

type findPieces struct {
	Find   string `query:"find" description:"a part of the name"`
	Offset int    `query:"offset"`
}

type findEntries struct {
	Find   string `query:"find" description:"beginnings of words"`
	Piece  int64  `query:"piece"`
	Before int64  `query:"before" description:"the id of the last entry had"`
}

func (a *records) routes() []route {
	return []route{
		{"GET", "/api/v1/pieces", access.ReadPieces, "Pieces, the newest first", nil, new(PieceList), new(findPieces),
			a.pieces},
		{"POST", "/api/v1/pieces", access.WritePieces, "A new piece, on top of a draft", new(ChangeOf[pieceFields]),
			new(Piece), nil,
			a.create},
		{"GET", "/api/v1/pieces/{id}", access.ReadPieces, "A piece with all its fields", nil, new(Piece), nil, a.piece},
		{"PATCH", "/api/v1/pieces/{id}", access.WritePieces, "Change fields of a piece", new(ChangeOf[pieceFields]),
			new(Piece), nil,
			a.edit},
		{"GET", "/api/v1/pieces/{id}/coats", access.ReadPieces, "Its coats as they are planned", nil, new(Coats), nil,
			a.coats},
		{"GET", "/api/v1/pieces/{id}/document", access.ReadPieces, "A piece in the open format, see /api/schemas/piece.json",
			nil, new(piecefile.Document), nil, a.document},
		{"POST", "/api/v1/pieces/document", access.WritePieces, "A new piece from its document", new(piecefile.Document),
			new(Made), nil, a.fromDocument},
		{"GET", "/api/v1/stock", access.ReadStock, "Resins and pigments", nil, new(Stock), nil, a.stock},
		{"PATCH", "/api/v1/stock/resins/{id}", access.WriteStock, "Change fields of a resin", new(ChangeOf[resinFields]),
			new(Item), nil,
			a.editResin},
		{"PATCH", "/api/v1/stock/pigments/{id}", access.WriteStock, "Change fields of a pigment",
			new(ChangeOf[pigmentFields]), new(Item), nil,
			a.editPigment},
		{"GET", "/api/v1/journal", access.ReadJournal, "What happened, the newest first", nil, new(Entries), new(findEntries),
			a.journal},
		{"POST", "/api/v1/journal", access.WriteJournal, "Write a note at a bench day", new(Note), nil, nil, a.note},
	}
}

// operation describes a route.
func (at route) operation() calc.Operation {
	var header any
	if at.method != http.MethodGet {
		header = new(repeatable)
	}
	return calc.Operation{
		Method: at.method, Path: at.path,
		ID:      strings.ToLower(at.method) + strings.NewReplacer("/api/v1", "", "/", "-", "{", "", "}", "").Replace(at.path),
		Summary: at.summary + "; scope " + string(at.scope), Tag: "records", Key: "A key made on the page of other screens.",
		Request: at.request, Query: at.query, Header: header, Answer: at.answer,
		Problems: map[int]string{400: "Not JSON", 401: "No key of this studio", 403: "The key has not the scope",
			404: "There is no such thing", 409: "It was changed meanwhile", 422: "A value is missing or cannot be"},
	}
}

// answer runs a route for who may, and sends what it gives.
func (a *records) answer(at route) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		var body []byte
		p := requireScope(r, at.scope)
		if p == nil && at.request != nil {
			if p = notJSON(r); p == nil {
				body, p = read(w, r)
			}
		}
		if p != nil {
			refuse(w, r, p, a.log)
			return
		}
		out, err := a.once(at, r, body)
		switch {
		case err != nil:
			refuse(w, r, a.problem(err), a.log)
		case out.Body == nil:
			w.WriteHeader(out.Status)
		default:
			send(w, out.Status, jsonType, out.Body, a.log)
		}
	}
}

// requireScope returns the problem of a caller without permission: a program needs
// the scope, a device of the studio may do all, the others may read.
func requireScope(r *http.Request, scope access.Scope) *calc.Problem {
	v, ok := frame.VisitorOf(r.Context())
	reads := r.Method == http.MethodGet
	if !ok || v.Role == "" && !access.Allows(v.Scopes, scope) || v.Role != "" && v.Role != access.Studio && !reads {
		return &calc.Problem{Title: "Not allowed", Status: http.StatusForbidden,
			Detail: msg.F("this needs the scope %s", string(scope))}
	}
	return nil
}

func read(w http.ResponseWriter, r *http.Request) ([]byte, *calc.Problem) {
	var body json.RawMessage
	var tooLarge *http.MaxBytesError
	err := json.NewDecoder(http.MaxBytesReader(w, r.Body, mostBody)).Decode(&body)
	switch {
	case errors.As(err, &tooLarge):
		return nil, &calc.Problem{Title: "Too large", Status: http.StatusRequestEntityTooLarge}
	case err != nil:
		return nil, &calc.Problem{Title: "Not JSON", Status: http.StatusBadRequest, Detail: msg.ID("send one object")}
	}
	return body, nil
}

// refusedFields are values that cannot be, each at its field.
type refusedFields map[string]msg.Text

func (refusedFields) Error() string { return "some fields cannot be" }

// problem says an error as of RFC 9457.
func (a *records) problem(err error) *calc.Problem {
	var fields refusedFields
	var one *form.Refused
	var syntax *json.UnmarshalTypeError
	var said *calc.Problem
	switch {
	case errors.As(err, &said):
		return said
	case errors.As(err, &fields):
		p := &calc.Problem{Title: "Not valid", Status: http.StatusUnprocessableEntity,
			Detail: msg.ID("the fields listed were not changed")}
		for _, k := range slices.Sorted(maps.Keys(fields)) {
			p.Errors = append(p.Errors, calc.FieldError{Field: k, Message: fields[k]})
		}
		return p
	case errors.As(err, &one):
		return &calc.Problem{Title: "Not valid", Status: http.StatusUnprocessableEntity, Detail: one,
			Errors: []calc.FieldError{{Field: one.Field, Message: one}}}
	case errors.As(err, &syntax):
		return &calc.Problem{Title: "Not valid", Status: http.StatusUnprocessableEntity,
			Errors: []calc.FieldError{{Field: syntax.Field, Message: msg.ID("is of another kind")}}}
	}
	status, text, known := frame.Status(err)
	if !known {
		a.log.Error("records", "error", err)
	}
	return &calc.Problem{Title: msg.ID(http.StatusText(status)), Status: status, Detail: text}
}

func idOf(r *http.Request) int64 { return frame.Number(r.PathValue("id")) }

func change(body []byte) (c Change, err error) {
	if err = json.Unmarshal(body, &c); err == nil && len(c.Fields) == 0 {
		err = form.Refusef("fields", "is missing or empty")
	}
	return c, err
}

// known reports fields that there are not.
func known(sent, have Fields) error {
	wrong := refusedFields{}
	for k := range sent {
		if _, ok := have[k]; !ok {
			wrong[k] = msg.ID("there is no such field")
		}
	}
	if len(wrong) > 0 {
		return wrong
	}
	return nil
}
