package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A PieceRow is one revision of a piece's plan.
type PieceRow struct {
	ID        int64
	Rev       int64
	Parent    int64
	Name      string
	Doc       json.RawMessage
	CreatedAt time.Time
	ChangedAt time.Time
	CanRedo   bool
}

const pieceColumns = `p.id, r.rev, r.parent, r.name, r.doc, p.created_at, r.at,
	EXISTS (SELECT 1 FROM piece_revisions c WHERE c.piece_id = p.id AND c.parent = r.rev)`

func scanPiece(row interface{ Scan(...any) error }) (PieceRow, error) {
	var p PieceRow
	var doc, created, at string
	err := row.Scan(&p.ID, &p.Rev, &p.Parent, &p.Name, &doc, &created, &at, &p.CanRedo)
	p.Doc, p.CreatedAt, p.ChangedAt = json.RawMessage(doc), parseStamp(created), parseStamp(at)
	return p, err
}

// CreatePiece keeps a new piece and returns it.
func (s *Store) CreatePiece(ctx context.Context, name string, doc any, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	var id int64
	err = s.write(ctx, "keep the new piece", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO pieces (head, created_at) VALUES (1, ?)`, stamp(now))
		if err != nil {
			return err
		}
		if id, err = res.LastInsertId(); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO piece_revisions (piece_id, rev, parent, name, doc, at) VALUES (?, 1, 0, ?, ?, ?)`,
			id, name, text, stamp(now))
		return err
	})
	return id, err
}

// Piece returns the piece as it stands.
func (s *Store) Piece(ctx context.Context, id int64) (PieceRow, error) {
	p, err := scanPiece(s.db.QueryRowContext(ctx, `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head
		WHERE p.id = ? AND p.deleted_at IS NULL`, id))
	return p, wrap("read the piece", err)
}

// PieceRevision returns the piece as it stood at a revision.
func (s *Store) PieceRevision(ctx context.Context, id, rev int64) (PieceRow, error) {
	p, err := scanPiece(s.db.QueryRowContext(ctx, `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = ?
		WHERE p.id = ? AND p.deleted_at IS NULL`, rev, id))
	return p, wrap("read the piece", err)
}

// Pieces returns all pieces whose name contains find, last changed first.
func (s *Store) Pieces(ctx context.Context, find string, limit, offset int) ([]PieceRow, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head
		WHERE p.deleted_at IS NULL AND instr(lower(r.name), lower(?)) > 0
		ORDER BY r.at DESC, p.id DESC LIMIT ? OFFSET ?`, find, limit, offset)
	out, err := all(rows, err, func(r *sql.Rows) (PieceRow, error) { return scanPiece(r) })
	return out, wrap("list the pieces", err)
}

// CountPieces returns how many pieces have find in their name.
func (s *Store) CountPieces(ctx context.Context, find string) (int, error) {
	var n int
	err := s.db.QueryRowContext(ctx, `SELECT count(*)
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head
		WHERE p.deleted_at IS NULL AND instr(lower(r.name), lower(?)) > 0`, find).Scan(&n)
	return n, wrap("count the pieces", err)
}

// RevisePiece appends a revision on top of head, which must still be base.
func (s *Store) RevisePiece(ctx context.Context, id, base int64, name string, doc any, now time.Time) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep the change", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO piece_revisions (piece_id, rev, parent, name, doc, at)
			SELECT p.id, (SELECT max(rev) + 1 FROM piece_revisions WHERE piece_id = p.id), p.head, ?, ?, ?
			FROM pieces p WHERE p.id = ? AND p.head = ? AND p.deleted_at IS NULL`, name, text, stamp(now), id, base)
		if err := changed(res, err, func() error { return exists(ctx, tx, `SELECT 1 FROM pieces WHERE id = ? AND deleted_at IS NULL`, id) }); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE pieces SET head = (SELECT max(rev) FROM piece_revisions WHERE piece_id = ?) WHERE id = ?`, id, id)
		return err
	})
}

// MoveHead undoes (back true) or redoes one change. It returns ErrNotFound
// when there is nothing to move to.
func (s *Store) MoveHead(ctx context.Context, id int64, back bool) error {
	target := `SELECT max(c.rev) FROM piece_revisions c WHERE c.piece_id = p.id AND c.parent = p.head`
	if back {
		target = `SELECT nullif(r.parent, 0) FROM piece_revisions r WHERE r.piece_id = p.id AND r.rev = p.head`
	}
	return s.write(ctx, "move through the changes", func(tx *sql.Tx) error {
		var to sql.NullInt64
		if err := tx.QueryRowContext(ctx, `SELECT (`+target+`) FROM pieces p WHERE p.id = ?`, id).Scan(&to); err != nil {
			return err
		}
		if !to.Valid {
			return ErrNotFound
		}
		_, err := tx.ExecContext(ctx, `UPDATE pieces SET head = ? WHERE id = ?`, to.Int64, id)
		return err
	})
}

// SetPieceDeleted takes a piece off the list or puts it back.
func (s *Store) SetPieceDeleted(ctx context.Context, id int64, at *time.Time) error {
	var mark any
	if at != nil {
		mark = stamp(*at)
	}
	return s.write(ctx, "remove the piece", func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE pieces SET deleted_at = ? WHERE id = ?`, mark, id)
		return changed(res, err, func() error { return ErrNotFound })
	})
}

func exists(ctx context.Context, tx *sql.Tx, query string, args ...any) error {
	var one int
	return tx.QueryRowContext(ctx, query, args...).Scan(&one)
}
