package technique_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/technique"
)

// Every choice of every option changes the steps it names, and what comes of it
// is a technique that can be done; the usual choice is the technique as it stands.
func TestEveryChoiceChangesSomething(t *testing.T) {
	for _, x := range technique.Library {
		assert.Equal(t, x.Steps, x.Chosen(nil).Steps, "%s: the usual way is what the library says", x.ID)
		for _, o := range x.Options {
			require.GreaterOrEqual(t, len(o.Choices), 2, o.Name)
			for _, c := range o.Choices {
				done := x.Chosen(map[string]string{o.Key: c.Key})
				require.NoError(t, done.Check(), "%s, %s", x.ID, c.Words)
				for _, ch := range c.Changes {
					found := false
					for _, s := range x.Steps {
						found = found || s.ID == ch.Step
					}
					assert.True(t, found, "%s changes %q, which is no step", x.ID, ch.Step)
				}
				if c.Key != o.Choices[0].Key {
					assert.NotEqual(t, x.Steps, done.Steps, "%s, %s", x.ID, c.Words)
				}
			}
		}
	}
}

// Whatever is chosen and added, what is done before mixing comes before it, heat
// keeps its caution, and nothing flammable is laid without its flash-off.
func TestChoicesKeepTheRules(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		x := technique.Library[rapid.IntRange(0, len(technique.Library)-1).Draw(t, "technique")]
		if x.Between {
			return
		}
		choices := map[string]string{}
		for _, o := range x.Options {
			choices[o.Key] = o.Choices[rapid.IntRange(0, len(o.Choices)-1).Draw(t, o.Key)].Key
		}
		var extras []string
		for _, e := range technique.Extras {
			if rapid.Bool().Draw(t, e.ID) {
				extras = append(extras, e.ID)
			}
		}
		done := x.Chosen(choices).Also(extras)
		assert.NoError(t, done.Check())
		assert.Len(t, done.Steps, len(x.Chosen(choices).Steps)+len(extras))
		assert.Equal(t, x.Chosen(choices).Steps[len(x.Chosen(choices).Steps)-1].Name, done.Steps[len(done.Steps)-1].Name,
			"what ends the coat still ends it")
		for _, s := range done.Steps {
			if s.Heats {
				assert.True(t, contains(s.Safety, "flame") || contains(s.Safety, "hotair"), s.Name)
			}
			if contains(s.Adds, "alcohol") {
				assert.Positive(t, s.FlashOff, "%s lays alcohol", s.Name)
			}
		}
	})
}

// Times of the trade (common practice): about ten minutes until cells open, a
// quarter of an hour of rest before dragging, dots that take longer the closer
// they stand, alcohol gone in five minutes and solvent in ten, a stiff sheet
// sooner through than a limp one.
func TestTimesOfTheTrade(t *testing.T) {
	job := technique.Job{Face: 90_000, Cups: 3, Mix: 3}
	minutes := func(id, step string, choices map[string]string) float64 {
		x, ok := technique.Find(id)
		require.True(t, ok, id)
		for _, s := range x.Chosen(choices).Steps {
			if string(s.Name) == step {
				return s.Minutes(job)
			}
		}
		t.Fatalf("%s has no step %q", id, step)
		return 0
	}
	assert.InDelta(t, 10, minutes("cell", "Let it overturn", nil), 1e-9)
	assert.InDelta(t, 10, minutes("black-cells", "Let it open", nil), 1e-9)
	assert.InDelta(t, 5, minutes("mist", "Let it flash off", nil), 1e-9)
	assert.InDelta(t, 10, minutes("chains", "Let its solvent go", nil), 1e-9)
	near := minutes("dots", "Set the dots", map[string]string{"apart": "15"})
	far := minutes("dots", "Set the dots", map[string]string{"apart": "40"})
	assert.InEpsilon(t, 1600.0/225, (near-1)/(far-1), 1e-9, "as many as the square of their distance allows")
	assert.Less(t, minutes("swipe", "Swipe", map[string]string{"sheet": "stiff"}), minutes("swipe", "Swipe", nil))

	drag, _ := technique.Find("rested-drag")
	fit := drag.Lay(job, clock(t, 45))
	for _, s := range fit.Steps {
		if s.Name == "Drag" {
			assert.InDelta(t, 15, s.From, 6, "dragged about a quarter of an hour after mixing")
		}
	}
	glow, _ := technique.Find("glow")
	for _, s := range glow.Lay(job, clock(t, 45)).Steps {
		if s.Name == "Pour the glow" {
			assert.Less(t, s.From, 8.0, "glow powder is poured at once: only the cup settles (handbook 13, common practice)")
		}
	}
}

// Two or three people halve or third what grows with face and cups; waits, the
// product's mix time and what one pair of hands must do stay as they are.
func TestPeopleShareWhatCanBeShared(t *testing.T) {
	one, two := technique.Job{Face: 360_000, Cups: 4, Mix: 3, People: 1}, technique.Job{Face: 360_000, Cups: 4, Mix: 3,
		People: 2}
	for _, x := range technique.Library {
		for _, s := range x.Steps {
			alone, shared := s.Minutes(one), s.Minutes(two)
			grows := alone - s.Fixed
			if s.Mixes {
				grows -= 3
			}
			if s.Waiting || s.Alone || s.ZoneM2 > 0 {
				assert.InDelta(t, alone, shared, 1e-9, "%s: %s", x.ID, s.Name)
			} else {
				assert.InDelta(t, alone-grows/2, shared, 1e-9, "%s: %s", x.ID, s.Name)
			}
		}
	}
	flood, _ := technique.Find("flood")
	batches := []technique.Batch{{Feeds: []float64{0.5}}, {Feeds: []float64{0.5}}}
	one.Batches, two.Batches = batches, batches
	solo, crew := flood.Lay(one, clock(t, 45)), flood.Lay(two, clock(t, 45))
	assert.Less(t, crew.Ends, solo.Ends-3, "the second lot is mixed beside the first pour")
	assert.GreaterOrEqual(t, crew.Batches[1].Met, 3.0, "but not before the mixer has made the first")
	for _, s := range technique.Library[0].Steps {
		assert.Zero(t, s.Hands(1), "alone one does it all")
	}
}
