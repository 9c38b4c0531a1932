// Package studiotest lays out a studio for tests: once, and then as a copy for each.
package studiotest

import (
	"context"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
	"jevvo/internal/studio/pieces"
)

// Database is the name of a studio's file in its folder.
const Database = "jevvo.db"

// Monday is when every test's studio was laid out.
var Monday = time.Date(2026, 3, 2, 8, 0, 0, 0, time.Local)

// fresh is a new studio that owns the examples, file by file.
var fresh = sync.OnceValues(func() (map[string][]byte, error) {
	dir, err := os.MkdirTemp("", "jevvo-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	db, err := store.Open(context.Background(), filepath.Join(dir, Database))
	if err != nil {
		return nil, err
	}
	st, err := studio.New(context.Background(), db,
		studio.Options{Now: func() time.Time { return Monday }, Secrets: Secrets(dir)})
	if err == nil {
		err = st.Materials.CopyAllExamples(context.Background())
	}
	if closed := db.Close(); err == nil {
		err = closed
	}
	if err != nil {
		return nil, err
	}
	names, err := filepath.Glob(filepath.Join(dir, "*"))
	if err != nil {
		return nil, err
	}
	files := map[string][]byte{}
	for _, name := range names {
		if files[filepath.Base(name)], err = os.ReadFile(name); err != nil {
			return nil, err
		}
	}
	return files, nil
})

// Secrets are those of a studio in a folder.
func Secrets(dir string) *secrets.File {
	return &secrets.File{Path: filepath.Join(dir, "secrets.json")}
}

// LayOut puts a new studio that owns the examples into a folder.
func LayOut(t testing.TB, dir string) {
	t.Helper()
	files, err := fresh()
	require.NoError(t, err)
	for name, data := range files {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), data, 0o600))
	}
}

// Piece plans a piece from typed values on top of a new one with two clear coats
// over its first, and pigments nobody named in its cups.
func Piece(t testing.TB, st *studio.Studio, typed map[string]string) pieces.Piece {
	t.Helper()
	spec, book, err := st.Pieces.Draft(t.Context())
	require.NoError(t, err)
	spec.Depth, spec.Asked, spec.Name = 20, true, "Mudflat"
	for id, film := range map[string]units.Length{plan.SecondCoat: 1.2, plan.TopCoat: 1.6} {
		spec.Layers = append(spec.Layers, plan.NewCoat(book.Context, id, technique.TopCoat, spec.First().Coat.Product, film))
	}
	// first, second, top
	slices.SortStableFunc(spec.Layers, func(a, b plan.Layer) int { return strings.Compare(a.ID, b.ID) })
	before := spec.Clone()
	fields := pieces.Fields(spec, book)
	n := fields.Set(&spec, typed, book.Settings.Style())
	require.True(t, n.OK(), n.Errors)
	spec.Recompose(before)
	for i, c := range spec.First().Coat.Colours {
		load := 0.03
		if c.Role == technique.White {
			load = 0.04
		}
		if c.Load == 0 && c.Pigment == 0 && c.Role.Rule().Tints {
			spec.First().Coat.Colours[i].Load = load
		}
	}
	p, err := st.Pieces.Add(t.Context(), spec)
	require.NoError(t, err)
	return p
}
