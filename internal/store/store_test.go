package store_test

import (
	"context"
	"encoding/json"
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

var (
	ctx  = context.Background()
	noon = time.Date(2026, 3, 2, 12, 0, 0, 0, time.UTC)
)

func open(t *testing.T) (*store.Store, string) {
	t.Helper()
	path := filepath.Join(t.TempDir(), "data", "jevvo.db")
	s, err := store.Open(ctx, path)
	require.NoError(t, err)
	t.Cleanup(func() { s.Close() })
	return s, path
}

func TestReopeningFindsEverything(t *testing.T) {
	s, path := open(t)
	id, err := s.CreatePiece(ctx, "Mudflat", map[string]int{"a": 1}, noon)
	require.NoError(t, err)
	require.NoError(t, s.SetSetting(ctx, "k", "v"))
	require.NoError(t, s.Close())
	s, err = store.Open(ctx, path)
	require.NoError(t, err)
	defer s.Close()
	p, err := s.Piece(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "Mudflat", p.Name)
	assert.JSONEq(t, `{"a":1}`, string(p.Doc))
	assert.Equal(t, noon, p.CreatedAt)
	var v string
	found, err := s.Setting(ctx, "k", &v)
	require.NoError(t, err)
	assert.True(t, found)
	assert.Equal(t, "v", v)
}

func TestRevisionsUndoAndRedo(t *testing.T) {
	s, _ := open(t)
	id, err := s.CreatePiece(ctx, "one", 1, noon)
	require.NoError(t, err)
	require.NoError(t, s.RevisePiece(ctx, id, 1, "two", 2, noon))
	require.NoError(t, s.RevisePiece(ctx, id, 2, "three", 3, noon))
	assert.ErrorIs(t, s.RevisePiece(ctx, id, 2, "late", 9, noon), store.ErrConflict)
	name := func() string {
		p, err := s.Piece(ctx, id)
		require.NoError(t, err)
		return p.Name
	}
	require.NoError(t, s.MoveHead(ctx, id, true))
	require.NoError(t, s.MoveHead(ctx, id, true))
	assert.Equal(t, "one", name())
	assert.ErrorIs(t, s.MoveHead(ctx, id, true), store.ErrNotFound, "nothing before the first")
	require.NoError(t, s.MoveHead(ctx, id, false))
	assert.Equal(t, "two", name())
	require.NoError(t, s.RevisePiece(ctx, id, 2, "four", 4, noon), "a change after undo starts a new branch")
	assert.ErrorIs(t, s.MoveHead(ctx, id, false), store.ErrNotFound)
	require.NoError(t, s.MoveHead(ctx, id, true))
	assert.Equal(t, "two", name())
	old, err := s.PieceRevision(ctx, id, 3)
	require.NoError(t, err)
	assert.Equal(t, "three", old.Name, "nothing is ever thrown away")
}

// Many writers at once: every acknowledged revision is there, none twice.
func TestConcurrentRevisions(t *testing.T) {
	s, _ := open(t)
	id, err := s.CreatePiece(ctx, "start", 0, noon)
	require.NoError(t, err)
	var wg sync.WaitGroup
	kept := make(chan string, 200)
	for w := range 6 {
		wg.Go(func() {
			for i := range 10 {
				for {
					p, err := s.Piece(ctx, id)
					if !assert.NoError(t, err) {
						return
					}
					name := fmt.Sprintf("%d-%d", w, i)
					err = s.RevisePiece(ctx, id, p.Rev, name, name, noon)
					if err == nil {
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
	p, err := s.Piece(ctx, id)
	require.NoError(t, err)
	assert.EqualValues(t, 61, p.Rev)
}

func TestFindingAndRemoving(t *testing.T) {
	s, _ := open(t)
	for i := range 30 {
		_, err := s.CreatePiece(ctx, fmt.Sprintf("Reef %02d", i), nil, noon.Add(time.Duration(i)*time.Minute))
		require.NoError(t, err)
	}
	id, err := s.CreatePiece(ctx, "100 % _salt_", nil, noon)
	require.NoError(t, err)
	list, err := s.Pieces(ctx, "reef", 10, 10)
	require.NoError(t, err)
	require.Len(t, list, 10)
	assert.Equal(t, "Reef 19", list[0].Name, "last changed first")
	n, err := s.CountPieces(ctx, "% _")
	require.NoError(t, err)
	assert.Equal(t, 1, n, "what is typed is not a pattern")
	require.NoError(t, s.SetPieceDeleted(ctx, id, &noon))
	_, err = s.Piece(ctx, id)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, s.RevisePiece(ctx, id, 1, "x", nil, noon), store.ErrNotFound)
	require.NoError(t, s.SetPieceDeleted(ctx, id, nil))
	_, err = s.Piece(ctx, id)
	assert.NoError(t, err)
}

func TestShelves(t *testing.T) {
	s, _ := open(t)
	for _, shelf := range []store.Shelf{store.Resins, store.Pigments} {
		id, err := s.CreateItem(ctx, shelf, "Tarn", 1)
		require.NoError(t, err)
		_, err = s.CreateItem(ctx, shelf, "TARN", 1)
		assert.ErrorIs(t, err, store.ErrTaken)
		require.NoError(t, s.UpdateItem(ctx, shelf, id, 1, "Tarn", 2, true))
		assert.ErrorIs(t, s.UpdateItem(ctx, shelf, id, 1, "Tarn", 3, true), store.ErrConflict)
		assert.ErrorIs(t, s.UpdateItem(ctx, shelf, 99, 1, "Tarn", 3, true), store.ErrNotFound)
		_, err = s.CreateItem(ctx, shelf, "tarn", 1)
		assert.NoError(t, err, "a retired name is free again")
		items, err := s.Items(ctx, shelf)
		require.NoError(t, err)
		require.Len(t, items, 2)
		assert.True(t, items[1].Retired, "what is in use comes first")
		_, err = s.Item(ctx, shelf, 77)
		assert.ErrorIs(t, err, store.ErrNotFound)
	}
}

func TestLearnedSumsAndResets(t *testing.T) {
	s, _ := open(t)
	id, err := s.CreatePiece(ctx, "p", nil, noon)
	require.NoError(t, err)
	use := func(coat string, planned, used float64, at time.Time) {
		require.NoError(t, s.RecordUse(ctx, store.Use{PieceID: id, Coat: coat, Technique: "swipe", Planned: planned, Used: used, At: at}))
	}
	use("first", 100, 110, noon)
	use("second", 300, 360, noon)
	use("first", 100, 120, noon.Add(time.Minute)) // corrected, not counted twice
	l, err := s.Learned(ctx)
	require.NoError(t, err)
	assert.Equal(t, store.Learned{Technique: "swipe", Planned: 400, Used: 480, Pours: 2}, l["swipe"])
	require.NoError(t, s.ResetLearning(ctx, "swipe", noon.Add(time.Hour)))
	l, err = s.Learned(ctx)
	require.NoError(t, err)
	assert.NotContains(t, l, "swipe")
	use("top", 100, 90, noon.Add(2*time.Hour))
	l, err = s.Learned(ctx)
	require.NoError(t, err)
	assert.Equal(t, 1, l["swipe"].Pours)
	require.NoError(t, s.SetPieceDeleted(ctx, id, &noon))
	l, err = s.Learned(ctx)
	require.NoError(t, err)
	assert.Empty(t, l, "a removed piece teaches nothing")
}

func TestWeighingsGuardTheirRevision(t *testing.T) {
	s, _ := open(t)
	piece, err := s.CreatePiece(ctx, "p", nil, noon)
	require.NoError(t, err)
	id, err := s.StartWeighing(ctx, piece, "first", "a", noon)
	require.NoError(t, err)
	require.NoError(t, s.SaveWeighing(ctx, id, 1, "b", false))
	assert.ErrorIs(t, s.SaveWeighing(ctx, id, 1, "c", false), store.ErrConflict)
	_, err = s.StartWeighing(ctx, 999, "first", "a", noon)
	assert.Error(t, err, "no weigh-out without its piece")
	list, err := s.WeighingsOf(ctx, piece)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, json.RawMessage(`"b"`), list[0].Doc)
}

// A disk without room: the change is refused in words, what was there stays.
func TestFullDisk(t *testing.T) {
	s, _ := open(t)
	id, err := s.CreatePiece(ctx, "kept", "small", noon)
	require.NoError(t, err)
	require.NoError(t, s.LimitSize(ctx, 64))
	big := strings.Repeat("x", 4<<20)
	err = s.RevisePiece(ctx, id, 1, "too large", big, noon)
	require.ErrorIs(t, err, store.ErrDiskFull)
	p, err := s.Piece(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, "kept", p.Name)
	require.NoError(t, s.LimitSize(ctx, 1<<20))
	assert.NoError(t, s.RevisePiece(ctx, id, 1, "fits", big, noon), "with room again it goes on")
}

func TestBackupIsWhole(t *testing.T) {
	s, _ := open(t)
	id, err := s.CreatePiece(ctx, "p", nil, noon)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "copy.db")
	require.NoError(t, s.Backup(ctx, path))
	assert.ErrorContains(t, s.Backup(ctx, path), "exists already")
	again, err := store.Open(ctx, path)
	require.NoError(t, err)
	defer again.Close()
	_, err = again.Piece(ctx, id)
	assert.NoError(t, err)
}
