package pieces

import (
	"context"
	"slices"

	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/store"
	"jevvo/internal/studio/materials"
)

// looked is how many of the newest pieces are looked through for what to propose.
const looked = 8

// Proposed returns what a painter's next piece starts from: a draft by a technique ("" for
// the usual one), on the support, with the edge, the resin and the film of the newest piece
// that is no test tile and fills no mould.
func (s *Service) Proposed(ctx context.Context, way string) (plan.Spec, *materials.Book, error) {
	spec, b, err := s.Draft(ctx)
	if err != nil {
		return plan.Spec{}, nil, err
	}
	first := spec.First().Coat
	product, film := first.Product, first.Amount.Film
	newest, _, err := s.Found(ctx, store.PieceFilter{}, looked, 0)
	if err != nil {
		return plan.Spec{}, nil, err
	}
	for _, p := range newest {
		last := p.First()
		if p.Tile || last == nil || p.Support.Rule().Cast {
			continue
		}
		spec.Stand(p.Support)
		spec.Edge, spec.EdgeHeight, spec.Depth, spec.Sides = p.Edge, p.EdgeHeight, p.Depth, p.Sides
		if slices.ContainsFunc(b.Resins, func(r material.Product) bool { return r.ID == last.Coat.Product && !r.Retired }) {
			product = last.Coat.Product
		}
		if last.Coat.Amount.Film > 0 {
			film = last.Coat.Amount.Film
		}
		break
	}
	t, ok := b.Techniques().Find(way)
	if !ok {
		t, _ = b.Techniques().Find(spec.First().What)
	}
	spec.Layers = []plan.Layer{plan.NewCoat(b.Context, plan.FirstCoat, t, product, film)}
	return spec, b, nil
}
