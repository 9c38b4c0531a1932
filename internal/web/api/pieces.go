package api

import (
	"context"
	"net/http"
	"strconv"
	"time"

	"jevvo/internal/calc"
	"jevvo/internal/exchange/piecefile"
	"jevvo/internal/form"
	"jevvo/internal/studio/pieces"
)

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
	b, err := a.st.Materials.Book(ctx)
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
	b, err := a.st.Materials.Book(r.Context())
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
		coat := Coat{ID: c.ID, Technique: c.Layer.What, Start: c.Start, Film: c.Film.Millimetres(),
			Total: c.Total.Millilitres(), A: c.A.Grams(), B: c.B.Grams(), Cups: []Cup{}}
		for _, cup := range c.Cups {
			coat.Cups = append(coat.Cups, Cup{cup.Colour.Name, cup.Volume.Millilitres(), cup.A.Mass.Grams(), cup.B.Mass.Grams(),
				cup.Pigment.Grams()})
		}
		out.Coats = append(out.Coats, coat)
	}
	return out, nil
}

// Made is a piece that was made of a document.
type Made struct {
	ID    int64             `json:"id"`
	Taken []piecefile.Taken `json:"taken" description:"What stands for values that were left out."`
}

func (a *records) document(r *http.Request, _ []byte) (any, error) {
	return a.st.Share.Document(r.Context(), idOf(r))
}

func (a *records) fromDocument(r *http.Request, body []byte) (any, error) {
	d, err := calc.ReadPiece(body)
	if err != nil {
		return nil, err
	}
	p, taken, err := a.st.Share.AddDocument(r.Context(), d)
	if err != nil {
		return nil, err
	}
	return Made{p.ID, taken}, nil
}
