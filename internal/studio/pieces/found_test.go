package pieces_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/technique"
	"jevvo/internal/core/verdict"
	"jevvo/internal/store"
	"jevvo/internal/studiotest"
)

// Pieces are found by what they use, whose they are, how far they are and when they
// were begun, all at once.
func TestPiecesAreFoundByMoreThanAName(t *testing.T) {
	r := studiotest.Open(t)
	_, p := r.Ordered(t)
	other := r.Piece(map[string]string{"name": "Own"})
	found := func(f store.PieceFilter) []int64 {
		t.Helper()
		list, n, err := r.Pieces.Found(r.Ctx(), f, 50, 0)
		require.NoError(t, err)
		require.Len(t, list, n)
		var ids []int64
		for _, v := range list {
			ids = append(ids, v.ID)
		}
		return ids
	}
	assert.ElementsMatch(t, []int64{p.ID, other.ID}, found(store.PieceFilter{}))
	assert.Equal(t, []int64{p.ID}, found(store.PieceFilter{Client: "maren quill, 🎨 שלום"}))
	assert.Equal(t, []int64{other.ID},
		found(store.PieceFilter{Find: "own", State: "open", Month: "2026-03", Technique: other.First().What}))
	assert.Empty(t, found(store.PieceFilter{Month: "2025-03"}))
	assert.Empty(t, found(store.PieceFilter{State: "done"}))
	assert.Empty(t, found(store.PieceFilter{Technique: "' OR 1=1 --"}))
	clients, months, err := r.Pieces.Choices(r.Ctx())
	require.NoError(t, err)
	assert.Equal(t, []string{"Maren Quill, 🎨 שלום"}, clients)
	assert.Equal(t, []string{"2026-03"}, months)
}

// A first tile takes the colours that were chosen, the lightest for the cup that is to
// be white, and is planned at once.
func TestAFirstTile(t *testing.T) {
	r := studiotest.Open(t)
	book, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	ids := map[string]int64{}
	for _, p := range book.Paints {
		ids[p.Name] = p.ID
	}
	p, err := r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, "swipe",
		[]int64{ids["Slate"], ids["Lacing white"], ids["Brine"], ids["Eelgrass"]})
	require.NoError(t, err)
	seen := map[int64]bool{}
	for _, c := range p.First().Coat.Colours {
		seen[c.Pigment] = true
		if c.Role == technique.White {
			assert.Equal(t, "Lacing white", c.Name)
		}
	}
	assert.True(t, seen[ids["Slate"]])
	assert.Positive(t, float64(r.Plan(p).Plan.Coats[0].Total))
	for n := 1; n <= 5; n++ { // as many tinted cups as colours were chosen, whatever the technique is used to
		chosen := []int64{ids["Slate"], ids["Lacing white"], ids["Brine"], ids["Eelgrass"], ids["Rowan red"]}[:n]
		for _, way := range []string{"swipe", "cell", "flow", "blow"} {
			p, err := r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, way, chosen)
			require.NoError(t, err, way)
			var got []int64
			for _, c := range p.First().Coat.Colours {
				if c.Role.Rule().Tints {
					got = append(got, c.Pigment)
				}
			}
			assert.ElementsMatch(t, chosen, got, "%s of %d", way, n)
			for _, said := range r.Plan(p).Plan.Diagnostics() {
				fair := n == 1 && said.Part == verdict.PartColours // one colour is a poor swipe
				assert.True(t, fair || said.Weight == verdict.Settled, "%s of %d, as we propose it: %v", way, n, said)
			}
		}
	}
	for _, bad := range [][]int64{nil, {999}, {1, 2, 3, 4, 5, 6}} {
		_, err := r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, "swipe", bad)
		assert.Error(t, err, "%v", bad)
	}
	_, err = r.Pieces.FirstTile(r.Ctx(), book.Resins[0].ID, "juggling", []int64{ids["Slate"]})
	assert.Error(t, err)
	_, err = r.Pieces.FirstTile(r.Ctx(), 999, "swipe", []int64{ids["Slate"]})
	assert.Error(t, err)
}
