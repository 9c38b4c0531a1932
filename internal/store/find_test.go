package store

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestPiecesInHandComeFirst(t *testing.T) {
	ctx := t.Context()
	db, err := Open(ctx, filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	defer db.Close()
	at := time.Date(2026, 3, 1, 9, 0, 0, 0, time.UTC)
	for i, p := range []struct{ name, state string }{{"hand, old", ""}, {"done, old", "done"}, {"idea", "idea"},
		{"hand, new", ""}, {"done, new", "done"}} {
		require.NoError(t, db.Write(ctx, "test", func(tx *Tx) error {
			begun := at.Add(time.Duration(i) * time.Hour)
			_, err := tx.CreatePiece(ctx, p.name, map[string]string{"State": p.state}, begun)
			return err
		}))
	}
	list, n, err := db.FindPieces(ctx, PieceFilter{}, 4, 0)
	require.NoError(t, err)
	assert.Equal(t, 5, n)
	var names []string
	for _, p := range list {
		names = append(names, p.Name)
	}
	assert.Equal(t, []string{"hand, new", "idea", "hand, old", "done, new"}, names)

	// Nothing is sorted: the page's ids are read along an index.
	plan := queryPlan(t, db, `SELECT p.id FROM pieces p WHERE p.deleted_at IS NULL
		ORDER BY (p.state = 'done'), p.changed_at DESC, p.id DESC LIMIT 24`)
	assert.Contains(t, plan, "pieces_in_hand")
	assert.NotContains(t, plan, "TEMP B-TREE")
}
