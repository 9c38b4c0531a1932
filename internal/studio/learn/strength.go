package learn

import (
	"context"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/studio/journal"
)

// A Strength is the strength of a pigment, measured on a cured colour.
type Strength struct {
	Cup           plan.Cup
	Pigment       material.Pigment
	Spot          journal.Spot
	Times         float64
	Before, After float64 // CIEDE2000 of the film with the strength as it was and as it would be
	Foretold      string  // "#rrggbb"
	Cured         string
}

// Strength calculates what a spot of a coat's result says of the pigment of a cup.
func (s *Service) Strength(ctx context.Context, piece int64, coat string, spot int, cup string) (Strength, error) {
	v, err := s.journal.View(ctx, piece, coat)
	if err != nil {
		return Strength{}, err
	}
	if spot < 0 || spot >= len(v.Result.Spots) {
		return Strength{}, store.ErrNotFound
	}
	c := v.Coat.Cup(cup)
	if c == nil {
		return Strength{}, form.Refusef("cup", "choose the cup that is seen there")
	}
	p, ok := v.Agenda.Book.Pigments[c.Colour.Pigment]
	if !ok || len(c.Colour.More) > 0 {
		return Strength{}, form.Refusef("cup",
			"%s is not made from a single pigment you own: its colour does not say whose strength it shows", c.Colour.Name)
	}
	out := Strength{Cup: *c, Pigment: p, Spot: v.Result.Spots[spot]}
	lab := colour.Lab{L: out.Spot.Cured[0], A: out.Spot.Cured[1], B: out.Spot.Cured[2]}
	surface := v.Plan.Context.Surface
	out.Cured = lab.XYZ().RGB().Hex()
	out.Foretold = surface.Out(c.Look.Optics.Over(v.Coat.On(c), c.Film)).XYZ().RGB().Hex()
	out.Times, out.Before, out.After, err = colour.Strength(c.Look.Optics, c.Film, v.Coat.On(c), surface, lab)
	if err != nil {
		return out, &form.Refused{Field: "cup", Err: err}
	}
	return out, nil
}

// Strengthen takes it over to the materials.
func (s *Service) Strengthen(ctx context.Context, piece int64, coat string, spot int, cup string) error {
	found, err := s.Strength(ctx, piece, coat, spot, cup)
	if err != nil {
		return err
	}
	return s.materials.Strengthen(ctx, found.Pigment.ID, found.Times)
}
