package idempotency_test

import (
	"context"
	"errors"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
	"jevvo/internal/studio/idempotency"
)

func TestOnce(t *testing.T) {
	db, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	now := time.Date(2030, 3, 4, 9, 0, 0, 0, time.UTC)
	s := idempotency.New(db, func() time.Time { return now })
	add := func(ctx context.Context) error {
		return db.Write(ctx, "add", func(tx *store.Tx) error {
			_, err := tx.CreatePiece(ctx, "Creek", map[string]int{"V": 2}, now)
			return err
		})
	}
	done := func(ctx context.Context) (string, error) { return "/there", errors.Join(add(ctx), add(ctx)) }
	many := func() int {
		_, n, err := db.FindPieces(t.Context(), store.PieceFilter{}, 1, 0)
		require.NoError(t, err)
		return n
	}
	for i := range 3 {
		address, before, err := s.Do(t.Context(), "a", done)
		require.NoError(t, err)
		assert.Equal(t, "/there", address)
		assert.Equal(t, i > 0, before)
	}
	assert.Equal(t, 2, many(), "both changes of one form, once")

	// The program ended after the change and before the answer: it is known again.
	require.NoError(t, add(store.WithPress(t.Context(), "b", now)))
	address, before, err := s.Do(t.Context(), "b", done)
	require.NoError(t, err)
	assert.True(t, before)
	assert.Empty(t, address)
	require.ErrorIs(t, add(store.WithPress(t.Context(), "b", now)), store.ErrPressed)
	assert.Equal(t, 3, many())

	// One that failed may be sent again.
	_, before, err = s.Do(t.Context(), "c", func(context.Context) (string, error) { return "", context.Canceled })
	require.ErrorIs(t, err, context.Canceled)
	assert.False(t, before)
	_, before, err = s.Do(t.Context(), "c", done)
	require.NoError(t, err)
	assert.False(t, before)

	// Old ones are forgotten.
	now = now.Add(15 * 24 * time.Hour)
	_, _, err = s.Do(t.Context(), "d", done)
	require.NoError(t, err)
	_, before, err = s.Do(t.Context(), "a", done)
	require.NoError(t, err)
	assert.False(t, before)
}
