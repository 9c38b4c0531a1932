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
