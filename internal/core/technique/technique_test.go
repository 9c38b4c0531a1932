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
			assert.Len(t, technique.SafetyNotes(s.Safety...), len(s.Safety), "%s names a safety note that does not exist",
				s.Name)
			beats := 0.0
			for _, b := range s.Beats {
				beats += b.Part
			}
			if len(s.Beats) > 0 {
				assert.InDelta(t, 1, beats, 1e-9, "%s: the beats make up the zone", s.Name)
			}
			if s.Heats {
				assert.True(t, contains(s.Safety, "flame") || contains(s.Safety, "hotair"),
					"%s, %s: heat stands beside its caution", x.ID, s.Name)
			}
			if s.FlashOff > 0 {
				assert.True(t, contains(s.Safety, "alcohol") || contains(s.Safety, "ink") || contains(s.Safety, "spray"), "%s, %s",
					x.ID, s.Name)
			}
			if !s.BeforeMixing && !x.Between {
				assert.NotZero(t, clock(t, 45).Window(s.Window), "%s: %s", x.ID, s.Name)
			}
			if s.Mixes {
				mixes++
				assert.InDelta(t, 7, s.Minutes(technique.Job{Mix: 7}), 1e-9, "mixing takes the product's own time")
				assert.Contains(t, s.Safety, "gloves")
			}
		}
		if !x.Between {
			assert.Equal(t, 1, mixes, x.ID)
		}
	}
	assert.Len(t, technique.Library, 23, "every row of the trade's list, each kind of work by itself")
	assert.Len(t, technique.Library.Between(), 4)
	coats := technique.Library.Coats()
	assert.Equal(t, "flood", coats[len(coats)-1].ID, "what seals comes last")
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
		if !s.AtOnce {
			assert.GreaterOrEqual(t, s.From, s.Window.From-1e-9, "%s waits for its window", s.Name)
		}
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

// Two batches of one coat each have a clock of their own: the second is mixed
// when the first is poured, and its windows lie as much later as its mixing began.
func TestEveryBatchHasItsOwnClock(t *testing.T) {
	flood, _ := technique.Find("flood")
	c := clock(t, 45)
	half := technique.Batch{Feeds: []float64{0.5}}
	job := technique.Job{Face: 400_000, Mix: 3, Batches: []technique.Batch{half, half}}
	fit := flood.Lay(job, c)
	require.Len(t, fit.Batches, 2)
	assert.Zero(t, fit.Batches[0].Met)
	assert.InDelta(t, 3+0.5*(1+16*0.4), fit.Batches[1].Met, 1e-9, "mixed for three minutes, then half of the flood poured")
	mixes, heated := 0, 0.0
	for _, s := range fit.Steps {
		if s.Mixes {
			assert.InDelta(t, fit.Batches[mixes].Met, s.From, 1e-9)
			assert.Equal(t, mixes, s.Batch)
			mixes++
		}
		if s.Batch < 0 && s.Window.To < 1e9 { // judged by all batches: the oldest closes first, the newest opens last
			assert.InDelta(t, c.Window(s.Step.Window).To-heated, s.Window.To, 1e-9, s.Name)
			assert.InDelta(t, c.Window(s.Step.Window).From+fit.Batches[1].Met-heated, s.Window.From, 1e-9, s.Name)
		}
		if s.Heats {
			heated += 1.4 // a pass warms 1.6 mm by 6 K, which cool away in three minutes
		}
	}
	assert.Equal(t, 2, mixes)
	one := flood.Lay(technique.Job{Face: 400_000, Mix: 3}, c)
	assert.InDelta(t, one.Ends+3, fit.Ends, 1e-9, "a second lot costs its own mixing")
}

// The schools of pouring change the steps: no bed drops the bed, thickening
// rests before the colours, at once waits for no window.
func TestSchoolsChangeTheSteps(t *testing.T) {
	swipe, _ := technique.Find("swipe")
	c := clock(t, 45)
	job := technique.Job{Face: 90_000, Cups: 4, Mix: 3}
	usual := swipe.Lay(job, c)
	bare := swipe.With(technique.Ways{NoBed: true}).Lay(job, c)
	assert.Len(t, bare.Steps, len(usual.Steps)-1)
	rested := swipe.With(technique.Ways{Thicken: true}).Lay(job, c)
	assert.Len(t, rested.Steps, len(usual.Steps)+1)
	for _, s := range rested.Steps {
		if s.Pours && !s.Bed {
			assert.GreaterOrEqual(t, s.From, c.Window(cure.Holding).From-1e-9, "poured when lines begin to hold")
		}
	}
	flow, _ := technique.Find("flow")
	assert.Equal(t, flow.Steps, flow.With(technique.Ways{NoBed: true}).Steps, "nothing to leave out")
}

// Every material a step adds is one the technique asks for, and is in the table.
func TestMaterialsAreAskedFor(t *testing.T) {
	for _, x := range technique.Library {
		asked := map[string]bool{}
		for _, n := range x.Needs {
			_, ok := technique.FindMaterial(n.Material)
			require.True(t, ok, n.Material)
			asked[n.Material] = true
		}
		for _, s := range x.Steps {
			for _, m := range s.Adds {
				assert.True(t, asked[m], "%s adds %s", x.ID, m)
			}
		}
		if !x.Between {
			assert.NotEmpty(t, x.Cups, x.ID)
			shares := 0.0
			for _, c := range x.Cups {
				shares += c.Share
				assert.Equal(t, c.Role.Rule().Tints, c.Load > 0, "%s: only clear carries no pigment", c.Name)
			}
			assert.InDelta(t, 1, shares, 1e-9, x.ID)
		}
	}
}
