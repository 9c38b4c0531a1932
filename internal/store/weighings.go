package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A WeighingRow is one weigh-out, finished or not.
type WeighingRow struct {
	ID      int64
	PieceID int64
	Coat    string
	Doc     json.RawMessage
	Rev     int64
	Done    bool
	At      time.Time
}

const weighingColumns = `id, piece_id, coat, doc, rev, done, at`

func scanWeighing(row interface{ Scan(...any) error }) (WeighingRow, error) {
	var w WeighingRow
	var doc, at string
	err := row.Scan(&w.ID, &w.PieceID, &w.Coat, &doc, &w.Rev, &w.Done, &at)
	w.Doc, w.At = json.RawMessage(doc), parseStamp(at)
	return w, err
}

// StartWeighing keeps a new weigh-out.
func (s *Store) StartWeighing(ctx context.Context, piece int64, coat string, doc any, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "start the weigh-out", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO weighings (piece_id, coat, doc, at) VALUES (?, ?, ?, ?)`, piece, coat, text, stamp(now))
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Weighing returns one weigh-out.
func (s *Store) Weighing(ctx context.Context, id int64) (WeighingRow, error) {
	w, err := scanWeighing(s.db.QueryRowContext(ctx, `SELECT `+weighingColumns+` FROM weighings WHERE id = ?`, id))
	return w, wrap("read the weigh-out", err)
}

// WeighingsOf returns the weigh-outs of a piece, newest first.
func (s *Store) WeighingsOf(ctx context.Context, piece int64) ([]WeighingRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+weighingColumns+` FROM weighings WHERE piece_id = ? ORDER BY at DESC, id DESC`, piece)
	out, err := all(rows, err, func(r *sql.Rows) (WeighingRow, error) { return scanWeighing(r) })
	return out, wrap("list the weigh-outs", err)
}

// SaveWeighing keeps a step of a weigh-out that is still at rev.
func (s *Store) SaveWeighing(ctx context.Context, id, rev int64, doc any, done bool) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep the reading", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE weighings SET doc = ?, done = ?, rev = rev + 1 WHERE id = ? AND rev = ?`, text, done, id, rev)
		return changed(res, err, func() error { return exists(ctx, tx, `SELECT 1 FROM weighings WHERE id = ?`, id) })
	})
}
