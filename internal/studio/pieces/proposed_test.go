package pieces_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/studiotest"
)

// The next piece begins where the last one was made: on its support, with its edge, resin
// and film; a test tile and a cast say nothing of it.
func TestTheNextPieceIsProposedLikeTheLast(t *testing.T) {
	st := studiotest.Open(t)
	ctx := t.Context()
	spec, book, err := st.Pieces.Proposed(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, surface.Panel, spec.Support)
	assert.Equal(t, "swipe", spec.First().What)
	usual := spec.First().Coat.Amount.Film

	last := plan.NewSpec(book.Context, book.Resins[1].ID, st.Now())
	last.Name, last.Edge, last.EdgeHeight = "Last", surface.Dam, 4
	last.Stand(surface.Canvas)
	last.Edge, last.EdgeHeight = surface.Dam, 4
	last.First().Coat.Amount.Film = 2.3
	_, err = st.Pieces.Add(ctx, last)
	require.NoError(t, err)
	tile := plan.NewSpec(book.Context, book.Resins[0].ID, st.Now())
	tile.Name, tile.Tile = "Tile", true
	_, err = st.Pieces.Add(ctx, tile)
	require.NoError(t, err)

	spec, _, err = st.Pieces.Proposed(ctx, "cell")
	require.NoError(t, err)
	assert.Equal(t, surface.Canvas, spec.Support)
	assert.Equal(t, surface.Dam, spec.Edge)
	assert.InDelta(t, 4, float64(spec.EdgeHeight), 1e-9)
	assert.Equal(t, "cell", spec.First().What)
	assert.Equal(t, book.Resins[1].ID, spec.First().Coat.Product)
	assert.InDelta(t, 2.3, float64(spec.First().Coat.Amount.Film), 1e-9)
	assert.NotEqual(t, usual, spec.First().Coat.Amount.Film)

	// A resin that is used up is not proposed again.
	require.NoError(t, st.Shelf.RetireProduct(ctx, book.Resins[1].ID, true))
	spec, _, err = st.Pieces.Proposed(ctx, "")
	require.NoError(t, err)
	assert.NotEqual(t, book.Resins[1].ID, spec.First().Coat.Product)
}
