package calc_test

import (
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/calc"
	"jevvo/internal/core/technique"
)

// answerOf is what the calculator says of a whole plan.
type answerOf struct {
	Coats []struct {
		ID      string
		Volume  float64 `json:"volume_ml"`
		Film    float64 `json:"film_mm"`
		Batches []struct {
			Volume float64 `json:"volume_ml"`
			A      float64 `json:"a_g"`
			B      float64 `json:"b_g"`
			Mixed  float64 `json:"mixed_at_min"`
			From   float64 `json:"poured_from_min"`
			To     float64 `json:"poured_to_min"`
			UseBy  float64 `json:"use_by_min"`
			Tints  []string
			Cups   map[string]float64
		} `json:"lots"`
		Cups []struct {
			ID      string
			Volume  float64 `json:"volume_ml"`
			Pigment float64 `json:"pigment_g"`
		}
		Moves []struct {
			Round    int
			Move     string
			Cup      *string
			From, To float64
			Fits     bool
		}
		Hands float64 `json:"hands_min"`
	}
	Tasks   []struct{ ID, Layer, What, Start, End string }
	Remarks []struct{ Code, Severity, Layer, Cup, Text string }
}

func planOf(t testing.TB, request string) answerOf {
	t.Helper()
	raw, err := calc.Run(context.Background(), "plan", strings.NewReader(request))
	require.NoError(t, err, request)
	var a answerOf
	require.NoError(t, json.Unmarshal(raw, &a))
	return a
}

const bench45 = `"resins":{"r1":{"working_min":45,"hard_h":24,"max_lot_ml":600}},"pigments":{"p1":{"form":"paste"}}`

func coatOn(mm int, coat string) string {
	return fmt.Sprintf(
		`{"piece":{"support":"panel","board":{"shape":"rectangle","width_mm":%d,"height_mm":%d},"sealed":true,"layers":[%s]},"room":[{"at_min":0,"temp_c":23}],%s}`,
		mm,
		mm,
		coat,
		bench45,
	)
}

// Plans as painters make them (handbook 2.1 and 13; common practice).
func TestBatchesAPainterWouldMix(t *testing.T) {
	lines := planOf(t, coatOn(400,
		`{"technique":"lines","volume_ml":279,"cups":[{"id":"c1","role":"clear","share":0.85},{"id":"c2","share":0.15,"pigment":"p1"}]}`)).Coats[0]
	assert.Len(t, lines.Batches, 1, "279 mL of lines is one batch")
	assert.InDelta(t, 279, lines.Volume, 0.3, "the amount typed is the amount planned")
	assert.Equal(t, []string{"c2"}, lines.Batches[0].Tints, "what is poured has its colour")

	barrier := planOf(t, coatOn(800, `{"technique":"zones","volume_ml":1500}`)).Coats[0]
	assert.LessOrEqual(
		t,
		len(barrier.Batches),
		5,
		"1.5 L of barrier and zones: three or four of some 400 mL, the ridge by itself",
	)
	assert.GreaterOrEqual(t, len(barrier.Batches), 3)

	flood := planOf(t, coatOn(800, `{"technique":"flood","volume_ml":1500}`)).Coats[0]
	assert.Len(t, flood.Batches, 3, "1.5 L of flood in three of 500 mL")
	for _, l := range flood.Batches {
		assert.InDelta(t, 500, l.Volume, 1)
	}

	tile := planOf(t, coatOn(100, `{"technique":"swipe","volume_ml":28}`))
	assert.Len(t, tile.Coats, 1, "a tile is one coat")
	assert.Len(t, tile.Coats[0].Batches, 1, "a tile in quarter-ounce cups is one batch")
	for _, r := range tile.Remarks {
		assert.NotEqual(t, "stop", r.Severity, r.Text)
		assert.NotEqual(t, "cup-off-ratio", r.Code, "cups out of one jug have no ratio of their own")
	}

	slab := planOf(t, strings.Replace(coatOn(150, `{"technique":"slab","film_mm":12}`), `"panel"`, `"slab"`, 1)).Coats[0]
	assert.InDelta(t, 12, slab.Film, 1e-9, "12 mm of a slab are 12 mm")

	kept := planOf(t, coatOn(300,
		`{"technique":"swipe","volume_ml":200,"cups":[{"id":"c1","role":"base","share":0.7,"pigment":"p1"},{"id":"c2","role":"white","share":0.3,"pigment":"p1"}],
		"rounds":[{"moves":[{"move":"spread","cup":"c1"},{"move":"ribbon","cup":"c2","part":0.6},{"move":"swipe"},{"move":"hot-air"},{"move":"flame"}]},
		{"moves":[{"move":"drizzle","cup":"c2","part":0.4,"after_min":20}]}]}`)).Coats[0]
	require.Len(t, kept.Batches, 2, "late drips want a batch of their own once the first would not keep")
	assert.Contains(t, kept.Batches[0].Tints, "c2")
	assert.Contains(t, kept.Batches[1].Tints, "c2", "and are coloured in it")
	assert.Greater(t, kept.Batches[1].Mixed, kept.Batches[0].To)
}

// A plan of three coats on a primed board takes three or four days in a warm room,
// where painters coat daily (handbook 13, common practice).
func TestCoatsFollowDaily(t *testing.T) {
	const cups = `,"cups":[{"id":"c1","role":"clear","share":1}]`
	a := planOf(
		t,
		strings.Replace(
			coatOn(
				300,
				`{"id":"a","technique":"flood","film_mm":1.2`+cups+
					`},{"kind":"work","what":"leaf"},{"id":"b","technique":"flood","film_mm":1.2`+cups+
					`},{"id":"c","technique":"flood","film_mm":1.6`+cups+`}`,
			),
			`"temp_c":23`,
			`"temp_c":25`,
			1,
		),
	)
	at := map[string]time.Time{}
	for _, task := range a.Tasks {
		start, err := time.Parse("2006-01-02T15:04", task.Start)
		require.NoError(t, err)
		at[task.ID] = start
	}
	assert.LessOrEqual(t, at["c:pour"].Sub(at["a:pour"]), 4*24*time.Hour)
	assert.Greater(t, at["b:pour"].Sub(at["a:pour"]), 14*time.Hour, "scuffed once it is firm, overnight to a day")
	for _, r := range a.Remarks {
		assert.NotEqual(t, "stop", r.Severity, r.Text)
	}
}

// Randomly chained plans keep the laws of the contract.
func TestPlansKeepTheContract(t *testing.T) {
	draw := rand.New(rand.NewPCG(300, 14))
	techniques := technique.Library.Coats()
	for range 300 {
		x := techniques[draw.IntN(len(techniques))]
		request := fmt.Sprintf(
			`{"piece":{"board":{"shape":"rectangle","width_mm":%d,"height_mm":%d},"layers":[{"technique":%q,"volume_ml":%g,"mixing":%q}]},
			"room":[{"at_min":0,"temp_c":%d}],"people":%d,%s}`,
			100+draw.IntN(1000),
			100+draw.IntN(600),
			x.ID,
			100+4900*draw.Float64(),
			[]string{"jug", "jug", "cups"}[draw.IntN(3)],
			10+draw.IntN(26),
			1+draw.IntN(3),
			bench45,
		)
		a := planOf(t, request)
		c := a.Coats[0]
		sum, of := 0.0, map[string]float64{}
		late := slices.ContainsFunc(
			a.Remarks,
			func(r struct{ Code, Severity, Layer, Cup, Text string }) bool { return r.Code == "batch-stands" },
		)
		for _, l := range c.Batches {
			sum += l.Volume
			for id, v := range l.Cups {
				of[id] += v
			}
			assert.LessOrEqual(t, l.Mixed, l.From, request)
			assert.LessOrEqual(t, l.From, l.To, request)
			assert.True(t, late || l.To <= l.UseBy+1e-6, "%s: stands until %g, keeps until %g", request, l.To, l.UseBy)
		}
		assert.InEpsilon(t, c.Volume, sum, 1e-9, request)
		for _, cup := range c.Cups {
			assert.InDelta(t, cup.Volume, of[cup.ID], 1e-6, request)
			for _, l := range c.Batches {
				assert.Equal(t, cup.Pigment > 0 && l.Cups[cup.ID] > 0, slices.Contains(l.Tints, cup.ID), "%s: %s", request, cup.ID)
			}
		}
		for _, m := range c.Moves {
			assert.GreaterOrEqual(t, m.To, m.From)
		}
	}
}

// A plan of three coats and five cups.
func BenchmarkPlan(b *testing.B) {
	cups := `"cups":[{"id":"c1","role":"base","share":0.4,"pigment":"p1"},{"id":"c2","share":0.2,"pigment":"p1"},{"id":"c3","share":0.15,"pigment":"p1"},{"id":"c4","share":0.1,"pigment":"p1"},{"id":"c5","role":"white","share":0.15,"pigment":"p1"}]`
	request := coatOn(
		450,
		`{"technique":"swipe","film_mm":1.7,`+cups+`},{"technique":"cell","film_mm":1.2,`+cups+
			`},{"technique":"flood","film_mm":1.6}`,
	)
	for b.Loop() {
		planOf(b, request)
	}
}
