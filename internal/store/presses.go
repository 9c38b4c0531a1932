package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// ErrPressed says that a form that arrives has been kept before.
var ErrPressed = errors.New("this was kept before")

// keepPresses is how long a form is known again.
const keepPresses = 14 * 24 * time.Hour

// A press is one arrival of a form: its first change is kept with its key.
type press struct {
	key  string
	now  time.Time
	kept bool
}

type pressKey struct{}

// WithPress makes the first Write under the context keep the key with what it
// changes, and return ErrPressed when the key is there already.
func WithPress(ctx context.Context, key string, now time.Time) context.Context {
	return context.WithValue(ctx, pressKey{}, &press{key: key, now: now})
}

// pressed keeps the key of a press in the transaction of its first change, and returns
// what to do once that is kept.
func (t *Tx) pressed(ctx context.Context) (kept func(), err error) {
	p, ok := ctx.Value(pressKey{}).(*press)
	if !ok || p.kept {
		return func() {}, nil
	}
	if _, err := t.tx.ExecContext(ctx, `DELETE FROM presses WHERE at < ?`, stamp(p.now.Add(-keepPresses))); err != nil {
		return nil, err
	}
	res, err := t.tx.ExecContext(ctx, `INSERT INTO presses (key, at) VALUES (?, ?) ON CONFLICT DO NOTHING`, p.key,
		stamp(p.now))
	if err != nil {
		return nil, err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return nil, errors.Join(err, ErrPressed)
	}
	return func() { p.kept = true }, nil
}

// Pressed returns where a form led that was kept before: "" when the program ended
// before it could say.
func (s *Store) Pressed(ctx context.Context, key string) (address string, before bool, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT address FROM presses WHERE key = ?`, key).Scan(&address)
	if errors.Is(err, sql.ErrNoRows) {
		return "", false, nil
	}
	return address, err == nil, wrap("look for a form", err)
}

// Led keeps where a form led; one that led nowhere may be sent again.
func (s *Store) Led(ctx context.Context, key, address string) error {
	query, args := `UPDATE presses SET address = ? WHERE key = ?`, []any{address, key}
	if address == "" {
		query, args = `DELETE FROM presses WHERE key = ?`, args[1:]
	}
	return s.alone(ctx, func() error {
		_, err := s.db.ExecContext(ctx, query, args...)
		return wrap("keep where a form led", err)
	})
}
