package store

import (
	"context"
	"database/sql"
	"time"
)

// A LevelReading is one pair of angles read off a board, in degrees.
type LevelReading struct {
	Along, Across float64
	At            time.Time
}

// RecordLevel keeps a reading for a piece.
func (s *Store) RecordLevel(ctx context.Context, piece int64, r LevelReading) error {
	return s.write(ctx, "keep the level reading", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO level_readings (piece_id, along, across, at) VALUES (?, ?, ?, ?)`,
			piece, r.Along, r.Across, stamp(r.At))
		return err
	})
}

// Levels returns the readings of a piece, newest first.
func (s *Store) Levels(ctx context.Context, piece int64) ([]LevelReading, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT along, across, at FROM level_readings WHERE piece_id = ? ORDER BY at DESC, id DESC LIMIT 20`, piece)
	out, err := all(rows, err, func(r *sql.Rows) (LevelReading, error) {
		var l LevelReading
		var at string
		err := r.Scan(&l.Along, &l.Across, &at)
		l.At = parseStamp(at)
		return l, err
	})
	return out, wrap("read the level", err)
}
