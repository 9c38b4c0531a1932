package store_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

func create(t *testing.T, s *store.Store, kind store.Kind, name string, doc any) (id int64, err error) {
	t.Helper()
	err = do(t, s, func(tx *store.Tx) error {
		id, err = tx.Create(t.Context(), kind, name, doc, noon)
		return err
	})
	return id, err
}

func save(t *testing.T, s *store.Store, kind store.Kind, id, rev int64, name string) error {
	return do(t, s, func(tx *store.Tx) error { return tx.Save(t.Context(), kind, id, rev, name, 2) })
}

func setOff(t *testing.T, s *store.Store, kind store.Kind, id int64, at *time.Time) {
	must(t, s, func(tx *store.Tx) error { return tx.SetOff(t.Context(), kind, id, at) })
}

func TestShelvesKeepNamesApart(t *testing.T) {
	s, _ := fresh(t)
	for _, kind := range []store.Kind{store.Resins, store.Pigments, store.Techniques} {
		id, err := create(t, s, kind, "Tarn", 1)
		require.NoError(t, err)
		_, err = create(t, s, kind, "TARN", 1)
		assert.ErrorIs(t, err, store.ErrTaken)
		require.NoError(t, save(t, s, kind, id, 1, "Tarn"))
		assert.ErrorIs(t, save(t, s, kind, id, 1, "Tarn"), store.ErrConflict)
		assert.ErrorIs(t, save(t, s, kind, 99, 1, "Tarn"), store.ErrNotFound)
		setOff(t, s, kind, id, &noon)
		_, err = create(t, s, kind, "tarn", 1)
		assert.NoError(t, err, "a retired name is free again")
		items, err := s.AllOf(t.Context(), kind)
		require.NoError(t, err)
		require.Len(t, items, 2)
		assert.True(t, items[1].Off, "what is in use comes first")
		_, err = s.Document(t.Context(), kind, 77)
		assert.ErrorIs(t, err, store.ErrNotFound)
	}
}

func TestNewestPagesAndSearches(t *testing.T) {
	s, _ := fresh(t)
	for _, name := range []string{"Ferry line", "Mill house", "Ferry office"} {
		_, err := create(t, s, store.Commissions, name, map[string]string{})
		require.NoError(t, err)
	}
	list, total, err := s.Newest(t.Context(), store.Commissions, "ferry", 1, 0)
	require.NoError(t, err)
	assert.Len(t, list, 1)
	assert.Equal(t, 2, total)
	setOff(t, s, store.Commissions, 1, &noon)
	_, total, err = s.Newest(t.Context(), store.Commissions, "", 10, 0)
	require.NoError(t, err)
	assert.Equal(t, 2, total)
}

func TestPicturesBelongToTheirOwner(t *testing.T) {
	s, _ := fresh(t)
	var id int64
	must(t, s, func(tx *store.Tx) (err error) {
		id, err = tx.AddPicture(t.Context(), store.BenchPictures, 3, []byte("jpeg"), noon)
		return err
	})
	data, err := s.Picture(t.Context(), store.BenchPictures, 3, id)
	require.NoError(t, err)
	assert.Equal(t, "jpeg", string(data))
	_, err = s.Picture(t.Context(), store.BenchPictures, 4, id)
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Picture(t.Context(), store.CommissionPictures, 3, id)
	assert.ErrorIs(t, err, store.ErrNotFound)
}

// One log for benches, rehearsals and weigh-outs; each its own book.
func TestSessionsGuardTheirRevision(t *testing.T) {
	s, _ := fresh(t)
	piece := onePiece(t, s, "p", nil, noon)
	start := func(kind store.SessionKind, of int64) (id int64, err error) {
		err = do(t, s, func(tx *store.Tx) error {
			id, err = tx.StartSession(t.Context(), kind, of, "first", map[string]int{"n": 1}, noon)
			return err
		})
		return id, err
	}
	log := func(kind store.SessionKind, id, rev int64, done bool, events ...any) error {
		return do(t, s, func(tx *store.Tx) error { return tx.AppendEvents(t.Context(), kind, id, rev, events, done) })
	}
	bench, err := start(store.Benches, piece)
	require.NoError(t, err)
	practice, err := start(store.Rehearsals, piece)
	require.NoError(t, err)
	_, err = start(store.Weighings, 999)
	assert.Error(t, err, "no session without its piece")

	require.NoError(t, log(store.Benches, bench, 1, false, "met", "done"))
	assert.ErrorIs(t, log(store.Benches, bench, 1, false, "late"), store.ErrConflict)
	assert.ErrorIs(t, log(store.Benches, 77, 1, false, "none"), store.ErrNotFound)
	got, err := s.Session(t.Context(), store.Benches, bench)
	require.NoError(t, err)
	assert.EqualValues(t, 2, got.Rev)
	assert.Equal(t, []json.RawMessage{json.RawMessage(`"met"`), json.RawMessage(`"done"`)}, got.Events)
	other, err := s.Session(t.Context(), store.Rehearsals, practice)
	require.NoError(t, err)
	assert.Empty(t, other.Events, "a step of the one is none of the other")

	open := func() int {
		list, err := s.OpenSessions(t.Context(), store.Benches)
		require.NoError(t, err)
		return len(list)
	}
	assert.Equal(t, 1, open())
	must(t, s, func(tx *store.Tx) error { return tx.SetPieceDeleted(t.Context(), piece, &noon) })
	assert.Zero(t, open(), "a removed piece is not wet")
	must(t, s, func(tx *store.Tx) error { return tx.SetPieceDeleted(t.Context(), piece, nil) })
	require.NoError(t, log(store.Benches, bench, 2, true, "over"))
	assert.Zero(t, open())
}

func TestLearnedUsesAndResets(t *testing.T) {
	s, _ := fresh(t)
	piece := onePiece(t, s, "p", nil, noon)
	use := func(coat string, planned, used float64, at time.Time) {
		must(t, s, func(tx *store.Tx) error {
			return tx.RecordUse(t.Context(),
				store.Use{PieceID: piece, Coat: coat, Technique: "swipe", Planned: planned, Used: used, At: at})
		})
	}
	learned := func() []store.Learned {
		l, err := s.Learned(t.Context())
		require.NoError(t, err)
		return l
	}
	use("first", 100, 110, noon)
	use("second", 300, 360, noon)
	use("first", 100, 120, noon.Add(time.Minute)) // corrected, not counted twice
	assert.Equal(t, []store.Learned{
		{Technique: "swipe", Planned: 300, Used: 360, At: noon},
		{Technique: "swipe", Planned: 100, Used: 120, At: noon.Add(time.Minute)},
	}, learned())
	must(t, s, func(tx *store.Tx) error { return tx.ResetLearning(t.Context(), "swipe", noon.Add(time.Hour)) })
	resets, err := s.LearningResets(t.Context())
	require.NoError(t, err)
	assert.Equal(t, map[string]time.Time{"swipe": noon.Add(time.Hour)}, resets)
	must(t, s, func(tx *store.Tx) error { return tx.SetPieceDeleted(t.Context(), piece, &noon) })
	assert.Empty(t, learned(), "a removed piece teaches nothing")
}

func TestTheRoomsLogBeginsWithTheLastReadingBefore(t *testing.T) {
	s, _ := fresh(t)
	put := func(r store.RoomReading) error {
		return do(t, s, func(tx *store.Tx) error { return tx.LogRoom(t.Context(), r) })
	}
	for i, temp := range []float64{19, 20, 21, 22} {
		require.NoError(t, put(store.RoomReading{At: noon.Add(time.Duration(i) * time.Hour), Temp: temp, Source: "sensor"}))
	}
	got, err := s.RoomSince(t.Context(), noon.Add(90*time.Minute))
	require.NoError(t, err)
	require.Len(t, got, 3)
	assert.Equal(t, []float64{20, 21, 22}, []float64{got[0].Temp, got[1].Temp, got[2].Temp})
	got, err = s.RoomSince(t.Context(), noon.Add(100*time.Hour))
	require.NoError(t, err)
	assert.Len(t, got, 1)
	assert.Error(t, put(store.RoomReading{At: noon, Temp: 20, Source: "guess"}), "only known sources")
}

func TestMarksPlansAndLetters(t *testing.T) {
	s, _ := fresh(t)
	piece := onePiece(t, s, "p", nil, noon)
	mark := func(m store.TaskMark) {
		must(t, s, func(tx *store.Tx) error { return tx.SetTaskMark(t.Context(), m) })
	}
	marks := func() []store.TaskMark {
		list, err := s.TaskMarks(t.Context())
		require.NoError(t, err)
		return list
	}
	pin := store.TaskMark{Piece: piece, Task: "first:pour", Kind: store.MarkPin, At: noon}
	mark(pin)
	pin.At = noon.Add(time.Hour)
	mark(pin)
	mark(store.TaskMark{Piece: piece, Task: "first:pour", Kind: store.MarkDone, At: noon})
	require.Len(t, marks(), 2, "a pin is moved, not doubled")
	assert.True(t, marks()[1].At.Equal(noon.Add(time.Hour)))
	pin.At = time.Time{}
	mark(pin)
	assert.Len(t, marks(), 1)

	keep := func(n int) {
		must(t, s, func(tx *store.Tx) error { return tx.KeepPlanDay(t.Context(), "2026-03-02", map[string]int{"a": n}) })
	}
	keep(1)
	keep(2)
	var kept map[string]int
	of, err := s.PlanBefore(t.Context(), "2026-03-05", &kept)
	require.NoError(t, err)
	assert.Equal(t, "2026-03-02", of)
	assert.Equal(t, map[string]int{"a": 1}, kept, "the first of the day stays")

	letter := func() (id int64, isNew bool) {
		must(t, s, func(tx *store.Tx) (err error) {
			id, isNew, err = tx.WriteLetter(t.Context(), "day 1", map[string]string{"Body": "x"}, noon)
			return err
		})
		return id, isNew
	}
	id, isNew := letter()
	assert.True(t, isNew)
	_, isNew = letter()
	assert.False(t, isNew, "one letter a key")
	must(t, s, func(tx *store.Tx) error { return tx.LetterSent(t.Context(), id, noon, "no route") })
	letters, err := s.Letters(t.Context(), 10)
	require.NoError(t, err)
	require.Len(t, letters, 1)
	assert.Equal(t, "no route", letters[0].Failure)
	assert.True(t, letters[0].Sent.IsZero())
}
