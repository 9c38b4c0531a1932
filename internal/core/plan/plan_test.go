package plan_test

import (
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/calendar"
	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/resin"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
)

// monday is a Monday morning in a studio open on weekdays from 8 to 20.
var monday = time.Date(2026, 3, 2, 9, 0, 0, 0, time.UTC)

// context is a studio with one resin of 45 min and 24 h, 2:1 by volume.
func context(t testing.TB) *plan.Context {
	t.Helper()
	week, err := calendar.ParseWeek("mon-sat 08:00-20:00")
	require.NoError(t, err)
	product, err := material.Product{ID: 1, Name: "Bench 45", MixMinutes: 3, MaxBatch: 600, Kit: 1500,
		Price: decimal.NewFromInt(60), Product: resin.Product{
			RatioA: 2, RatioB: 1, By: resin.ByVolume, DensityA: 1130, DensityB: 970, Viscosity: 1000, WorkingMinutes: 45,
			HardHours: 24, Tolerance: 0.02}}.Fitted()
	require.NoError(t, err)
	slow := product
	slow.ID, slow.Name, slow.WorkingMinutes = 2, "Slow 90", 90
	slow, err = slow.Fitted()
	require.NoError(t, err)
	ctx := &plan.Context{Calendar: calendar.Calendar{Week: week}, Room: 21, ScaleStep: 0.1, JugStep: 5, CupLoss: 3,
		Products: map[int64]material.Product{1: product, 2: slow}, Pigments: map[int64]material.Pigment{},
		Book:    technique.Library,
		Spectra: &colour.Memo{}, Surface: colour.Finish(1)}
	white, err := material.Pigment{ID: 1, Name: "Lacing white", Maker: "one", Form: colour.Paste, Swatch: "#f6f5f1",
		Scatter: 2.4, Drop: 0.05, LoadLimit: 0.06,
		Particle: 0.0003, Density: 4200, Liquid: 1700, Solids: 0.5}.Optical(ctx.Spectra, ctx.Surface)
	require.NoError(t, err)
	ctx.Pigments[1] = white
	return ctx
}

// sealedTwice is a new piece with two clear coats over its first.
func sealedTwice(ctx *plan.Context) plan.Spec {
	s := plan.NewSpec(ctx, 1, monday)
	s.Depth, s.Asked = 20, true
	for _, id := range []string{plan.SecondCoat, plan.TopCoat} {
		film := 1.6 * units.Millimetre
		if id == plan.SecondCoat {
			film = 1.2
		}
		s.Layers = append(s.Layers, plan.NewCoat(ctx, id, technique.TopCoat, 1, film))
	}
	for i, c := range s.Layers[0].Coat.Colours {
		s.Layers[0].Coat.Colours[i].Load = 0.03
		if c.Role == technique.White {
			s.Layers[0].Coat.Colours[i].Load = 0.04
		}
	}
	return s
}

func evaluate(t testing.TB, ctx *plan.Context, spec plan.Spec) *plan.Plan {
	t.Helper()
	p, err := plan.Evaluate(spec, ctx, plan.Timing{})
	require.NoError(t, err)
	return p
}

func BenchmarkReplan(b *testing.B) {
	ctx := context(b)
	spec := sealedTwice(ctx)
	for b.Loop() {
		p, err := plan.Evaluate(spec, ctx, plan.Timing{})
		if err != nil {
			b.Fatal(err)
		}
		_ = p.Diagnostics()
	}
}

func BenchmarkReplanTimes(b *testing.B) {
	ctx := context(b)
	p, _ := plan.Evaluate(sealedTwice(ctx), ctx, plan.Timing{})
	for b.Loop() {
		_ = p.At(plan.Timing{Starts: map[string]time.Time{plan.FirstCoat: monday.Add(24 * time.Hour)}})
	}
}

func BenchmarkForecast(b *testing.B) {
	ctx := context(b)
	p, err := plan.Evaluate(sealedTwice(ctx), ctx, plan.Timing{})
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		p.Forecast(0)
	}
}
