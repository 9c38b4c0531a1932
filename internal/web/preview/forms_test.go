package preview

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/studio/preview"
)

// A way goes through a form or an address and comes back as it was.
func TestWaysGoThroughForms(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		way := preview.Way{
			Seed:   rapid.Uint64Range(0, 1e9-1).Draw(rt, "seed"),
			Later:  float64(rapid.IntRange(0, 240).Draw(rt, "later")) / 2,
			Plain:  rapid.Bool().Draw(rt, "plain"),
			Turned: rapid.Bool().Draw(rt, "turned"),
			Fine:   rapid.Bool().Draw(rt, "fine"),
			Bed: rapid.SampledFrom(
				[]float64{0, 0.25, 1, 1.33, 4},
			).Draw(
				rt,
				"bed",
			),
			Wide: rapid.SampledFrom([]float64{0, 0.5, 1, 8}).Draw(rt, "wide"),
			White: rapid.Int64Range(
				0,
				1e6,
			).Draw(
				rt,
				"white",
			),
			Apart: rapid.Bool().Draw(rt, "apart"),
			Lean:  rapid.IntRange(0, 3).Draw(rt, "lean"),
			Order: rapid.SampledFrom([]string{"", "c2,c3", "c3,c1,c2"}).Draw(rt, "order"),
		}
		typed := map[string]string{}
		for field, values := range wayFields(way) {
			typed[field] = values[0]
		}
		again, err := wayOf(typed)
		if err != nil || again != way {
			rt.Fatalf("%+v became %+v by %v, %v", way, again, typed, err)
		}
	})
	way, err := wayOf(map[string]string{"seed": ""})
	require.NoError(t, err)
	assert.Equal(t, preview.Way{Seed: 1}, way, "of an empty form the first draw")
	for field, typed := range map[string]string{"seed": "-1", "later": "soon", "bed": "x"} {
		_, err := wayOf(map[string]string{field: typed})
		require.Error(t, err, field)
	}
}

// What runs off on the screen and what the plan counts on agree, or the page says how they
// do not and what to do with it.
func TestOneRunOff(t *testing.T) {
	for _, agree := range [][2]float64{{0, 0}, {10e-6, 12e-6}, {1e-6, 2.5e-6}, {100e-6, 75e-6}} {
		assert.Empty(t, unlike(agree[0], agree[1], units.Metric), "%v", agree)
	}
	assert.Contains(t, msg.Say(unlike(2e-6, 10e-6, units.Metric), msg.English), "8.00 mL more. Mix that much more")
	assert.Contains(t, msg.Say(unlike(7e-6, 0, units.Metric), msg.English), "here nothing does")
	assert.Contains(t, msg.Say(unlike(40e-6, 10e-6, units.Metric), msg.English), "30.0 mL less runs off")
}
