package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"strings"
	"time"
	"unicode"
)

// An Entry is a line of the journal.
type Entry struct {
	ID    int64
	At    time.Time
	Kind  string
	Piece int64 // 0 for none
	Coat  string
	Ref   string // what it is: "photo:7", "bench:3:12"
	Title string
	Body  string
}

// An Asked selects journal entries; zero values match all.
type Asked struct {
	Words     []string // each found by its beginning
	Kind      string
	Piece     int64
	Product   string // ids of what the piece uses
	Pigment   string
	Technique string
	Before    int64 // entries older than this one
	Limit     int
}

// match is the query of the full-text index: every word in quotes, so that nothing
// in it is read as an operator.
func (a Asked) match() string {
	parts := make([]string, len(a.Words))
	for k, w := range a.Words {
		plain := strings.Map(func(r rune) rune {
			if unicode.IsControl(r) {
				return ' '
			}
			return r
		}, w)
		parts[k] = `"` + strings.ReplaceAll(plain, `"`, `""`) + `"*`
	}
	return strings.Join(parts, " ")
}

// Journal returns entries, the newest first, of pieces that were not removed.
func (r Reader) Journal(ctx context.Context, a Asked) ([]Entry, error) {
	var where []string
	var args []any
	also := func(condition string, with ...any) {
		where, args = append(where, condition), append(args, with...)
	}
	from := `journal j`
	if len(a.Words) > 0 {
		from = `journal_text t JOIN journal j ON j.id = t.rowid`
		also(`journal_text MATCH ?`, a.match())
	}
	also(`(j.piece_id IS NULL OR EXISTS (SELECT 1 FROM pieces p WHERE p.id = j.piece_id AND p.deleted_at IS NULL))`)
	if a.Kind != "" {
		also(`j.kind = ?`, a.Kind)
	}
	if a.Piece != 0 {
		also(`j.piece_id = ?`, a.Piece)
	}
	for kind, ref := range map[string]string{"product": a.Product, "pigment": a.Pigment, "technique": a.Technique} {
		if ref != "" {
			also(`EXISTS (SELECT 1 FROM piece_uses u WHERE u.kind = ? AND u.ref = ? AND u.piece_id = j.piece_id)`, kind, ref)
		}
	}
	if a.Before != 0 {
		also(`(j.at, j.id) < (SELECT at, id FROM journal WHERE id = ?)`, a.Before)
	}
	args = append(args, a.Limit)
	return list(ctx, r, "read the journal",
		`SELECT j.id, j.at, j.kind, coalesce(j.piece_id, 0), j.coat, j.ref, j.title, j.body FROM `+from+
			` WHERE `+strings.Join(where, " AND ")+` ORDER BY j.at DESC, j.id DESC LIMIT ?`, args, func(rows *sql.Rows) (e Entry,
			err error) {
			var at string
			err = rows.Scan(&e.ID, &at, &e.Kind, &e.Piece, &e.Coat, &e.Ref, &e.Title, &e.Body)
			e.At = parseStamp(at)
			return e, err
		})
}

// A ResultRow is the result of a coat.
type ResultRow struct {
	Piece int64
	Coat  string
	Rev   int64
	Doc   json.RawMessage
	At    time.Time
}

const resultColumns = `piece_id, coat, rev, doc, at`

func scanResult(row scanner) (v ResultRow, err error) {
	var doc, at string
	err = row.Scan(&v.Piece, &v.Coat, &v.Rev, &doc, &at)
	v.Doc, v.At = json.RawMessage(doc), parseStamp(at)
	return v, err
}

// Result returns what came of a coat; the revision is 0 for one that was not
// filled in.
func (r Reader) Result(ctx context.Context, piece int64, coat string) (ResultRow, error) {
	v, err := scanResult(r.q.QueryRowContext(ctx, `SELECT `+resultColumns+` FROM results WHERE piece_id = ? AND coat = ?`,
		piece, coat))
	if errors.Is(err, sql.ErrNoRows) {
		return ResultRow{Piece: piece, Coat: coat}, nil
	}
	return v, wrap("read the result", err)
}

// Results returns those of all pieces that were not removed.
func (r Reader) Results(ctx context.Context) ([]ResultRow, error) {
	return list(ctx, r, "list the results",
		`SELECT `+resultColumns+` FROM results WHERE EXISTS (SELECT 1 FROM pieces p WHERE p.id = results.piece_id AND p.deleted_at IS NULL) ORDER BY at`, nil,
		func(rows *sql.Rows) (ResultRow, error) { return scanResult(rows) })
}

// ResultsOf returns those of some pieces, the oldest first.
func (r Reader) ResultsOf(ctx context.Context, pieces []int64) ([]ResultRow, error) {
	ids, err := json.Marshal(pieces)
	if err != nil {
		return nil, err
	}
	return list(ctx, r, "list the results",
		`SELECT `+resultColumns+` FROM results WHERE piece_id IN (SELECT value FROM json_each(?)) ORDER BY at`, []any{
			string(ids)},
		func(rows *sql.Rows) (ResultRow, error) { return scanResult(rows) })
}

// KeepResult keeps what came of a coat that is still at rev. It returns ErrConflict
// when it is not.
func (t *Tx) KeepResult(ctx context.Context, v ResultRow, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	if v.Rev == 0 {
		res, err := t.exec(ctx, ScopeSessions,
			`INSERT INTO results (piece_id, coat, rev, doc, at) VALUES (?, ?, 1, ?, ?) ON CONFLICT DO NOTHING`, v.Piece, v.Coat, text, stamp(v.At))
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return ErrConflict
		}
		return nil
	}
	return t.one(ctx, ScopeSessions, `SELECT 1 FROM results WHERE piece_id = ? AND coat = ?`, []any{v.Piece, v.Coat},
		`UPDATE results SET doc = ?, rev = rev + 1 WHERE piece_id = ? AND coat = ? AND rev = ?`, text, v.Piece, v.Coat, v.Rev)
}

// A PhotoRow is a photograph of a coat, without its pictures.
type PhotoRow struct {
	ID     int64
	Piece  int64
	Coat   string
	Moment string
	At     time.Time
}

// KeepPhoto keeps a photograph: as it was taken, for a screen, and small. One that
// is kept already, by its digest, is not kept twice.
func (t *Tx) KeepPhoto(ctx context.Context, p PhotoRow, digest string, original, shown, small []byte) (int64, error) {
	var id int64
	t.touched[ScopeSessions] = true
	err := t.tx.QueryRowContext(ctx,
		`INSERT INTO photos (piece_id, coat, moment, digest, shown, small, at) VALUES (?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (piece_id, coat, digest) DO UPDATE SET moment = excluded.moment RETURNING id`, p.Piece, p.Coat, p.Moment, digest, shown, small, stamp(p.At)).Scan(&id)
	if err != nil {
		return 0, err
	}
	_, err = t.exec(ctx, ScopeSessions,
		`INSERT INTO photo_originals (photo_id, original) VALUES (?, ?) ON CONFLICT DO NOTHING`, id, original)
	return id, err
}

// Photos returns the photographs of a piece in the order they came.
func (r Reader) Photos(ctx context.Context, piece int64) ([]PhotoRow, error) {
	return list(ctx, r, "list the photographs",
		`SELECT id, piece_id, coat, moment, at FROM photos WHERE piece_id = ? ORDER BY at, id`, []any{piece},
		func(rows *sql.Rows) (p PhotoRow, err error) {
			var at string
			err = rows.Scan(&p.ID, &p.Piece, &p.Coat, &p.Moment, &at)
			p.At = parseStamp(at)
			return p, err
		})
}

// PhotosOf returns those of some pieces in the order they were kept, without their times:
// these lie behind the pictures, which would be read through for them.
func (r Reader) PhotosOf(ctx context.Context, pieces []int64) ([]PhotoRow, error) {
	ids, err := json.Marshal(pieces)
	if err != nil {
		return nil, err
	}
	return list(ctx, r, "list the photographs",
		`SELECT id, piece_id, coat, moment FROM photos WHERE piece_id IN (SELECT value FROM json_each(?)) ORDER BY id`, []any{
			string(ids)},
		func(rows *sql.Rows) (p PhotoRow, err error) {
			err = rows.Scan(&p.ID, &p.Piece, &p.Coat, &p.Moment)
			return p, err
		})
}

// PhotoSize is which of its pictures is wanted.
type PhotoSize string

// The sizes.
const (
	PhotoSmall    PhotoSize = "small"
	PhotoShown    PhotoSize = "shown"
	PhotoOriginal PhotoSize = "original"
)

// PhotoPicture returns a picture of a photograph of a piece.
func (r Reader) PhotoPicture(ctx context.Context, piece, id int64, size PhotoSize) ([]byte, error) {
	query := map[PhotoSize]string{
		PhotoSmall:    `SELECT small FROM photos WHERE id = ? AND piece_id = ?`,
		PhotoShown:    `SELECT shown FROM photos WHERE id = ? AND piece_id = ?`,
		PhotoOriginal: `SELECT original FROM photo_originals JOIN photos ON photos.id = photo_id WHERE photo_id = ? AND piece_id = ?`,
	}[size]
	var data []byte
	err := r.q.QueryRowContext(ctx, query, id, piece).Scan(&data)
	return data, wrap("read the photograph", err)
}

// A FaultRow is a fault whose cause was confirmed.
type FaultRow struct {
	ID    int64
	Piece int64
	Coat  string
	Doc   json.RawMessage
	At    time.Time
}

// KeepFault keeps a confirmed cause.
func (t *Tx) KeepFault(ctx context.Context, v FaultRow, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	_, err = t.exec(ctx, ScopeSessions, `INSERT INTO faults (piece_id, coat, doc, at) VALUES (?, ?, ?, ?)`, v.Piece,
		v.Coat, text, stamp(v.At))
	return err
}

// Faults returns all confirmed causes; of a piece when it is not 0.
func (r Reader) Faults(ctx context.Context, piece int64) ([]FaultRow, error) {
	return list(ctx, r, "list the faults",
		`SELECT id, piece_id, coat, doc, at FROM faults WHERE ? IN (0, piece_id) ORDER BY id`, []any{piece},
		func(rows *sql.Rows) (v FaultRow, err error) {
			var doc, at string
			err = rows.Scan(&v.ID, &v.Piece, &v.Coat, &doc, &at)
			v.Doc, v.At = json.RawMessage(doc), parseStamp(at)
			return v, err
		})
}
