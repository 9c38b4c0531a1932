package commissions_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studiotest"
)

// The last change of a brief is taken back and its boards follow; what the client chose since is not lost.
func TestABriefIsTakenBack(t *testing.T) {
	r := studiotest.Open(t)
	com, n, err := r.Commissions.Save(r.Ctx(), 0, 0, map[string]string{"name": "Wall", "client": "R. Ostler"})
	require.NoError(t, err)
	require.True(t, n.OK())
	board, err := r.Commissions.AddBoard(r.Ctx(), com.ID)
	require.NoError(t, err)
	change := func(typed map[string]string) {
		com, err = r.Commissions.Commission(r.Ctx(), com.ID)
		require.NoError(t, err)
		com, n, err = r.Commissions.Save(r.Ctx(), com.ID, com.Rev, typed)
		require.NoError(t, err)
		require.True(t, n.OK(), n.Errors)
	}
	state := func() plan.State {
		p, err := r.Pieces.Piece(r.Ctx(), board.ID)
		require.NoError(t, err)
		return p.State
	}
	change(map[string]string{"state": "called off", "client": "R. Osler"})
	require.Equal(t, plan.Done, state())
	require.NoError(t, r.Commissions.TakeBack(r.Ctx(), com.ID))
	com, err = r.Commissions.Commission(r.Ctx(), com.ID)
	require.NoError(t, err)
	assert.Equal(t, "R. Ostler", com.Client)
	assert.Equal(t, plan.Open, state(), "its board is taken up again with it")
	require.NoError(t, r.Commissions.TakeBack(r.Ctx(), com.ID))
	assert.Equal(t, plan.Done, state(), "and the change is made again")

	change(map[string]string{"state": "testing"})
	tile, err := r.Commissions.AddTile(r.Ctx(), com.ID, "Tile A", "swipe")
	require.NoError(t, err)
	require.NoError(t, r.Commissions.ChooseTile(r.Ctx(), com.ID, tile.ID, "the blue"))
	assert.ErrorIs(t, r.Commissions.TakeBack(r.Ctx(), com.ID), store.ErrNotFound)
	com, err = r.Commissions.Commission(r.Ctx(), com.ID)
	require.NoError(t, err)
	assert.Equal(t, fmt.Sprint(tile.ID, " the blue"), fmt.Sprint(com.Chosen, " ", com.Why))
}
