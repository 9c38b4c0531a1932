package store_test

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

func fresh(t *testing.T) *store.Store {
	t.Helper()
	db, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "jevvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	return db
}

func onePiece(t *testing.T, db *store.Store, doc map[string]any) int64 {
	t.Helper()
	id, err := db.CreatePiece(t.Context(), "piece", doc, noon)
	require.NoError(t, err)
	return id
}

func TestPalettesKeepTheirPictures(t *testing.T) {
	db := fresh(t)
	id, err := db.CreatePalette(t.Context(), "Low tide", map[string]int{"n": 5}, []byte("png"), noon)
	require.NoError(t, err)
	p, err := db.Palette(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "png", string(p.Picture))
	assert.True(t, p.At.Equal(noon))
	require.NoError(t, db.SavePalette(t.Context(), id, p.Rev, "Ebb", map[string]int{"n": 3}))
	assert.ErrorIs(t, db.SavePalette(t.Context(), id, p.Rev, "Late", nil), store.ErrConflict)
	assert.ErrorIs(t, db.SavePalette(t.Context(), 99, 1, "None", nil), store.ErrNotFound)
	list, err := db.Palettes(t.Context())
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, "Ebb", list[0].Name)
	assert.Empty(t, list[0].Picture, "a list does not carry pictures")
	require.NoError(t, db.SetPaletteDeleted(t.Context(), id, &noon))
	_, err = db.Palette(t.Context(), id)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.ErrorIs(t, db.SavePalette(t.Context(), id, p.Rev+1, "Gone", nil), store.ErrNotFound)
	require.NoError(t, db.SetPaletteDeleted(t.Context(), id, nil))
	p, err = db.Palette(t.Context(), id)
	require.NoError(t, err)
	assert.Equal(t, "png", string(p.Picture), "put back with its picture")
}

func TestBenchesAndRehearsalsAreTwoBooks(t *testing.T) {
	db := fresh(t)
	piece := onePiece(t, db, nil)
	real, err := db.StartBench(t.Context(), store.Benches, piece, "first", map[string]int{"step": 0}, noon)
	require.NoError(t, err)
	practice, err := db.StartBench(t.Context(), store.Rehearsals, piece, "first", nil, noon)
	require.NoError(t, err)
	require.NoError(t, db.SaveBench(t.Context(), store.Benches, real, 1, map[string]int{"step": 1}, false))
	assert.ErrorIs(t, db.SaveBench(t.Context(), store.Benches, real, 1, nil, false), store.ErrConflict)
	assert.ErrorIs(t, db.SaveBench(t.Context(), store.Benches, 77, 1, nil, false), store.ErrNotFound)
	b, err := db.Bench(t.Context(), store.Benches, real)
	require.NoError(t, err)
	assert.EqualValues(t, 2, b.Rev)
	assert.JSONEq(t, `{"step":1}`, string(b.Doc))
	r, err := db.Bench(t.Context(), store.Rehearsals, practice)
	require.NoError(t, err)
	assert.EqualValues(t, 1, r.Rev, "a step of the one is none of the other")

	open, err := db.OpenBenches(t.Context())
	require.NoError(t, err)
	assert.Len(t, open, 1)
	require.NoError(t, db.SetPieceDeleted(t.Context(), piece, &noon))
	open, err = db.OpenBenches(t.Context())
	require.NoError(t, err)
	assert.Empty(t, open, "a removed piece is not wet")
	require.NoError(t, db.SetPieceDeleted(t.Context(), piece, nil))
	require.NoError(t, db.SaveBench(t.Context(), store.Benches, real, 2, nil, true))
	open, err = db.OpenBenches(t.Context())
	require.NoError(t, err)
	assert.Empty(t, open)
	recent, err := db.RecentBenches(t.Context(), 5)
	require.NoError(t, err)
	assert.Len(t, recent, 1)
	of, err := db.BenchesOf(t.Context(), store.Benches, piece)
	require.NoError(t, err)
	assert.True(t, of[0].Done)

	photo, err := db.AddPhoto(t.Context(), real, []byte("jpeg"), noon)
	require.NoError(t, err)
	data, err := db.Photo(t.Context(), real, photo)
	require.NoError(t, err)
	assert.Equal(t, "jpeg", string(data))
	_, err = db.Photo(t.Context(), real+1, photo)
	assert.ErrorIs(t, err, store.ErrNotFound, "a photograph belongs to its bench day")
	_, err = db.AddPhoto(t.Context(), 4711, nil, noon)
	assert.Error(t, err)
}

func TestTheRoomsLogBeginsWithTheLastReadingBefore(t *testing.T) {
	db := fresh(t)
	for i, temp := range []float64{19, 20, 21, 22} {
		require.NoError(t, db.LogRoom(t.Context(), store.RoomReading{At: noon.Add(time.Duration(i) * time.Hour), Temp: temp, Source: "sensor"}))
	}
	got, err := db.RoomSince(t.Context(), noon.Add(90*time.Minute))
	require.NoError(t, err)
	require.Len(t, got, 3)
	assert.Equal(t, []float64{20, 21, 22}, []float64{got[0].Temp, got[1].Temp, got[2].Temp})
	got, err = db.RoomSince(t.Context(), noon.Add(-time.Hour))
	require.NoError(t, err)
	assert.Len(t, got, 4)
	got, err = db.RoomSince(t.Context(), noon.Add(100*time.Hour))
	require.NoError(t, err)
	assert.Len(t, got, 1)
	assert.Error(t, db.LogRoom(t.Context(), store.RoomReading{At: noon, Temp: 20, Source: "guess"}), "only known sources")
}

func TestMarksPlansAndLetters(t *testing.T) {
	db := fresh(t)
	piece := onePiece(t, db, nil)
	pin := store.TaskMark{Piece: piece, Task: "first:pour", Kind: store.MarkPin, At: noon}
	require.NoError(t, db.SetTaskMark(t.Context(), pin))
	pin.At = noon.Add(time.Hour)
	require.NoError(t, db.SetTaskMark(t.Context(), pin))
	require.NoError(t, db.SetTaskMark(t.Context(), store.TaskMark{Piece: piece, Task: "first:pour", Kind: store.MarkDone, At: noon}))
	marks, err := db.TaskMarks(t.Context())
	require.NoError(t, err)
	require.Len(t, marks, 2, "a pin is moved, not doubled")
	assert.True(t, marks[1].At.Equal(noon.Add(time.Hour)))
	pin.At = time.Time{}
	require.NoError(t, db.SetTaskMark(t.Context(), pin))
	marks, err = db.TaskMarks(t.Context())
	require.NoError(t, err)
	assert.Len(t, marks, 1)
	require.NoError(t, db.SetPieceDeleted(t.Context(), piece, &noon))
	marks, err = db.TaskMarks(t.Context())
	require.NoError(t, err)
	assert.Empty(t, marks)

	require.NoError(t, db.KeepPlanDay(t.Context(), "2026-03-02", map[string]int{"a": 1}))
	require.NoError(t, db.KeepPlanDay(t.Context(), "2026-03-02", map[string]int{"a": 2}))
	var kept map[string]int
	of, err := db.PlanBefore(t.Context(), "2026-03-05", &kept)
	require.NoError(t, err)
	assert.Equal(t, "2026-03-02", of)
	assert.Equal(t, map[string]int{"a": 1}, kept, "the first of the day stays")
	of, err = db.PlanBefore(t.Context(), "2026-03-02", &kept)
	require.NoError(t, err)
	assert.Empty(t, of)

	id, isNew, err := db.WriteLetter(t.Context(), "day 1", map[string]string{"Body": "x"}, noon)
	require.NoError(t, err)
	assert.True(t, isNew)
	_, isNew, err = db.WriteLetter(t.Context(), "day 1", nil, noon)
	require.NoError(t, err)
	assert.False(t, isNew, "one letter a key")
	require.NoError(t, db.LetterSent(t.Context(), id, noon, "no route"))
	letters, err := db.Letters(t.Context(), 10)
	require.NoError(t, err)
	require.Len(t, letters, 1)
	assert.Equal(t, "no route", letters[0].Failure)
	assert.True(t, letters[0].Sent.IsZero())
	require.NoError(t, db.LetterSent(t.Context(), id, noon, ""))
	letters, err = db.Letters(t.Context(), 10)
	require.NoError(t, err)
	assert.True(t, letters[0].Sent.Equal(noon))
}

func TestCommissionsAndTheirPieces(t *testing.T) {
	db := fresh(t)
	c, err := db.CreateCommission(t.Context(), "Ferry line", map[string]string{"Client": "x"}, noon)
	require.NoError(t, err)
	own := onePiece(t, db, map[string]any{"Commission": c})
	onePiece(t, db, map[string]any{"Commission": 0})
	pieces, err := db.PiecesOf(t.Context(), c)
	require.NoError(t, err)
	require.Len(t, pieces, 1)
	assert.Equal(t, own, pieces[0].ID)
	require.NoError(t, db.SaveCommission(t.Context(), c, 1, "Ferry", nil))
	assert.ErrorIs(t, db.SaveCommission(t.Context(), c, 1, "Late", nil), store.ErrConflict)
	pic, err := db.AddCommissionPicture(t.Context(), c, []byte("jpeg"), noon)
	require.NoError(t, err)
	ids, err := db.CommissionPictures(t.Context(), c)
	require.NoError(t, err)
	assert.Equal(t, []int64{pic}, ids)
	_, err = db.CommissionPicture(t.Context(), c+1, pic)
	assert.ErrorIs(t, err, store.ErrNotFound)
	require.NoError(t, db.SetCommissionDeleted(t.Context(), c, &noon))
	list, err := db.Commissions(t.Context())
	require.NoError(t, err)
	assert.Empty(t, list)
	pieces, err = db.PiecesOf(t.Context(), c)
	require.NoError(t, err)
	assert.Len(t, pieces, 1, "its pieces stay")
}

// Open pieces come by due day, those without one last; ideas and finished ones
// do not.
func TestOpenPiecesByDueDay(t *testing.T) {
	db := fresh(t)
	none := onePiece(t, db, map[string]any{"Due": "0001-01-01T00:00:00Z", "State": ""})
	late := onePiece(t, db, map[string]any{"Due": "2026-05-01T18:00:00Z"})
	soon := onePiece(t, db, map[string]any{"Due": "2026-03-05T18:00:00Z"})
	onePiece(t, db, map[string]any{"State": "idea"})
	onePiece(t, db, map[string]any{"State": "done", "Due": "2026-03-01T18:00:00Z"})
	got, err := db.OpenPieces(t.Context(), 10)
	require.NoError(t, err)
	var ids []int64
	for _, p := range got {
		ids = append(ids, p.ID)
	}
	assert.Equal(t, []int64{soon, late, none}, ids)
	got, err = db.OpenPieces(t.Context(), 2)
	require.NoError(t, err)
	assert.Len(t, got, 2)
}
