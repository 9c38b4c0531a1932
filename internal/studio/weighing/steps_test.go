package weighing

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/stock"
)

var noon = time.Date(2026, 3, 2, 12, 0, 0, 0, time.UTC)

// twoCups is a resin of 2 : 1 by weight that forgives 2 %, for a clear cup and one of two
// pigments.
func twoCups() Weighing {
	two := resin.Product{RatioA: 2, RatioB: 1, By: resin.ByWeight, DensityA: 1100, DensityB: 1000, Tolerance: 0.02}
	return Weighing{Product: material.Product{Product: two}, Resin: 3, Step: 0.1, Stage: Tare, Cups: []Cup{
		{Name: "Bed", PlanA: 40, PlanB: 20},
		{Name: "Dusk", PlanA: 20, PlanB: 10, Load: 0.1, Dyes: []Dye{
			{ID: 7, Name: msg.Store(msg.Own("White")), Load: 0.08, Limit: 0.1},
			{ID: 9, Name: msg.Store(msg.Own("Rust")), Load: 0.02}}},
	}}
}

// shown is the weigh-out after readings of a scale that was not zeroed between them.
func shown(t require.TestingT, w Weighing, readings ...units.Mass) Weighing {
	for _, r := range readings {
		require.NoError(t, w.Apply(Event{At: noon, What: "take", Reading: r}))
	}
	return w
}

// again is a copy that shares nothing.
func again(t require.TestingT, w Weighing) (out Weighing) {
	b, err := json.Marshal(w)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(b, &out))
	return out
}

// A cup goes from empty over part A and part B to its pigments, then the next comes; B is
// what the poured A asks for.
func TestACupGoesThroughItsStages(t *testing.T) {
	w := shown(t, twoCups(), 5)
	assert.Equal(t, Pouring, w.Stage)
	assert.Equal(t, resin.PartA, w.Need().Part)
	assert.False(t, w.Begun())
	w = shown(t, w, 55)
	assert.True(t, w.Begun())
	assert.Equal(t, resin.PartB, w.Need().Part)
	assert.InDelta(t, 25, float64(w.Need().Target), 1e-9, "half of the 50 that were poured")
	w = shown(t, w, 80)
	assert.Equal(t, 1, w.Cup, "no pigment, the next cup")
	assert.True(t, w.Cups[0].Finished)
	w = shown(t, w, 5, 25, 35)
	assert.Equal(t, Pigmenting, w.Stage)
	assert.Equal(t, 1, w.BatchesMixed())
	d := w.Look(35, true)
	assert.Equal(t, "White", msg.Say(d.What, msg.English))
	assert.InDelta(t, 2.4, float64(d.Target), 1e-9, "8 % of 30 g")
	assert.Empty(t, w.Took(), "nothing is booked while it goes on")
	w = shown(t, w, 37.4, 38)
	assert.Equal(t, Done, w.Stage)
	assert.InDelta(t, 50.0/1.1+25+20/1.1+10, float64(w.Mixed()), 1e-9)
	require.Error(t, w.Apply(Event{What: "take", Reading: 50}))
}

// Each pigment is booked as it was poured, not as it was planned beside the other.
func TestEachPigmentIsBookedAsPoured(t *testing.T) {
	w := shown(t, twoCups(), 5, 45, 65, 5, 25, 35, 36, 40)
	took := w.Took()
	assert.InDelta(t, 1, took[stock.Thing{Kind: store.Pigments, ID: 7}], 1e-9)
	assert.InDelta(t, 4, took[stock.Thing{Kind: store.Pigments, ID: 9}], 1e-9)
	assert.InDelta(t, float64(w.Mixed()), took[stock.Thing{Kind: store.Resins, ID: 3}], 1e-9)
	assert.Equal(t, []plan.WeighedCup{{Name: "Bed", Resin: 60}, {Name: "Dusk", Resin: 30, Dyes: []units.Mass{1, 4}}},
		w.Recipe())
	w.Resin = 0
	assert.Empty(t, w.Took(), "kept before there was a stock")
}

// A reading that cannot be is refused and leaves all as it was.
func TestAReadingThatCannotBe(t *testing.T) {
	for name, c := range map[string]struct {
		before  []units.Mass
		reading units.Mass
		says    string
	}{
		"an empty cup below nothing": {nil, -0.1, "less than before"},
		"nothing poured":             {[]units.Mass{5}, 5.19, "nothing has been poured"},
		"the flicker of the scale":   {[]units.Mass{5}, 4.81, "nothing has been poured"},
		"the cup is off":             {[]units.Mass{5, 45}, 44.8, "less than before"},
		"pigment below nothing":      {[]units.Mass{5, 45, 65, 5, 25, 35}, 34.9, "less than before"},
	} {
		w := shown(t, twoCups(), c.before...)
		was := again(t, w)
		require.ErrorContains(t, w.Apply(Event{What: "take", Reading: c.reading}), c.says, name)
		assert.Equal(t, was, again(t, w), name)
	}
	w := shown(t, twoCups(), 0, 0.2)
	assert.InDelta(t, 0.2, float64(w.Cups[0].A), 1e-12, "two steps are a pour")
}

// Taking back leads to where the step was taken from, over the cup before as well, and the
// same reading leads on again.
func TestTakingBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w := twoCups()
		for range rapid.IntRange(1, 30).Draw(t, "steps") {
			if w.Stage == Done {
				break
			}
			was, stage := again(t, w), w.Stage
			reading := w.Base + units.Mass(rapid.IntRange(1, 40).Draw(t, "grams"))
			w = shown(t, w, reading)
			if stage == Tare {
				continue
			}
			back := again(t, w)
			require.NoError(t, back.Apply(Event{What: "undo"}))
			require.Equal(t, was.Stage, back.Stage)
			require.Equal(t, was.Cup, back.Cup)
			require.InDelta(t, float64(was.Base), float64(back.Base), 1e-9)
			require.InDelta(t, float64(was.Cups[was.Cup].Content()), float64(back.Cups[was.Cup].Content()), 1e-9)
			require.False(t, back.Cups[was.Cup].Finished)
			require.Equal(t, again(t, w), again(t, shown(t, back, reading)))
		}
	})
}

// What is past its line is answered: more of the other part by the ratio, or a word that it is
// within what the product forgives; a pigment by its limit.
func TestPastTheLine(t *testing.T) {
	say := func(w Weighing, reading units.Mass) string {
		d := w.Look(reading, true)
		require.Equal(t, resin.PourOver, d.Pour)
		return msg.Say(d.Advice, msg.English)
	}
	a := shown(t, twoCups(), 5)
	assert.Contains(t, say(a, 48.9), "part B is then calculated")
	assert.Contains(t, say(a, 50.2), "the batch becomes 67.8 g with 22.6 g of part B, 13 % more", "45.2 of 40")
	b := shown(t, a, 45)
	assert.Contains(t, say(b, 65.3), "Within the ±2 %")
	assert.Contains(t, say(b, 75), "add 20.0 g of part A: the cup becomes 90.0 g", "30 of B want 60 of A")
	dye := shown(t, twoCups(), 5, 45, 65, 5, 25, 35)
	assert.Contains(t, say(dye, 38), "10 % of the cup now; its limit is 10 %")
	assert.Contains(t, say(dye, 41), "Add 30.0 g of mixed resin", "6 g at 10 % are 60")
	dye.Cups[1].Flammable = true
	assert.Contains(t, say(dye, 41), "no flame")
}

// What a scale displays, by how it is zeroed: the pour alone, or all that stands on it.
func TestTypedByTheWayOfZeroing(t *testing.T) {
	for _, c := range []struct {
		tares   string
		display string
		net     units.Mass
	}{{"", "20", 20}, {school.TareOnce, "60", 20}, {school.TareNever, "65", 20}} {
		w := twoCups()
		w.Tares = c.tares
		empty, err := w.Typed("5 g")
		require.NoError(t, err)
		w = shown(t, w, empty)
		w = shown(t, w, w.Base+40)
		assert.InDelta(t, float64(c.net), float64(w.Look(w.Base, true).Target), 1e-9)
		reading, err := w.Typed(c.display)
		require.NoError(t, err)
		assert.InDelta(t, float64(c.net), float64(reading-w.Base), 1e-9, c.tares)
	}
	for _, wrong := range []string{"-3", "−3", "", "50.1 kg", "a cup"} {
		_, err := shown(t, twoCups(), 5).Typed(wrong)
		require.Error(t, err, wrong)
	}
	never := twoCups()
	never.Tares = school.TareNever
	_, err := never.Typed("50.1 kg")
	require.ErrorContains(t, err, "a cup weighs less")
}

// By the marks of a jug a part is its volume, one on the other where the jug is not emptied.
func TestTypedByMarks(t *testing.T) {
	w := twoCups()
	w.ByVolume = true
	w = shown(t, w, 0)
	reading, err := w.Typed("100")
	require.NoError(t, err)
	assert.InDelta(t, 110, float64(reading), 1e-9, "100 mL at 1.1")
	w.Tares = school.TareOnce
	w = shown(t, w, reading)
	d := w.Look(w.Base, true)
	assert.InDelta(t, 100+55, float64(d.Mark), 1e-9)
	reading, err = w.Typed("155 ml")
	require.NoError(t, err)
	assert.InDelta(t, 55, float64(reading-w.Base), 1e-9)
}
