package store

import (
	"context"
	"fmt"
)

// LimitSize makes the database behave as on a disk with room for so many
// pages. The limit is one connection's, so the pool shrinks to one.
func (s *Store) LimitSize(ctx context.Context, pages int) error {
	s.db.SetMaxOpenConns(1)
	_, err := s.db.ExecContext(ctx, fmt.Sprintf("PRAGMA max_page_count = %d", pages))
	return err
}

// Impatient makes a statement that another connection keeps waiting fail at once. The
// setting is a connection's, so the pool shrinks to two.
func (s *Store) Impatient(ctx context.Context) error {
	s.db.SetMaxOpenConns(2)
	for range 2 {
		c, err := s.db.Conn(ctx)
		if err != nil {
			return err
		}
		defer c.Close()
		if _, err := c.ExecContext(ctx, "PRAGMA busy_timeout = 0"); err != nil {
			return err
		}
	}
	return nil
}

// Beside makes the tables a replicator keeps its place in.
func (s *Store) Beside(ctx context.Context) error {
	_, err := s.db.ExecContext(ctx, "CREATE TABLE _litestream_seq (id INTEGER PRIMARY KEY, seq INTEGER)")
	return err
}
