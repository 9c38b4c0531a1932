// Package pieces keeps what a painter decided about each piece: its spec, every
// revision of it, edits by typed values and on the board. What follows from a
// spec is calculated elsewhere.
package pieces

import (
	"context"
	"errors"
	"fmt"
	"io"
	"reflect"
	"time"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/units"
	"jevvo/internal/exchange/svgoutline"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
)

// A Piece is one board, or a set poured together, as it stands.
type Piece struct {
	ID, Rev   int64
	CanUndo   bool
	CanRedo   bool
	CreatedAt time.Time
	ChangedAt time.Time
	plan.Spec
}

// A Service reads and changes pieces.
type Service struct {
	store     *store.Store
	materials *materials.Service
	now       func() time.Time
}

// New returns the service.
func New(db *store.Store, mats *materials.Service, now func() time.Time) *Service {
	return &Service{db, mats, now}
}

// Decode reads a kept piece.
func Decode(row store.PieceRow) (Piece, error) {
	p := Piece{ID: row.ID, Rev: row.Rev, CanUndo: row.Parent > 0, CanRedo: row.CanRedo, CreatedAt: row.CreatedAt,
		ChangedAt: row.ChangedAt}
	var err error
	if p.Spec, err = plan.Decode(row.Doc); err != nil {
		return p, fmt.Errorf("read the piece %q: %w", row.Name, err)
	}
	return p, nil
}

func decodeAll(rows []store.PieceRow, err error) ([]Piece, error) {
	if err != nil {
		return nil, err
	}
	out := make([]Piece, len(rows))
	for i, row := range rows {
		if out[i], err = Decode(row); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Piece returns a piece as it stands.
func (s *Service) Piece(ctx context.Context, id int64) (Piece, error) {
	row, err := s.store.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	return Decode(row)
}

// Pieces returns a page of pieces whose name contains find, and how many
// there are in all.
func (s *Service) Pieces(ctx context.Context, find string, limit, offset int) ([]Piece, int, error) {
	return s.Found(ctx, store.PieceFilter{Find: find}, limit, offset)
}

// Found returns a page of the pieces a filter finds, the last changed first, and how
// many there are.
func (s *Service) Found(ctx context.Context, f store.PieceFilter, limit, offset int) ([]Piece, int, error) {
	rows, n, err := s.store.FindPieces(ctx, f, limit, offset)
	out, err := decodeAll(rows, err)
	return out, n, err
}

// Choices are the filters of pieces besides the archive and states.
func (s *Service) Choices(ctx context.Context) (clients, months []string, err error) {
	if clients, err = s.store.Clients(ctx); err != nil {
		return nil, nil, err
	}
	months, err = s.store.MonthsOfPieces(ctx)
	return clients, months, err
}

// Of returns the pieces and test tiles of a commission.
func (s *Service) Of(ctx context.Context, commission int64) ([]Piece, error) {
	return decodeAll(s.store.PiecesOf(ctx, commission))
}

// Draft returns the spec a new piece starts from: the first resin on the
// materials, poured at the next opening with an hour's notice.
func (s *Service) Draft(ctx context.Context) (plan.Spec, *materials.Book, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return plan.Spec{}, nil, err
	}
	id := int64(0)
	for _, p := range b.Resins {
		if !p.Retired {
			id = p.ID
			break
		}
	}
	start := s.now().Local().Add(time.Hour).Truncate(30 * time.Minute)
	return plan.NewSpec(b.Context, id, b.Calendar.Slot(start, 2*time.Hour)), b, nil
}

// Begun is a new piece as far as it is typed, over what is proposed; nothing is kept.
func (s *Service) Begun(ctx context.Context, typed map[string]string) (plan.Spec, form.Notices, error) {
	spec, b, err := s.Proposed(ctx, typed[CoatKey(plan.FirstCoat, "technique")])
	if err != nil {
		return spec, form.Notices{}, err
	}
	plain, _, err := s.Proposed(ctx, "")
	if err != nil {
		return spec, form.Notices{}, err
	}
	fields := Fields(spec, b)
	fresh := fields.Changed(&spec, typed, b.Settings.Style())
	chosen := Fields(plain, b).Changed(&plain, typed, b.Settings.Style())
	for _, key := range []string{CoatKey(plan.FirstCoat, "amount"), "edge", "edge_height"} {
		if _, is := chosen[key]; !is {
			delete(fresh, key) // as it was proposed before another technique or support was chosen
		}
	}
	before := spec.Clone()
	n := fields.Set(&spec, fresh, b.Settings.Style())
	spec.Recompose(before)
	return spec, n, nil
}

// Create makes a piece from typed values on top of what is proposed. Nothing is kept
// while a value is refused.
func (s *Service) Create(ctx context.Context, typed map[string]string) (Piece, form.Notices, error) {
	spec, n, err := s.Begun(ctx, typed)
	if err != nil {
		return Piece{}, n, err
	}
	if spec.Name == "" {
		n.Refuse("name", msg.ID("needs a name"))
	}
	if _, err := spec.Boards(); err != nil {
		n.Refuse(spec.ShapeField(), msg.Of(err))
	}
	if !n.OK() {
		return Piece{Spec: spec}, n, nil
	}
	p, err := s.Add(ctx, spec)
	return p, n, err
}

// Add keeps a piece whose spec is already made.
func (s *Service) Add(ctx context.Context, spec plan.Spec) (Piece, error) {
	var p Piece
	err := s.store.Write(ctx, "keep the new piece", func(tx *store.Tx) error {
		var err error
		p, err = AddTo(ctx, tx, spec, s.now())
		return err
	})
	return p, err
}

// AddTo keeps a new piece within a larger change.
func AddTo(ctx context.Context, tx *store.Tx, spec plan.Spec, now time.Time) (Piece, error) {
	spec.V = plan.Version
	id, err := tx.CreatePiece(ctx, spec.Name, spec, now)
	if err != nil {
		return Piece{}, err
	}
	row, err := tx.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	return Decode(row)
}

// Shorten cuts a text to so many letters.
func Shorten(text string, most int) string {
	r := []rune(text)
	return string(r[:min(len(r), most)])
}

// Copy makes a new piece like this one.
func (s *Service) Copy(ctx context.Context, id int64) (Piece, error) {
	p, err := s.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, err
	}
	spec := p.Spec.Clone()
	spec.Name = msg.F("%s (copy)", Shorten(spec.Name, 72)).In(b.Settings.Lang())
	return s.Add(ctx, spec)
}

// Apart makes a piece of several equal boards into as many of one board, named by their numbers, at equal
// film. The first keeps its place and what was prepared; all belong to the same commission and are asked the
// same price a board.
func (s *Service) Apart(ctx context.Context, id int64) ([]Piece, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return nil, err
	}
	var out []Piece
	err = s.store.Write(ctx, "keep the boards as pieces", func(tx *store.Tx) error {
		count, name := 0, ""
		named := func(spec *plan.Spec, k int) {
			spec.Name, spec.Count = msg.F("%s, %d of %d", Shorten(name, 68), k, count).In(b.Settings.Lang()), 1
		}
		first, err := ChangeIn(ctx, tx, id, s.now(), func(spec *plan.Spec) error {
			if count, name = spec.Count, spec.Name; count < 2 || len(spec.More) > 0 {
				return form.Refusef("count", "only several boards of one size are planned by themselves")
			}
			whole, err := plan.Evaluate(*spec, b.Context, plan.Timing{})
			if err != nil {
				return refused(err)
			}
			whole.Onto(spec, whole.Face/units.Area(count))
			named(spec, 1)
			return nil
		})
		if err != nil {
			return err
		}
		asked, err := tx.PriceOf(ctx, id)
		if err != nil {
			return err
		}
		out = []Piece{first}
		for k := 2; k <= count; k++ {
			spec := first.Spec.Clone()
			named(&spec, k)
			p, err := AddTo(ctx, tx, spec, s.now())
			if err == nil && asked.Rev > 0 {
				err = tx.SavePrice(ctx, p.ID, 0, asked.Doc)
			}
			if err != nil {
				return err
			}
			out = append(out, p)
		}
		return nil
	})
	return out, err
}

// Remove takes a piece off the list; restore puts it back.
func (s *Service) Remove(ctx context.Context, id int64, restore bool) error {
	var at *time.Time
	if !restore {
		now := s.now()
		at = &now
	}
	return s.store.Write(ctx, "remove the piece", func(tx *store.Tx) error { return tx.SetPieceDeleted(ctx, id, at) })
}

// attempts bounds how often an edit is laid again on top of another page's.
const attempts = 5

// Edit lays typed values on a piece. base is the revision the page was
// showing: only what was typed anew since then is applied, on top of whatever
// other pages did meanwhile, so that two open pages never undo each other. A
// field both changed takes the later value, and the note says what it was.
// Refused values leave their field alone; the others are kept.
func (s *Service) Edit(ctx context.Context, id, base int64, typed map[string]string) (Piece, form.Notices, error) {
	b, err := s.materials.Book(ctx)
	if err != nil {
		return Piece{}, form.Notices{}, err
	}
	shown, err := s.revision(ctx, id, base)
	if err != nil {
		return Piece{}, form.Notices{}, err
	}
	var n form.Notices
	p, err := s.Change(ctx, id, func(spec *plan.Spec) error {
		before := spec.Clone()
		*spec, n = merge(shown.Spec, before, typed, b)
		spec.Recompose(before)
		if _, err := spec.Boards(); err != nil {
			n.Refuse(spec.ShapeField(), msg.Of(err))
		}
		return nil
	})
	return p, n, err
}

func (s *Service) revision(ctx context.Context, id, rev int64) (Piece, error) {
	row, err := s.store.PieceRevision(ctx, id, rev)
	if errors.Is(err, store.ErrNotFound) {
		return s.Piece(ctx, id) // a page from before a restore: take it as current
	}
	if err != nil {
		return Piece{}, err
	}
	return Decode(row)
}

// merge lays what was typed anew since shown on top of head.
func merge(shown, head plan.Spec, typed map[string]string, b *materials.Book) (plan.Spec, form.Notices) {
	style, sys := b.Settings.Style(), b.Settings.Units
	fields := Fields(shown, b)
	fresh := fields.Changed(&shown, typed, style)
	for key, text := range fresh {
		f, _ := fields.Find(key)
		trial := shown.Clone()
		if _, err := f.Read(&trial, text, style); err == nil && reflect.DeepEqual(trial, shown.Clone()) {
			delete(fresh, key) // another way to write the same
		}
	}
	out := head.Clone()
	n := fields.Set(&out, fresh, style)
	for key := range fresh {
		f, _ := fields.Find(key)
		if n.Errors[key] != nil {
			continue
		}
		was, is := f.Get(&shown, sys), f.Get(&head, sys)
		if was != is && is != f.Get(&out, sys) {
			n.Notes[key] = msg.F("another page has just set this to %s", is)
		}
	}
	return out, n
}

// Change revises a piece by f on top of its newest revision; what is then the
// same as before is not a revision.
func (s *Service) Change(ctx context.Context, id int64, f func(*plan.Spec) error) (Piece, error) {
	for range attempts {
		p, err := s.changeOnce(ctx, id, f)
		if !errors.Is(err, store.ErrConflict) {
			return p, err
		}
	}
	return Piece{}, store.ErrConflict
}

func (s *Service) changeOnce(ctx context.Context, id int64, f func(*plan.Spec) error) (Piece, error) {
	var p Piece
	err := s.store.Write(ctx, "keep the change", func(tx *store.Tx) error {
		var err error
		p, err = ChangeIn(ctx, tx, id, s.now(), f)
		return err
	})
	return p, refused(err)
}

// ChangeIn revises a piece within a larger change.
func ChangeIn(ctx context.Context, tx *store.Tx, id int64, now time.Time, f func(*plan.Spec) error) (Piece, error) {
	row, err := tx.Piece(ctx, id)
	if err != nil {
		return Piece{}, err
	}
	head, err := Decode(row)
	if err != nil {
		return head, err
	}
	spec := head.Spec.Clone()
	if err := f(&spec); err != nil {
		return head, err
	}
	spec.V = plan.Version
	if reflect.DeepEqual(spec, head.Spec.Clone()) {
		return head, nil
	}
	if err := tx.RevisePiece(ctx, id, head.Rev, spec.Name, spec, now); err != nil {
		return head, err
	}
	if row, err = tx.Piece(ctx, id); err != nil {
		return head, err
	}
	return Decode(row)
}

// refused turns what the core refuses into what pages show.
func refused(err error) error {
	var r *plan.Refusal
	if errors.As(err, &r) {
		return &form.Refused{Field: r.Field, Err: r.Err}
	}
	return err
}

// UploadOutline takes the outline of the piece from an SVG drawing. sized is
// false when the file names no real size and should be checked.
func (s *Service) UploadOutline(ctx context.Context, id int64, drawing io.Reader) (p Piece, sized bool, err error) {
	read, err := svgoutline.Read(drawing)
	if err != nil {
		return Piece{}, false, &form.Refused{Field: "drawing", Err: err}
	}
	if read.Shape, err = read.Shape.Simplified(); err != nil {
		return Piece{}, false, &form.Refused{Field: "drawing", Err: err}
	}
	box := read.Shape.Bounds()
	p, err = s.Change(ctx, id, func(spec *plan.Spec) error {
		before := spec.Clone()
		spec.Outline, spec.Path = plan.Drawn, read.Shape.Data()
		spec.Width, spec.Height = box.Width(), box.Height()
		spec.Recompose(before)
		return nil
	})
	return p, read.Sized, err
}

// Undo takes back the last change, Redo does it again. At either end they
// leave the piece as it is.
func (s *Service) Undo(ctx context.Context, id int64) (Piece, error) {
	return s.moveHead(ctx, id, true)
}

// Redo does the change that was last undone again.
func (s *Service) Redo(ctx context.Context, id int64) (Piece, error) {
	return s.moveHead(ctx, id, false)
}

func (s *Service) moveHead(ctx context.Context, id int64, back bool) (Piece, error) {
	err := s.store.Write(ctx, "move through the changes", func(tx *store.Tx) error { return tx.MoveHead(ctx, id, back) })
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return Piece{}, err
	}
	return s.Piece(ctx, id)
}

// Values returns a spec as typed text.
func Values(spec plan.Spec, b *materials.Book, sys units.System) map[string]string {
	return Fields(spec, b).Values(&spec, sys)
}
