package store_test

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/store"
)

// kinds are those of some entries, in order.
func kinds(entries []store.Entry) string {
	out := make([]string, len(entries))
	for k, e := range entries {
		out[k] = e.Kind
	}
	return strings.Join(out, " ")
}

// The journal follows what happens in the change that makes it: a piece and its
// names, a bench day and its notes, a result as it is corrected, a confirmed fault;
// undo brings the old words back, and a piece that is removed takes its lines along.
func TestTheJournalFollows(t *testing.T) {
	s, _ := fresh(t)
	spec := func(colour string, pigment int) map[string]any {
		return map[string]any{"Layers": []any{map[string]any{"ID": "first", "What": "swipe",
			"Coat": map[string]any{"Product": 3,
				"Colours": []any{map[string]any{"ID": "c1", "Name": colour, "Pigment": pigment}}}}}}
	}
	look := func(a store.Asked) []store.Entry {
		a.Limit = 50
		out, err := s.Journal(t.Context(), a)
		require.NoError(t, err)
		return out
	}
	words := func(w ...string) []store.Entry { return look(store.Asked{Words: w}) }
	id := onePiece(t, s, "Mudflat", spec("Foam white", 7), noon)
	require.NoError(t, revise(t, s, id, 1, "Saltmarsh", spec("Reed green", 8)))
	assert.Len(t, words("reed"), 1)
	assert.Empty(t, words("foam"))
	assert.Len(t, look(store.Asked{Pigment: "8", Product: "3", Technique: "swipe"}), 1)
	assert.Empty(t, look(store.Asked{Pigment: "7"}))
	must(t, s, func(tx *store.Tx) error { return tx.MoveHead(t.Context(), id, true) })
	assert.Len(t, words("foam", "mudfl"), 1, "by the beginning of words, after undo")
	assert.Len(t, look(store.Asked{Pigment: "7"}), 1)

	var bench int64
	must(t, s, func(tx *store.Tx) (err error) {
		bench, err = tx.StartSession(t.Context(), store.Benches, id, "first",
			map[string]string{"Piece": "Mudflat", "Name": "First coat"}, noon)
		return err
	})
	must(t, s, func(tx *store.Tx) error {
		note := map[string]any{"At": noon.Add(time.Minute).In(time.FixedZone("", 7200)), "What": "note",
			"Text": "Zinnober läuft über"}
		return tx.AppendEvents(t.Context(), store.Benches, bench, 1, []any{note, map[string]any{"At": noon, "What": "done"}},
			false)
	})
	found := words("lauft")
	require.Equal(t, "note", kinds(found), "accents do not matter")
	assert.Equal(t, noon.Add(time.Minute), found[0].At)
	keep := func(rev int64, words string) error {
		return do(t, s, func(tx *store.Tx) error {
			return tx.KeepResult(t.Context(), store.ResultRow{Piece: id, Coat: "first", Rev: rev, At: noon.Add(time.Hour)},
				map[string]string{"Told": words})
		})
	}
	require.NoError(t, keep(0, "laced well"))
	require.ErrorIs(t, keep(0, "again"), store.ErrConflict, "two results for one coat")
	require.NoError(t, keep(1, "laced at the rim only"))
	require.ErrorIs(t, keep(1, "from an old tab"), store.ErrConflict)
	assert.Len(t, words("rim"), 1)
	assert.Empty(t, words("well"))
	must(t, s, func(tx *store.Tx) error {
		return tx.KeepFault(t.Context(), store.FaultRow{Piece: id, Coat: "first", At: noon.Add(2 * time.Hour)},
			map[string]string{"Words": "cold"})
	})
	assert.Equal(t, "fault result note bench piece", kinds(look(store.Asked{Piece: id})), "newest first")
	first := look(store.Asked{Piece: id})[0]
	assert.Equal(t, "result note bench piece", kinds(look(store.Asked{Piece: id, Before: first.ID})))
	for _, odd := range []string{`"`, `*`, `NEAR`, `a" OR "b`, `(`, `:`, `-`, `AND`, "\x00", "🎨"} {
		_, err := s.Journal(t.Context(), store.Asked{Words: []string{odd}, Limit: 5})
		require.NoError(t, err, "%q", odd)
	}
	must(t, s, func(tx *store.Tx) error { return tx.SetPieceDeleted(t.Context(), id, &noon) })
	assert.Empty(t, look(store.Asked{}))
}

// A photograph sent twice is kept once; its pictures belong to its piece.
func TestPhotosAreKeptOnce(t *testing.T) {
	s, _ := fresh(t)
	id := onePiece(t, s, "Mudflat", 1, noon)
	add := func(digest string) (photo int64) {
		must(t, s, func(tx *store.Tx) (err error) {
			photo, err = tx.KeepPhoto(t.Context(), store.PhotoRow{Piece: id, Coat: "first", Moment: "wet", At: noon}, digest,
				[]byte("raw"), []byte("shown"), []byte("small"))
			return err
		})
		return photo
	}
	a, b, again := add("x"), add("y"), add("x")
	assert.Equal(t, a, again)
	assert.NotEqual(t, a, b)
	list, err := s.Photos(t.Context(), id)
	require.NoError(t, err)
	assert.Len(t, list, 2)
	for size, want := range map[store.PhotoSize]string{store.PhotoSmall: "small", store.PhotoShown: "shown",
		store.PhotoOriginal: "raw"} {
		got, err := s.PhotoPicture(t.Context(), id, a, size)
		require.NoError(t, err)
		assert.Equal(t, want, string(got))
		_, err = s.PhotoPicture(t.Context(), id+1, a, size)
		assert.ErrorIs(t, err, store.ErrNotFound)
	}
}

func BenchmarkSearch20000(b *testing.B) {
	s, err := store.Open(b.Context(), b.TempDir()+"/jevvo.db")
	require.NoError(b, err)
	b.Cleanup(func() { s.Close() })
	lines := strings.Fields("laced white blue rim cells dust flat honey window tilt ribbon foam reed salt shore copper")
	require.NoError(b, s.Write(b.Context(), "fill", func(tx *store.Tx) error {
		for k := range 200 {
			id, err := tx.CreatePiece(b.Context(), fmt.Sprintf("Piece %d %s", k, lines[k%len(lines)]), 1, noon)
			if err != nil {
				return err
			}
			bench, err := tx.StartSession(b.Context(), store.Benches, id, "first", map[string]string{"Piece": "x",
				"Name": "First"}, noon)
			if err != nil {
				return err
			}
			var events []any
			for n := range 100 {
				events = append(events, map[string]any{"At": noon.Add(time.Duration(n) * time.Minute), "What": "note",
					"Text": lines[(k+n)%len(lines)] + " " + lines[n*7%len(lines)] + fmt.Sprint(" ", n)})
			}
			if err := tx.AppendEvents(b.Context(), store.Benches, bench, 1, events, false); err != nil {
				return err
			}
			for n := range 25 {
				if _, err := tx.KeepPhoto(b.Context(), store.PhotoRow{Piece: id, Coat: "first", Moment: "wet", At: noon},
					fmt.Sprint(n), []byte("o"), []byte("s"), []byte("t")); err != nil {
					return err
				}
			}
		}
		return nil
	}))
	b.ResetTimer()
	for b.Loop() {
		found, err := s.Journal(b.Context(), store.Asked{Words: []string{"laced", "ri"}, Limit: 60})
		require.NoError(b, err)
		require.NotEmpty(b, found)
	}
}
