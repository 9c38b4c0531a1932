package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
)

func dammed(ctx *plan.Context, film units.Length) plan.Spec {
	s := board(ctx, 300, 200)
	s.Edge, s.EdgeHeight = surface.Dam, 6
	s.First().Coat.Amount.Film = film
	return s
}

func tapeStep(t *testing.T, p *plan.Plan) plan.Step {
	t.Helper()
	for _, s := range p.Steps(&p.Coats[0]) {
		if s.Kind == plan.StepTape {
			return s
		}
	}
	t.Fatal("no tape comes off")
	return plan.Step{}
}

// Tape comes off when the coat says so: at its minutes, at soft set, next day;
// in the plan's steps and in the days alike.
func TestTapeOfItsOwnCoat(t *testing.T) {
	ctx := context(t)
	s := dammed(ctx, 2.5)
	s.First().Coat.Tape, s.First().Coat.TapeAfter = school.TapeMinutes, 90
	p := evaluate(t, ctx, s)
	assert.InDelta(t, p.Coats[0].Fit.Ends+90, tapeStep(t, p).From, 1e-9)
	for _, task := range p.Tasks {
		if task.Key == plan.TapeKey(plan.FirstCoat) {
			assert.True(t, task.Waits[0].Min <= 90 && task.Waits[0].Max >= 90, "%+v", task.Waits)
		}
	}
	s.First().Coat.Tape = school.TapeNext
	p = evaluate(t, ctx, s)
	assert.Equal(t, cure.Hard, tapeStep(t, p).Window)
	assert.Contains(t, tapeStep(t, p).Safety, "hotair")
	s.First().Coat.TapeFirst = plan.East
	p = evaluate(t, ctx, s)
	carried := p.Carries(&p.Coats[0], tapeStep(t, p))
	require.Len(t, carried, 1)
	assert.Equal(t, []plan.Compass{plan.East, plan.West, plan.South, plan.North}, carried[0].Sides,
		"the first side, then the one across, the other two last (handbook 13, common practice)")
}

// A film deeper than an edge keeps runs over the side that is let go first, the
// sooner the farther; what stands by itself, or has gelled, stays.
func TestTheSideLetGoFirst(t *testing.T) {
	ctx := context(t)
	drift := func(film units.Length, way string, after float64) *plan.TapeForecast {
		s := dammed(ctx, film)
		c := s.First().Coat
		c.Tape, c.TapeAfter, c.TapeFirst = way, after, plan.North
		p := evaluate(t, ctx, s)
		return p.TapeForecast(&p.Coats[0])
	}
	early, late := drift(2.5, school.TapeMinutes, 10), drift(2.5, school.TapeMinutes, 80)
	require.NotNil(t, early)
	assert.Greater(t, early.Drift, late.Drift)
	assert.Greater(t, late.Drift, units.Length(0))
	assert.InDelta(t, float64(early.Runs)*2.5*300/1000, float64(early.Volume), 1e-6, "mL over the 300 mm of that side")
	assert.Zero(t, drift(2.5, school.TapeSoft, 0).Drift, "soft set is past gel")
	assert.Zero(t, drift(1.5, school.TapeMinutes, 10).Drift, "1.5 mm stands by itself (puddle height 1.63 mm)")
	s := dammed(ctx, 2.5)
	p := evaluate(t, ctx, s)
	assert.Nil(t, p.TapeForecast(&p.Coats[0]), "nothing was chosen")
}

// Tape that is never renewed locks in, and many coats behind tape build a ridge.
func TestTapeBuildsUp(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 300, 200)
	s.Sides, s.Depth = surface.SidesTaped, 20
	usual := evaluate(t, ctx, s)
	has := func(p *plan.Plan, code verdict.Code) bool {
		for _, d := range p.Diagnostics() {
			if d.Code == code {
				return true
			}
		}
		return false
	}
	assert.False(t, has(usual, verdict.TapeLocked), "the usual plan tapes each coat anew")
	assert.True(t, has(usual, verdict.TapeBuilds), "three coats")
	s.OwnLayers(ctx)
	kept := s.Layers[:0]
	taped := false
	for _, l := range s.Layers {
		if l.What == "tape" {
			if taped {
				continue
			}
			taped = true
		}
		kept = append(kept, l)
	}
	s.Layers = kept
	assert.True(t, has(evaluate(t, ctx, s), verdict.TapeLocked))
}

// A step of the painter's own stands anywhere, takes its minutes and dries before
// what follows; the plan says nothing against it.
func TestAStepOfOnesOwn(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 300, 200)
	id, err := s.AddLayer(ctx, plan.OwnStepID)
	require.NoError(t, err)
	*s.Layer(id).Step = plan.OwnStep{Name: "Scratch the tide line", Note: "With the copper comb.", Minutes: 25, Dry: 180,
		Caution: "It is sharp.", Swatch: "#aabbcc"}
	for range 5 { // before everything
		s.MoveLayer(ctx, id, false)
	}
	p := evaluate(t, ctx, s)
	task := p.Task(id + ":1")
	require.NotNil(t, task)
	assert.Equal(t, 25, task.Hands)
	assert.Contains(t, task.Do, "Caution: It is sharp.")
	pour := p.Task(plan.PourKey(plan.FirstCoat))
	found := false
	for _, w := range pour.Waits {
		found = found || (p.Tasks[w.After].Key == task.Key && w.Min == 180)
	}
	assert.True(t, found, "the pour waits until it is dry")
	for range 9 { // and at the end
		s.MoveLayer(ctx, id, true)
	}
	p = evaluate(t, ctx, s)
	hard := false
	for _, w := range p.Task(id + ":1").Waits {
		hard = hard || w.Why == plan.WhyFirm
	}
	assert.True(t, hard, "over resin it waits until that is print-free")
	for _, d := range p.Diagnostics() {
		assert.NotContains(t, []verdict.Code{verdict.WorkUnsealed, verdict.WorkBefore}, d.Code)
	}
}

// Tape that comes off while it still runs lets resin down the sides: they take
// their film from the coat, are judged, and are fed by hand (handbook 13, common
// practice).
func TestTapePulledWhileItRuns(t *testing.T) {
	ctx := context(t)
	s := dammed(ctx, 2.5)
	s.Depth = 20
	kept := evaluate(t, ctx, s)
	assert.Zero(t, kept.Coats[0].Amount.Sides, "behind tape nothing goes down the sides")
	s.First().Coat.Tape = school.TapeRuns
	p := evaluate(t, ctx, s)
	c := &p.Coats[0]
	area := 2 * (300 + 200) * 20.0 // mm²
	assert.Greater(t, c.Side.Mean, units.Length(0))
	assert.InEpsilon(t, area*float64(c.Side.Mean)/1000, float64(c.Amount.Sides), 0.02, "mL: the sides times their film")
	assert.Zero(t, c.Amount.Wall, "no meniscus stays at a tape that is gone")
	assert.InDelta(t, c.Fit.Ends, tapeStep(t, p).From, 1e-9)
	assert.NotNil(t, said(p, verdict.SidesFed))
	s.First().Coat.TapeAfter = 15
	later := evaluate(t, ctx, s)
	assert.Greater(t, later.Coats[0].Side.Mean, c.Side.Mean, "the later it is let go, the more stays")
	for _, task := range later.Tasks {
		if task.Key == plan.TapeKey(plan.FirstCoat) {
			assert.Equal(t, 15, task.Waits[0].Min)
		}
	}
}
