package store_test

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

// inMemory is a dump that is kept in a map.
func inMemory() (store.Dump, map[string][]byte) {
	files := map[string][]byte{}
	return store.Dump{
		Put: func(name string, data []byte) error { files[name] = data; return nil },
		Get: func(name string) ([]byte, error) {
			if data, ok := files[name]; ok {
				return data, nil
			}
			return nil, errors.New("not there")
		},
	}, files
}

// filled is a store with something in many tables.
func filled(t *testing.T) *store.Store {
	s, _ := fresh(t)
	id := onePiece(t, s, "Saltmarsh, “wet” 🎨",
		map[string]any{"Layers": []any{map[string]any{"What": "swipe"}}, "Big": 1e17, "Tiny": 1.25e-9}, noon)
	require.NoError(t, revise(t, s, id, 1, "Mudflat", 2))
	must(t, s, func(tx *store.Tx) error {
		if _, err := tx.KeepPhoto(t.Context(), store.PhotoRow{Piece: id, Coat: "first", Moment: "wet", At: noon}, "x",
			[]byte("\xff\xd8\xff raw \x00"), []byte("\x89PNG shown"), []byte("small")); err != nil {
			return err
		}
		if err := tx.KeepResult(t.Context(), store.ResultRow{Piece: id, Coat: "first", At: noon},
			map[string]string{"Told": "laced"}); err != nil {
			return err
		}
		if err := tx.LogRoom(t.Context(),
			store.RoomReading{At: noon, Temp: 21.5, Humidity: 0.4, Source: "typed"}); err != nil {
			return err
		}
		return errors.Join(tx.SetSetting(t.Context(), "k", "v"), tx.SetSetting(t.Context(), store.CalendarSecret, "5ec4e7"))
	})
	return s
}

// An export read in again is the same studio: every table and picture to the byte,
// the index of the journal made anew.
func TestAnExportIsTheSameStudio(t *testing.T) {
	s := filled(t)
	require.NoError(t, s.Beside(t.Context()))
	first, files := inMemory()
	m, err := s.DumpTo(t.Context(), first)
	require.NoError(t, err)
	assert.Equal(t, 1, m.Tables["pieces"])
	assert.Equal(t, 2, m.Tables["piece_revisions"])
	assert.Len(t, m.Files, 3)
	for name, data := range files {
		assert.NotContains(t, string(data), "5ec4e7", name)
	}
	path := filepath.Join(t.TempDir(), "jevvo.db")
	require.NoError(t, store.Load(t.Context(), path, first))
	again, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	defer again.Close()
	second, more := inMemory()
	_, err = again.DumpTo(t.Context(), second)
	require.NoError(t, err)
	assert.Equal(t, len(files), len(more))
	for name, data := range files {
		assert.Equal(t, string(data), string(more[name]), name)
	}
	found, err := again.Journal(t.Context(), store.Asked{Words: []string{"laced"}, Limit: 3})
	require.NoError(t, err)
	assert.Len(t, found, 1)
	wrong, err := again.Check(t.Context())
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// An export that is cut, changed by hand or from a newer program is refused in words.
func TestExportsThatAreNone(t *testing.T) {
	s := filled(t)
	for what, spoil := range map[string]func(files map[string][]byte){
		"no studio.json": func(f map[string][]byte) { delete(f, store.ManifestFile) },
		"cannot be read": func(f map[string][]byte) { f[store.ManifestFile] = []byte("{") },
		"newer Jevvo":    func(f map[string][]byte) { f[store.ManifestFile] = []byte(`{"format":1,"schema":9999}`) },
		"it is missing":  func(f map[string][]byte) { delete(f, "tables/pieces.json") },
		"no JSON":        func(f map[string][]byte) { f["tables/pieces.json"] = []byte("[{") },
		"rows, not":      func(f map[string][]byte) { f["tables/pieces.json"] = []byte("[]") },
		"does not know": func(f map[string][]byte) {
			f[store.ManifestFile] = []byte(strings.Replace(string(f[store.ManifestFile]), `"pieces":`, `"ships": 1, "pieces":`,
				1))
		},
		"nor a file": func(f map[string][]byte) { f["tables/settings.json"] = []byte(`[{"key":[1],"value":true}]`) },
		"not there":  func(f map[string][]byte) { delete(f, "pictures/photos-small-000001.bin") },
		"FOREIGN KEY": func(f map[string][]byte) {
			f["tables/photos.json"] = []byte(strings.Replace(string(f["tables/photos.json"]), `"piece_id": 1`, `"piece_id": 77`,
				1))
		},
	} {
		d, files := inMemory()
		_, err := s.DumpTo(t.Context(), d)
		require.NoError(t, err)
		spoil(files)
		err = store.Load(t.Context(), filepath.Join(t.TempDir(), "jevvo.db"), d)
		require.ErrorContains(t, err, what)
	}
}

// Of daily snapshots a week is kept, of Mondays five, of firsts a year; two a day are
// one; what is not ours is left alone.
func TestSnapshotsAreKeptAndLetGo(t *testing.T) {
	s, _ := fresh(t)
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "letter.txt"), nil, 0o600))
	_, err := s.Snapshot(t.Context(), filepath.Join(dir, "stick"), noon)
	require.ErrorContains(t, err, "is not there")
	for day := range 120 {
		wrote, err := s.Snapshot(t.Context(), dir, noon.AddDate(0, 0, day))
		require.NoError(t, err)
		require.True(t, wrote)
	}
	wrote, err := s.Snapshot(t.Context(), dir, noon.AddDate(0, 0, 119).Add(time.Hour))
	require.NoError(t, err)
	assert.False(t, wrote)
	names, err := filepath.Glob(filepath.Join(dir, "jevvo-*.db"))
	require.NoError(t, err)
	days, mondays, firsts := 0, 0, 0
	last := noon.AddDate(0, 0, 119)
	for _, name := range names {
		day, err := time.Parse("jevvo-2006-01-02.db", filepath.Base(name))
		require.NoError(t, err)
		switch age := int(last.Sub(day).Hours() / 24); {
		case age < 7:
			days++
		case day.Weekday() == time.Monday && age < 35:
			mondays++
		case day.Day() == 1:
			firsts++
		default:
			assert.Fail(t, "should be gone", name)
		}
	}
	assert.Equal(t, 7, days)
	assert.Equal(t, 4, mondays)
	assert.GreaterOrEqual(t, firsts, 2)
	_, err = os.Stat(filepath.Join(dir, "letter.txt"))
	assert.NoError(t, err)
}
