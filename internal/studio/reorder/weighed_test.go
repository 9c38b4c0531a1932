package reorder_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/store"
	"jevvo/internal/studio/reorder"
	"jevvo/internal/studiotest"
)

// What was weighed out for a coat is off the stock and no longer wanted for it; poured on no bench
// day it has set by the next, and is wanted anew.
func TestWhatIsWeighedOutIsNotReservedTwice(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "30 x 20 cm"})
	resin := studiotest.ResinOf(p.Spec)
	line := func() reorder.Line {
		lines, err := r.Reorder.Lines(r.Ctx())
		require.NoError(t, err)
		return lines[slices.IndexFunc(lines, func(l reorder.Line) bool { return l.Thing == resin })]
	}
	require.NoError(t, r.Stock.Count(r.Ctx(), resin, "2 L", "all there is"))
	y, m, d := r.Clock.T.Local().Date()
	r.Clock.T = time.Date(y, m, d, 23, 50, 0, 0, time.Local)
	before := line()
	w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	(&studiotest.Painter{Way: school.TareEach}).Weigh(r, w)
	weighed := line()
	took := before.State.OnHand - weighed.State.OnHand
	require.Greater(t, took, 100.0)
	assert.InDelta(t, took, before.Reserved()-weighed.Reserved(), 0.05*took)
	assert.InDelta(t, before.Free, weighed.Free, 0.05*took)
	assert.Len(t, weighed.Needs, len(before.Needs)-1, "what a slip of the hand missed is not wanted")
	r.Clock.T = r.Clock.T.Add(30 * time.Minute)
	assert.InDelta(t, weighed.Reserved(), line().Reserved(), 1e-6, "nor is it wanted again past midnight")
	r.Clock.T = r.Clock.T.Add(24 * time.Hour)
	assert.InDelta(t, before.Reserved(), line().Reserved(), 1e-6)
}

// What a coat takes of a pigment is said with the cups it goes into, of a resin without.
func TestAPigmentIsWantedForItsCups(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "30 x 20 cm"})
	cup := studiotest.CupKey(p.Spec.First().Coat.Colours[0].ID, "pigment")
	r.Edit(p, map[string]string{cup: studiotest.Form1(r.Pigment("Lacing white").ID)}) // its cup takes its name
	lines, err := r.Reorder.Lines(r.Ctx())
	require.NoError(t, err)
	found := 0
	for _, l := range lines {
		for _, n := range l.Needs {
			if l.Kind == store.Pigments {
				found++
				assert.Equal(t, []string{"Lacing white"}, n.Cups)
			} else {
				assert.Empty(t, n.Cups)
			}
		}
	}
	assert.Equal(t, 1, found)
}
