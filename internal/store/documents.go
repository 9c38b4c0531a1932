package store

import (
	"context"
	"database/sql"
	"time"
)

// saveDocument changes a named document of a table that is still at rev.
func (s *Store) saveDocument(ctx context.Context, table string, id, rev int64, name string, doc any) error {
	text, err := encode(doc)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep a change in "+table, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE `+table+` SET name = ?, doc = ?, rev = rev + 1 WHERE id = ? AND rev = ? AND deleted_at IS NULL`, name, text, id, rev)
		return changed(res, err, func() error {
			return exists(ctx, tx, `SELECT 1 FROM `+table+` WHERE id = ? AND deleted_at IS NULL`, id)
		})
	})
}

// setDeleted takes a document off its list or puts it back (nil).
func (s *Store) setDeleted(ctx context.Context, table string, id int64, at *time.Time) error {
	var mark any
	if at != nil {
		mark = stamp(*at)
	}
	return s.write(ctx, "remove one of "+table, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE `+table+` SET deleted_at = ? WHERE id = ?`, mark, id)
		return changed(res, err, func() error { return ErrNotFound })
	})
}
