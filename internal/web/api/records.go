package api

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"jevvo/internal/calc"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/access"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studio/shelf"
	"jevvo/internal/web/frame"
)

// Fields are values as a painter types them, by the keys of the forms; units stand with
// the numbers, bare numbers are in the studio's units.
type Fields map[string]string

// A Piece is one board as it stands.
type Piece struct {
	ID      int64     `json:"id"`
	Rev     int64     `json:"rev" description:"grows with every change; a change names the one it was made on"`
	Name    string    `json:"name"`
	Created time.Time `json:"created"`
	Changed time.Time `json:"changed"`
	Fields  Fields    `json:"fields,omitempty"`
}

// A PieceList is a page of pieces.
type PieceList struct {
	Pieces []Piece `json:"pieces"`
	Total  int     `json:"total"`
}

// A Change is what is to stand in fields.
type Change struct {
	Rev    int64  `json:"rev,omitempty" description:"the one the change was made on"`
	Fields Fields `json:"fields" required:"true"`
}

// A Coat is one layer of a piece as it is planned.
type Coat struct {
	ID        string    `json:"id"`
	Technique string    `json:"technique"`
	Start     time.Time `json:"start" description:"gloves on"`
	Film      float64   `json:"film_mm"`
	Total     float64   `json:"total_ml" description:"of resin to mix"`
	A         float64   `json:"a_g"`
	B         float64   `json:"b_g"`
	Cups      []Cup     `json:"cups"`
}

// A Cup is one colour of a coat.
type Cup struct {
	Name    string  `json:"name"`
	Volume  float64 `json:"volume_ml"`
	A       float64 `json:"a_g"`
	B       float64 `json:"b_g"`
	Pigment float64 `json:"pigment_g"`
}

// Coats are the layers of a piece, the lowest first.
type Coats struct {
	Coats []Coat `json:"coats"`
}

// An Item is a resin or a pigment of the shelf.
type Item struct {
	ID      int64  `json:"id"`
	Rev     int64  `json:"rev"`
	Name    string `json:"name"`
	Retired bool   `json:"retired"`
	Fields  Fields `json:"fields"`
}

// Stock is what stands on the shelf.
type Stock struct {
	Resins   []Item `json:"resins"`
	Pigments []Item `json:"pigments"`
}

// An Entry is a line of the journal.
type Entry struct {
	ID    int64     `json:"id"`
	At    time.Time `json:"at"`
	Kind  string    `json:"kind"`
	Piece int64     `json:"piece,omitempty"`
	Coat  string    `json:"coat,omitempty"`
	Title string    `json:"title"`
	Text  string    `json:"text"`
}

// Entries are lines of the journal, the newest first.
type Entries struct {
	Entries []Entry `json:"entries"`
	More    bool    `json:"more" description:"there are older ones: ask again with before"`
}

// A Note is written into the journal at a bench day that goes on.
type Note struct {
	Bench int64  `json:"bench" required:"true"`
	Text  string `json:"text" required:"true" maxLength:"2000"`
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

type find struct {
	Find   string `query:"find" description:"a part of the name"`
	Offset int    `query:"offset"`
}

type find2 struct {
	Find   string `query:"find" description:"beginnings of words"`
	Piece  int64  `query:"piece"`
	Before int64  `query:"before" description:"the id of the last entry had"`
}

func (a *records) routes() []route {
	return []route{
		{"GET", "/api/v1/pieces", access.ReadPieces, "Pieces, the newest first", nil, new(PieceList), new(find), a.pieces},
		{"POST", "/api/v1/pieces", access.WritePieces, "A new piece, on top of a draft", new(Change), new(Piece), nil, a.create},
		{"GET", "/api/v1/pieces/{id}", access.ReadPieces, "A piece with all its fields", nil, new(Piece), nil, a.piece},
		{"PATCH", "/api/v1/pieces/{id}", access.WritePieces, "Change fields of a piece", new(Change), new(Piece), nil, a.edit},
		{"GET", "/api/v1/pieces/{id}/coats", access.ReadPieces, "Its coats as they are planned", nil, new(Coats), nil, a.coats},
		{"GET", "/api/v1/stock", access.ReadStock, "Resins and pigments", nil, new(Stock), nil, a.stock},
		{"PATCH", "/api/v1/stock/resins/{id}", access.WriteStock, "Change fields of a resin", new(Change), new(Item), nil, a.editResin},
		{"PATCH", "/api/v1/stock/pigments/{id}", access.WriteStock, "Change fields of a pigment", new(Change), new(Item), nil, a.editPigment},
		{"GET", "/api/v1/journal", access.ReadJournal, "What happened, the newest first", nil, new(Entries), new(find2), a.journal},
		{"POST", "/api/v1/journal", access.WriteJournal, "Write a note at a bench day", new(Note), nil, nil, a.note},
	}
}

// operation describes a route.
func (at route) operation() calc.Operation {
	return calc.Operation{
		Method: at.method, Path: at.path, ID: strings.ToLower(at.method) + strings.NewReplacer("/api/v1", "", "/", "-", "{", "", "}", "").Replace(at.path),
		Summary: at.summary + "; scope " + string(at.scope), Tag: "records", Key: "A key made on the page of other screens.", Request: at.request, Query: at.query, Answer: at.answer,
		Problems: map[int]string{400: "Not JSON", 401: "No key of this studio", 403: "The key has not the scope", 404: "There is no such thing", 409: "It was changed meanwhile", 422: "A value is missing or cannot be"},
	}
}

// answer runs a route for who may, and sends what it gives.
func (a *records) answer(at route) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		var body []byte
		p := may(r, at.scope)
		if p == nil && at.request != nil {
			if p = notJSON(r); p == nil {
				body, p = read(w, r)
			}
		}
		if p != nil {
			refuse(w, p, a.log)
			return
		}
		out, err := at.do(r, body)
		if err != nil {
			refuse(w, a.problem(err), a.log)
			return
		}
		if out == nil {
			w.WriteHeader(http.StatusNoContent)
			return
		}
		text, err := json.Marshal(out)
		if err != nil {
			refuse(w, a.problem(err), a.log)
			return
		}
		status := http.StatusOK
		if at.method == http.MethodPost {
			status = http.StatusCreated
		}
		send(w, status, jsonType, text, a.log)
	}
}

// may reports who may not: a program needs the scope, a device of the studio may all,
// the others may read.
func may(r *http.Request, scope access.Scope) *calc.Problem {
	v, ok := frame.VisitorOf(r.Context())
	reads := r.Method == http.MethodGet
	if !ok || v.Role == "" && !access.Allows(v.Scopes, scope) || v.Role != "" && v.Role != access.Studio && !reads {
		return &calc.Problem{Title: "Not allowed", Status: http.StatusForbidden, Detail: "this needs the scope " + string(scope)}
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
		return nil, &calc.Problem{Title: "Not JSON", Status: http.StatusBadRequest, Detail: "send one object"}
	}
	return body, nil
}

// refusedFields are values that cannot be, each at its field.
type refusedFields map[string]string

func (refusedFields) Error() string { return "some fields cannot be" }

// problem says an error as of RFC 9457.
func (a *records) problem(err error) *calc.Problem {
	var fields refusedFields
	var one *form.Refused
	var syntax *json.UnmarshalTypeError
	switch {
	case errors.As(err, &fields):
		p := &calc.Problem{Title: "This cannot be", Status: http.StatusUnprocessableEntity, Detail: "nothing was changed, or only the other fields"}
		for _, k := range slices.Sorted(maps.Keys(fields)) {
			p.Errors = append(p.Errors, calc.FieldError{Field: k, Message: fields[k]})
		}
		return p
	case errors.As(err, &one):
		return &calc.Problem{Title: "This cannot be", Status: http.StatusUnprocessableEntity, Detail: one.Error(), Errors: []calc.FieldError{{Field: one.Field, Message: one.Error()}}}
	case errors.As(err, &syntax):
		return &calc.Problem{Title: "This cannot be", Status: http.StatusUnprocessableEntity, Errors: []calc.FieldError{{Field: syntax.Field, Message: "is of another kind"}}}
	}
	status, text, known := frame.Status(err)
	if !known {
		a.log.Error("records", "error", err)
	}
	return &calc.Problem{Title: http.StatusText(status), Status: status, Detail: text}
}

func idOf(r *http.Request) int64 { return frame.Number(r.PathValue("id")) }

func (a *records) pieces(r *http.Request, _ []byte) (any, error) {
	offset, _ := strconv.Atoi(r.URL.Query().Get("offset"))
	list, total, err := a.st.Pieces.Pieces(r.Context(), r.URL.Query().Get("find"), 100, max(0, offset))
	out := PieceList{Pieces: []Piece{}, Total: total}
	for _, p := range list {
		out.Pieces = append(out.Pieces, brief(p))
	}
	return out, err
}

func brief(p pieces.Piece) Piece {
	return Piece{ID: p.ID, Rev: p.Rev, Name: p.Name, Created: p.CreatedAt, Changed: p.ChangedAt}
}

func (a *records) whole(ctx context.Context, p pieces.Piece) (any, error) {
	b, err := a.st.Shelf.Book(ctx)
	out := brief(p)
	if err == nil {
		out.Fields = pieces.Values(p.Spec, b, b.Settings.Units)
	}
	return out, err
}

func (a *records) piece(r *http.Request, _ []byte) (any, error) {
	p, err := a.st.Pieces.Piece(r.Context(), idOf(r))
	if err != nil {
		return nil, err
	}
	return a.whole(r.Context(), p)
}

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
			wrong[k] = "there is no such field"
		}
	}
	if len(wrong) > 0 {
		return wrong
	}
	return nil
}

func (a *records) create(r *http.Request, body []byte) (any, error) {
	c, err := change(body)
	if err != nil {
		return nil, err
	}
	spec, b, err := a.st.Pieces.Draft(r.Context())
	if err != nil {
		return nil, err
	}
	if err := known(c.Fields, pieces.Values(spec, b, b.Settings.Units)); err != nil {
		return nil, err
	}
	p, n, err := a.st.Pieces.Create(r.Context(), c.Fields)
	if err == nil && !n.OK() {
		err = refusedFields(n.Errors)
	}
	if err != nil {
		return nil, err
	}
	return a.whole(r.Context(), p)
}

func (a *records) edit(r *http.Request, body []byte) (any, error) {
	c, err := change(body)
	if err != nil {
		return nil, err
	}
	if c.Rev == 0 {
		return nil, form.Refusef("rev", "is missing: the one the change was made on")
	}
	was, err := a.st.Pieces.Piece(r.Context(), idOf(r))
	if err != nil {
		return nil, err
	}
	b, err := a.st.Shelf.Book(r.Context())
	if err != nil {
		return nil, err
	}
	if err := known(c.Fields, pieces.Values(was.Spec, b, b.Settings.Units)); err != nil {
		return nil, err
	}
	p, n, err := a.st.Pieces.Edit(r.Context(), idOf(r), c.Rev, c.Fields)
	if err == nil && !n.OK() {
		err = refusedFields(n.Errors)
	}
	if err != nil {
		return nil, err
	}
	return a.whole(r.Context(), p)
}

func (a *records) coats(r *http.Request, _ []byte) (any, error) {
	p, err := a.st.Pieces.Piece(r.Context(), idOf(r))
	if err != nil {
		return nil, err
	}
	v, err := a.st.Agenda.Plan(r.Context(), p)
	if err != nil {
		return nil, err
	}
	out := Coats{Coats: []Coat{}}
	for _, c := range v.Plan.Coats {
		coat := Coat{ID: c.ID, Technique: c.Layer.What, Start: c.Start, Film: c.Film.Millimetres(), Total: c.Total.Millilitres(), A: c.A.Grams(), B: c.B.Grams(), Cups: []Cup{}}
		for _, cup := range c.Cups {
			coat.Cups = append(coat.Cups, Cup{cup.Colour.Name, cup.Volume.Millilitres(), cup.A.Mass.Grams(), cup.B.Mass.Grams(), cup.Pigment.Grams()})
		}
		out.Coats = append(out.Coats, coat)
	}
	return out, nil
}

func (a *records) stock(r *http.Request, _ []byte) (any, error) {
	b, err := a.st.Shelf.Book(r.Context())
	if err != nil {
		return nil, err
	}
	out := Stock{Resins: []Item{}, Pigments: []Item{}}
	for _, p := range b.Resins {
		out.Resins = append(out.Resins, Item{p.ID, p.Rev, p.Name, p.Retired, shelf.ResinFields.Values(&p, b.Settings.Units)})
	}
	for _, p := range b.Context.Pigments {
		out.Pigments = append(out.Pigments, Item{p.ID, p.Rev, p.Name, p.Retired, shelf.PigmentFields.Values(&p, b.Settings.Units)})
	}
	slices.SortFunc(out.Pigments, func(a, b Item) int { return int(a.ID - b.ID) })
	return out, nil
}

func (a *records) editResin(r *http.Request, body []byte) (any, error) {
	return a.editItem(r, body, func(ctx context.Context, id int64, c Change) (form.Notices, error) {
		_, n, err := a.st.Shelf.SaveProduct(ctx, id, c.Rev, c.Fields)
		return n, err
	}, func(s Stock) []Item { return s.Resins })
}

func (a *records) editPigment(r *http.Request, body []byte) (any, error) {
	return a.editItem(r, body, func(ctx context.Context, id int64, c Change) (form.Notices, error) {
		_, n, err := a.st.Shelf.SavePigment(ctx, id, c.Rev, c.Fields)
		return n, err
	}, func(s Stock) []Item { return s.Pigments })
}

func (a *records) editItem(r *http.Request, body []byte, save func(context.Context, int64, Change) (form.Notices, error), of func(Stock) []Item) (any, error) {
	c, err := change(body)
	if err != nil {
		return nil, err
	}
	id := idOf(r)
	was, err := a.item(r, id, of)
	if err == nil {
		err = known(c.Fields, was.Fields)
	}
	if err == nil && was.Rev != c.Rev {
		err = store.ErrConflict
	}
	if err != nil {
		return nil, err
	}
	n, err := save(r.Context(), id, c)
	if err == nil && !n.OK() {
		err = refusedFields(n.Errors)
	}
	if err != nil {
		return nil, err
	}
	return a.item(r, id, of)
}

func (a *records) item(r *http.Request, id int64, of func(Stock) []Item) (Item, error) {
	all, err := a.stock(r, nil)
	if err != nil {
		return Item{}, err
	}
	for _, i := range of(all.(Stock)) {
		if i.ID == id {
			return i, nil
		}
	}
	return Item{}, store.ErrNotFound
}

func (a *records) journal(r *http.Request, _ []byte) (any, error) {
	q := r.URL.Query()
	list, more, err := a.st.Journal.Find(r.Context(), journal.Asked{Find: q.Get("find"), Piece: frame.Number(q.Get("piece")), Before: frame.Number(q.Get("before"))})
	out := Entries{Entries: []Entry{}, More: more}
	for _, e := range list {
		out.Entries = append(out.Entries, Entry{e.ID, e.At, e.Kind, e.Piece, e.Coat, e.Title, e.Body})
	}
	return out, err
}

func (a *records) note(r *http.Request, body []byte) (any, error) {
	var n Note
	if err := json.Unmarshal(body, &n); err != nil {
		return nil, err
	}
	_, err := a.st.Bench.Note(r.Context(), n.Bench, false, n.Text)
	return nil, err
}
