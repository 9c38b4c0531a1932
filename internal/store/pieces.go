package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A PieceRow is a piece at one of its revisions.
type PieceRow struct {
	ID        int64
	Rev       int64
	Parent    int64 // revision before; 0 for the first
	Name      string
	Doc       json.RawMessage
	CreatedAt time.Time
	ChangedAt time.Time
	CanRedo   bool
}

const pieceColumns = `p.id, r.rev, r.parent, r.name, r.doc, p.created_at, r.at,
	EXISTS (SELECT 1 FROM piece_revisions c WHERE c.piece_id = p.id AND c.parent = r.rev)`

const pieceAtHead = ` FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = p.head`

func scanPiece(row scanner) (PieceRow, error) {
	var p PieceRow
	var doc, created, at string
	err := row.Scan(&p.ID, &p.Rev, &p.Parent, &p.Name, &doc, &created, &at, &p.CanRedo)
	p.Doc, p.CreatedAt, p.ChangedAt = json.RawMessage(doc), parseStamp(created), parseStamp(at)
	return p, err
}

func pieceRows(rows *sql.Rows) (PieceRow, error) { return scanPiece(rows) }

// Piece returns a piece as it stands.
func (r Reader) Piece(ctx context.Context, id int64) (PieceRow, error) {
	p, err := scanPiece(r.q.QueryRowContext(ctx,
		`SELECT `+pieceColumns+pieceAtHead+` WHERE p.id = ? AND p.deleted_at IS NULL`, id))
	return p, wrap("read the piece", err)
}

// PieceRevision returns a piece as it stood at a revision.
func (r Reader) PieceRevision(ctx context.Context, id, rev int64) (PieceRow, error) {
	p, err := scanPiece(r.q.QueryRowContext(ctx, `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id AND r.rev = ?
		WHERE p.id = ? AND p.deleted_at IS NULL`, rev, id))
	return p, wrap("read the piece", err)
}

// PieceRevisions returns the newest revisions of a piece, the newest first.
func (r Reader) PieceRevisions(ctx context.Context, id int64, most int) ([]PieceRow, error) {
	return list(ctx, r, "list the changes of the piece", `SELECT `+pieceColumns+`
		FROM pieces p JOIN piece_revisions r ON r.piece_id = p.id
		WHERE p.id = ? AND p.deleted_at IS NULL ORDER BY r.rev DESC LIMIT ?`, []any{id, most}, pieceRows)
}

// PiecesOf returns the pieces of a commission.
func (r Reader) PiecesOf(ctx context.Context, commission int64) ([]PieceRow, error) {
	return list(ctx, r, "list the pieces of the commission", `SELECT `+pieceColumns+pieceAtHead+`
		WHERE p.deleted_at IS NULL AND p.commission = ? AND p.commission > 0 ORDER BY p.id`, []any{commission}, pieceRows)
}

// A Head is which revision a piece stands at.
type Head struct{ ID, Rev int64 }

// OpenHeads returns the pieces in the making, those due first, without their
// documents.
func (r Reader) OpenHeads(ctx context.Context, limit int) ([]Head, error) {
	return list(ctx, r, "list the open pieces", `SELECT id, head FROM pieces WHERE deleted_at IS NULL AND state = ''
		ORDER BY due = '', due, id LIMIT ?`, []any{limit}, func(rows *sql.Rows) (Head, error) {
		var h Head
		return h, rows.Scan(&h.ID, &h.Rev)
	})
}

// OpenPieces returns the pieces in the making, those due first.
func (r Reader) OpenPieces(ctx context.Context, limit int) ([]PieceRow, error) {
	return list(ctx, r, "list the open pieces",
		`SELECT `+pieceColumns+pieceAtHead+` WHERE p.deleted_at IS NULL AND p.state = ''
		ORDER BY p.due = '', p.due, p.id LIMIT ?`, []any{limit}, pieceRows)
}

// CreatePiece keeps a new piece and returns its id.
func (t *Tx) CreatePiece(ctx context.Context, name string, doc any, now time.Time) (int64, error) {
	text, err := encode(doc)
	if err != nil {
		return 0, err
	}
	res, err := t.exec(ctx, ScopePieces, `INSERT INTO pieces (head, created_at) VALUES (1, ?)`, stamp(now))
	if err != nil {
		return 0, err
	}
	id, err := res.LastInsertId()
	if err != nil {
		return 0, err
	}
	if _, err = t.exec(ctx, ScopePieces,
		`INSERT INTO piece_revisions (piece_id, rev, parent, name, doc, at) VALUES (?, 1, 0, ?, ?, ?)`, id, name, text, stamp(
			now)); err != nil {
		return 0, err
	}
	return id, t.columns(ctx, id)
}

// columns brings what is asked of a piece in line with its document.
func (t *Tx) columns(ctx context.Context, id int64) error {
	_, err := t.exec(ctx, ScopePieces, `UPDATE pieces SET (name, state, due, commission, tile, changed_at) = (
		SELECT r.name, coalesce(json_extract(r.doc, '$.State'), ''),
			CASE WHEN coalesce(json_extract(r.doc, '$.Due'), '0001') < '0002' THEN '' ELSE json_extract(r.doc, '$.Due') END,
			coalesce(json_extract(r.doc, '$.Commission'), 0), coalesce(json_extract(r.doc, '$.Tile'), 0), r.at
		FROM piece_revisions r WHERE r.piece_id = pieces.id AND r.rev = pieces.head) WHERE id = ?`, id)
	return err
}

// RevisePiece adds a revision on top of base, which must still be the newest.
func (t *Tx) RevisePiece(ctx context.Context, id, base int64, name string, doc any, now time.Time) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	err = t.one(ctx, ScopePieces, `SELECT 1 FROM pieces WHERE id = ? AND deleted_at IS NULL`, []any{id},
		`INSERT INTO piece_revisions (piece_id, rev, parent, name, doc, at)
			SELECT p.id, (SELECT max(rev) + 1 FROM piece_revisions WHERE piece_id = p.id), p.head, ?, ?, ?
			FROM pieces p WHERE p.id = ? AND p.head = ? AND p.deleted_at IS NULL`, name, text, stamp(now), id, base)
	if err != nil {
		return err
	}
	if _, err = t.exec(ctx, ScopePieces,
		`UPDATE pieces SET head = (SELECT max(rev) FROM piece_revisions WHERE piece_id = ?) WHERE id = ?`, id, id); err != nil {
		return err
	}
	return t.columns(ctx, id)
}

// MoveHead goes back to the revision before, or on to the newest one after. It
// returns ErrNotFound at the end of the line.
func (t *Tx) MoveHead(ctx context.Context, id int64, back bool) error {
	target := `SELECT max(c.rev) FROM piece_revisions c WHERE c.piece_id = p.id AND c.parent = p.head`
	if back {
		target = `SELECT nullif(r.parent, 0) FROM piece_revisions r WHERE r.piece_id = p.id AND r.rev = p.head`
	}
	var to sql.NullInt64
	if err := t.tx.QueryRowContext(ctx, `SELECT (`+target+`) FROM pieces p WHERE p.id = ?`, id).Scan(&to); err != nil {
		return err
	}
	if !to.Valid {
		return ErrNotFound
	}
	if _, err := t.exec(ctx, ScopePieces, `UPDATE pieces SET head = ? WHERE id = ?`, to.Int64, id); err != nil {
		return err
	}
	return t.columns(ctx, id)
}

// SetPieceDeleted takes a piece off the list, or puts it back (nil).
func (t *Tx) SetPieceDeleted(ctx context.Context, id int64, at *time.Time) error {
	var mark any
	if at != nil {
		mark = stamp(*at)
	}
	t.touched[ScopeSessions] = true // a removed piece is not wet
	return t.one(ctx, ScopePieces, `SELECT 1 FROM pieces WHERE id = ?`, []any{id},
		`UPDATE pieces SET deleted_at = ? WHERE id = ?`, mark, id)
}
