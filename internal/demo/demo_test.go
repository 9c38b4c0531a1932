package demo_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/verdict"
	"jevvo/internal/demo"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/words"
)

// The demo is three boards that plan, one a technique, and two made tiles; it
// is laid out once.
func TestFillOnce(t *testing.T) {
	ctx := context.Background()
	dir := t.TempDir()
	db, err := store.Open(ctx, filepath.Join(dir, "jevvo.db"))
	require.NoError(t, err)
	defer db.Close()
	st, err := studio.New(ctx, db,
		studio.Options{Now: time.Now, Secrets: &secrets.File{Path: filepath.Join(dir, "secrets")}})
	require.NoError(t, err)
	require.NoError(t, demo.Fill(ctx, st))
	require.NoError(t, demo.Fill(ctx, st))
	list, n, err := st.Pieces.Pieces(ctx, "", 20, 0)
	require.NoError(t, err)
	require.Equal(t, 12, n, "three boards, two test tiles and seven studies")
	techniques := map[string]bool{}
	known := 0
	for _, p := range list {
		v, err := st.Agenda.Plan(ctx, p)
		require.NoError(t, err, p.Name)
		techniques[v.Coats[0].Technique.ID] = true
		said := words.Verdict(v.Plan, "metric")
		assert.NotEqual(t, verdict.Trouble, said.Weight, "%s: %s", p.Name, said.Text)
		for _, cup := range v.Coats[0].Cups {
			if cup.Look.Known {
				known++
			}
		}
	}
	assert.Len(t, techniques, 3)
	assert.GreaterOrEqual(t, known, 11, "every colour but one is made of a pigment on the shelf")
}
