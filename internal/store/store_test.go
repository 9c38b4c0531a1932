package store_test

import (
	"fmt"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

var noon = time.Date(2026, 3, 2, 12, 0, 0, 0, time.UTC)

func fresh(t *testing.T) (*store.Store, string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "data", "jevvo.db")
	s, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return s, path
}

// do runs one change in a transaction of its own.
func do(t *testing.T, s *store.Store, f func(tx *store.Tx) error) error {
	t.Helper()
	return s.Write(t.Context(), "try it", f)
}

func must(t *testing.T, s *store.Store, f func(tx *store.Tx) error) {
	t.Helper()
	require.NoError(t, do(t, s, f))
}

func onePiece(t *testing.T, s *store.Store, name string, doc any, at time.Time) (id int64) {
	t.Helper()
	must(t, s, func(tx *store.Tx) (err error) {
		id, err = tx.CreatePiece(t.Context(), name, doc, at)
		return err
	})
	return id
}

func revise(t *testing.T, s *store.Store, id, base int64, name string, doc any) error {
	return do(t, s, func(tx *store.Tx) error { return tx.RevisePiece(t.Context(), id, base, name, doc, noon) })
}

func TestReopeningFindsEverything(t *testing.T) {
	s, path := fresh(t)
	id := onePiece(t, s, "Mudflat", map[string]int{"a": 1}, noon)
	must(t, s, func(tx *store.Tx) error { return tx.SetSetting(t.Context(), "k", "v") })
	require.NoError(t, s.Close())
	s, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	defer s.Close()
	p, err := s.Piece(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "Mudflat", p.Name)
	assert.JSONEq(t, `{"a":1}`, string(p.Doc))
	assert.Equal(t, noon, p.CreatedAt)
	var v string
	found, err := s.Setting(t.Context(), "k", &v)
	require.NoError(t, err)
	assert.True(t, found)
	assert.Equal(t, "v", v)
}

func TestRevisionsUndoAndRedo(t *testing.T) {
	s, _ := fresh(t)
	id := onePiece(t, s, "one", 1, noon)
	require.NoError(t, revise(t, s, id, 1, "two", 2))
	require.NoError(t, revise(t, s, id, 2, "three", 3))
	assert.ErrorIs(t, revise(t, s, id, 2, "late", 9), store.ErrConflict)
	name := func() string {
		p, err := s.Piece(t.Context(), id)
		require.NoError(t, err)
		return p.Name
	}
	move := func(back bool) error {
		return do(t, s, func(tx *store.Tx) error { return tx.MoveHead(t.Context(), id, back) })
	}
	require.NoError(t, move(true))
	require.NoError(t, move(true))
	assert.Equal(t, "one", name())
	assert.ErrorIs(t, move(true), store.ErrNotFound, "nothing before the first")
	require.NoError(t, move(false))
	assert.Equal(t, "two", name())
	require.NoError(t, revise(t, s, id, 2, "four", 4), "a change after undo starts a new branch")
	assert.ErrorIs(t, move(false), store.ErrNotFound)
	require.NoError(t, move(true))
	assert.Equal(t, "two", name())
	old, err := s.PieceRevision(t.Context(), id, 3)
	require.NoError(t, err)
	assert.Equal(t, "three", old.Name, "nothing is ever thrown away")
}

// Many writers at once: every acknowledged revision is there, none twice.
func TestConcurrentRevisions(t *testing.T) {
	s, _ := fresh(t)
	id := onePiece(t, s, "start", 0, noon)
	var wg sync.WaitGroup
	kept := make(chan string, 200)
	for w := range 6 {
		wg.Go(func() {
			for i := range 10 {
				for {
					p, err := s.Piece(t.Context(), id)
					if !assert.NoError(t, err) {
						return
					}
					name := fmt.Sprintf("%d-%d", w, i)
					if err = revise(t, s, id, p.Rev, name, name); err == nil {
						kept <- name
						break
					}
					if !assert.ErrorIs(t, err, store.ErrConflict) {
						return
					}
				}
			}
		})
	}
	wg.Wait()
	close(kept)
	seen := map[string]bool{}
	for name := range kept {
		seen[name] = true
	}
	assert.Len(t, seen, 60)
	p, err := s.Piece(t.Context(), id)
	require.NoError(t, err)
	assert.EqualValues(t, 61, p.Rev)
}

// A change that fails half way leaves nothing of itself.
func TestAChangeIsWholeOrNothing(t *testing.T) {
	s, _ := fresh(t)
	err := do(t, s, func(tx *store.Tx) error {
		if _, err := tx.CreatePiece(t.Context(), "half", nil, noon); err != nil {
			return err
		}
		return store.ErrConflict
	})
	require.ErrorIs(t, err, store.ErrConflict)
	_, n, err := s.FindPieces(t.Context(), store.PieceFilter{}, 1, 0)
	require.NoError(t, err)
	assert.Zero(t, n)
}

// Versions move with what they are about and with nothing else.
func TestVersionsCountChanges(t *testing.T) {
	s, _ := fresh(t)
	before, err := s.Versions(t.Context())
	require.NoError(t, err)
	id := onePiece(t, s, "p", nil, noon)
	after, err := s.Versions(t.Context())
	require.NoError(t, err)
	assert.NotEqual(t, after.Of(store.ScopePieces), before.Of(store.ScopePieces))
	assert.Equal(t, after.Of(store.ScopeMarks), before.Of(store.ScopeMarks))
	assert.Equal(t, after.Of(store.ScopeMarks, store.ScopeMaterials), before.Of(store.ScopeMaterials, store.ScopeMarks))
	assert.Error(t, revise(t, s, id, 9, "x", nil))
	again, err := s.Versions(t.Context())
	require.NoError(t, err)
	assert.Equal(t, after, again, "what was refused changed nothing")
}

// Each month stands once, the newest first, and those of removed pieces do not stand.
func TestMonthsOfPieces(t *testing.T) {
	s, _ := fresh(t)
	none, err := s.MonthsOfPieces(t.Context())
	require.NoError(t, err)
	assert.Empty(t, none)
	at := func(year, month int) int64 {
		return onePiece(t, s, "p", nil, time.Date(year, time.Month(month), 15, 12, 0, 0, 0, time.UTC))
	}
	at(2026, 3)
	at(2025, 11)
	at(2026, 3)
	removed := at(2026, 1)
	for i := range 40 {
		at(2024, -i)
	}
	must(t, s, func(tx *store.Tx) error { return tx.SetPieceDeleted(t.Context(), removed, &noon) })
	months, err := s.MonthsOfPieces(t.Context())
	require.NoError(t, err)
	assert.Len(t, months, 36)
	assert.Equal(t, []string{"2026-03", "2025-11", "2023-12", "2023-11"}, months[:4])
}

func TestFindingAndRemoving(t *testing.T) {
	s, _ := fresh(t)
	for i := range 30 {
		onePiece(t, s, fmt.Sprintf("Reef %02d", i), nil, noon.Add(time.Duration(i)*time.Minute))
	}
	id := onePiece(t, s, "100 % _salt_", nil, noon)
	list, _, err := s.FindPieces(t.Context(), store.PieceFilter{Find: "reef"}, 10, 10)
	require.NoError(t, err)
	require.Len(t, list, 10)
	assert.Equal(t, "Reef 19", list[0].Name, "last changed first")
	_, n, err := s.FindPieces(t.Context(), store.PieceFilter{Find: "% _"}, 1, 0)
	require.NoError(t, err)
	assert.Equal(t, 1, n, "what is typed is not a pattern")
	off := func(at *time.Time) {
		must(t, s, func(tx *store.Tx) error { return tx.SetPieceDeleted(t.Context(), id, at) })
	}
	off(&noon)
	_, err = s.Piece(t.Context(), id)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, revise(t, s, id, 1, "x", nil), store.ErrNotFound)
	off(nil)
	_, err = s.Piece(t.Context(), id)
	assert.NoError(t, err)
}

// Open pieces come by due day, those without one last; ideas and finished ones
// do not.
func TestOpenPiecesByDueDay(t *testing.T) {
	s, _ := fresh(t)
	add := func(doc map[string]any) int64 { return onePiece(t, s, "p", doc, noon) }
	none := add(map[string]any{"Due": "0001-01-01T00:00:00Z", "State": ""})
	late := add(map[string]any{"Due": "2026-05-01T18:00:00Z"})
	soon := add(map[string]any{"Due": "2026-03-05T18:00:00Z"})
	add(map[string]any{"State": "idea"})
	add(map[string]any{"State": "done", "Due": "2026-03-01T18:00:00Z"})
	got, err := s.OpenPieces(t.Context(), 10)
	require.NoError(t, err)
	var ids []int64
	for _, p := range got {
		ids = append(ids, p.ID)
	}
	assert.Equal(t, []int64{soon, late, none}, ids)
	got, err = s.OpenPieces(t.Context(), 2)
	require.NoError(t, err)
	assert.Len(t, got, 2)
}

// A disk without room: the change is refused in words, what was there stays.
func TestFullDisk(t *testing.T) {
	s, _ := fresh(t)
	id := onePiece(t, s, "kept", "small", noon)
	require.NoError(t, s.LimitSize(t.Context(), 90))
	big := strings.Repeat("x", 4<<20)
	require.ErrorIs(t, revise(t, s, id, 1, "too large", big), store.ErrDiskFull)
	p, err := s.Piece(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "kept", p.Name)
	require.NoError(t, s.LimitSize(t.Context(), 1<<20))
	assert.NoError(t, revise(t, s, id, 1, "fits", big), "with room again it goes on")
}

func TestBackupIsWhole(t *testing.T) {
	s, _ := fresh(t)
	id := onePiece(t, s, "p", nil, noon)
	path := filepath.Join(t.TempDir(), "copy.db")
	require.NoError(t, s.Backup(t.Context(), path))
	assert.ErrorContains(t, s.Backup(t.Context(), path), "exists already")
	again, err := store.Open(t.Context(), path)
	require.NoError(t, err)
	defer again.Close()
	_, err = again.Piece(t.Context(), id)
	assert.NoError(t, err)
}
