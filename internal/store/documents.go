package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"slices"
	"time"
)

// Kind is the kind of a document.
type Kind string

// The kinds of documents.
const (
	Resins      Kind = "resin"
	Pigments    Kind = "pigment"
	Techniques  Kind = "technique"
	Commissions Kind = "commission"
	Palettes    Kind = "palette"
	Goods       Kind = "goods" // boards, tape, gloves, additives: what is stocked besides resins and pigments
)

// scopes are where changes of a kind are counted.
var scopes = map[Kind]Scope{Resins: ScopeMaterials, Pigments: ScopeMaterials, Techniques: ScopeMaterials,
	Commissions: ScopeCommissions, Palettes: ScopePalettes, Goods: ScopeStock}

// A Document is a named JSON document with a revision.
type Document struct {
	ID, Rev int64
	Name    string
	Doc     json.RawMessage
	At      time.Time
	Off     bool // retired, or taken off the list
}

const documentColumns = `id, rev, name, doc, at, off_at IS NOT NULL`

func scanDocument(row scanner) (Document, error) {
	var d Document
	var doc, at string
	err := row.Scan(&d.ID, &d.Rev, &d.Name, &doc, &at, &d.Off)
	d.Doc, d.At = json.RawMessage(doc), parseStamp(at)
	return d, err
}

// Document returns one document, also one that is off.
func (r Reader) Document(ctx context.Context, kind Kind, id int64) (Document, error) {
	d, err := scanDocument(r.q.QueryRowContext(ctx, `SELECT `+documentColumns+` FROM documents WHERE kind = ? AND id = ?`,
		kind, id))
	return d, wrap("read the "+string(kind), err)
}

// AllOf returns all documents of a kind by name, those that are off last.
func (r Reader) AllOf(ctx context.Context, kind Kind) ([]Document, error) {
	return list(ctx, r, "list the "+string(kind)+"s",
		`SELECT `+documentColumns+` FROM documents WHERE kind = ? ORDER BY off_at IS NOT NULL, name COLLATE NOCASE, id`,
		[]any{kind}, func(rows *sql.Rows) (Document, error) { return scanDocument(rows) })
}

// Newest returns a page of the documents of a kind whose name or text contains
// find, newest first, without those that are off, and how many there are.
func (r Reader) Newest(ctx context.Context, kind Kind, find string, limit, offset int) ([]Document, int, error) {
	return r.newest(ctx, kind, ` AND (? = '' OR instr(lower(name), lower(?)) > 0 OR instr(lower(doc), lower(?)) > 0)`,
		[]any{find, find, find}, limit, offset)
}

// newest returns a page of the documents of a kind that a condition finds, and how many
// there are.
func (r Reader) newest(ctx context.Context, kind Kind, condition string, with []any, limit, offset int) ([]Document,
	int, error) {
	where, args := ` FROM documents d WHERE kind = ? AND off_at IS NULL`+condition, append([]any{kind}, with...)
	var n int
	if err := r.q.QueryRowContext(ctx, `SELECT count(*)`+where, args...).Scan(&n); err != nil {
		return nil, 0, wrap("count the "+string(kind)+"s", err)
	}
	docs, err := list(ctx, r, "list the "+string(kind)+"s",
		`SELECT `+documentColumns+where+` ORDER BY at DESC, id DESC LIMIT ? OFFSET ?`,
		append(args, limit, offset), func(rows *sql.Rows) (Document, error) { return scanDocument(rows) })
	return docs, n, err
}

// Create keeps a new document and returns its id. It returns ErrTaken when one
// among the materials has the name.
func (t *Tx) Create(ctx context.Context, kind Kind, name string, doc any, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	t.touched[scopes[kind]] = true
	err = t.tx.QueryRowContext(ctx, `INSERT INTO documents (kind, id, name, doc, at)
		VALUES (?, (SELECT coalesce(max(id), 0) + 1 FROM documents WHERE kind = ?), ?, ?, ?) RETURNING id`, kind, kind, name, text, stamp(now)).Scan(&id)
	return id, err
}

// takenBack are the kinds whose last change can be taken back.
var takenBack = []Kind{Resins, Pigments, Goods, Techniques, Palettes, Commissions}

// Save keeps a change of the document that is still at rev. It returns
// ErrConflict when it is not.
func (t *Tx) Save(ctx context.Context, kind Kind, id, rev int64, name string, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	if slices.Contains(takenBack, kind) {
		if _, err := t.tx.ExecContext(ctx, `INSERT OR REPLACE INTO document_before (kind, id, name, doc)
			SELECT kind, id, name, doc FROM documents WHERE kind = ? AND id = ? AND rev = ?`, kind, id, rev); err != nil {
			return err
		}
	}
	return t.one(ctx, scopes[kind], `SELECT 1 FROM documents WHERE kind = ? AND id = ?`, []any{kind, id},
		`UPDATE documents SET name = ?, doc = ?, rev = rev + 1 WHERE kind = ? AND id = ? AND rev = ?`, name, text, kind, id, rev)
}

// SaveForGood keeps a change as Save does, but one that is not taken back: what the document was
// before is forgotten.
func (t *Tx) SaveForGood(ctx context.Context, kind Kind, id, rev int64, name string, doc any) error {
	if err := t.Save(ctx, kind, id, rev, name, doc); err != nil {
		return err
	}
	_, err := t.tx.ExecContext(ctx, `DELETE FROM document_before WHERE kind = ? AND id = ?`, kind, id)
	return err
}

// Before returns what a document was before its last change; ErrNotFound where that cannot be taken back.
func (r Reader) Before(ctx context.Context, kind Kind, id int64) (Document, error) {
	d := Document{ID: id}
	err := r.q.QueryRowContext(ctx, `SELECT name, CAST(doc AS BLOB) FROM document_before WHERE kind = ? AND id = ?`, kind,
		id).Scan(&d.Name, (*[]byte)(&d.Doc))
	return d, wrap("read what it was", err)
}

// HasBefore reports whether a document has a change that can be taken back.
func (r Reader) HasBefore(ctx context.Context, kind Kind, id int64) (has bool, err error) {
	err = r.q.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM document_before WHERE kind = ? AND id = ?)`, kind,
		id).Scan(&has)
	return has, wrap("read what it was", err)
}

// TakeBack makes a document what it was before its last change; done again it makes the change
// again. It returns ErrNotFound where it was never changed.
func (t *Tx) TakeBack(ctx context.Context, kind Kind, id int64) error {
	var rev int64
	var name, doc string
	err := t.tx.QueryRowContext(ctx, `SELECT d.rev, b.name, b.doc FROM documents d
		JOIN document_before b ON b.kind = d.kind AND b.id = d.id WHERE d.kind = ? AND d.id = ?`, kind, id).
		Scan(&rev, &name, &doc)
	if err != nil {
		return wrap("read what it was", err)
	}
	return t.Save(ctx, kind, id, rev, name, json.RawMessage(doc))
}

// SetOff retires a document or takes it off the list, or puts it back (nil).
func (t *Tx) SetOff(ctx context.Context, kind Kind, id int64, at *time.Time) error {
	var mark any
	if at != nil {
		mark = stamp(*at)
	}
	return t.one(ctx, scopes[kind], `SELECT 1 FROM documents WHERE kind = ? AND id = ?`, []any{kind, id},
		`UPDATE documents SET off_at = ?, rev = rev + 1 WHERE kind = ? AND id = ?`, mark, kind, id)
}

// PictureKind is whose picture it is.
type PictureKind string

// The kinds of pictures.
const (
	CommissionPictures PictureKind = "commission"
	BenchPictures      PictureKind = "bench"
	PalettePictures    PictureKind = "palette"
	ApprovalLetters    PictureKind = "approval" // of a commission
	WallPictures       PictureKind = "wall"     // rooms a commission's boards are to hang in
	HungPictures       PictureKind = "hung"     // and with them
	LetterheadLogo     PictureKind = "logo"     // of the studio; there is one
)

// AddPicture keeps a picture of its owner and returns its id.
func (t *Tx) AddPicture(ctx context.Context, kind PictureKind, owner int64, data []byte, now time.Time) (int64, error) {
	var id int64
	t.touched[ScopeOther] = true
	err := t.tx.QueryRowContext(ctx, `INSERT INTO pictures (kind, id, owner, picture, at)
		VALUES (?, (SELECT coalesce(max(id), 0) + 1 FROM pictures WHERE kind = ?), ?, ?, ?) RETURNING id`, kind, kind, owner, data, stamp(now)).Scan(&id)
	return id, err
}

// HasPicture reports whether the owner has this very picture.
func (r Reader) HasPicture(ctx context.Context, kind PictureKind, owner int64, data []byte) (bool, error) {
	var n int
	err := r.q.QueryRowContext(ctx, `SELECT count(*) FROM pictures WHERE kind = ? AND owner = ? AND picture = ?`, kind,
		owner, data).Scan(&n)
	return n > 0, wrap("look for the picture", err)
}

// Picture returns one picture of an owner.
func (r Reader) Picture(ctx context.Context, kind PictureKind, owner, id int64) ([]byte, error) {
	var data []byte
	err := r.q.QueryRowContext(ctx, `SELECT picture FROM pictures WHERE kind = ? AND id = ? AND owner = ?`, kind, id,
		owner).Scan(&data)
	return data, wrap("read the picture", err)
}

// Pictures returns the ids of an owner's pictures in the order they came.
func (r Reader) Pictures(ctx context.Context, kind PictureKind, owner int64) ([]int64, error) {
	return list(ctx, r, "list the pictures", `SELECT id FROM pictures WHERE kind = ? AND owner = ? ORDER BY id`,
		[]any{kind, owner},
		func(rows *sql.Rows) (int64, error) {
			var id int64
			return id, rows.Scan(&id)
		})
}
