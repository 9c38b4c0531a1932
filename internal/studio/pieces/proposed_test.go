package pieces_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/verdict"
	"jevvo/internal/studio/pieces"
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
	require.NoError(t, st.Materials.RetireProduct(ctx, book.Resins[1].ID, true))
	spec, _, err = st.Pieces.Proposed(ctx, "")
	require.NoError(t, err)
	assert.NotEqual(t, book.Resins[1].ID, spec.First().Coat.Product)
}

// A canvas is sold primed and a panel may be bare wood (common practice): only there it is asked. What a
// painter said of a face stays when the board is another.
func TestWhetherAFaceIsPrimedIsAskedWhereItMayNotBe(t *testing.T) {
	r := studiotest.Open(t)
	asks := func(typed map[string]string) bool {
		p := created(r, typed)
		for _, d := range r.Plan(p).Diagnostics() {
			if d.Code == verdict.FaceAsk {
				return true
			}
		}
		return false
	}
	assert.True(t, asks(map[string]string{"support": "panel"}))
	assert.False(t, asks(map[string]string{"support": "panel", "sealed": "yes"}))
	assert.True(t, asks(map[string]string{"support": "tray"}))
	assert.False(t, asks(map[string]string{"support": "canvas"}))
	assert.False(t, asks(map[string]string{"support": "tile"}))

	p := created(r, map[string]string{"support": "canvas"})
	assert.False(t, r.Edit(p, map[string]string{"support": "panel"}).Spec.Asked, "nobody has said so of the panel")
	p = r.Edit(created(r, map[string]string{"support": "canvas"}), map[string]string{"sealed": "no"})
	p = r.Edit(p, map[string]string{"support": "panel"})
	assert.True(t, p.Spec.Asked)
	assert.False(t, p.Spec.Sealed, "bare it was")
}

// created is a piece as the page of a new one makes it.
func created(r *studiotest.Room, typed map[string]string) pieces.Piece {
	r.T.Helper()
	typed["name"] = "Ebb"
	p, n, err := r.Pieces.Create(r.Ctx(), typed)
	require.NoError(r.T, err)
	require.True(r.T, n.OK(), n.Errors)
	return p
}

// Two boards that cannot be poured in one go are poured one after the other: it is said, and each becomes a
// piece of its own, of the same commission.
func TestBoardsArePlannedByThemselves(t *testing.T) {
	r := studiotest.Open(t)
	c, _ := r.Ordered(t)
	p := created(r, map[string]string{"size": "60 x 90 cm", "count": "3", "support": "canvas", "due": "2026-05-01"})
	p, err := r.Pieces.Change(r.Ctx(), p.ID, func(s *plan.Spec) error { s.Commission = c.ID; return nil })
	require.NoError(t, err)
	whole := r.Plan(p)
	require.False(t, whole.Coats[0].Fit.Holds())
	each := whole.Reliefs(0)[0]
	assert.Equal(t, plan.ReliefEach, each.Kind)
	require.True(t, each.Holds)
	assert.True(t, slices.ContainsFunc(whole.Diagnostics(),
		func(d verdict.Diagnostic) bool { return d.Code == verdict.ClockEach }), "before a cooler room")
	boards, err := r.Pieces.Apart(r.Ctx(), p.ID)
	require.NoError(t, err)
	require.Len(t, boards, 3)
	for i, b := range boards {
		assert.Equal(t, fmt.Sprintf("Ebb, %d of 3", i+1), b.Name)
		assert.Equal(t, 1, b.Count)
		assert.Equal(t, p.Due, b.Due)
		assert.Equal(t, c.ID, b.Commission)
		assert.InDelta(t, each.Spare, r.Plan(b).Coats[0].Fit.Spare, 1, "as it was said")
	}
	assert.Equal(t, p.ID, boards[0].ID)
	_, err = r.Pieces.Apart(r.Ctx(), p.ID)
	assert.ErrorContains(t, err, "several boards")
}

// What was typed for a whole set, its volume and the grams of a cup, is shared among its boards: the film stays, and
// half a face is tried with half of it. What has been poured together is not taken apart.
func TestWhatWasTypedForASetIsShared(t *testing.T) {
	r := studiotest.Open(t)
	p := created(r, map[string]string{"size": "60 x 90 cm", "count": "2", "support": "canvas",
		pieces.CoatKey(plan.FirstCoat, "amount"): "2 L"})
	p, err := r.Pieces.Change(r.Ctx(), p.ID, func(s *plan.Spec) error {
		s.First().Coat.Colours[0].Pigment, s.First().Coat.Colours[0].Mass = 1, 30
		return nil
	})
	require.NoError(t, err)
	whole := r.Plan(p)
	spare := map[plan.ReliefKind]float64{}
	for _, relief := range whole.Reliefs(0) {
		spare[relief.Kind] = relief.Spare
	}
	assert.Greater(t, spare[plan.ReliefHalves], spare[plan.ReliefEach])
	boards, err := r.Pieces.Apart(r.Ctx(), p.ID)
	require.NoError(t, err)
	one := r.Plan(boards[1])
	assert.InDelta(t, float64(whole.Coats[0].Film), float64(one.Coats[0].Film), 1e-3)
	assert.InDelta(t, float64(whole.Coats[0].Total)/2, float64(one.Coats[0].Total), 15, "but for what stays in its cups")
	assert.InDelta(t, 15, float64(boards[1].First().Coat.Colours[0].Mass), 1e-9)
	assert.InDelta(t, spare[plan.ReliefEach], one.Coats[0].Fit.Spare, 0.5)

	set := created(r, map[string]string{"size": "60 x 90 cm", "count": "2"})
	require.NoError(t, r.Agenda.Mark(r.Ctx(), set.ID, plan.PourKey(plan.FirstCoat), r.Now()))
	assert.True(t, r.Plan(set).Begun())
	assert.Empty(t, r.Plan(set).Reliefs(0))
}

// A slab fills its mould, though the page proposed a film for a board before it was chosen.
func TestASlabIsAsThickAsASlab(t *testing.T) {
	r := studiotest.Open(t)
	slab := created(r, map[string]string{"support": "mould", "size": "30 x 20 cm",
		pieces.CoatKey(plan.FirstCoat, "technique"): "slab", pieces.CoatKey(plan.FirstCoat, "amount"): "1.6 mm"})
	assert.Zero(t, slab.First().Coat.Amount.Film, "what the page proposed for a board was not chosen")
	assert.InDelta(t, 10, float64(r.Plan(slab).Coats[0].Film), 1e-9)
	board := created(r, map[string]string{"support": "panel", "size": "30 x 20 cm"})
	assert.InDelta(t, 1.6, float64(r.Plan(board).Coats[0].Film), 1e-9)
}
