// Package web is the studio as pages and as JSON. Each area of it is a folder
// with its handlers, view structs and templates; frame is what they share. No
// page holds a sum: it prints a plan, the agenda and what is kept.
package web

import (
	"context"

	"jevvo/internal/core/units"
	"jevvo/internal/studio"
	"jevvo/internal/web/api"
	"jevvo/internal/web/bench"
	"jevvo/internal/web/calculators"
	"jevvo/internal/web/card"
	"jevvo/internal/web/commissions"
	"jevvo/internal/web/compose"
	"jevvo/internal/web/days"
	"jevvo/internal/web/frame"
	"jevvo/internal/web/glossary"
	"jevvo/internal/web/help"
	"jevvo/internal/web/intake"
	"jevvo/internal/web/journal"
	"jevvo/internal/web/jump"
	"jevvo/internal/web/labels"
	"jevvo/internal/web/materials"
	"jevvo/internal/web/palettes"
	"jevvo/internal/web/pieces"
	"jevvo/internal/web/preview"
	"jevvo/internal/web/prices"
	"jevvo/internal/web/screens"
	"jevvo/internal/web/settings"
	"jevvo/internal/web/shared"
	"jevvo/internal/web/stock"
)

// rooms are where sensors post.
type rooms struct{ st *studio.Studio }

func (r rooms) Opens(key string) (bool, error) { return r.st.Setup.Opens(key) }

func (r rooms) PostRoom(ctx context.Context, t units.Temperature, humidity float64, who string) error {
	return r.st.Bench.PostRoom(ctx, t, humidity, who)
}

// New builds the application over a studio.
func New(st *studio.Studio, o frame.Options) (*frame.Frame, error) {
	f, err := frame.New(st, o)
	if err != nil {
		return nil, err
	}
	cards := card.NewMaker(f)
	for _, routes := range []func(*frame.Frame) error{
		func(f *frame.Frame) error { return pieces.Routes(f, cards) },
		func(f *frame.Frame) error { return commissions.Routes(f, cards) },
		func(f *frame.Frame) error { return days.Routes(f, cards) },
		func(f *frame.Frame) error { return prices.Routes(f, cards) },
		compose.Routes, preview.Routes, bench.Routes, journal.Routes, labels.Routes, shared.Routes, materials.Routes,
		stock.Routes, palettes.Routes, calculators.Routes, settings.Routes, screens.Routes, glossary.Routes, help.Routes,
		jump.Routes, intake.Routes,
	} {
		if err := routes(f); err != nil {
			return nil, err
		}
	}
	json, err := api.Handler(o.Version, o.Log, rooms{st}, st)
	if err != nil {
		return nil, err
	}
	f.Mount("/api/*rest", json)
	return f, nil
}
