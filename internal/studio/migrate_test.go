package studio_test

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "modernc.org/sqlite"

	"jevvo/internal/core/plan"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/journal"
	"jevvo/internal/studiotest"
)

// A studio as the program kept it before the rooms: its demo, with a bench day
// begun, a weigh-out, a plan of layers and a mail password, dumped as SQL by the
// program of that time.
func oldStudio(t *testing.T, folder string) string {
	t.Helper()
	dump, err := os.ReadFile("testdata/before-rooms.sql")
	require.NoError(t, err)
	path := filepath.Join(folder, "jevvo.db")
	db, err := sql.Open("sqlite", path)
	require.NoError(t, err)
	_, err = db.Exec(string(dump))
	require.NoError(t, err)
	require.NoError(t, db.Close())
	return path
}

func TestAnOldStudioGoesOn(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	path := oldStudio(t, folder)
	db, err := store.Open(ctx, path)
	require.NoError(t, err)
	defer db.Close()
	st, err := studio.New(ctx, db,
		studio.Options{Now: func() time.Time { return studiotest.Monday },
			Secrets: &secrets.File{Path: filepath.Join(folder, "secrets.json")}})
	require.NoError(t, err)

	list, n, err := st.Pieces.Pieces(ctx, "", 10, 0)
	require.NoError(t, err)
	require.Equal(t, 5, n)
	for _, p := range list {
		v, err := st.Agenda.Plan(ctx, p)
		require.NoError(t, err, p.Name)
		assert.NotEmpty(t, v.Coats, p.Name)
	}
	first, err := st.Pieces.Piece(ctx, 1)
	require.NoError(t, err)
	assert.Equal(t, "Ebb tide, waiting room north", first.Name)
	entries, _, err := st.Journal.Find(ctx, journal.Asked{Kind: "commission"})
	require.NoError(t, err)
	require.Len(t, entries, 1)
	assert.Contains(t, entries[0].Body, "wet sand")
	assert.NotRegexp(t, `\d{4}-\d\d-\d\dT|making`, entries[0].Body, "what was written by hand, no days and states")
	cups := first.First().Coat.Colours
	require.Len(t, cups, 4)
	assert.Equal(t, "Wet sand", cups[0].Name)
	assert.InDelta(t, 0.48, cups[0].Share, 1e-9)
	assert.InDelta(t, 1.7, float64(first.First().Coat.Amount.Film), 1e-9)

	second, err := st.Pieces.Piece(ctx, 2)
	require.NoError(t, err)
	assert.NotEmpty(t, second.First().Coat.Things, "its composition is still there")
	lines := false
	for _, l := range second.Layers {
		lines = lines || l.What == "lines"
	}
	assert.True(t, lines, "and the layer that was added by hand")

	benches, err := st.Bench.Log().BenchesOf(ctx, 1, false)
	require.NoError(t, err)
	require.Len(t, benches, 1)
	assert.Equal(t, 1, benches[0].Cursor())
	assert.Len(t, benches[0].BatchesMixed(), 1)
	weighings, err := st.Bench.Log().WeighingsOf(ctx, 2)
	require.NoError(t, err)
	require.Len(t, weighings, 1)
	assert.Len(t, weighings[0].Cups, 4)
	_, n, err = st.Commissions.List(ctx, store.CommissionFilter{}, 10, 0)
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	book, err := st.Materials.Book(ctx)
	require.NoError(t, err)
	assert.Len(t, book.Paints, 26)
	assert.Len(t, book.Resins, 7)
}

// The mail password moves out of the database, and out of every copy of it.
func TestThePasswordLeavesTheData(t *testing.T) {
	ctx := context.Background()
	folder := t.TempDir()
	path := oldStudio(t, folder)
	db, err := store.Open(ctx, path)
	require.NoError(t, err)
	kept := &secrets.File{Path: filepath.Join(folder, "secrets.json")}
	st, err := studio.New(ctx, db, studio.Options{Now: func() time.Time { return studiotest.Monday }, Secrets: kept})
	require.NoError(t, err)
	password, err := st.Setup.Password()
	require.NoError(t, err)
	assert.Equal(t, "hunter2", password)
	info, err := os.Stat(kept.Path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	backup := filepath.Join(folder, "backup.db")
	require.NoError(t, db.Backup(ctx, backup))
	require.NoError(t, db.Close())
	for _, file := range []string{path, backup} {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		assert.NotContains(t, string(data), "hunter2", file)
	}
}

// Old documents are read as they were meant, whatever revision is looked at.
func TestEveryOldRevisionCanBeRead(t *testing.T) {
	dump, err := os.ReadFile("testdata/before-rooms.sql")
	require.NoError(t, err)
	db, err := sql.Open("sqlite", ":memory:")
	require.NoError(t, err)
	defer db.Close()
	db.SetMaxOpenConns(1)
	_, err = db.Exec(string(dump))
	require.NoError(t, err)
	rows, err := db.Query(`SELECT doc FROM piece_revisions`)
	require.NoError(t, err)
	defer rows.Close()
	n := 0
	for rows.Next() {
		var doc string
		require.NoError(t, rows.Scan(&doc))
		spec, err := plan.Decode([]byte(doc))
		require.NoError(t, err, strings.TrimSpace(doc[:min(len(doc), 200)]))
		assert.Equal(t, plan.Version, spec.V)
		assert.NotNil(t, spec.First())
		n++
	}
	assert.Equal(t, 15, n)
}
