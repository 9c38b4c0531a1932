package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// A Flow is a trial on the preview of a coat. One that was never kept has
// the revision 0.
type Flow struct {
	Rev int64
	Doc json.RawMessage
}

// Flow returns what was tried on a coat's preview.
func (r Reader) Flow(ctx context.Context, piece int64, coat string) (Flow, error) {
	var f Flow
	var doc string
	err := r.q.QueryRowContext(ctx, `SELECT rev, doc FROM flows WHERE piece_id = ? AND coat = ?`, piece, coat).Scan(&f.Rev,
		&doc)
	if errors.Is(err, sql.ErrNoRows) {
		return Flow{}, nil
	}
	f.Doc = json.RawMessage(doc)
	return f, wrap("read what was tried", err)
}

// KeepFlow keeps what was tried on a coat's preview that is still at rev. It
// returns ErrConflict when it is not.
func (t *Tx) KeepFlow(ctx context.Context, piece int64, coat string, rev int64, doc any, now time.Time) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	if rev == 0 {
		res, err := t.exec(ctx, ScopeOther,
			`INSERT INTO flows (piece_id, coat, rev, doc, at) VALUES (?, ?, 1, ?, ?) ON CONFLICT DO NOTHING`, piece, coat, text, stamp(now))
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return ErrConflict
		}
		return nil
	}
	return t.one(ctx, ScopeOther, `SELECT 1 FROM flows WHERE piece_id = ? AND coat = ?`, []any{piece, coat},
		`UPDATE flows SET doc = ?, rev = rev + 1, at = ? WHERE piece_id = ? AND coat = ? AND rev = ?`, text, stamp(
			now), piece, coat, rev)
}
