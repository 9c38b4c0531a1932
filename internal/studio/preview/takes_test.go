package preview_test

import (
	"maps"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/flow"
	"jevvo/internal/core/plan"
	core "jevvo/internal/core/preview"
	"jevvo/internal/form"
	"jevvo/internal/studio/preview"
	"jevvo/internal/studiotest"
)

// What is put aside stays as it was while the other is changed; swapping plays it
// and puts the other aside; dropping forgets it. All of it outlives a restart.
func TestTakesAreComparedAndSwapped(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	coat := r.See(p).Coat.ID
	set := func(w preview.Way) { require.NoError(t, r.Preview.Set(r.Ctx(), p.ID, coat, w)) }
	set(preview.Way{Seed: 3, Later: 5})
	require.NoError(t, r.Preview.Make(r.Ctx(), r.See(p), preview.Hand{Kind: "tilt", Minute: 15, Tilt: [2]float64{5, 0}}))
	require.NoError(t, r.Preview.Keep(r.Ctx(), p.ID, coat))
	set(preview.Way{Seed: 9, Turned: true})
	require.NoError(t, r.Preview.Undo(r.Ctx(), p.ID, coat))
	r.Restart()
	v := r.See(p)
	require.NotNil(t, v.Tried.Kept)
	kept, err := v.Kept()
	require.NoError(t, err)
	assert.Equal(t, preview.Way{Seed: 3, Later: 5}, kept.Tried.Way)
	assert.Len(t, kept.Tried.Moves, 1)
	assert.Empty(t, v.Tried.Moves)
	require.NoError(t, r.Preview.Swap(r.Ctx(), p.ID, coat))
	v = r.See(p)
	assert.Equal(t, preview.Way{Seed: 3, Later: 5}, v.Tried.Way)
	assert.Len(t, v.Tried.Moves, 1)
	assert.Equal(t, preview.Take{Way: preview.Way{Seed: 9, Turned: true}, Moves: []preview.Hand{}}, *v.Tried.Kept)
	require.NoError(t, r.Preview.Drop(r.Ctx(), p.ID, coat))
	assert.Nil(t, r.See(p).Tried.Kept)
	require.NoError(t, r.Preview.Swap(r.Ctx(), p.ID, coat), "nothing to swap with changes nothing")
	assert.Len(t, r.See(p).Tried.Moves, 1)
}

// A thicker bed pours more of the bed only, wider ribbons no more of anything; what
// nobody pours is refused.
func TestWaysChangeWhatTheyName(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{})
	_, err := r.Pieces.StartComposition(r.Ctx(), p.ID, plan.FirstCoat, "lanes")
	require.NoError(t, err)
	v := r.See(p)
	played := func(o core.Options) []flow.Move {
		o.Cells, o.Plain = 20, true
		s, err := core.Of(v.Plan, v.Coat, o)
		require.NoError(t, err)
		return s.Scene.Moves
	}
	own, thick, wide := played(core.Options{}), played(core.Options{Bed: 1.5}), played(core.Options{Wide: 2})
	ribbons := 0
	for k, m := range own {
		assert.InEpsilon(t, m.Volume, wide[k].Volume, 1e-12)
		if m.Kind == flow.Bed && m.Within == nil {
			assert.InEpsilon(t, 1.5*m.Volume, thick[k].Volume, 1e-12)
		} else {
			assert.InEpsilon(t, m.Volume, thick[k].Volume, 1e-12)
		}
		if m.Kind == flow.Ribbon {
			ribbons++
			assert.Positive(t, wide[k].Width)
		}
	}
	assert.Positive(t, ribbons)
	for field, bad := range map[string]preview.Way{"bed": {Bed: 9}, "wide": {Wide: -1}, "later": {Later: 500}} {
		var refused *form.Refused
		require.ErrorAs(t, r.Preview.Set(r.Ctx(), p.ID, v.Coat.ID, bad), &refused)
		assert.Equal(t, field, refused.Field)
	}
}

// With another white among the materials it is offered, and stands in for the white of the
// coat without the piece being changed.
func TestAnotherWhiteStandsIn(t *testing.T) {
	r := studiotest.Open(t)
	book, err := r.Materials.Book(r.Ctx())
	require.NoError(t, err)
	whites := map[int64]string{}
	for id, k := range book.Pigments {
		if k.Swatch >= "#e0e0e0" && !k.Clear {
			whites[id] = k.Name
		}
	}
	if len(whites) < 2 {
		t.Skip("the examples have one white")
	}
	p := r.Piece(map[string]string{})
	v := r.See(p)
	first := slices.Min(slices.Collect(maps.Keys(whites)))
	p = r.Edit(p, map[string]string{studiotest.CupKey(v.Coat.Cups[0].Colour.ID, "pigment"): strconv.FormatInt(first, 10)})
	v = r.See(p)
	offered := int64(0)
	for _, c := range v.Variants(false) {
		if c.Way.White != 0 {
			offered = c.Way.White
		}
	}
	require.NotZero(t, offered)
	require.NoError(t, r.Preview.Set(r.Ctx(), p.ID, v.Coat.ID, preview.Way{White: offered}))
	swapped := r.See(p)
	found := false
	for _, c := range swapped.Coat.Cups {
		found = found || c.Colour.Pigment == offered
	}
	assert.True(t, found)
	assert.Equal(t, p.Rev, swapped.Piece.Rev)
}

// The end of a play is kept for where its board is drawn small, as long as the coat
// still looks so; hands' moves beside the plan do not change that.
func TestTheEndOfAPlayIsKept(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "8 x 8 cm"})
	v := r.See(p)
	none, err := r.Preview.Stills(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Empty(t, none[p.ID].Address(p.ID, v.Plan, v.Coat))
	play, err := r.Preview.Play(v)
	require.NoError(t, err)
	_, err = play.Moving()
	if _, whole := play.Frame(len(play.Times) - 1); !whole {
		assert.ErrorIs(t, err, preview.ErrUnfinished)
	}
	require.NoError(t, play.End(t.Context()).Err)
	stills, err := r.Preview.Stills(r.Ctx(), p.ID)
	require.NoError(t, err)
	address := stills[p.ID].Address(p.ID, v.Plan, v.Coat)
	require.NotEmpty(t, address)
	picture, err := r.Preview.StillPicture(r.Ctx(), p.ID, v.Coat.ID)
	require.NoError(t, err)
	last, _ := play.Frame(len(play.Times) - 1)
	assert.Equal(t, last.Picture, picture)
	moving, err := play.Moving()
	require.NoError(t, err)
	assert.Greater(t, len(moving), len(picture))
	p = r.Edit(p, map[string]string{"name": "Renamed"})
	assert.Equal(t, address, stills[p.ID].Address(p.ID, r.See(p).Plan, r.See(p).Coat), "a name is no look")
	p = r.Edit(p, map[string]string{"size": "9 x 8 cm"})
	assert.Empty(t, stills[p.ID].Address(p.ID, r.See(p).Plan, r.See(p).Coat))
}
