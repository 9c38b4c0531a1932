// Package web is the studio as pages and as JSON. Each area of it is a folder
// with its handlers, view structs and templates; frame is what they share. No
// page holds a sum: it prints a plan, the agenda and what is kept.
package web

import (
	"jevvo/internal/studio"
	"jevvo/internal/web/api"
	"jevvo/internal/web/bench"
	"jevvo/internal/web/card"
	"jevvo/internal/web/commissions"
	"jevvo/internal/web/compose"
	"jevvo/internal/web/days"
	"jevvo/internal/web/frame"
	"jevvo/internal/web/jump"
	"jevvo/internal/web/palettes"
	"jevvo/internal/web/pieces"
	"jevvo/internal/web/settings"
	"jevvo/internal/web/shelf"
	"jevvo/internal/web/sums"
)

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
		compose.Routes, bench.Routes, days.Routes, shelf.Routes, palettes.Routes, sums.Routes, settings.Routes, jump.Routes,
	} {
		if err := routes(f); err != nil {
			return nil, err
		}
	}
	json, err := api.Handler(o.Version, o.Log)
	if err != nil {
		return nil, err
	}
	f.Mount("/api/*rest", json)
	return f, nil
}
