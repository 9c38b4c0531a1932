package store

import (
	"context"
	"database/sql"
	"time"
)

// A Use is what one coat was reckoned at and what it took, in mL.
type Use struct {
	PieceID       int64
	Coat          string
	Technique     string
	Planned, Used float64
	At            time.Time
}

// RecordUse keeps what a coat took; a second record for the same coat
// replaces the first.
func (s *Store) RecordUse(ctx context.Context, u Use) error {
	return s.write(ctx, "record what the coat took", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO coat_uses (piece_id, coat, technique, planned, used, at) VALUES (?, ?, ?, ?, ?, ?)
			ON CONFLICT (piece_id, coat) DO UPDATE SET
				technique = excluded.technique, planned = excluded.planned, used = excluded.used, at = excluded.at`,
			u.PieceID, u.Coat, u.Technique, u.Planned, u.Used, stamp(u.At))
		return err
	})
}

// UsesOf returns what the coats of a piece took.
func (s *Store) UsesOf(ctx context.Context, piece int64) ([]Use, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT piece_id, coat, technique, planned, used, at FROM coat_uses WHERE piece_id = ? ORDER BY at`, piece)
	out, err := all(rows, err, scanUse)
	return out, wrap("read what the coats took", err)
}

// A Learned sums the recorded coats of a technique since its last reset.
type Learned struct {
	Technique     string
	Planned, Used float64
	Pours         int
}

// Learned returns the sums of every technique that has any, except for pieces
// that were removed.
func (s *Store) Learned(ctx context.Context) (map[string]Learned, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT u.technique, sum(u.planned), sum(u.used), count(*)
		FROM coat_uses u JOIN pieces p ON p.id = u.piece_id AND p.deleted_at IS NULL
		LEFT JOIN learning_resets r ON r.technique = u.technique
		WHERE r.at IS NULL OR u.at > r.at GROUP BY u.technique`)
	list, err := all(rows, err, func(r *sql.Rows) (Learned, error) {
		var l Learned
		err := r.Scan(&l.Technique, &l.Planned, &l.Used, &l.Pours)
		return l, err
	})
	out := make(map[string]Learned, len(list))
	for _, l := range list {
		out[l.Technique] = l
	}
	return out, wrap("read what was learnt", err)
}

// ResetLearning forgets the pours of a technique up to now.
func (s *Store) ResetLearning(ctx context.Context, technique string, now time.Time) error {
	return s.write(ctx, "reset what was learnt", func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO learning_resets (technique, at) VALUES (?, ?)
			ON CONFLICT (technique) DO UPDATE SET at = excluded.at`, technique, stamp(now))
		return err
	})
}

func scanUse(r *sql.Rows) (Use, error) {
	var u Use
	var at string
	err := r.Scan(&u.PieceID, &u.Coat, &u.Technique, &u.Planned, &u.Used, &at)
	u.At = parseStamp(at)
	return u, err
}
