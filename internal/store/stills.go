package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// A Still is how a coat looks at the end of its preview.
type Still struct {
	Piece int64
	Coat  string
	Look  string // digest of what was played
}

// KeepStill keeps a coat's still in place of an earlier one.
func (t *Tx) KeepStill(ctx context.Context, s Still, png []byte, now time.Time) error {
	_, err := t.exec(ctx, ScopeOther, `INSERT INTO stills (piece_id, coat, look, picture, at) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT DO UPDATE SET look = excluded.look, picture = excluded.picture, at = excluded.at`, s.Piece, s.Coat, s.Look, png, stamp(now))
	return err
}

// Stills returns those of some pieces, without their pictures.
func (r Reader) Stills(ctx context.Context, pieces []int64) ([]Still, error) {
	ids, err := json.Marshal(pieces)
	if err != nil {
		return nil, err
	}
	return list(ctx, r, "list the stills",
		`SELECT piece_id, coat, look FROM stills WHERE piece_id IN (SELECT value FROM json_each(?))`, []any{string(ids)},
		func(rows *sql.Rows) (s Still, err error) {
			err = rows.Scan(&s.Piece, &s.Coat, &s.Look)
			return s, err
		})
}

// StillPicture returns the picture of a coat's still, a PNG.
func (r Reader) StillPicture(ctx context.Context, piece int64, coat string) ([]byte, error) {
	var png []byte
	err := r.q.QueryRowContext(ctx, `SELECT picture FROM stills WHERE piece_id = ? AND coat = ?`, piece, coat).Scan(&png)
	return png, wrap("read the still", err)
}
