package store_test

import (
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

// A folder is one program's; the next is told in words, and gets it once the first
// has let go.
func TestAFolderIsOneProgramsAtATime(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "data")
	a, err := store.LockFolder(dir)
	require.NoError(t, err)
	_, err = store.LockFolder(dir)
	require.ErrorIs(t, err, store.ErrInUse)
	require.NoError(t, a.Release())
	b, err := store.LockFolder(dir)
	require.NoError(t, err)
	require.NoError(t, b.Release())
}

func TestAFolderThatCannotBeWritten(t *testing.T) {
	if os.Getuid() == 0 && runtime.GOOS == "linux" { // root writes everywhere, but not under a file
		file := filepath.Join(t.TempDir(), "file")
		require.NoError(t, os.WriteFile(file, nil, 0o600))
		_, err := store.Open(t.Context(), filepath.Join(file, "jevvo.db"))
		require.ErrorIs(t, err, store.ErrFolder)
		return
	}
	dir := t.TempDir()
	require.NoError(t, os.Chmod(dir, 0o500))
	_, err := store.Open(t.Context(), filepath.Join(dir, "jevvo.db"))
	require.ErrorIs(t, err, store.ErrFolder)
	assert.NotContains(t, err.Error(), "unable to open")
}

// raw changes a closed database past the store.
func raw(t *testing.T, path, query string, args ...any) {
	t.Helper()
	db, err := sql.Open("sqlite", "file:"+path)
	require.NoError(t, err)
	_, err = db.Exec(query, args...)
	require.NoError(t, err)
	require.NoError(t, db.Close())
}

// Data of a newer program are refused before anything is read or written.
func TestNewerDataAreRefused(t *testing.T) {
	s, path := fresh(t)
	require.NoError(t, s.Close())
	raw(t, path, `INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)`)
	before, err := os.ReadFile(path)
	require.NoError(t, err)
	_, err = store.Open(t.Context(), path)
	require.ErrorIs(t, err, store.ErrNewer)
	after, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, before, after)
}

// Before data are brought up to date a copy is kept that opens by itself; a sample of
// the schema before the journal gets its journal.
func TestACopyIsKeptBeforeAMigration(t *testing.T) {
	old := filepath.Join(t.TempDir(), "old.db")
	data, err := os.ReadFile("testdata/schema-9.db")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(old, data, 0o600))
	s, err := store.Open(t.Context(), old)
	require.NoError(t, err)
	p, _, err := s.FindPieces(t.Context(), store.PieceFilter{}, 5, 0)
	require.NoError(t, err)
	assert.Len(t, p, 1)
	found, err := s.Journal(t.Context(), store.Asked{Words: []string{"foam"}, Pigment: "2", Limit: 5})
	require.NoError(t, err)
	assert.Len(t, found, 1)
	require.NoError(t, s.Close())
	copies, err := filepath.Glob(old + ".before-9-*")
	require.NoError(t, err)
	require.Len(t, copies, 1)
	require.NoError(t, store.CheckFile(t.Context(), copies[0]))
}

// A damaged page is found when the file is opened and when it is checked, and said
// in words.
func TestDamageIsFound(t *testing.T) {
	s, path := fresh(t)
	for range 40 {
		onePiece(t, s, "Mudflat", map[string]string{"Text": string(make([]byte, 3000))}, noon)
	}
	require.NoError(t, s.Close())
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for i := len(data) / 2; i < len(data)/2+4096*3; i++ {
		data[i] = 0xA5
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	_, err = store.Open(t.Context(), path)
	require.ErrorIs(t, err, store.ErrDamaged)
	require.ErrorIs(t, store.CheckFile(t.Context(), path), store.ErrDamaged)
	require.NoError(t, os.WriteFile(path, []byte("no database at all, but long enough to be read as one? no"), 0o600))
	_, err = store.Open(t.Context(), path)
	require.ErrorIs(t, err, store.ErrDamaged)
}

// A large file is opened at once and read through afterwards.
func TestDamageOfALargeFileIsFoundLater(t *testing.T) {
	s, path := fresh(t)
	assert.False(t, s.Unchecked)
	id := onePiece(t, s, "Mudflat", 1, noon)
	must(t, s, func(tx *store.Tx) error {
		for k := range 30 {
			if _, err := tx.KeepPhoto(t.Context(), store.PhotoRow{Piece: id, Coat: "first", Moment: "wet", At: noon},
				fmt.Sprint(k), make([]byte, 1<<20), []byte("s"), []byte("t")); err != nil {
				return err
			}
		}
		for k := range 400 {
			if _, err := tx.CreatePiece(t.Context(), fmt.Sprint("Piece ", k),
				map[string]string{"Text": string(make([]byte, 3000))}, noon); err != nil {
				return err
			}
		}
		return nil
	})
	require.NoError(t, s.Close())
	s, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	assert.True(t, s.Unchecked)
	require.NoError(t, s.Sound(t.Context()))
	require.NoError(t, s.Close())
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for i := len(data) - 4096*40; i < len(data)-4096*10; i++ {
		data[i] = 0xA5
	}
	require.NoError(t, os.WriteFile(path, data, 0o600))
	s, err = store.Open(t.Context(), path)
	require.NoError(t, err)
	require.ErrorIs(t, s.Sound(t.Context()), store.ErrDamaged)
	s.Close() // whatever it says of a damaged file
}

// A backup is whole or not there, for nobody else to read, and refuses names that
// are none.
func TestBackupsAreWholeOrNotThere(t *testing.T) {
	s, _ := fresh(t)
	onePiece(t, s, "Mudflat", 1, noon)
	dir := t.TempDir()
	for _, bad := range []string{"", "  ", ":memory:", "file:x", filepath.Join(dir, "none", "b.db"), dir} {
		assert.Error(t, s.Backup(t.Context(), bad), "%q", bad)
	}
	path := filepath.Join(dir, "b.db")
	require.NoError(t, os.WriteFile(path+".part", []byte("left by one that was cut off"), 0o600))
	require.NoError(t, s.Backup(t.Context(), path))
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	left, err := filepath.Glob(filepath.Join(dir, "*.part*"))
	require.NoError(t, err)
	assert.Empty(t, left)
}

// A backup is restored over what was there and over a log left beside it; what was
// there is kept, a file that is none of ours is refused and changes nothing.
func TestRestoring(t *testing.T) {
	s, path := fresh(t)
	onePiece(t, s, "Old", 1, noon)
	backup := filepath.Join(t.TempDir(), "b.db")
	require.NoError(t, s.Backup(t.Context(), backup))
	onePiece(t, s, "Newer", 1, noon)
	require.NoError(t, s.Close())
	require.NoError(t, os.WriteFile(path+"-wal", []byte("left over"), 0o600))
	wrong := filepath.Join(t.TempDir(), "wrong.db")
	raw(t, wrong, `CREATE TABLE other (id)`)
	_, err := store.Restore(t.Context(), wrong, path)
	require.ErrorContains(t, err, "no studio of Jevvo")
	_, err = store.Restore(t.Context(), filepath.Join(t.TempDir(), "none.db"), path)
	require.ErrorContains(t, err, "no file")
	kept, err := store.Restore(t.Context(), backup, path)
	require.NoError(t, err)
	names := func(path string) []string {
		s, err := store.Open(t.Context(), path)
		require.NoError(t, err)
		defer s.Close()
		rows, _, err := s.FindPieces(t.Context(), store.PieceFilter{}, 9, 0)
		require.NoError(t, err)
		out := []string{}
		for _, r := range rows {
			out = append(out, r.Name)
		}
		return out
	}
	assert.Equal(t, []string{"Old"}, names(path))
	assert.ElementsMatch(t, []string{"Newer", "Old"}, names(kept))
	again, err := store.Restore(t.Context(), backup, path)
	require.NoError(t, err)
	assert.NotEqual(t, kept, again, "nothing that is kept is overwritten")
}

func TestCheckingFindsWhatIsWrong(t *testing.T) {
	s, path := fresh(t)
	onePiece(t, s, "Mudflat", 1, noon)
	require.NoError(t, s.Beside(t.Context()))
	found, err := s.Check(t.Context())
	require.NoError(t, err)
	assert.Empty(t, found)
	require.NoError(t, s.Close())
	raw(t, path, `UPDATE pieces SET head = 77`)
	s, err = store.Open(t.Context(), path)
	require.NoError(t, err)
	defer s.Close()
	found, err = s.Check(t.Context())
	require.NoError(t, err)
	require.Len(t, found, 1)
	assert.Contains(t, found[0], "1 pieces have no plan")
	require.NoError(t, s.Mend(t.Context()))
}

// A database of no bytes beside what a studio leaves is no new studio; alone it is one.
func TestAnEmptiedDatabaseIsNoNewStudio(t *testing.T) {
	path := filepath.Join(t.TempDir(), "jevvo.db")
	require.NoError(t, os.WriteFile(path, nil, 0o600))
	s, err := store.Open(t.Context(), path)
	require.NoError(t, err, "alone it is a new one")
	require.NoError(t, s.Close())
	for _, trace := range []string{"jevvo.db-wal", "jevvo.db.before-3-20260302-080000", "secrets.json",
		"lan-certificate.pem"} {
		path := filepath.Join(t.TempDir(), "jevvo.db")
		require.NoError(t, os.WriteFile(path, nil, 0o600))
		require.NoError(t, os.WriteFile(filepath.Join(filepath.Dir(path), trace), []byte("x"), 0o600))
		_, err := store.Open(t.Context(), path)
		require.ErrorIs(t, err, store.ErrEmptied, trace)
		info, err := os.Stat(path)
		require.NoError(t, err)
		assert.Zero(t, info.Size(), "%s: nothing was written over it", trace)
	}
}

// A write while another program holds the database is told as that, and soon.
func TestALockedDatabaseIsTold(t *testing.T) {
	s, path := fresh(t)
	other, err := sql.Open("sqlite", "file:"+path)
	require.NoError(t, err)
	defer other.Close()
	held, err := other.Conn(t.Context())
	require.NoError(t, err)
	defer held.Close()
	_, err = held.ExecContext(t.Context(), `BEGIN IMMEDIATE`)
	require.NoError(t, err)
	var group sync.WaitGroup
	for range 6 { // they wait for the other program together, not one after another
		group.Go(func() {
			assert.ErrorIs(t, s.Write(t.Context(), "try", func(*store.Tx) error { return nil }), store.ErrBusy)
		})
	}
	group.Wait()
}

// Those who write in one program wait for each other as long as it takes.
func TestWritersOfOneProgramTakeTurns(t *testing.T) {
	s, _ := fresh(t)
	require.NoError(t, s.Impatient(t.Context()))
	var group sync.WaitGroup
	for range 8 {
		group.Go(func() {
			for range 20 {
				assert.NoError(t, s.Write(t.Context(), "try", func(tx *store.Tx) error {
					runtime.Gosched()
					return tx.SetSetting(t.Context(), "k", "v")
				}))
			}
		})
	}
	group.Wait()
}

// A panic under a write leaves nothing behind: the next write goes through.
func TestAPanicUnderAWriteRollsBack(t *testing.T) {
	s, _ := fresh(t)
	assert.Panics(t, func() {
		_ = s.Write(t.Context(), "panic", func(tx *store.Tx) error {
			require.NoError(t, tx.SetSetting(t.Context(), "half", 1))
			panic("in the middle")
		})
	})
	var half int
	found, err := s.Setting(t.Context(), "half", &half)
	require.NoError(t, err)
	assert.False(t, found)
	require.NoError(t, s.Write(t.Context(), "after",
		func(tx *store.Tx) error { return tx.SetSetting(t.Context(), "whole", 2) }))
}
