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
		assert.NotEmpty(t, x.Tools, x.ID)
		require.NoError(t, x.Check(), x.ID)
		assert.True(t, x.RunOff.Low <= x.RunOff.Usual && x.RunOff.Usual <= x.RunOff.High && x.RunOff.High <= 0.25, x.ID)
		mixes := 0
		for _, s := range x.Steps {
			assert.NotEmpty(t, s.Do, s.Name)
			assert.Len(t, technique.SafetyNotes(s.Safety...), len(s.Safety), "%s names a safety note that does not exist", s.Name)
			beats := 0.0
			for _, b := range s.Beats {
				beats += b.Part
			}
			if len(s.Beats) > 0 {
				assert.InDelta(t, 1, beats, 1e-9, "%s: the beats make up the zone", s.Name)
			}
			if s.Heats {
				assert.True(t, contains(s.Safety, "flame") || contains(s.Safety, "hotair"), "%s, %s: heat stands beside its caution", x.ID, s.Name)
			}
			if s.FlashOff > 0 {
				assert.True(t, contains(s.Safety, "alcohol") || contains(s.Safety, "ink") || contains(s.Safety, "spray"), "%s, %s", x.ID, s.Name)
			}
			if !s.BeforeMixing && !x.Between {
				assert.NotZero(t, clock(t, 45).Window(s.Window), "%s: %s", x.ID, s.Name)
			}
			if s.Name == technique.MixStep {
				mixes++
				assert.InDelta(t, 7, s.Minutes(technique.Job{Mix: 7}), 1e-9, "mixing takes the product's own time")
				assert.Contains(t, s.Safety, "gloves")
			}
		}
		if !x.Between {
			assert.Equal(t, 1, mixes, x.ID)
		}
	}
	assert.Len(t, technique.Library, 17, "every row of the trade's list; leaf, painted details and masked spray each by itself")
	assert.Len(t, technique.Library.Between(), 4)
	assert.Equal(t, "flood", technique.Library.Coats()[12].ID)
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

func contains(list []string, word string) bool {
	for _, w := range list {
		if w == word {
			return true
		}
	}
	return false
}

func TestZonesFollowTheFace(t *testing.T) {
	swipe, _ := technique.Find("swipe")
	for _, s := range swipe.Steps {
		if s.ZoneM2 > 0 {
			assert.Equal(t, 4, s.Zones(technique.Job{Face: 240_000}), "0.24 m² in zones of 0.06")
			assert.Equal(t, 1, s.Zones(technique.Job{Face: 1_000}))
		} else {
			assert.Equal(t, 1, s.Zones(technique.Job{Face: 240_000}))
		}
	}
}

func TestOwnTechniquesAreChecked(t *testing.T) {
	good, _ := technique.Find("flow")
	require.NoError(t, good.Check())
	for name, spoil := range map[string]func(*technique.Technique){
		"no name":        func(x *technique.Technique) { x.Name = "" },
		"no steps":       func(x *technique.Technique) { x.Steps = nil },
		"mixed twice":    func(x *technique.Technique) { x.Steps = append(x.Steps, x.Steps[1]) },
		"no such window": func(x *technique.Technique) { x.Steps[3].Window = "Dawn" },
		"endless":        func(x *technique.Technique) { x.Steps[3].Fixed = 1e6 },
	} {
		bad := good
		bad.Steps = append([]technique.Step(nil), good.Steps...)
		spoil(&bad)
		assert.Error(t, bad.Check(), name)
	}
}
