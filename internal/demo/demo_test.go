package demo_test

import (
	"context"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
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
	require.NoError(t, demo.Fill(ctx, st, nil))
	require.NoError(t, demo.Fill(ctx, st, nil))
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
	assert.GreaterOrEqual(t, known, 11, "every colour but one is made of a pigment among the materials")
}

// The past lies on its days, whatever day it is started: a year with income, commissions paid
// and one late, boards in every state, and a bench day that began an hour ago.
func TestPastLiesOnItsDays(t *testing.T) {
	ctx := t.Context()
	dir := t.TempDir()
	db, err := store.Open(ctx, filepath.Join(dir, "jevvo.db"))
	require.NoError(t, err)
	defer db.Close()
	now := time.Date(2027, 2, 6, 7, 40, 0, 0, time.Local) // a Saturday, early
	clock := &demo.Travel{Real: func() time.Time { return now }}
	st, err := studio.New(ctx, db,
		studio.Options{Now: clock.Now, Secrets: &secrets.File{Path: filepath.Join(dir, "secrets")}})
	require.NoError(t, err)
	require.NoError(t, demo.Fill(ctx, st, clock))
	assert.Equal(t, now, st.Now(), "the clock is put right again")

	states := map[plan.State]int{}
	list, n, err := st.Pieces.Pieces(ctx, "", 100, 0)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, n, 35)
	months := map[time.Month]bool{}
	for _, p := range list {
		states[p.State]++
		months[p.CreatedAt.Month()] = true
		assert.False(t, p.CreatedAt.After(now), p.Name)
	}
	assert.Greater(t, states[plan.Open], 2)
	assert.Greater(t, states[plan.Idea], 2)
	assert.Greater(t, states[plan.Done], 20)
	assert.GreaterOrEqual(t, len(months), 6)

	paid, open := 0, 0
	deals, _, err := st.Billing.Deals(ctx, store.CommissionFilter{State: "handed over"}, 20, 0)
	require.NoError(t, err)
	for _, d := range deals {
		if d.Open().IsPositive() {
			open++
		} else {
			paid++
		}
	}
	assert.Equal(t, 3, paid)
	assert.Equal(t, 1, open)

	running, err := st.Bench.Log().Running(ctx)
	require.NoError(t, err)
	require.Len(t, running, 1)
	assert.Equal(t, now.Add(-time.Hour), running[0].At.Local())
}
