package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A CommissionRow is one commission.
type CommissionRow struct {
	ID, Rev int64
	Name    string
	Doc     json.RawMessage
	At      time.Time
}

func scanCommission(row interface{ Scan(...any) error }) (CommissionRow, error) {
	var c CommissionRow
	var doc, at string
	err := row.Scan(&c.ID, &c.Rev, &c.Name, &doc, &at)
	c.Doc, c.At = json.RawMessage(doc), parseStamp(at)
	return c, err
}

// CreateCommission keeps a new commission.
func (s *Store) CreateCommission(ctx context.Context, name string, doc any, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "keep the commission", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO commissions (name, doc, at) VALUES (?, ?, ?)`, name, text, stamp(now))
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// Commission returns one commission.
func (s *Store) Commission(ctx context.Context, id int64) (CommissionRow, error) {
	c, err := scanCommission(s.db.QueryRowContext(ctx, `SELECT id, rev, name, doc, at FROM commissions WHERE id = ? AND deleted_at IS NULL`, id))
	return c, wrap("read the commission", err)
}

// Commissions returns all commissions, newest first.
func (s *Store) Commissions(ctx context.Context) ([]CommissionRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, rev, name, doc, at FROM commissions WHERE deleted_at IS NULL ORDER BY at DESC, id DESC`)
	out, err := all(rows, err, func(r *sql.Rows) (CommissionRow, error) { return scanCommission(r) })
	return out, wrap("list the commissions", err)
}

// SaveCommission changes a commission that is still at rev.
func (s *Store) SaveCommission(ctx context.Context, id, rev int64, name string, doc any) error {
	return s.saveDocument(ctx, "commissions", id, rev, name, doc)
}

// SetCommissionDeleted takes a commission off the list or puts it back.
func (s *Store) SetCommissionDeleted(ctx context.Context, id int64, at *time.Time) error {
	return s.setDeleted(ctx, "commissions", id, at)
}

// PiecesOf returns the pieces of a commission, oldest first.
func (s *Store) PiecesOf(ctx context.Context, commission int64) ([]PieceRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head
		WHERE p.deleted_at IS NULL AND json_extract(r.doc, '$.Commission') = ? ORDER BY p.id`, commission)
	out, err := all(rows, err, func(r *sql.Rows) (PieceRow, error) { return scanPiece(r) })
	return out, wrap("list the pieces of the commission", err)
}

// OpenPieces returns pieces that are neither ideas nor done, oldest first.
func (s *Store) OpenPieces(ctx context.Context, limit int) ([]PieceRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head
		WHERE p.deleted_at IS NULL AND coalesce(json_extract(r.doc, '$.State'), '') = ''
		ORDER BY CASE WHEN coalesce(json_extract(r.doc, '$.Due'), '0001') < '0002' THEN '9999' ELSE json_extract(r.doc, '$.Due') END, p.id LIMIT ?`, limit)
	out, err := all(rows, err, func(r *sql.Rows) (PieceRow, error) { return scanPiece(r) })
	return out, wrap("list the open pieces", err)
}

// AddCommissionPicture keeps a reference picture of a commission.
func (s *Store) AddCommissionPicture(ctx context.Context, commission int64, jpeg []byte, now time.Time) (int64, error) {
	var id int64
	err := s.write(ctx, "keep the picture", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO commission_pictures (commission_id, picture, at) VALUES (?, ?, ?)`, commission, jpeg, stamp(now))
		if err != nil {
			return err
		}
		id, err = res.LastInsertId()
		return err
	})
	return id, err
}

// CommissionPictures returns the ids of a commission's reference pictures.
func (s *Store) CommissionPictures(ctx context.Context, commission int64) ([]int64, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id FROM commission_pictures WHERE commission_id = ? ORDER BY id`, commission)
	out, err := all(rows, err, func(r *sql.Rows) (int64, error) {
		var id int64
		return id, r.Scan(&id)
	})
	return out, wrap("list the pictures", err)
}

// CommissionPicture returns one reference picture.
func (s *Store) CommissionPicture(ctx context.Context, commission, id int64) ([]byte, error) {
	var data []byte
	err := s.db.QueryRowContext(ctx, `SELECT picture FROM commission_pictures WHERE id = ? AND commission_id = ?`, id, commission).Scan(&data)
	return data, wrap("read the picture", err)
}
