package bench_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/studio/bench"
	"jevvo/internal/studio/session"
	"jevvo/internal/studio/weighing"
	"jevvo/internal/studiotest"
	"jevvo/internal/testsize"
)

// However the scale is zeroed, and whenever the cups are coloured, the same is
// weighed: the display differs, the amounts do not.
func TestEveryWayOfWeighingGivesTheSameCups(t *testing.T) {
	for _, colouring := range []string{school.ColourAfter, school.ColourDosed, school.ColourPartA} {
		for _, way := range []string{school.TareEach, school.TareOnce, school.TareNever} {
			t.Run(colouring+" "+way, func(t *testing.T) {
				r := studiotest.Open(t)
				r.School(school.Tare, way)
				r.School(school.Colour, colouring)
				p := r.Piece(map[string]string{"coat.first.mixing": school.MixingCups, "size": "30 x 20 cm"})
				w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
				require.NoError(t, err)
				w = (&studiotest.Painter{Way: way}).Weigh(r, w)
				assert.InDelta(t, -float64(w.Mixed()), r.Have(t, studiotest.ResinOf(p.Spec)), 1e-6,
					"what was weighed has left the stock, once")
				if way == school.TareEach { // and the same once more, for a coat that went wrong
					again, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
					require.NoError(t, err)
					again = (&studiotest.Painter{Way: way}).Weigh(r, again)
					assert.InDelta(t, -float64(w.Mixed()+again.Mixed()), r.Have(t, studiotest.ResinOf(p.Spec)), 1e-6,
						"weighed twice it took twice")
				}
				var a, b, dye units.Mass
				for _, c := range w.Cups {
					a, b, dye = a+c.A-c.Held, b+c.B, dye+c.Pigment
				}
				c := r.Plan(p).Coat(plan.FirstCoat)
				want := units.Mass(0)
				for _, cup := range c.Cups {
					want += cup.Resin() * units.Mass(cup.Colour.TotalLoad())
				}
				assert.InDelta(t, c.A.Grams(), a.Grams(), 0.3)
				assert.InDelta(t, c.B.Grams(), b.Grams(), 0.3)
				assert.InDelta(t, want.Grams(), dye.Grams(), 0.1)
			})
		}
	}
}

// Cups that are coloured ahead come first, and the clock of the first batch does
// not run before B is there.
func TestColouringAheadComesFirst(t *testing.T) {
	r := studiotest.Open(t)
	r.School(school.Colour, school.ColourPartA)
	p := r.Piece(map[string]string{})
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	for range 100 {
		if w.Current().Only == weighing.OnlyB {
			break
		}
		if w.Stage == weighing.Tare {
			w, err = r.Bench.Tare(r.Ctx(), w.ID, w.Rev, "")
		} else {
			w, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev, form.MassText(w.Look(w.Base, true).Target))
		}
		require.NoError(t, err)
	}
	require.Equal(t, weighing.OnlyB, w.Current().Only)
	b, err = r.Bench.Log().Bench(r.Ctx(), b.ID, false)
	require.NoError(t, err)
	assert.Empty(t, b.BatchesMixed(), "part A keeps with its pigment in it")
	w, err = r.Bench.Tare(r.Ctx(), w.ID, w.Rev, "")
	require.NoError(t, err)
	assert.InDelta(t, (w.Current().Held * units.Mass(w.Product.WeightRatio())).Grams(), w.Look(0, true).Target.Grams(),
		1e-9, "B goes by the A that is really in the cup")
	_, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev, form.MassText(w.Look(0, true).Target))
	require.NoError(t, err)
	b, err = r.Bench.Log().Bench(r.Ctx(), b.ID, false)
	require.NoError(t, err)
	assert.Len(t, b.BatchesMixed(), 1, "and now it runs")
	before := r.Plan(p).Coat(plan.FirstCoat).Fit.Ends
	r.School(school.Colour, school.ColourAfter)
	assert.Less(t, before, r.Plan(
		r.Piece(map[string]string{"name": "After", "coat.first.mixing": school.MixingCups})).Coat(
		plan.FirstCoat).Fit.Ends,
		"what is done ahead does not cost the resin's minutes")
}

// Taking back goes to what the record says is in the cup, the cup's own weight
// with it.
func TestTakingBackKnowsTheCup(t *testing.T) {
	r := studiotest.Open(t)
	r.School(school.Tare, school.TareNever)
	w, err := r.Bench.StartWeighing(r.Ctx(), r.Piece(map[string]string{}).ID, plan.FirstCoat)
	require.NoError(t, err)
	w, err = r.Bench.Tare(r.Ctx(), w.ID, w.Rev, "9,5 g")
	require.NoError(t, err)
	reach := w.Look(w.Base, true).Reach
	assert.InDelta(t, 9.5+w.Cups[0].PlanA.Grams(), reach.Grams(), 1e-9)
	w, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev, form.MassText(reach))
	require.NoError(t, err)
	w, err = r.Bench.Log().UndoWeighing(r.Ctx(), w.ID, w.Rev)
	require.NoError(t, err)
	assert.InDelta(t, reach.Grams(), w.Look(w.Base, true).Reach.Grams(), 1e-9)
	for _, text := range []string{"-3.2", "−4 g", "5 g"} { // the cup was lifted off, or is not the same
		_, err = r.Bench.Typed(r.Ctx(), w.ID, w.Rev, text)
		assert.ErrorContains(t, err, "less than before", text)
	}
	_, err = r.Bench.Log().SetTares(r.Ctx(), w.ID, w.Rev, school.TareEach)
	assert.ErrorContains(t, err, "finish this cup first")
}

// Pigment goes in as its bottle gives it: counted drops and spoons are an amount
// whatever the display shows, grams are the display.
func TestPigmentIsCountedOrWeighed(t *testing.T) {
	b := material.Bottle{Drop: 0.06 * units.Gram, Liquid: 1200}
	for text, want := range map[string]units.Mass{"12 drops": 0.72, "1 mL": 1.2, "0.7 g": 0.7, "0,7": 0.7,
		"1/4 tsp": 1.4786764782} {
		m, counted, err := b.Amount(text)
		require.NoError(t, err, text)
		assert.InDelta(t, want.Grams(), m.Grams(), 1e-9, text)
		assert.Equal(t, text != "0.7 g" && text != "0,7", counted, text)
	}
	spoon := material.Bottle{Spoon: 2.4 * units.Gram}
	m, counted, err := spoon.Amount("1/4 tsp")
	require.NoError(t, err)
	assert.True(t, counted)
	assert.InDelta(t, 0.6, m.Grams(), 1e-9)
}

// A coat that was weighed out before its bench day was opened is as old as its parts
// are; another day of it begins with fresh resin, and a rehearsal knows nothing of it.
func TestAWeighOutStartsTheClockOfTheDayThatFollows(t *testing.T) {
	testsize.Sequential(t)
	for _, mixing := range []string{school.MixingJug, school.MixingCups} {
		r := studiotest.Open(t)
		p := r.Piece(map[string]string{"coat.first.mixing": mixing, "size": "30 x 20 cm"})
		w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
		require.NoError(t, err)
		weighedAt := r.Clock.T
		begun, err := r.Bench.Start(r.Ctx(), r.Piece(map[string]string{"name": "Another"}).ID, plan.FirstCoat, 0,
			bench.Answers{Anyway: true})
		require.NoError(t, err)
		_, err = r.Bench.StartWeighing(r.Ctx(), begun.PieceID, plan.FirstCoat)
		require.NoError(t, err)
		assert.Nil(t, r.Look(begun).Weighed, "nothing is weighed yet")
		w = (&studiotest.Painter{Way: school.TareEach}).Weigh(r, w)
		r.Clock.T = r.Clock.T.Add(5 * time.Minute)

		rehearsed, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 10, bench.Answers{})
		require.NoError(t, err)
		assert.Empty(t, rehearsed.BatchesMixed())

		b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
		require.NoError(t, err)
		require.NotEmpty(t, b.BatchesMixed())
		assert.WithinDuration(t, weighedAt, b.BatchesMixed()[0], time.Second)
		v := r.Look(b)
		assert.InDelta(t, 5, v.Mixed[0].Minutes, 0.1)
		require.NotNil(t, v.Weighed)
		assert.Equal(t, w.ID, v.Weighed.ID)

		b, err = r.Bench.Log().Press(r.Ctx(), b.ID, 0, false, session.Close)
		require.NoError(t, err)
		require.True(t, b.Done)
		again, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
		require.NoError(t, err)
		require.NotEqual(t, b.ID, again.ID)
		assert.Empty(t, again.BatchesMixed(), "what was weighed was poured on the first day")
	}
}

// What has set since it was weighed is not what a bench day begins with.
func TestAWeighOutThatHasSetStartsNoClock(t *testing.T) {
	r := studiotest.Open(t)
	p := r.Piece(map[string]string{"size": "30 x 20 cm"})
	w, err := r.Bench.StartWeighing(r.Ctx(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	(&studiotest.Painter{Way: school.TareEach}).Weigh(r, w)
	r.Clock.T = r.Clock.T.Add(9 * time.Hour)
	b, err := r.Bench.Start(r.Ctx(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	assert.Empty(t, b.BatchesMixed())
	assert.Zero(t, b.Cursor())
}
