package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"maps"
	"slices"
)

// A querier is a database or one transaction of it.
type querier interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

// A Reader reads, outside of transactions or inside one.
type Reader struct{ q querier }

// A Tx is one change: everything done with it is kept, or nothing.
type Tx struct {
	Reader
	tx      *sql.Tx
	touched map[Scope]bool
}

// alone waits until nobody else of this program writes: SQLite would let those who wait
// for each other give up as if another program held the file. Where one does, all who
// wait are told at once.
func (s *Store) alone(ctx context.Context, write func() error) error {
	before := s.stuck.Load()
	if err := s.turn.Acquire(ctx, 1); err != nil {
		return err
	}
	defer s.turn.Release(1)
	if s.stuck.Load() != before {
		return ErrBusy
	}
	err := write()
	if errors.Is(err, ErrBusy) {
		s.stuck.Add(1)
	}
	return err
}

// Write runs f in one transaction: what it does is kept whole or not at all.
func (s *Store) Write(ctx context.Context, doing string, f func(*Tx) error) error {
	return s.alone(ctx, func() error { return s.write(ctx, doing, f) })
}

func (s *Store) write(ctx context.Context, doing string, f func(*Tx) error) error {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return wrap(doing, err)
	}
	defer tx.Rollback() // of a panic; after a commit it does nothing
	t := &Tx{Reader{tx}, tx, map[Scope]bool{}}
	kept, err := t.pressed(ctx)
	if err == nil {
		err = f(t)
	}
	if err == nil {
		err = t.count(ctx)
	}
	if err != nil {
		return wrap(doing, err)
	}
	if err := tx.Commit(); err != nil {
		return wrap(doing, err)
	}
	kept()
	return nil
}

// count raises the versions of what was touched.
func (t *Tx) count(ctx context.Context) error {
	for _, s := range slices.Sorted(maps.Keys(t.touched)) {
		if _, err := t.tx.ExecContext(ctx,
			`INSERT INTO versions (scope, n) VALUES (?, 1) ON CONFLICT (scope) DO UPDATE SET n = n + 1`, s); err != nil {
			return err
		}
	}
	return nil
}

// exec runs a statement that changes a scope.
func (t *Tx) exec(ctx context.Context, scope Scope, query string, args ...any) (sql.Result, error) {
	t.touched[scope] = true
	return t.tx.ExecContext(ctx, query, args...)
}

// one runs a statement that must change one row: none is a conflict when the
// row that exists asks for is there, and missing otherwise.
func (t *Tx) one(ctx context.Context, scope Scope, exists string, key []any, query string, args ...any) error {
	res, err := t.exec(ctx, scope, query, args...)
	if err != nil {
		return err
	}
	n, err := res.RowsAffected()
	if err != nil || n == 1 {
		return err
	}
	var found int
	if err := t.tx.QueryRowContext(ctx, exists, key...).Scan(&found); err != nil {
		return err
	}
	return ErrConflict
}

// list runs a query and scans every row.
func list[T any](ctx context.Context, r Reader, doing, query string, args []any, scan func(*sql.Rows) (T, error)) ([]T,
	error) {
	rows, err := r.q.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, wrap(doing, err)
	}
	defer rows.Close()
	var out []T
	for rows.Next() {
		v, err := scan(rows)
		if err != nil {
			return nil, wrap(doing, err)
		}
		out = append(out, v)
	}
	return out, wrap(doing, rows.Err())
}

func encode(v any) (string, error) {
	b, err := json.Marshal(v)
	return string(b), err
}

type scanner interface{ Scan(...any) error }
