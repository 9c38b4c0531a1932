package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A BenchBook is a table of bench days: real ones, or rehearsals.
type BenchBook string

// The books.
const (
	Benches    BenchBook = "benches"
	Rehearsals BenchBook = "rehearsals"
)

// A BenchRow is one coat being made, finished or not.
type BenchRow struct {
	ID, Rev, PieceID int64
	Coat             string
	Doc              json.RawMessage
	Done             bool
	At               time.Time
}

const benchColumns = `b.id, b.rev, b.piece_id, b.coat, b.doc, b.done, b.at`

func scanBench(row interface{ Scan(...any) error }) (BenchRow, error) {
	var b BenchRow
	var doc, at string
	err := row.Scan(&b.ID, &b.Rev, &b.PieceID, &b.Coat, &doc, &b.Done, &at)
	b.Doc, b.At = json.RawMessage(doc), parseStamp(at)
	return b, err
}

// StartBench keeps a new bench day.
func (s *Store) StartBench(ctx context.Context, book BenchBook, piece int64, coat string, doc any, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "start the bench day", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO `+string(book)+` (piece_id, coat, doc, at) VALUES (?, ?, ?, ?)`, piece, coat, text, stamp(now))
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Bench returns one bench day.
func (s *Store) Bench(ctx context.Context, book BenchBook, id int64) (BenchRow, error) {
	b, err := scanBench(s.db.QueryRowContext(ctx, `SELECT `+benchColumns+` FROM `+string(book)+` b WHERE b.id = ?`, id))
	return b, wrap("read the bench day", err)
}

// BenchesOf returns a piece's bench days, newest first.
func (s *Store) BenchesOf(ctx context.Context, book BenchBook, piece int64) ([]BenchRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+benchColumns+` FROM `+string(book)+` b WHERE b.piece_id = ? ORDER BY b.at DESC, b.id DESC`, piece)
	out, err := all(rows, err, func(r *sql.Rows) (BenchRow, error) { return scanBench(r) })
	return out, wrap("list the bench days", err)
}

// OpenBenches returns the bench days that go on, oldest first; those of
// removed pieces are left out.
func (s *Store) OpenBenches(ctx context.Context) ([]BenchRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+benchColumns+` FROM benches b JOIN pieces p ON p.id = b.piece_id
		WHERE b.done = 0 AND p.deleted_at IS NULL ORDER BY b.at, b.id`)
	out, err := all(rows, err, func(r *sql.Rows) (BenchRow, error) { return scanBench(r) })
	return out, wrap("list the bench days", err)
}

// RecentBenches returns the newest bench days, finished or not, of all pieces.
func (s *Store) RecentBenches(ctx context.Context, limit int) ([]BenchRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+benchColumns+` FROM benches b JOIN pieces p ON p.id = b.piece_id
		WHERE p.deleted_at IS NULL ORDER BY b.at DESC, b.id DESC LIMIT ?`, limit)
	out, err := all(rows, err, func(r *sql.Rows) (BenchRow, error) { return scanBench(r) })
	return out, wrap("list the bench days", err)
}

// SaveBench keeps a step of a bench day that is still at rev.
func (s *Store) SaveBench(ctx context.Context, book BenchBook, id, rev int64, doc any, done bool) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep the step", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE `+string(book)+` SET doc = ?, done = ?, rev = rev + 1 WHERE id = ? AND rev = ?`, text, done, id, rev)
		return changed(res, err, func() error { return exists(ctx, tx, `SELECT 1 FROM `+string(book)+` WHERE id = ?`, id) })
	})
}

// AddPhoto keeps a photograph of a bench day.
func (s *Store) AddPhoto(ctx context.Context, bench int64, jpeg []byte, now time.Time) (int64, error) {
	var id int64
	err := s.write(ctx, "keep the photograph", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO bench_photos (bench_id, picture, at) VALUES (?, ?, ?)`, bench, jpeg, stamp(now))
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Photo returns a photograph of a bench day.
func (s *Store) Photo(ctx context.Context, bench, id int64) ([]byte, error) {
	var data []byte
	err := s.db.QueryRowContext(ctx, `SELECT picture FROM bench_photos WHERE id = ? AND bench_id = ?`, id, bench).Scan(&data)
	return data, wrap("read the photograph", err)
}
