package technique_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

func clock(t *testing.T, working float64) *cure.Clock {
	t.Helper()
	k, err := cure.Calibrate(working, 24)
	require.NoError(t, err)
	return cure.NewClock(k, cure.Constant(25))
}

// Every entry of the library is complete: words, a window that exists, safety
// notes that exist, a mix that starts the clock.
func TestLibraryIsComplete(t *testing.T) {
	seen := map[string]bool{}
	for _, x := range technique.Library {
		assert.False(t, seen[x.ID], x.ID)
		seen[x.ID] = true
		assert.NotEmpty(t, x.Name)
		assert.NotEmpty(t, x.Summary)
		assert.True(t, x.RunOff.Low <= x.RunOff.Usual && x.RunOff.Usual <= x.RunOff.High && x.RunOff.High <= 0.25, x.ID)
		mixes := 0
		for _, s := range x.Steps {
			assert.NotEmpty(t, s.Do, s.Name)
			assert.Len(t, technique.SafetyNotes(s.Safety...), len(s.Safety), "%s names a safety note that does not exist", s.Name)
			if !s.BeforeMixing {
				assert.NotZero(t, clock(t, 45).Window(s.Window), "%s: %s", x.ID, s.Name)
			}
			if s.Name == technique.MixStep {
				mixes++
				assert.InDelta(t, 7, s.Minutes(technique.Job{Mix: 7}), 1e-9, "mixing takes the product's own time")
				assert.Contains(t, s.Safety, "gloves")
			}
		}
		assert.Equal(t, 1, mixes, x.ID)
	}
	_, ok := technique.Find("no such")
	assert.False(t, ok)
}

// A first pour on a tray to a 60 cm board takes about an hour hands-on
// (common practice).
func TestFirstPourTakesAboutAnHour(t *testing.T) {
	job := technique.Job{Face: (600 * units.Millimetre).Times(600), Cups: 4, Mix: 3}
	for _, id := range []string{"swipe", "cell", "flow"} {
		x, ok := technique.Find(id)
		require.True(t, ok)
		total := 0.0
		for _, s := range x.Steps {
			total += s.Minutes(job)
		}
		assert.True(t, total > 30 && total < 75, "%s takes %g min", id, total)
	}
}

func TestLayFollowsTheClock(t *testing.T) {
	swipe, _ := technique.Find("swipe")
	small := swipe.Lay(technique.Job{Face: 200_000, Cups: 4, Mix: 3}, clock(t, 45))
	require.True(t, small.Holds(), "a 45 cm swipe fits 45 minutes (common practice: about 40 min of swiping)")
	at := 0.0
	for _, s := range small.Steps {
		assert.GreaterOrEqual(t, s.From, at, s.Name)
		assert.GreaterOrEqual(t, s.From, s.Window.From-1e-9, "%s waits for its window", s.Name)
		at = s.To
	}
	assert.Equal(t, at, small.Ends)
	large := swipe.Lay(technique.Job{Face: 2_000_000, Cups: 4, Mix: 3}, clock(t, 45))
	assert.False(t, large.Holds(), "two square metres do not")
	assert.Positive(t, large.Tight.Late)
	assert.InDelta(t, -large.Spare, large.Tight.To-large.Tight.Window.To, 1e-9)
	assert.False(t, math.IsInf(small.Spare, 0))
}
