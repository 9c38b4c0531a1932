package web_test

import (
	"slices"
	"testing"
	"testing/fstest"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/cure"
	"jevvo/internal/core/diagnose"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/surface"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/verdict"
	"jevvo/internal/msg"
	"jevvo/internal/studio/pieces"
	"jevvo/internal/web"
	"jevvo/internal/web/frame"
)

// These tests add what CONTRIBUTING.md says how to add, a row each, and go through the program
// with it.

// row adds a row to a table for a test.
func row[S ~[]E, E any](t *testing.T, table *S, add E) {
	was := *table
	*table = append(slices.Clone(was), add)
	t.Cleanup(func() { *table = was })
}

// A lip of putty stands above the face, is scraped off after the coat, and burns no worse than
// the board.
func TestAnEdgeIsARow(t *testing.T) {
	row(t, &surface.Edges, surface.EdgeRule{Edge: "putty", Name: "Putty lip", Words: "putty lip", Holds: true})
	s := open(t)
	p := s.piece(map[string]string{"edge": "putty", "edge_height": "1 mm"})
	assert.Contains(t, s.get(frame.Piece(p.ID, "?part=surface")), "Putty lip")
	v := s.view(p)
	assert.True(t, v.Plan.Spec.Dammed())
	assert.False(t, v.Plan.Spec.Taped(), "nothing of it is pulled")
	low := slices.IndexFunc(v.Plan.Diagnostics(), func(d verdict.Diagnostic) bool { return d.Code == verdict.EdgeLow })
	require.GreaterOrEqual(t, low, 0, "1.6 mm do not stand behind 1 mm")
	assert.Contains(t, plainText(s.get(frame.Piece(p.ID))), "putty lip")
	_, n, err := s.Pieces.Edit(t.Context(), p.ID, p.Rev, map[string]string{"edge": "fence"})
	require.NoError(t, err)
	assert.NotNil(t, n.Errors["edge"], "one that there is not")
}

// A slate soaks up little, is dark and hangs by a wire.
func TestASupportIsARow(t *testing.T) {
	row(t, &surface.Supports, surface.SupportRule{Support: "slate", Name: "Slate", Words: "slate", Absorbency: 5,
		Sealed: true,
		Hangs:  true, Ground: "#3a3f44", Edge: surface.Open, Depth: 5})
	s := open(t)
	p := s.piece(map[string]string{"support": "slate"})
	assert.Contains(t, s.get(frame.Piece(p.ID)), "Slate")
	v := s.view(p)
	assert.Equal(t, "#3a3f44", v.Plan.Spec.Ground)
	assert.Zero(t, v.Coats[0].Amount.Absorbed)
}

// A ring pour is a bed, rings out of one cup, and a rest.
func TestATechniqueIsARow(t *testing.T) {
	row(t, (*[]technique.Technique)(&technique.Library), technique.Technique{
		ID: "ring", Name: "Ring pour", Summary: "Rings from one cup, one within the other.", Layout: technique.LayoutCells,
		RunOff: technique.RunOff{Low: 0.02, Usual: 0.05, High: 0.1},
		Cups: []technique.CupStart{{Name: "Bed", Role: technique.Base, Swatch: "#dddddd", Share: 0.7, Load: 0.03},
			{Name: "Rings", Role: technique.Accent, Swatch: "#17455c", Share: 0.3, Load: 0.03}},
		Steps: []technique.Step{
			{ID: "mix", Name: "Mix", Window: cure.Runny, Mixes: true, Do: "A, then B, slowly."},
			{ID: "colour", Name: "Colour the cups", Window: cure.Runny, PerCup: 0.6, Colours: true, Doses: true, Do: "Stir."},
			{ID: "bed", Name: "Spread the bed", Move: technique.Spread, Pours: true, Bed: true,
				Lays:   []technique.Role{technique.Base},
				Window: cure.Runny, PerM2: 14, Do: "To every edge."},
			{ID: "rings", Name: "Pour the rings", Move: technique.Ribbon, Pours: true, Window: cure.Runny, Fixed: 2,
				Do: "One within the other, without lifting the cup."},
		},
	})
	s := open(t)
	p := s.piece(map[string]string{pieces.CoatKey(plan.FirstCoat, "technique"): "ring"})
	page := plainText(s.get(frame.Piece(p.ID)))
	assert.Contains(t, page, "Ring pour")
	assert.Contains(t, plainText(s.get("/techniques")), "Rings from one cup, one within the other.")
	assert.Contains(t, plainText(s.get(frame.Piece(p.ID, "/run-sheet"))), "One within the other, without lifting the cup.")
	v := s.view(p)
	assert.Positive(t, v.Coats[0].Fit.Spare, "its windows are those of the resin")
	require.Len(t, v.Coats[0].Cups, 2)
}

// A fault is a row, with what brings it about.
func TestAFaultIsARow(t *testing.T) {
	row(t, &diagnose.Faults, diagnose.Fault{ID: "moth", Name: "A moth in it", Look: "Wings.", Where: diagnose.Spots,
		When: diagnose.NextDay, Motif: diagnose.Faults[0].Motif})
	s := open(t)
	assert.Contains(t, plainText(s.get("/faults")), "A moth in it")
	assert.Contains(t, plainText(s.get("/faults/moth")), "Wings.")
}

// A page is a template and a route.
func TestAPageIsATemplateAndARoute(t *testing.T) {
	st := open(t)
	f, err := web.New(st.Studio, frame.Options{Version: "test", Log: st.frame.Log})
	require.NoError(t, err)
	area, err := f.Area(fstest.MapFS{"templates/tides.html": {Data: []byte(
		`{{define "main"}}<h1>Tides</h1><p>{{.Data}} until high water</p>{{end}}`)}})
	require.NoError(t, err)
	area.GET("/tides", func(c *gin.Context) error {
		return area.Show(c, 200, "tides", frame.Page{Title: msg.ID("Tides"), Data: msg.N(3, "hour", "hours")})
	})
	s := &site{st.Studio, t, st.db, f.Handler(), f}
	assert.Contains(t, plainText(s.get("/tides")), "3 hours until high water")
}
