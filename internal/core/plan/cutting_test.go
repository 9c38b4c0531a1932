package plan

import (
	"fmt"
	"math"
	"os"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/cure"
	"jevvo/internal/core/material"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/school"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
	"jevvo/internal/testsize"
)

func TestMain(m *testing.M) { os.Exit(testsize.Draws(m)) }

// bench is a studio for random coats: one resin, pigments with and without a
// flame near them.
func bench(t require.TestingT, working float64, room units.Temperature, most units.Volume) *Context {
	week, err := calendar.ParseWeek("mon-sun 08:00-20:00")
	require.NoError(t, err)
	product, err := material.Product{ID: 1, Name: "Bench", MixMinutes: 3, MaxBatch: most, Product: resin.Product{
		RatioA:         2,
		RatioB:         1,
		By:             resin.ByVolume,
		DensityA:       1130,
		DensityB:       970,
		Viscosity:      1000,
		WorkingMinutes: working,
		HardHours:      working / 2,
		Tolerance:      0.02,
	}}.Fitted()
	require.NoError(t, err)
	return &Context{
		Calendar:  calendar.Calendar{Week: week},
		Room:      room,
		ScaleStep: 0.1,
		JugStep:   5,
		CupLoss:   3,
		Products:  map[int64]material.Product{1: product},
		Pigments: map[int64]material.Pigment{1: {ID: 1, Form: colour.Paste, LoadLimit: 0.06, Liquid: 1400, Unseen: true},
			2: {ID: 2, Form: colour.Ink, LoadLimit: 0.04, Liquid: 850, Flammable: true, Unseen: true}},
		Book:    technique.Library,
		Spectra: &colour.Memo{},
		Surface: colour.Finish(1),
	}
}

// coats are the techniques that pour.
func coats() technique.Book { return technique.Library.Coats() }

// drawCoat is a piece of one coat: a technique, or a chain of moves of several.
func drawCoat(rt *rapid.T, ctx *Context) Spec {
	s := NewSpec(ctx, 1, time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC))
	side := units.Length(rapid.IntRange(100, 1200).Draw(rt, "side"))
	s.Width, s.Height = side, side
	tech := rapid.SampledFrom(coats()).Draw(rt, "technique")
	s.Layers[0] = NewCoat(ctx, FirstCoat, tech, 1, 1.6)
	c := s.Layers[0].Coat
	c.Amount.Volume = units.Volume(rapid.Float64Range(100, 5000).Draw(rt, "volume"))
	c.People = rapid.IntRange(1, 3).Draw(rt, "people")
	for i := range c.Colours {
		if c.Colours[i].Role.Rule().Tints {
			c.Colours[i].Pigment, c.Colours[i].Load = int64(rapid.IntRange(1, 2).Draw(rt, "pigment")), 0.02
		}
	}
	if rapid.Bool().Draw(rt, "chain") {
		c.Rounds = drawChain(rt, ctx, c, tech)
	}
	return s
}

// drawChain is the technique's own moves with others put in anywhere, some of
// which lay on what burns, and a part of one cup kept for later.
func drawChain(rt *rapid.T, ctx *Context, c *CoatSpec, tech technique.Technique) []technique.Round {
	rounds := ctx.done(c, tech).Template(cupRefs(c))
	free := []technique.MoveKind{
		technique.Swipe,
		technique.Tilt,
		technique.Draw,
		technique.Heat,
		technique.HotAir,
		technique.Rest,
		technique.Spray,
		technique.Dab,
		technique.Strew,
		technique.LookAt,
	}
	for i := range rapid.IntRange(1, 4).Draw(rt, "further moves") {
		m := technique.Move{
			ID:    fmt.Sprintf("x%d", i),
			Kind:  rapid.SampledFrom(free).Draw(rt, "move"),
			After: rapid.SampledFrom([]float64{0, 0, 5, 15}).Draw(rt, "after"),
		}
		r := rapid.IntRange(0, len(rounds)-1).Draw(rt, "round")
		at := rapid.IntRange(0, len(rounds[r].Moves)).Draw(rt, "place")
		rounds[r].Moves = slices.Insert(rounds[r].Moves, at, m)
	}
	first := &rounds[0].Moves[0]
	if first.Cup != "" && rapid.Bool().Draw(rt, "kept back") {
		first.Part = 0.7
		rounds = append(
			rounds,
			technique.Round{
				Moves: []technique.Move{{ID: "late", Kind: technique.Drizzle, Cup: first.Cup, Part: 0.3, After: 10}},
			},
		)
	}
	return rounds
}

// drawBench is a studio with a resin of any usual working time, in any usual room.
func drawBench(rt *rapid.T) *Context {
	return bench(
		rt,
		rapid.Float64Range(15, 90).Draw(rt, "working time"),
		units.Temperature(rapid.IntRange(10, 35).Draw(rt, "room")),
		units.Volume(rapid.IntRange(150, 1500).Draw(rt, "largest")),
	)
}

// The laws of batches over random coats: nothing is lost, everything is coloured
// before it is poured, and what stands too long is said.
func TestBatchesKeepTheirLaws(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		ctx := drawBench(rt)
		p, err := Evaluate(drawCoat(rt, ctx), ctx, Timing{})
		require.NoError(rt, err)
		c := &p.Coats[0]
		whole, of := units.Volume(0), map[string]units.Volume{}
		for i, l := range c.Batches {
			fed := units.Volume(0)
			for _, f := range l.Feeds {
				fed += f.Volume
				of[f.Cup] += f.Volume
			}
			whole += l.Volume
			assert.InEpsilon(rt, float64(l.Volume), float64(fed), 1e-9, "what is mixed is poured")
			if c.Mixing == school.MixingJug {
				assert.LessOrEqual(rt, l.Volume, p.largestBatch(c)*(1+brimful)+1e-6)
			}
			assert.GreaterOrEqual(rt, l.From, l.Met)
			coloured := l.Met
			for _, s := range c.Fit.Steps {
				if s.Batch == i && s.Colours {
					coloured = s.To
				}
				if s.Batch == i && s.Pours {
					assert.GreaterOrEqual(rt, s.From, coloured-1e-9, "coloured before it is poured")
				}
			}
			said := slices.ContainsFunc(p.Diagnostics(), func(d verdict.Diagnostic) bool {
				return d.Code == verdict.BatchStands
			})
			if l.Takes() > l.UseBy+1e-6 {
				assert.True(rt, said, "what stands too long is said")
			}
		}
		sum := units.Volume(0)
		for _, cup := range c.Cups {
			assert.InDelta(rt, float64(cup.Volume), float64(of[cup.Colour.ID]), 1e-6, "the parts of a cup are the cup")
			sum += cup.Volume
		}
		assert.InEpsilon(rt, float64(sum), float64(whole), 1e-9)
		noFlameNearWhatBurns(rt, p, c)
	})
}

// noFlameNearWhatBurns is the law of the flame lock, read off the steps of the day.
func noFlameNearWhatBurns(t assert.TestingT, p *Plan, c *Coat) {
	until := math.Inf(-1)
	for _, s := range p.Steps(c) {
		hot := s.Heats || slices.ContainsFunc(s.beats, func(b technique.Beat) bool { return b.Heats })
		if hot {
			assert.GreaterOrEqual(t, s.From, until-1e-9, "%s comes inside a flash-off", s.Name)
		}
		if s.FlashOff > 0 {
			until = math.Max(until, s.To+s.FlashOff)
		}
	}
}

// Nobody finds fewer batches than the cutting: every way to cut the coat into one
// less, on a grid of a twelfth and where cups end, lets some batch stand too long
// or makes it too large.
func TestNoFewerBatchesWouldDo(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		ctx := bench(
			rt,
			rapid.Float64Range(15, 60).Draw(rt, "working time"),
			units.Temperature(rapid.IntRange(12, 35).Draw(rt, "room")),
			units.Volume(rapid.IntRange(200, 900).Draw(rt, "largest")),
		)
		s := drawCoat(rt, ctx)
		s.Layers[0].Coat.People, s.Layers[0].Coat.Amount.Volume = 1, min(s.Layers[0].Coat.Amount.Volume, 2000)
		p, err := Evaluate(s, ctx, Timing{})
		require.NoError(rt, err)
		c := &p.Coats[0]
		if n := len(c.Batches); c.overdue() > 0 || n < 2 || n > 4 {
			return
		}
		k := &cutting{plan: p, coat: *c, clock: c.ClockIn(cure.Constant(c.Room))}
		k.keeps, k.pours, k.most = map[batchKey]float64{}, c.servings(), p.largestBatch(c)
		for _, serving := range k.pours {
			k.total += serving.Volume
			k.breaks = append(k.breaks, k.total)
		}
		grid := slices.Clone(k.breaks[:len(k.breaks)-1])
		for i := 1; i < 12; i++ {
			grid = append(grid, k.total*units.Volume(i)/12)
		}
		slices.Sort(grid)
		assert.False(rt, k.anyWay(grid, nil, len(c.Batches)-1), "%d batches would do", len(c.Batches)-1)
	})
}

// anyWay tries every way to end n batches on a grid.
func (k *cutting) anyWay(grid, cuts []units.Volume, n int) bool {
	if n == 1 {
		all := append(slices.Clone(cuts), k.total)
		before := units.Volume(0)
		for _, cut := range all {
			if cut-before > k.most+1e-6 || cut-before < 1 {
				return false
			}
			before = cut
		}
		return k.lay(all) == nil && k.coat.overdue() == 0
	}
	for i, g := range grid {
		if k.anyWay(grid[i+1:], append(slices.Clone(cuts), g), n-1) {
			return true
		}
	}
	return false
}

// More people never make a plan later.
func TestAnotherPersonNeverMakesItLater(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		ctx := drawBench(rt)
		s := drawCoat(rt, ctx)
		ends, stood := math.Inf(1), math.Inf(1)
		for people := 1; people <= 3; people++ {
			s.Layers[0].Coat.People = people
			p, err := Evaluate(s, ctx, Timing{})
			require.NoError(rt, err)
			c := &p.Coats[0]
			if c.overdue() >= stood-0.05 { // what stood too long comes first
				assert.LessOrEqual(rt, c.Fit.Ends, ends+1e-6, "%d people", people)
			}
			ends, stood = c.Fit.Ends, c.overdue()
		}
	})
}

// A litre in batches of at most 500 mL: three millilitres of a cup are no batch's own, and a cup that
// ends far from the middle is mixed in both.
func TestNoCupIsMixedTwiceForAFewDrops(t *testing.T) {
	for ends, cut := range map[units.Volume]units.Volume{497: 497, 508: 508, 491: 491, 470: 500, 540: 500} {
		k := cutting{plan: &Plan{Context: bench(t, 45, 21, 500)}, most: 500, total: 1000,
			breaks: []units.Volume{300, ends, 1000}}
		assert.Equal(t, []units.Volume{cut, 1000}, k.snapped(k.equal(2)), "a cup ends at %v", ends)
		k.plan.Context.Jug = 500
		assert.Equal(t, []units.Volume{500, 1000}, k.snapped(k.equal(2)), "a mixing cup of half a litre holds no more")
	}
}
