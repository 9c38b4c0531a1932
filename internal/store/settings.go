package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
)

// Setting reads the document under key into v and reports whether there is
// one.
func (s *Store) Setting(ctx context.Context, key string, v any) (bool, error) {
	var doc string
	err := s.db.QueryRowContext(ctx, `SELECT doc FROM settings WHERE key = ?`, key).Scan(&doc)
	if errors.Is(err, sql.ErrNoRows) {
		return false, nil
	}
	if err != nil {
		return false, wrap("read the settings", err)
	}
	return true, wrap("read the settings", json.Unmarshal([]byte(doc), v))
}

// SetSetting keeps v under key.
func (s *Store) SetSetting(ctx context.Context, key string, v any) error {
	text, err := encode(v)
	if err != nil {
		return err
	}
	return s.write(ctx, "keep the settings", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO settings (key, doc) VALUES (?, ?)
			ON CONFLICT (key) DO UPDATE SET doc = excluded.doc`, key, text)
		return err
	})
}
