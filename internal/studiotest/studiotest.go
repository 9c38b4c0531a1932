// Package studiotest lays out a studio for tests: once, and then as a copy for each.
package studiotest

import (
	"context"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"jevvo/internal/secrets"
	"jevvo/internal/store"
	"jevvo/internal/studio"
)

// Database is the name of a studio's file in its folder.
const Database = "jevvo.db"

// Monday is when every test's studio was laid out.
var Monday = time.Date(2026, 3, 2, 8, 0, 0, 0, time.Local)

// fresh is a studio as its first start leaves it, file by file.
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
	_, err = studio.New(context.Background(), db, studio.Options{Now: func() time.Time { return Monday }, Secrets: Secrets(dir)})
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

// LayOut puts a studio into a folder, as its first start leaves it.
func LayOut(t testing.TB, dir string) {
	t.Helper()
	files, err := fresh()
	require.NoError(t, err)
	for name, data := range files {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), data, 0o600))
	}
}
