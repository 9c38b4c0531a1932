package technique_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// Waits of preparations in hours, all common practice; a range where the trade
// gives one.
func TestPreparationsWaitAsTheTradeDoes(t *testing.T) {
	for id, want := range map[string]struct {
		coats            int
		between          float64
		resinLow, resinT float64
	}{
		"gesso":        {2, 2, 2, 24},
		"base":         {2, 1, 24, 24},
		"prime":        {2, 4, 4, 24},
		"spray-primer": {2, 1, 24, 24},
		"paste":        {1, 48, 48, 72},
		"foil":         {1, 72, 72, 72},
		"varnish":      {1, 12, 8, 16}, // overnight
		"mask":         {1, 2, 2, 2},
	} {
		p, ok := technique.FindPreparation(id)
		require.True(t, ok, id)
		assert.Equal(t, want.coats, p.Coats, id)
		assert.InDelta(t, want.between*60, p.Dry, 1e-9, id)
		assert.GreaterOrEqual(t, p.BeforeResin, want.resinLow*60, id)
		assert.LessOrEqual(t, p.BeforeResin, want.resinT*60, id)
		assert.GreaterOrEqual(t, p.BeforeResin, p.Dry, "%s: resin waits at least as long as the next coat", id)
	}
	_, ok := technique.FindPreparation("polish")
	assert.False(t, ok)
}

// Each preparation is a piece of short work that grows with the face, and says
// what to wear where it can hurt.
func TestPreparationsAreShortWork(t *testing.T) {
	seen := map[string]bool{}
	small, large := (300 * units.Millimetre).Times(300), (1200 * units.Millimetre).Times(900)
	for _, p := range technique.Preparations {
		assert.False(t, seen[p.ID], p.ID)
		seen[p.ID] = true
		assert.NotEmpty(t, p.Name)
		assert.NotEmpty(t, p.Do, p.ID)
		assert.LessOrEqual(t, p.Minutes(small), p.Minutes(large), p.ID)
		assert.Less(t, p.Minutes(large), 2*60.0, p.ID)
		assert.Positive(t, p.Minutes(small), p.ID)
		assert.Len(t, technique.SafetyNotes(p.Safety...), len(p.Safety), p.ID)
		if p.Finish {
			assert.Zero(t, p.BeforeResin, "%s comes after the last coat", p.ID)
		}
	}
	for id, caution := range map[string]string{"spray-primer": "spray", "finish-sides": "dust", "drips": "hotair",
		"varnish": "respirator"} {
		p, _ := technique.FindPreparation(id)
		assert.Contains(t, p.Safety, caution, id)
	}
}

// Work between coats waits as the trade does before a flame or resin comes
// near: leaf size 30 min, an ink tint 30 min, leafing itself about an hour on
// a tray (common practice).
func TestBetweenCoatsTakeTheirTime(t *testing.T) {
	for _, x := range technique.Library.Between() {
		require.NoError(t, x.Check(), x.ID)
		hands := 0.0
		for _, s := range x.Steps {
			hands += s.Minutes(technique.Job{Face: (400 * units.Millimetre).Times(300), Cups: 1, Mix: 3})
		}
		assert.True(t, hands >= 10 && hands <= 150, "%s takes %g min", x.ID, hands)
		for _, s := range x.Steps {
			assert.False(t, s.Mixes, "%s mixes no resin", x.ID)
		}
	}
}

// Steps only ever take longer on more board, in more cups or with a longer
// mix, and a lay on a slower product never loses spare time.
func TestMoreBoardTakesMoreTime(t *testing.T) {
	for _, x := range technique.Library.Coats() {
		last := 0.0
		for _, face := range []units.Area{20_000, 90_000, 360_000, 1_080_000} {
			total := 0.0
			for _, s := range x.Steps {
				m := s.Minutes(technique.Job{Face: face, Cups: 4, Mix: 3})
				assert.GreaterOrEqual(t, m, 0.0, s.Name)
				total += m
			}
			assert.GreaterOrEqual(t, total, last, x.ID)
			last = total
		}
		fast := x.Lay(technique.Job{Face: 90_000, Cups: 4, Mix: 3}, clock(t, 30))
		slow := x.Lay(technique.Job{Face: 90_000, Cups: 4, Mix: 3}, clock(t, 90))
		if fast.Holds() {
			assert.True(t, slow.Holds(), "%s fits 30 minutes but not 90", x.ID)
		}
	}
}
