// Package journal keeps what came of coats, their photographs, and finds what
// happened by words, day, piece, resin, pigment and technique.
package journal

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"
	"unicode"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/plan"
	"jevvo/internal/exchange/picture"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/agenda"
	"jevvo/internal/studio/pieces"
)

// Service keeps the journal.
type Service struct {
	store  *store.Store
	pieces *pieces.Service
	agenda *agenda.Service
	desk   *picture.Desk
	now    func() time.Time
}

// New returns the service.
func New(db *store.Store, p *pieces.Service, a *agenda.Service, desk *picture.Desk, now func() time.Time) *Service {
	return &Service{db, p, a, desk, now}
}

// A View is a coat with what came of it.
type View struct {
	agenda.View
	Coat   *plan.Coat
	Result Result
	Photos []Photo
}

// Poured reports whether something can have come of the coat: it was poured, or its
// piece is done with.
func (v View) Poured() bool { return v.Coat.Made || v.Coat.Begun || v.Piece.State == plan.Done }

// A Photo is a photograph of a coat.
type Photo struct {
	ID     int64
	Coat   string
	Moment string
	At     time.Time
}

// The moments of a coat's whole surface.
const (
	Wet   = "wet"
	Cured = "cured"
)

// Moments are the moments of a photograph.
var Moments = []Choice{{Wet, msg.ID("wet")}, {Cured, msg.ID("cured")}, {"detail", msg.ID("a detail")},
	{"fault", msg.ID("a fault")}}

// View returns a coat of a piece with what came of it, ready to be filled in.
func (s *Service) View(ctx context.Context, piece int64, coat string) (View, error) {
	p, err := s.pieces.Piece(ctx, piece)
	if err != nil {
		return View{}, err
	}
	var out View
	if out.View, out.Coat, err = s.agenda.Coat(ctx, p, coat); err != nil {
		return View{}, err
	}
	if out.Result, err = s.result(ctx, piece, out.Coat.ID); err != nil {
		return out, err
	}
	if !out.Result.Filled() {
		out.Result = Blank(out.Plan, out.Coat)
		j, err := s.judgement(ctx, s.store.Reader, piece, out.Coat.ID)
		if err != nil {
			return out, err
		}
		j.fates(out.Coat, &out.Result)
	}
	all, err := s.Photos(ctx, piece)
	for _, photo := range all {
		if photo.Coat == out.Coat.ID {
			out.Photos = append(out.Photos, photo)
		}
	}
	return out, err
}

func (s *Service) result(ctx context.Context, piece int64, coat string) (Result, error) {
	row, err := s.store.Result(ctx, piece, coat)
	if err != nil || row.Rev == 0 {
		return Result{}, err
	}
	return decode(row)
}

func decode(row store.ResultRow) (Result, error) {
	r := Result{}
	if err := json.Unmarshal(row.Doc, &r); err != nil {
		return r, fmt.Errorf("read a result: %w", err)
	}
	r.Rev, r.At = row.Rev, row.At
	return r, nil
}

// Keep keeps what came of a coat. How it was made is taken from the plan the first
// time and stays.
func (s *Service) Keep(ctx context.Context, v View, r Result) error {
	if err := r.check(); err != nil {
		return err
	}
	if !v.Poured() {
		return form.Refusef("", "there is no result yet: this coat has not been poured. Mark it as done in Days, or pour "+
			"it at the bench")
	}
	r.Made = v.Result.Made
	r.Told = msg.Say(r.Words(), v.Agenda.Book.Settings.Lang())
	row := store.ResultRow{Piece: v.ID, Coat: v.Coat.ID, Rev: r.Rev, At: s.now()}
	err := s.store.Write(ctx, "keep the result", func(tx *store.Tx) error { return tx.KeepResult(ctx, row, r) })
	if errors.Is(err, store.ErrConflict) {
		return form.Refusef("", "this result was changed on another page meanwhile; look at it and press again")
	}
	return err
}

// A Due is a coat whose result is to be filled in.
type Due struct {
	Piece int64
	Name  string
	Coat  string
	Title msg.Text
	Since time.Time
}

// dueFor is how long after a coat its result is asked for.
const dueFor = 14 * 24 * time.Hour

// Due are the coats that ended before today and whose result nobody has filled in.
func (s *Service) Due(ctx context.Context, a *agenda.Agenda, title func(*plan.Coat) msg.Text) ([]Due, error) {
	rows, err := s.store.Results(ctx)
	if err != nil {
		return nil, err
	}
	filled := map[string]bool{}
	for _, r := range rows {
		filled[fmt.Sprint(r.Piece, " ", r.Coat)] = true
	}
	var out []Due
	for _, p := range a.Pieces {
		for i := range p.Plan.Coats {
			c := &p.Plan.Coats[i]
			if !c.Made || filled[fmt.Sprint(p.ID, " ", c.ID)] || !c.Met.Before(a.Base) || a.Now.Sub(c.Met) > dueFor {
				continue
			}
			out = append(out, Due{p.ID, p.Name, c.ID, title(c), c.Met})
			filled[fmt.Sprint(p.ID, " ", c.ID)] = true
		}
	}
	poured, err := s.store.Poured(ctx, a.Now.Add(-dueFor), a.Base)
	if err != nil {
		return nil, err
	}
	for _, b := range poured { // of pieces that are done with
		if !filled[fmt.Sprint(b.Piece, " ", b.Coat)] {
			var title msg.Stored
			if err := json.Unmarshal(b.Title, &title); err != nil {
				return nil, fmt.Errorf("read the name of a coat: %w", err)
			}
			out = append(out, Due{b.Piece, b.Name, b.Coat, title, b.At})
		}
	}
	slices.SortFunc(out, func(x, y Due) int { return x.Since.Compare(y.Since) })
	return out, nil
}

// AddPhoto keeps a photograph of a coat and, when it shows the coat wet or cured,
// sets it into its result's place if that is free. One that is kept is not kept
// twice.
func (s *Service) AddPhoto(ctx context.Context, piece int64, coat, moment string, r io.Reader) (int64, error) {
	if !known(Moments, moment) || moment == "" {
		return 0, form.Refusef("moment", "a photograph shows the coat wet, cured, a detail or a fault")
	}
	if _, err := s.pieces.Piece(ctx, piece); err != nil {
		return 0, err
	}
	photo, err := s.ReadPhoto(ctx, r)
	if err != nil {
		return 0, err
	}
	return s.KeepPhoto(ctx, piece, coat, moment, photo)
}

// ReadPhoto reads a photograph and makes its smaller copies; one that cannot be read is refused at photo.
func (s *Service) ReadPhoto(ctx context.Context, r io.Reader) (picture.Photo, error) {
	photo, err := s.desk.Photo(ctx, r)
	if err != nil {
		return photo, &form.Refused{Field: "photo", Err: err}
	}
	return photo, nil
}

// KeepPhoto keeps a photograph that was read.
func (s *Service) KeepPhoto(ctx context.Context, piece int64, coat, moment string, photo picture.Photo) (int64, error) {
	sum := sha256.Sum256(photo.Original)
	var id int64
	err := s.store.Write(ctx, "keep the photograph", func(tx *store.Tx) (err error) {
		id, err = tx.KeepPhoto(ctx, store.PhotoRow{Piece: piece, Coat: coat, Moment: moment, At: s.now()},
			hex.EncodeToString(sum[:]), photo.Original, photo.Shown, photo.Small)
		return err
	})
	return id, err
}

// Photos returns the photographs of a piece.
func (s *Service) Photos(ctx context.Context, piece int64) ([]Photo, error) {
	rows, err := s.store.Photos(ctx, piece)
	out := make([]Photo, len(rows))
	for k, r := range rows {
		out[k] = Photo{r.ID, r.Coat, r.Moment, r.At}
	}
	return out, err
}

// PhotoPicture returns a photograph of a piece as JPEG, small or for a screen.
func (s *Service) PhotoPicture(ctx context.Context, piece, id int64, small bool) ([]byte, error) {
	size := store.PhotoShown
	if small {
		size = store.PhotoSmall
	}
	return s.store.PhotoPicture(ctx, piece, id, size)
}

// A Place is where to look in two photographs, in shares of their width and height.
type Place struct {
	Name string
	X, Y float64
}

// spotSize is the radius of a spot, as a share of the picture's width.
const spotSize = 0.008

// Compare measures places in the wet and the cured photograph, each with the light
// taken out by the grey card that lies in it, where one is given.
func (s *Service) Compare(ctx context.Context, piece, wet, cured int64, wetGrey, curedGrey *Place,
	places []Place) ([]Spot, error) {
	read := func(id int64, grey *Place) (func(Place) ([3]float64, error), error) {
		data, err := s.store.PhotoPicture(ctx, piece, id, store.PhotoShown)
		if err != nil {
			return nil, err
		}
		balance := colour.Unbalanced
		if grey != nil {
			seen, err := picture.Spot(data, grey.X, grey.Y, spotSize)
			if err == nil {
				balance, err = colour.NewBalance(seen, colour.RGB{R: colour.GreyCard, G: colour.GreyCard, B: colour.GreyCard})
			}
			if err != nil {
				return nil, &form.Refused{Field: "grey", Err: err}
			}
		}
		return func(p Place) ([3]float64, error) {
			seen, err := picture.Spot(data, p.X, p.Y, spotSize)
			if err != nil {
				return [3]float64{}, &form.Refused{Field: "spots", Err: err}
			}
			lab := balance.Of(seen).XYZ().Lab()
			return [3]float64{lab.L, lab.A, lab.B}, nil
		}, nil
	}
	before, err := read(wet, wetGrey)
	if err != nil {
		return nil, err
	}
	after, err := read(cured, curedGrey)
	if err != nil {
		return nil, err
	}
	out := make([]Spot, len(places))
	for k, p := range places {
		out[k] = Spot{Name: p.Name, X: p.X, Y: p.Y}
		if out[k].Wet, err = before(p); err != nil {
			return nil, err
		}
		if out[k].Cured, err = after(p); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Asked is a journal query.
type Asked struct {
	Find      string
	Kind      string
	Piece     int64
	Product   string
	Pigment   string
	Technique string
	Before    int64
}

// An Entry is a line of the journal.
type Entry = store.Entry

// pageOf is how many entries a page shows.
const pageOf = 60

// Find returns entries that have all words of what was typed, each found by its
// beginning, the newest first, and whether there are older ones.
func (s *Service) Find(ctx context.Context, a Asked) (entries []Entry, more bool, err error) {
	words := strings.FieldsFunc(a.Find, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	if a.Find != "" && len(words) == 0 {
		return nil, false, nil // nothing in it that could be found
	}
	entries, err = s.store.Journal(ctx, store.Asked{Words: words, Kind: a.Kind, Piece: a.Piece, Product: a.Product,
		Pigment: a.Pigment, Technique: a.Technique, Before: a.Before, Limit: pageOf + 1})
	if len(entries) > pageOf {
		return entries[:pageOf], true, err
	}
	return entries, false, err
}

// Results returns all results, with the pieces they are of.
func (s *Service) Results(ctx context.Context) ([]Of, error) {
	rows, err := s.store.Results(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]Of, len(rows))
	for k, row := range rows {
		r, err := decode(row)
		if err != nil {
			return nil, err
		}
		out[k] = Of{row.Piece, row.Coat, r}
	}
	return out, nil
}

// An Of is a result with its coat.
type Of struct {
	Piece int64
	Coat  string
	Result
}
