package pieces_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/studiotest"
)

// A piece's history names what changed, newest first, and what was taken back; going back is
// a change of its own that can be undone.
func TestHistory(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"name": "Saltmarsh", "size": "40 x 40 cm"})
	cup := p.First().Coat.Colours[0].ID
	edit := func(typed map[string]string) {
		var n interface{ OK() bool }
		var err error
		p, n, err = r.Pieces.Edit(r.Ctx(), p.ID, p.Rev, typed)
		require.NoError(t, err)
		require.True(t, n.OK())
	}
	edit(map[string]string{"size": "50 x 50 cm"})
	edit(map[string]string{pieces.CupKey(plan.FirstCoat, cup, "name"): "Sedge"})
	_, err := r.Pieces.Undo(r.Ctx(), p.ID)
	require.NoError(t, err)
	p, err = r.Pieces.AddColour(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)

	h, err := r.Pieces.History(r.Ctx(), p.ID)
	require.NoError(t, err)
	require.Len(t, h, 4)
	assert.True(t, h[0].Head)
	labels := func(c pieces.Change) (out []string) {
		for _, d := range c.Fields {
			out = append(out, msg.Say(d.Label, msg.English))
		}
		return out
	}
	assert.Contains(t, labels(h[0]), "Cup added")
	assert.True(t, h[1].Undone, "it was taken back, then something else done")
	require.Len(t, h[1].Fields, 1)
	assert.Equal(t, "Sedge", msg.Say(h[1].Fields[0].To, msg.English))
	assert.Equal(t, 1, h[1].Fields[0].Coat)
	require.Equal(t, []string{"Size"}, labels(h[2]))
	assert.Equal(t, "40 cm × 40 cm", msg.Say(h[2].Fields[0].From, msg.English))
	assert.Equal(t, "50 cm × 50 cm", msg.Say(h[2].Fields[0].To, msg.English))
	assert.True(t, h[3].First)
	assert.Empty(t, h[3].Fields)

	now := p.Spec.Clone()
	back, err := r.Pieces.GoBack(r.Ctx(), p.ID, h[3].Rev)
	require.NoError(t, err)
	assert.EqualValues(t, 400, back.Width)
	undone, err := r.Pieces.Undo(r.Ctx(), p.ID)
	require.NoError(t, err)
	assert.Equal(t, now, undone.Spec.Clone())
}

// Several pieces are changed together, all or none, and taken back together; a piece that was
// changed since stays as it is.
func TestSeveral(t *testing.T) {
	r := studiotest.Open(t)
	a, b := r.Piece(map[string]string{"name": "A"}), r.Piece(map[string]string{"name": "B"})
	_, err := r.Pieces.Finish(r.Ctx(), []int64{a.ID, 4711})
	require.Error(t, err)
	assert.Equal(t, plan.Open, r.ReadPiece(a.ID).State, "one is missing: nothing was changed")
	made, err := r.Pieces.Finish(r.Ctx(), []int64{a.ID, b.ID})
	require.NoError(t, err)
	require.Len(t, made, 2)
	assert.Equal(t, plan.Done, r.ReadPiece(b.ID).State)
	again, err := r.Pieces.Finish(r.Ctx(), []int64{a.ID, b.ID})
	require.NoError(t, err)
	assert.Empty(t, again, "they are done already")
	b = r.ReadPiece(b.ID)
	_, _, err = r.Pieces.Edit(r.Ctx(), b.ID, b.Rev, map[string]string{"name": "B, changed since"})
	require.NoError(t, err)
	stay, err := r.Pieces.TakeBack(r.Ctx(), made)
	require.NoError(t, err)
	assert.Equal(t, 1, stay)
	assert.Equal(t, plan.Open, r.ReadPiece(a.ID).State)
	assert.Equal(t, plan.Done, r.ReadPiece(b.ID).State)
}

// Planned later, the next coat of each piece is poured so many days after the day it stood on.
func TestPlannedLater(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"name": "A"})
	before := r.Plan(p).Coats[0].Start
	for _, days := range []int{0, -1, 367} {
		_, err := r.Agenda.Later(r.Ctx(), []int64{p.ID}, days)
		require.Error(t, err)
	}
	made, err := r.Agenda.Later(r.Ctx(), []int64{p.ID}, 3)
	require.NoError(t, err)
	require.Len(t, made, 1)
	after := r.Plan(r.ReadPiece(p.ID)).Coats[0].Start
	y, m, d := before.Date()
	assert.False(t, after.Before(before.AddDate(0, 0, 2)))
	ay, am, ad := after.Date()
	assert.Equal(t, []int{y, int(m), d + 3}, []int{ay, int(am), ad})
}
