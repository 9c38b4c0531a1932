package propose_test

import (
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/propose"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
)

var monday = time.Date(2026, 3, 2, 8, 0, 0, 0, time.UTC)

func poured(t require.TestingT, tech string) *plan.Plan {
	week, err := calendar.ParseWeek("mon-sat 08:00-20:00")
	require.NoError(t, err)
	product, err := material.Product{ID: 1, Name: "Bench 45", MixMinutes: 3, MaxBatch: 600, Product: resin.Product{
		RatioA:         2,
		RatioB:         1,
		By:             resin.ByVolume,
		DensityA:       1130,
		DensityB:       970,
		Viscosity:      1000,
		WorkingMinutes: 45,
		HardHours:      24,
		Tolerance:      0.02,
	}}.Fitted()
	require.NoError(t, err)
	ctx := &plan.Context{
		Calendar:  calendar.Calendar{Week: week},
		Room:      21,
		ScaleStep: 0.1,
		JugStep:   5,
		CupLoss:   3,
		Products: map[int64]material.Product{
			1: product,
		},
		Pigments: map[int64]material.Pigment{},
		Book:     technique.Library,
		Spectra:  &colour.Memo{},
		Surface:  colour.Finish(1),
	}
	s := plan.NewSpec(ctx, 1, monday)
	s.Asked = true
	of, _ := technique.Find(tech)
	s.Layers = []plan.Layer{plan.NewCoat(ctx, plan.FirstCoat, of, 1, 1.6)}
	p, err := plan.Evaluate(s, ctx, plan.Timing{})
	require.NoError(t, err)
	return p
}

func accents(p *plan.Plan) []plan.Colour {
	var out []plan.Colour
	for _, c := range p.Coats[0].Layer.Coat.Colours {
		if c.Role == technique.Accent {
			out = append(out, c)
		}
	}
	return out
}

func of(p *plan.Plan, marks ...propose.Mark) map[string]propose.Proposal {
	out := map[string]propose.Proposal{}
	for _, x := range propose.Of(p, &p.Coats[0], marks) {
		out[x.ID] = x
	}
	return out
}

func codes(p propose.Proposal) []propose.Code {
	var out []propose.Code
	for _, r := range p.Reasons {
		out = append(out, r.Code)
	}
	return out
}

// What a practitioner does next day (common practice): clear over what stays, dark over
// what is too large, an ink to shift a hue, what was lost again and first, what took
// over left out, and nothing where nothing is wanted.
func TestWhatIsDoneNextDay(t *testing.T) {
	p := poured(t, "swipe")
	a := accents(p)
	require.GreaterOrEqual(t, len(a), 2)

	nothing := of(p)
	assert.Len(t, nothing, 1)
	assert.Contains(t, codes(nothing["seal"]), propose.NothingAsked)
	assert.Equal(t, "flood", nothing["seal"].Layers[0].What, "seal it and leave it")

	loud := of(p, propose.Mark{Place: "far-left", Sort: propose.Quieten}, propose.Mark{Place: "near", Sort: propose.Keep})
	veil := loud["veil"]
	assert.Equal(t, "veil", veil.Layers[0].What)
	assert.Contains(t, codes(veil), propose.ClearOverKept)
	assert.Less(t, float64(veil.Layers[0].Coat.Amount.Film), 1.0, "thin enough to see through")
	assert.Equal(
		t,
		technique.Clear,
		veil.Layers[0].Coat.Colours[0].Role,
		"clear is poured over what is kept: it has a cup",
	)
	assert.Contains(t, loud, "seal", "leaving it is always one of them")

	large := of(p, propose.Mark{Place: "middle", Sort: propose.Darken})["wash"]
	assert.Contains(t, codes(large), propose.DarkOverLarge)
	assert.Equal(t, plan.Between, large.Layers[0].Kind)
	assert.Equal(t, "flood", large.Layers[1].What, "an ink is sealed")
	hue := of(p, propose.Mark{Place: "middle", Sort: propose.Tint})["wash"]
	assert.Contains(t, codes(hue), propose.InkShifts)

	lost := propose.Mark{Place: "left", Sort: propose.Lost, Cup: a[0].ID}
	again := of(p, lost, propose.Mark{Place: "right", Sort: propose.TookOver, Cup: a[1].ID})["again"]
	cups := again.Layers[0].Coat.Colours
	assert.Equal(t, a[0].ID, cups[1].ID, "what got lost comes first")
	assert.False(
		t,
		slices.ContainsFunc(cups, func(c plan.Colour) bool { return c.ID == a[1].ID }),
		"what took over is left out",
	)
	assert.Equal(t, "swipe", again.Layers[0].What)
	assert.ElementsMatch(t, []propose.Code{propose.LostComesFirst, propose.LeftOut, propose.AmountFollows}, codes(again))

	less := of(p, propose.Mark{Place: "right", Sort: propose.TookOver, Cup: a[1].ID})["again"]
	assert.Empty(t, less.Layers[0].Coat.Things, "poured by the hand of its technique")
	assert.NotEmpty(t, less.Layers[0].Coat.Colours)

	flaw := of(p, propose.Mark{Place: "near", Sort: propose.Flaw})
	assert.True(t, flaw["mend"].Mends, "a flaw is mended before anything is poured over it")
}

// Whatever is marked: what is proposed can be planned as it stands, its shares are a
// whole, the places lie on the board, and the first proposal is never only to be typed.
func TestEveryProposalCanBePlanned(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		p := poured(t, rapid.SampledFrom([]string{"swipe", "cell", "flow", "lines", "blow", "veil"}).Draw(t, "technique"))
		cups := p.Coats[0].Layer.Coat.Colours
		var marks []propose.Mark
		for range rapid.IntRange(0, 9).Draw(t, "marks") {
			sort := rapid.SampledFrom(propose.Sorts).Draw(t, "sort")
			m := propose.Mark{Place: rapid.SampledFrom(technique.Spots).Draw(t, "place"), Sort: sort.Sort}
			if sort.OfCup {
				m.Cup = rapid.SampledFrom(cups).Draw(t, "cup").ID
			}
			marks = append(marks, m)
		}
		all := propose.Of(p, &p.Coats[0], marks)
		require.NotEmpty(t, all)
		assert.Equal(t, "seal", all[len(all)-1].ID)
		for _, x := range all {
			if x.Mends {
				continue
			}
			s := p.Spec.Clone()
			id, err := propose.Apply(&s, p.Context, plan.FirstCoat, x)
			require.NoError(t, err)
			q, err := plan.Evaluate(s, p.Context, plan.Timing{})
			require.NoError(t, err, "%s", x.ID)
			c := q.Coat(id)
			require.NotNil(t, c)
			sum := 0.0
			for _, cup := range c.Cups {
				sum += cup.Share
			}
			assert.InDelta(t, 1, sum, 1e-9)
			assert.Empty(t, c.Missing, "every cup has a place")
			assert.Less(t, c.Over, 0.005, "no more is laid than is poured")
		}
	})
}
