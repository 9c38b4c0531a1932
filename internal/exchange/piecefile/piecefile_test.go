package piecefile_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/exchange/piecefile"
)

func studio(t *testing.T) (*plan.Context, piecefile.Refs, piecefile.Names) {
	t.Helper()
	week, err := calendar.ParseWeek("mon-sun 08:00-20:00")
	require.NoError(t, err)
	p, err := material.Product{
		ID:         7,
		Name:       "r1",
		MixMinutes: 3,
		MaxBatch:   600,
		Product: resin.Product{RatioA: 1, RatioB: 1, By: resin.ByVolume,
			DensityA: 1130, DensityB: 1000, Viscosity: 1000, WorkingMinutes: 45, HardHours: 24, Tolerance: 0.02},
	}.Fitted()
	require.NoError(t, err)
	ctx := &plan.Context{
		Calendar:  calendar.Calendar{Week: week},
		Room:      21,
		ScaleStep: 0.1,
		JugStep:   5,
		CupLoss:   3,
		Products:  map[int64]material.Product{7: p},
		Pigments: map[int64]material.Pigment{
			3: {ID: 3, Form: colour.Paste, LoadLimit: 0.06, Liquid: 1400, Unseen: true},
		},
		Book:    technique.Library,
		Spectra: &colour.Memo{},
		Surface: colour.Finish(1),
	}
	return ctx, piecefile.Refs{Resins: map[string]int64{"r1": 7}, Pigments: map[string]int64{"p1": 3}},
		piecefile.Names{Resins: map[int64]string{7: "r1"}, Pigments: map[int64]string{3: "p1"}}
}

func read(t *testing.T, text string) piecefile.Document {
	t.Helper()
	var d piecefile.Document
	require.NoError(t, json.Unmarshal([]byte(text), &d))
	return d
}

// What a document says comes back as it was said, through the piece and out again.
func TestADocumentComesBack(t *testing.T) {
	ctx, refs, names := studio(t)
	said := read(
		t,
		`{"version":1,"name":"Ebb","support":"tray","board":{"shape":"circle","diameter_mm":300,"side_mm":12},"count":2,"edge":"rim","edge_height_mm":8,
		"sides":"run-over","sealed":true,"ground_srgb":"#b08d63","layers":[
		{"id":"one","kind":"coat","technique":"swipe","resin":"r1","volume_ml":300,"mixing":"jug","cups":[
			{"id":"c1","name":"Bed","role":"base","srgb":"#5d6b73","share":0.7,"pigment":"p1","load_share":0.03},
			{"id":"c2","name":"Foam","role":"white","srgb":"#f4f3ee","share":0.3,"pigment":"p1","load_share":0.04}],
			"rounds":[{"moves":[{"move":"spread","cup":"c1","part":1},{"move":"ribbon","cup":"c2","part":0.8},{"move":"swipe","minutes":6}]},
				{"moves":[{"move":"drizzle","cup":"c2","part":0.2,"after_min":10,"where":"lower third","optional":true},{"move":"strew","material":"glitter","grams":1.5}]}]},
		{"id":"tint","kind":"work","what":"wash"},
		{"id":"two","kind":"coat","technique":"flood","resin":"r1","film_mm":1.6,"cups":[{"id":"c1","name":"Clear","role":"clear","srgb":"#dfe3e4","share":1}]}]}`,
	)
	spec, _, err := said.Spec(ctx, refs)
	require.NoError(t, err)
	assert.Equal(t, surface.Tray, spec.Support)
	_, err = plan.Evaluate(spec, ctx, plan.Timing{})
	require.NoError(t, err)
	again := piecefile.Of(spec, names)
	want, err := json.Marshal(said)
	require.NoError(t, err)
	got, err := json.Marshal(again)
	require.NoError(t, err)
	assert.JSONEq(t, string(want), string(got))
}

// What cannot be is refused at its field; nothing is put right in silence.
func TestWhatCannotBeIsRefusedAtItsField(t *testing.T) {
	ctx, refs, _ := studio(t)
	const board = `"board":{"shape":"rectangle","width_mm":300,"height_mm":200}`
	cups := func(text string) string {
		return `{` + board + `,"layers":[{"technique":"lines","film_mm":1.6,"cups":[` + text + `]}]}`
	}
	const both = `{"id":"c1","role":"clear","share":0.8},{"id":"c2","role":"accent","share":0.2}`
	moves := func(text string) string {
		return `{` + board + `,"layers":[{"technique":"lines","film_mm":1.6,"cups":[` + both + `],"rounds":[{"moves":[` +
			text + `]}]}]}`
	}
	for text, field := range map[string]string{
		`{"board":{"shape":"circle"},"layers":[{}]}`:                                                           "board.diameter_mm",
		`{` + board + `,"layers":[{"technique":"wash"}]}`:                                                      "layers[0].technique",
		`{` + board + `,"layers":[{"resin":"none"}]}`:                                                          "layers[0].resin",
		`{` + board + `,"layers":[{"film_mm":1,"volume_ml":200}]}`:                                             "layers[0]",
		`{` + board + `,"layers":[{"kind":"work","what":"swipe"}]}`:                                            "layers[0].what",
		`{` + board + `,"layers":[{"kind":"work","what":"wash"}]}`:                                             "layers",
		cups(`{"id":"c1","role":"clear","share":0.8}`):                                                         "layers[0].cups",
		cups(`{"id":"c1","share":0.5},{"id":"c1","share":0.5}`):                                                "layers[0].cups[1].id",
		cups(`{"id":"c1","role":"clear","share":1,"pigment":"p1"}`):                                            "layers[0].cups[0].pigment",
		cups(`{"id":"c1","share":1,"pigment":"p9"}`):                                                           "layers[0].cups[0].pigment",
		cups(`{"id":"c1","role":"accent"}`):                                                                    "layers[0].cups[0].share",
		moves(`{"move":"spread","cup":"c1"}`):                                                                  "layers[0].cups[1]",
		moves(`{"move":"spread","cup":"c1","part":0.5},{"move":"drizzle","cup":"c2"}`):                         "layers[0].cups[0]",
		moves(`{"move":"spread","cup":"c9"}`):                                                                  "layers[0].rounds[0].moves[0].cup",
		moves(`{"move":"spread"}`):                                                                             "layers[0].rounds[0].moves[0].cup",
		moves(`{"move":"spread","cup":"c1"},{"move":"drizzle","cup":"c2"},{"move":"strew","material":"soot"}`): "layers[0].rounds[0].moves[2].material",
	} {
		_, _, err := read(t, text).Spec(ctx, refs)
		e := piecefile.AsError(err)
		require.NotNil(t, e, text)
		assert.Equal(t, field, e.Field, text)
	}
}

// What is left out is as a painter finds it on a new piece, and is said.
func TestWhatWasTakenIsSaid(t *testing.T) {
	ctx, refs, _ := studio(t)
	spec, taken, err := read(
		t,
		`{"board":{"shape":"rectangle","width_mm":100,"height_mm":100},"layers":[{}]}`,
	).Spec(
		ctx,
		refs,
	)
	require.NoError(t, err)
	assert.Len(t, spec.Layers, 1, "one coat: nothing nobody asked for")
	fields := map[string]any{}
	for _, x := range taken {
		fields[x.Field] = x.Value
	}
	assert.Equal(t, "panel", fields["support"])
	assert.Equal(t, "swipe", fields["layers[0].technique"])
	assert.Equal(t, "r1", fields["layers[0].resin"])
	assert.InDelta(t, 1.6, fields["layers[0].film_mm"], 1e-9)
	p, err := plan.Evaluate(spec, ctx, plan.Timing{})
	require.NoError(t, err)
	_, lies := p.Earliest()
	assert.True(t, lies[0].From.Before(lies[0].To) || lies[0].From.Equal(lies[0].To))
	assert.Less(t, p.Coats[0].Covered.Sub(p.Coats[0].Start), 2*time.Hour)
}

// Every technique's document evaluates, and comes back with its own cups and moves.
func TestEveryTechniqueHasADocument(t *testing.T) {
	ctx, refs, names := studio(t)
	for _, x := range technique.Library.Coats() {
		d := piecefile.Document{Support: "panel", Layers: []piecefile.Layer{{ID: "a", Technique: x.ID}}}
		side := 250.0
		d.Board = piecefile.Board{Shape: "rectangle", Width: &side, Height: &side}
		spec, _, err := d.Spec(ctx, refs)
		require.NoError(t, err, x.ID)
		spec.OwnMoves(ctx, "a")
		again, _, err := piecefile.Of(spec, names).Spec(ctx, refs)
		require.NoError(t, err, x.ID)
		p, err := plan.Evaluate(spec, ctx, plan.Timing{})
		require.NoError(t, err, x.ID)
		q, err := plan.Evaluate(again, ctx, plan.Timing{})
		require.NoError(t, err, x.ID)
		assert.InDelta(t, p.Coats[0].Fit.Ends, q.Coats[0].Fit.Ends, 1e-9, "%s: the same moves take the same time", x.ID)
	}
}
