package studio

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"reflect"
	"slices"
	"strconv"
	"time"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/svgoutline"
	"jevvo/internal/store"
)

// A Piece is one board, or a set poured together, as it stands.
type Piece struct {
	ID, Rev   int64
	CanUndo   bool
	CanRedo   bool
	CreatedAt time.Time
	ChangedAt time.Time
	Spec
}

func decodePiece(row store.PieceRow) (Piece, error) {
	p := Piece{ID: row.ID, Rev: row.Rev, CanUndo: row.Parent > 0, CanRedo: row.CanRedo, CreatedAt: row.CreatedAt, ChangedAt: row.ChangedAt}
	if err := json.Unmarshal(row.Doc, &p.Spec); err != nil {
		return p, fmt.Errorf("read the piece %q: %w", row.Name, err)
	}
	if p.Ground == "" { // a piece from before grounds were asked for
		p.Ground = bareGround
	}
	return p, nil
}

// Piece returns a piece as it stands.
func (s *Studio) Piece(ctx context.Context, id int64) (Piece, error) {
	row, err := s.store.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	return decodePiece(row)
}

// Pieces returns a page of pieces whose name contains find, and how many
// there are in all.
func (s *Studio) Pieces(ctx context.Context, find string, limit, offset int) ([]Piece, int, error) {
	rows, err := s.store.Pieces(ctx, find, limit, offset)
	if err != nil {
		return nil, 0, err
	}
	n, err := s.store.CountPieces(ctx, find)
	if err != nil {
		return nil, 0, err
	}
	out := make([]Piece, len(rows))
	for i, row := range rows {
		if out[i], err = decodePiece(row); err != nil {
			return nil, 0, err
		}
	}
	return out, n, nil
}

// Draft returns the spec a new piece starts from: the first resin on the
// shelf, poured at the next opening with an hour's notice.
func (s *Studio) Draft(ctx context.Context) (Spec, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Spec{}, err
	}
	products, err := s.Products(ctx)
	if err != nil {
		return Spec{}, err
	}
	id := int64(0)
	for _, p := range products {
		if !p.Retired {
			id = p.ID
			break
		}
	}
	start := s.now().Local().Add(time.Hour).Truncate(30 * time.Minute)
	return NewSpec(set, id, set.Slot(start, 2*time.Hour)), nil
}

// CreatePiece makes a piece from typed values on top of a draft. Nothing is
// kept while a value is refused.
func (s *Studio) CreatePiece(ctx context.Context, values map[string]string) (Piece, Notices, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	spec, err := s.Draft(ctx)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	notices := spec.fields().apply(&spec, values, set.Units)
	if spec.Name == "" && notices.Errors["name"] == "" {
		notices.Errors["name"] = "needs a name"
	}
	if values["colours"] == "" {
		spec.Colours = startingColours(spec.Technique)
	}
	if _, err := spec.Boards(); err != nil && notices.OK() {
		notices.Errors[shapeKey(spec.Outline)] = err.Error()
	}
	if !notices.OK() {
		return Piece{Spec: spec}, notices, nil
	}
	return s.keepNew(ctx, spec, notices)
}

// AddPiece keeps a piece whose spec is already made.
func (s *Studio) AddPiece(ctx context.Context, spec Spec) (Piece, error) {
	p, _, err := s.keepNew(ctx, spec, Notices{})
	return p, err
}

func (s *Studio) keepNew(ctx context.Context, spec Spec, n Notices) (Piece, Notices, error) {
	id, err := s.store.CreatePiece(ctx, spec.Name, spec, s.now())
	if err != nil {
		return Piece{Spec: spec}, n, err
	}
	p, err := s.Piece(ctx, id)
	return p, n, err
}

// CopyPiece makes a new piece like this one.
func (s *Studio) CopyPiece(ctx context.Context, id int64) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	spec := p.Spec
	name := []rune(spec.Name)
	spec.Name = string(name[:min(len(name), 73)]) + " (copy)"
	return s.AddPiece(ctx, spec)
}

// RemovePiece takes a piece off the list; restore puts it back.
func (s *Studio) RemovePiece(ctx context.Context, id int64, restore bool) error {
	if restore {
		return s.store.SetPieceDeleted(ctx, id, nil)
	}
	now := s.now()
	return s.store.SetPieceDeleted(ctx, id, &now)
}

// shapeKey is the field to show a refused outline at.
func shapeKey(o Outline) string {
	switch o {
	case OutlinePolygon:
		return "points"
	case OutlineDrawn:
		return "path"
	}
	return "size"
}

// attempts bounds how often an edit is laid again on top of another page's.
const attempts = 5

// EditPiece lays typed values on a piece. base is the revision the page was
// showing: only what was typed anew since then is applied, on top of whatever
// other pages did meanwhile, so that two open pages never undo each other. A
// field both changed takes the later value, and the note says what it was.
// Refused values leave their field alone; the others are kept.
func (s *Studio) EditPiece(ctx context.Context, id, base int64, typed map[string]string) (Piece, Notices, error) {
	set, err := s.Settings(ctx)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	shown, err := s.revision(ctx, id, base)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	for range attempts {
		head, err := s.Piece(ctx, id)
		if err != nil {
			return head, Notices{}, err
		}
		spec, notices := merge(shown.Spec, head.Spec, typed, set.Units)
		if err := s.adopt(ctx, head.Spec, &spec, notices); err != nil {
			return head, notices, err
		}
		spec.recompose(head.Spec)
		if _, err := spec.Boards(); err != nil && notices.Errors[shapeKey(spec.Outline)] == "" {
			notices.Errors[shapeKey(spec.Outline)] = err.Error()
		}
		if reflect.DeepEqual(spec, head.Spec) {
			return head, notices, nil
		}
		err = s.store.RevisePiece(ctx, id, head.Rev, spec.Name, spec, s.now())
		if errors.Is(err, store.ErrConflict) {
			continue
		}
		if err != nil {
			return head, notices, err
		}
		p, err := s.Piece(ctx, id)
		return p, notices, err
	}
	return Piece{}, Notices{}, store.ErrConflict
}

func (s *Studio) revision(ctx context.Context, id, rev int64) (Piece, error) {
	row, err := s.store.PieceRevision(ctx, id, rev)
	if errors.Is(err, store.ErrNotFound) {
		return s.Piece(ctx, id) // a page from before a restore: take it as current
	}
	if err != nil {
		return Piece{}, err
	}
	return decodePiece(row)
}

// merge lays what was typed anew since shown on top of head.
func merge(shown, head Spec, typed map[string]string, sys units.System) (Spec, Notices) {
	fresh := map[string]string{}
	for _, f := range shown.fields() {
		text, ok := typed[f.Key]
		if !ok || text == f.Get(&shown, sys) {
			continue
		}
		trial := clone(shown)
		_, err := f.Set(&trial, text, sys)
		if err != nil || !reflect.DeepEqual(trial, shown) {
			fresh[f.Key] = text
		}
	}
	out := clone(head)
	notices := out.fields().apply(&out, fresh, sys)
	for key := range fresh {
		mine, ok := shown.fields().find(key)
		if !ok || notices.Errors[key] != "" {
			continue
		}
		was, is := mine.Get(&shown, sys), mine.Get(&head, sys)
		if was != is && is != mine.Get(&out, sys) {
			notices.Notes[key] = "another page had just set this to " + is
		}
	}
	return out, notices
}

func clone(s Spec) Spec {
	s.Colours = append([]Colour(nil), s.Colours...)
	for i := range s.Colours {
		s.Colours[i].More = slices.Clone(s.Colours[i].More)
	}
	s.More = append([]Size(nil), s.More...)
	s.Things = composition.Clone(s.Things)
	s.Layers = slices.Clone(s.Layers)
	return s
}

// change revises a piece by f on top of its newest revision.
func (s *Studio) change(ctx context.Context, id int64, f func(*Spec) error) (Piece, error) {
	for range attempts {
		head, err := s.Piece(ctx, id)
		if err != nil {
			return head, err
		}
		spec := clone(head.Spec)
		if err := f(&spec); err != nil {
			return head, err
		}
		err = s.store.RevisePiece(ctx, id, head.Rev, spec.Name, spec, s.now())
		if errors.Is(err, store.ErrConflict) {
			continue
		}
		if err != nil {
			return head, err
		}
		return s.Piece(ctx, id)
	}
	return Piece{}, store.ErrConflict
}

// maxColours is how many cups a coat can have.
const maxColours = 24

// ErrTooManyColours is returned when a piece has no room for another cup.
var ErrTooManyColours = fmt.Errorf("a coat has at most %d cups", maxColours)

// AddColour gives the piece another accent.
func (s *Studio) AddColour(ctx context.Context, id int64) (Piece, error) {
	return s.change(ctx, id, func(spec *Spec) error {
		if len(spec.Colours) >= maxColours {
			return ErrTooManyColours
		}
		next := 1
		for _, c := range spec.Colours {
			if n, err := strconv.Atoi(c.ID[1:]); err == nil && n >= next {
				next = n + 1
			}
		}
		spec.Colours = append(spec.Colours, Colour{ID: "c" + strconv.Itoa(next), Name: fmt.Sprintf("Colour %d", next),
			Role: RoleAccent, Swatch: "#8a7f72", Share: 0.10, Load: 0.03})
		return nil
	})
}

// RemoveColour takes a cup away; the last one stays.
func (s *Studio) RemoveColour(ctx context.Context, id int64, colour string) (Piece, error) {
	return s.change(ctx, id, func(spec *Spec) error {
		if len(spec.Colours) <= 1 {
			return errors.New("a coat needs at least one colour")
		}
		kept := spec.Colours[:0]
		for _, c := range spec.Colours {
			if c.ID != colour {
				kept = append(kept, c)
			}
		}
		spec.Colours = kept
		spec.Things = slices.DeleteFunc(spec.Things, func(t composition.Thing) bool { return t.Cup == colour })
		spec.followThings()
		return nil
	})
}

// UploadOutline takes the outline of the piece from an SVG drawing. sized is
// false when the file names no real size and should be checked.
func (s *Studio) UploadOutline(ctx context.Context, id int64, drawing io.Reader) (p Piece, sized bool, err error) {
	read, err := svgoutline.Read(drawing)
	if err != nil {
		return Piece{}, false, &RefusedError{err}
	}
	box := read.Shape.Bounds()
	p, err = s.change(ctx, id, func(spec *Spec) error {
		spec.Outline, spec.Path = OutlineDrawn, read.Shape.Data()
		spec.Width, spec.Height = box.Width(), box.Height()
		return nil
	})
	return p, read.Sized, err
}

// A RefusedError is bad input, in words for the person who gave it.
type RefusedError struct{ Err error }

func (e *RefusedError) Error() string { return e.Err.Error() }
func (e *RefusedError) Unwrap() error { return e.Err }

// Undo takes back the last change, Redo does it again. At either end they
// leave the piece as it is.
func (s *Studio) Undo(ctx context.Context, id int64) (Piece, error) { return s.moveHead(ctx, id, true) }

// Redo does the change that was last undone again.
func (s *Studio) Redo(ctx context.Context, id int64) (Piece, error) {
	return s.moveHead(ctx, id, false)
}

func (s *Studio) moveHead(ctx context.Context, id int64, back bool) (Piece, error) {
	if err := s.store.MoveHead(ctx, id, back); err != nil && !errors.Is(err, store.ErrNotFound) {
		return Piece{}, err
	}
	return s.Piece(ctx, id)
}
