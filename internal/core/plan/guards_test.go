package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
)

func codes(guards []plan.Guard) map[verdict.Code]string {
	out := map[verdict.Code]string{}
	for _, g := range guards {
		out[g.Code] = g.Key
	}
	return out
}

// ready is a board with nothing open: prepared, level, within hours, resin there.
func ready(t *testing.T) (plan.Spec, *plan.Context, plan.Timing, plan.Facts) {
	t.Helper()
	ctx := context(t)
	facts := plan.Facts{Now: monday, Level: plan.LevelFact{At: monday, Enough: true}, Resins: map[int64]units.Volume{},
		Pigments: map[int64]units.Mass{}}
	for id := range ctx.Products {
		facts.Resins[id] = 20 * units.Litre
	}
	for id := range ctx.Pigments {
		facts.Pigments[id] = 5000
	}
	s := board(ctx, 300, 200)
	timing := plan.Timing{Happened: map[string]plan.Happened{}}
	for _, task := range evaluate(t, ctx, s).Tasks {
		if task.Kind == plan.TaskPrepare {
			timing.Happened[task.Key] = plan.Happened{End: monday.AddDate(0, 0, -4), Done: true}
		}
	}
	return s, ctx, timing, facts
}

func guardsOf(t *testing.T, s plan.Spec, ctx *plan.Context, timing plan.Timing, coat string,
	f plan.Facts) map[verdict.Code]string {
	t.Helper()
	p, err := plan.Evaluate(s, ctx, timing)
	require.NoError(t, err)
	return codes(p.Guards(coat, f))
}

// Nothing is asked where nothing is open; each thing that is, is asked for.
func TestGuardsBeforeTheFirstStep(t *testing.T) {
	s, ctx, timing, facts := ready(t)
	assert.Empty(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, facts))

	bare := timing
	bare.Happened = nil
	assert.Contains(t, guardsOf(t, s, ctx, bare, plan.FirstCoat, facts), plan.GuardUndone)

	wet := plan.Timing{Happened: map[string]plan.Happened{}}
	for key := range timing.Happened {
		wet.Happened[key] = plan.Happened{End: monday.Add(-time.Hour), Done: true}
	}
	got := guardsOf(t, s, ctx, wet, plan.FirstCoat, facts)
	assert.Contains(t, got, plan.GuardDries, "paint dries a day before resin (common practice)")
	assert.NotContains(t, got, plan.GuardUndone)

	unread := facts
	unread.Level = plan.LevelFact{}
	assert.Contains(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, unread), plan.GuardUnread)
	tilted := facts
	tilted.Level = plan.LevelFact{At: monday, Drop: 2 * units.Millimetre}
	assert.Contains(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, tilted), plan.GuardTilted)

	evening := facts
	evening.Now = monday.Add(10*time.Hour + 50*time.Minute) // 19:50, and the studio shuts at 20:00
	evening.Level.At = evening.Now
	assert.Contains(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, evening), plan.GuardShuts)

	short := facts
	short.Resins = map[int64]units.Volume{s.Layers[0].Coat.Product: 10}
	assert.Contains(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, short), plan.GuardResin)
	never := facts
	never.Resins = nil
	assert.NotContains(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, never), plan.GuardResin,
		"what was never counted is not short")

	old := facts
	old.Old = map[int64]bool{s.Layers[0].Coat.Product: true}
	assert.Contains(t, guardsOf(t, s, ctx, timing, plan.FirstCoat, old), plan.GuardOld)

	s.Sealed, s.Support, s.Own = false, surface.Panel, true
	assert.Contains(t, guardsOf(t, s, ctx, plan.Timing{}, plan.FirstCoat, facts), plan.GuardSealed)
}

// Over another coat: not before it is tacky, not between tacky and hard, scuffed
// when it is hard, degreased when it holds silicone; by the school's own step, or
// asked for.
func TestGuardsOverAnotherCoat(t *testing.T) {
	s, ctx, timing, facts := ready(t)
	first := evaluate(t, ctx, s).Coats[0]
	timing.Happened[plan.PourKey(plan.FirstCoat)] = plan.Happened{Start: monday, Met: monday.Add(first.Prep),
		End: monday.Add(2 * time.Hour), Done: true}
	p, err := plan.Evaluate(s, ctx, timing)
	require.NoError(t, err)
	tacky, hard := p.Coats[0].Windows[cure.Tacky], p.Coats[0].Windows[cure.Hard]
	at := func(moment time.Time, way string) map[verdict.Code]string {
		f := facts
		f.Now, f.Level.At = moment, moment
		of := *ctx
		of.Schools = school.Answers{school.Recoat: way}
		return guardsOf(t, s, &of, timing, plan.SecondCoat, f)
	}
	for _, way := range []string{school.RecoatScuff, school.RecoatTacky, school.RecoatPlain} {
		assert.Contains(t, at(tacky.From.Add(-time.Hour), way), plan.GuardBelow, way)
		assert.NotContains(t, at(tacky.From.Add(time.Minute), way), plan.GuardBelow, way)
	}
	for _, way := range []string{school.RecoatTacky, school.RecoatPlain} {
		assert.Contains(t, at(tacky.To.Add(time.Minute), way), plan.GuardBelow, "firm and not scuffed: wait for hard")
		assert.Contains(t, at(tacky.To.Add(-time.Minute), way), plan.GuardTacky, "it closes before the parts can meet")
	}
	assert.NotContains(t, at(tacky.To.Add(time.Minute), school.RecoatScuff), plan.GuardBelow,
		"scuffed once it is firm, overnight to a day (handbook 13, common practice)")
	next := hard.From.Add(time.Hour)
	assert.NotContains(t, at(next, school.RecoatScuff), plan.GuardScuff, "scuffing is the first step of such a studio")
	assert.Contains(t, at(next, school.RecoatPlain), plan.GuardScuff)
	assert.Contains(t, at(next, school.RecoatTacky), plan.GuardScuff, "the tacky hours are over")

	delete(timing.Happened, plan.PourKey(plan.FirstCoat))
	assert.Contains(t, at(next, school.RecoatScuff), plan.GuardUnmade)
}

// A studio that recoats in the tacky hours and cannot keep them waits for hard,
// and then scuffs and wipes like everybody else: in the steps and in the days.
func TestMissedTackyHoursAreScuffed(t *testing.T) {
	ctx := context(t)
	ctx.Schools = school.Answers{school.Recoat: school.RecoatTacky}
	s := board(ctx, 300, 200)
	steps := func(timing plan.Timing) (names []string) {
		p, err := plan.Evaluate(s, ctx, timing)
		require.NoError(t, err)
		for _, step := range p.Steps(&p.Coats[1]) {
			names = append(names, msg.Say(step.Name, msg.English))
		}
		return names
	}
	assert.NotContains(t, steps(plan.Timing{}), "Scuff and wipe")
	assert.Contains(t, steps(plan.Timing{LooseRecoat: true}), "Scuff and wipe")
}
