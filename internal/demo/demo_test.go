package demo_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/demo"
	"jevvo/internal/device"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

// The demo is three pieces that plan, one a technique, and is laid out once.
func TestFillOnce(t *testing.T) {
	ctx := context.Background()
	db, err := store.Open(ctx, filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	defer db.Close()
	st, err := studio.New(ctx, db, device.NewSimulatedScale(1, 0.1), time.Now)
	require.NoError(t, err)
	require.NoError(t, demo.Fill(ctx, st))
	require.NoError(t, demo.Fill(ctx, st))
	pieces, n, err := st.Pieces(ctx, "", 10, 0)
	require.NoError(t, err)
	require.Equal(t, 5, n, "three boards and two test tiles")
	techniques := map[string]bool{}
	known := 0
	for _, p := range pieces {
		plan, err := st.PlanPiece(ctx, p)
		require.NoError(t, err, p.Name)
		techniques[p.Technique] = true
		assert.NotEqual(t, studio.Trouble, plan.Verdict().Weight, "%s: %s", p.Name, plan.Verdict().Text)
		for _, cup := range plan.Coats[0].Cups {
			if cup.Look.Known {
				known++
			}
		}
	}
	assert.Len(t, techniques, 3)
	assert.Equal(t, 11, known, "every colour but one is made of a pigment on the shelf")
}
