package plan_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/plan"
	"jevvo/internal/core/school"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/core/verdict"
)

// board returns a spec of the usual coats on a board of the size.
func board(ctx *plan.Context, w, h units.Length) plan.Spec {
	s := sealedTwice(ctx)
	s.Name, s.Width, s.Height = "Board", w, h
	return s
}

// An 18 × 18 in board at 1.6977 mm takes 12 US fl oz on its face (common
// practice), and 2:1 by volume of 1130 and 970 kg/m³ is weighed 2.330:1 (worked
// example: 2·1130/970).
func TestEighteenInchSwipe(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 18*units.Inch, 18*units.Inch)
	s.First().Coat.Amount = plan.Amount{Film: 1.6977}
	p := evaluate(t, ctx, s)
	assert.InDelta(t, 12, p.Coats[0].Amount.Face.FluidOunces(), 2e-3)
	assert.InDelta(t, 2.330, ctx.Products[1].ByWeight(), 5e-4)
	assert.Len(t, p.Coats, 3)
}

// draw makes a random spec of any support, outline, edge and technique.
func draw(rt *rapid.T, ctx *plan.Context) plan.Spec {
	s := board(ctx, units.Length(rapid.IntRange(80, 1500).Draw(rt, "w")),
		units.Length(rapid.IntRange(80, 1500).Draw(rt, "h")))
	rule := rapid.SampledFrom(surface.Supports).Draw(rt, "support")
	s.Support, s.Edge = rule.Support, rule.Edge
	s.Outline = rapid.SampledFrom([]plan.Outline{plan.Rectangle, plan.Round, plan.Oval, plan.Regular}).Draw(rt, "outline")
	s.Count = rapid.IntRange(1, 4).Draw(rt, "count")
	s.Sealed = rapid.Bool().Draw(rt, "sealed")
	s.Sides = rapid.SampledFrom([]surface.Sides{"run-over", "taped", "painted"}).Draw(rt, "sides")
	s.Room = units.Temperature(rapid.IntRange(12, 34).Draw(rt, "room"))
	coats := ctx.Book.Coats()
	for i := range s.Layers {
		l := &s.Layers[i]
		if l.Coat == nil {
			continue
		}
		before, _ := ctx.Book.Find(l.What)
		l.Retechnique(rapid.SampledFrom([]technique.Technique(coats)).Draw(rt, "technique"), before)
		l.Coat.Product = rapid.Int64Range(1, 2).Draw(rt, "product")
	}
	return s
}

// Over any spec: the cups make the coat, the batches hold at least the coat and no
// more than a batch may, each batch is used before it is too old, and shares are
// shares.
func TestCupsBatchesAndCoatAgree(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		p, err := plan.Evaluate(draw(rt, ctx), ctx, plan.Timing{})
		require.NoError(rt, err)
		for _, c := range p.Coats {
			v, a, b, share := 0.0, 0.0, 0.0, 0.0
			for _, cup := range c.Cups {
				v, a, b, share = v+float64(cup.Volume), a+float64(cup.A.Mass), b+float64(cup.B.Mass), share+cup.Share
			}
			if len(c.Cups) > 0 {
				assert.InDelta(rt, 1, share, 1e-9)
				assert.InDelta(rt, float64(c.Total), v, 1e-6*math.Max(1, v))
				assert.InDelta(rt, float64(c.A), a, 1e-6)
				assert.InDelta(rt, float64(c.B), b, 1e-6)
			}
			batches := 0.0
			for k, l := range c.Batches {
				batches += float64(l.Volume)
				assert.LessOrEqual(rt, float64(l.Volume), float64(c.LargestBatch)*1.02+1e-6)
				if k > 0 {
					assert.Greater(rt, l.Met, c.Batches[k-1].Met, "each lot has its own place on the clock")
				}
				assert.NotEmpty(rt, l.Feeds, "and feeds some cup")
			}
			assert.GreaterOrEqual(rt, batches, float64(c.Total)-1e-6)
		}
	})
}

// Every diagnostic is of a known part and weight, about a coat that is there.
func TestDiagnosticsAreWhole(t *testing.T) {
	ctx := context(t)
	parts := map[verdict.Part]bool{verdict.PartBrief: true}
	for _, part := range verdict.Parts {
		parts[part] = true
	}
	rapid.Check(t, func(rt *rapid.T) {
		p, err := plan.Evaluate(draw(rt, ctx), ctx, plan.Timing{})
		require.NoError(rt, err)
		for _, d := range p.Diagnostics() {
			assert.True(rt, parts[d.Part], "%s: %s", d.Code, d.Part)
			assert.Contains(rt, []verdict.Weight{verdict.Settled, verdict.Mind, verdict.Trouble}, d.Weight)
			if d.Coat != "" {
				assert.NotNil(rt, p.Coat(d.Coat), d.Code)
			}
		}
	})
}

// A later moment moves times and nothing else.
func TestTimingMovesOnlyTimes(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		p, err := plan.Evaluate(draw(rt, ctx), ctx, plan.Timing{})
		require.NoError(rt, err)
		later := p.At(plan.Timing{Starts: map[string]time.Time{p.Coats[0].ID: p.Coats[0].Start.AddDate(0, 0, 3)}})
		assert.Equal(rt, p.Coats[0].Start.AddDate(0, 0, 3), later.Coats[0].Start)
		for i := range p.Coats {
			assert.Equal(rt, p.Coats[i].Total, later.Coats[i].Total)
			assert.False(rt, later.Coats[i].Start.Before(p.Coats[i].Start))
		}
	})
}

// More film needs more resin.
func TestAThickerFilmTakesMore(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		s := board(ctx, 400, 500)
		film := units.Length(rapid.Float64Range(0.5, 4).Draw(rt, "film"))
		s.First().Coat.Amount = plan.Amount{Film: film}
		thin := evaluateIn(rt, ctx, s)
		s.First().Coat.Amount = plan.Amount{Film: film * 1.2}
		assert.Greater(rt, float64(evaluateIn(rt, ctx, s).Coats[0].Total), float64(thin.Coats[0].Total))
	})
}

func evaluateIn(rt *rapid.T, ctx *plan.Context, s plan.Spec) *plan.Plan {
	p, err := plan.Evaluate(s, ctx, plan.Timing{})
	require.NoError(rt, err)
	return p
}

// A volume typed for the coat or a cup is what comes out.
func TestTypedAmountsStay(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 500)
	s.First().Coat.Amount.Volume = 500
	s.First().Coat.Colours[1].Volume = 60
	s.First().Coat.Colours[1].Pigment, s.First().Coat.Colours[1].Mass = 1, 2.5
	p := evaluate(t, ctx, s)
	c := p.Coats[0]
	assert.InDelta(t, 500, float64(c.Total), 0.5)
	assert.InDelta(t, 60, c.Cup(s.First().Coat.Colours[1].ID).Share*float64(c.Poured), 0.5)
	assert.InDelta(t, 2.5, float64(c.Cup(s.First().Coat.Colours[1].ID).Pigment), 0.05)
}

// The drops that a cup is short of are those of its own pigment, also when the
// first of several is no longer among the materials.
func TestDropsAreOfThePigmentThatIsThere(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 500)
	c := &s.First().Coat.Colours[0]
	c.Pigment, c.Load, c.More = 99, 0.02, []plan.Dose{{Pigment: 1, Load: 0.002}}
	p := evaluate(t, ctx, s)
	for _, d := range p.Diagnostics() {
		if name, ok := d.Args["pigment"]; ok {
			assert.NotEmpty(t, name)
		}
	}
	assert.NotNil(t, p.Coats[0].Cup(c.ID))
}

// "Mix it later" goes by the cup's own last pour: a base that lies under
// everything is never mixed after it was poured.
func TestACupIsMixedBeforeItIsPoured(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		p := evaluateIn(rt, ctx, draw(rt, ctx))
		for i := range p.Coats {
			for _, cup := range p.InOrder(&p.Coats[i]) {
				assert.LessOrEqual(rt, cup.Later, cup.Need, "%s of %s", cup.Colour.Name, p.Coats[i].Technique.Name)
			}
		}
	})
}

// "Seal and prime first" is not said of a plan that seals.
func TestSealingThatIsPlannedIsNotAskedFor(t *testing.T) {
	ctx := context(t)
	s := board(ctx, 400, 500)
	s.Sealed = false
	for _, d := range evaluate(t, ctx, s).Diagnostics() {
		assert.NotEqual(t, verdict.FaceUnsealed, d.Code, "the usual plan primes a bare face")
	}
}

// Every way of every asked changes something of a plan: a question that is
// asked is read.
func TestEverySchoolChangesSomething(t *testing.T) {
	for _, asked := range school.Questions {
		if asked.Key == school.Measure || asked.Key == school.Tare {
			continue // how the weigh-out asks for the same amounts; tested there
		}
		outcomes := map[string]bool{}
		for _, way := range asked.Ways {
			ctx := context(t)
			ctx.Schools = school.Answers{asked.Key: way.Key}
			s := sealedTwice(ctx)
			s.Sealed, s.Support = false, surface.Panel
			s.First().Coat.Colours[0].Pigment, s.First().Coat.Colours[1].Pigment = 1, 2
			other := ctx.Pigments[1]
			other.ID, other.Maker, other.Name = 2, "two", "Slate"
			ctx.Pigments[2] = other
			if asked.Key == school.Tape {
				s.Sides = surface.SidesTaped
			}
			p := evaluate(t, ctx, s)
			outcomes[digest(p)] = true
		}
		assert.Greater(t, len(outcomes), 1, "%s is asked and changes nothing", asked.Question)
	}
}

// digest is what a painter would see of a plan.
func digest(p *plan.Plan) string {
	var b strings.Builder
	fmt.Fprintln(&b, p.Spec.Sides)
	for i := range p.Coats {
		c := &p.Coats[i]
		fmt.Fprintln(&b, c.Technique.Steps, c.Total, c.A, c.Met, c.Start, c.Silicone(), p.Steps(c), p.Preparation(c))
	}
	for _, x := range p.Tasks {
		fmt.Fprintln(&b, x)
	}
	for _, d := range p.Diagnostics() {
		fmt.Fprintln(&b, d.Code, d.Coat, d.Args)
	}
	return b.String()
}

// A layer put before another stands there among what the piece keeps; all others keep
// their order, and none is lost. (Dams that a coat brings by itself follow their coat.)
func TestLayersArePlaced(t *testing.T) {
	ctx := context(t)
	rapid.Check(t, func(rt *rapid.T) {
		spec := board(ctx, 400, 400)
		spec.Edge = rapid.SampledFrom([]surface.Edge{surface.Open, surface.Dam}).Draw(rt, "edge")
		ids := func(layers []plan.Layer) (out []string) {
			for _, l := range layers {
				out = append(out, l.ID)
			}
			return out
		}
		was := ids(spec.AllLayers(ctx))
		id := rapid.SampledFrom(was).Draw(rt, "layer")
		before := rapid.SampledFrom(append([]string{""}, was...)).Draw(rt, "before")
		require.NoError(rt, spec.PlaceLayer(ctx, id, before))
		undammed := func(of []string) []string {
			return slices.DeleteFunc(slices.Clone(of), func(x string) bool { return strings.HasPrefix(x, "dam") })
		}
		require.ElementsMatch(rt, undammed(was), undammed(ids(spec.AllLayers(ctx))))
		require.Len(rt, spec.AllLayers(ctx), len(was))
		kept := ids(spec.Layers)
		at := slices.Index(kept, id)
		switch before {
		case id:
		case "":
			require.Equal(rt, len(kept)-1, at)
		default:
			require.Equal(rt, before, kept[at+1])
		}
		rest := func(of []string) []string {
			return slices.DeleteFunc(slices.Clone(of), func(x string) bool { return x == id || !slices.Contains(kept, x) })
		}
		require.Equal(rt, rest(was), rest(kept))
		require.Error(rt, spec.PlaceLayer(ctx, "no such", ""))
	})
}
