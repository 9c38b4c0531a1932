package studio

import (
	"context"

	"jevvo/internal/core/composition"
	"jevvo/internal/core/units"
)

// A Rescale is a tested recipe on another board, at equal film and load.
type Rescale struct {
	From, To Plan
	Rows     []RescaleRow
	Values   map[string]string
	Notices  Notices
}

// A RescaleRow is one cup on both boards.
type RescaleRow struct {
	Name     string
	Swatch   string
	From, To CupPlan
	Measures []string // pigments of the larger cup, as they are dosed
}

// Rescale reckons a piece's recipe for another size and number of boards.
// Film, loads, shares, technique and resin stay; only the board changes, and
// all cups of a set come from one lot. Nothing is kept.
func (s *Studio) Rescale(ctx context.Context, id int64, typed map[string]string) (Rescale, error) {
	plan, err := s.Plan(ctx, id)
	if err != nil {
		return Rescale{}, err
	}
	spec, notices := rescaled(plan.Piece.Spec, typed, plan.Settings.Units)
	out := Rescale{From: plan, Values: map[string]string{}, Notices: notices}
	for _, key := range rescaleKeys {
		f, _ := specFields.find(key)
		out.Values[key] = f.Get(&spec, plan.Settings.Units)
		if text, ok := typed[key]; ok && notices.Errors[key] != "" {
			out.Values[key] = text
		}
	}
	if out.To, err = s.PlanPiece(ctx, Piece{Spec: spec}); err != nil {
		return out, err
	}
	pigments, err := s.PigmentsByID(ctx)
	if err != nil {
		return out, err
	}
	for i, cup := range out.To.Coats[0].Cups {
		row := RescaleRow{Name: cup.Colour.Name, Swatch: cup.Swatch(), From: plan.Coats[0].Cups[i], To: cup}
		for _, d := range cup.Colour.Doses() {
			p := pigments[d.Pigment]
			row.Measures = append(row.Measures, p.Name+" "+p.Measure((cup.A.Mass+cup.B.Mass)*units.Mass(d.Load)))
		}
		out.Rows = append(out.Rows, row)
	}
	return out, nil
}

// rescaleKeys are the values that may differ on the other board.
var rescaleKeys = []string{"name", "support", "outline", "size", "count", "more", "edge", "depth"}

func rescaled(spec Spec, typed map[string]string, sys units.System) (Spec, Notices) {
	out := clone(spec)
	allowed := map[string]string{}
	for _, key := range rescaleKeys {
		if text, ok := typed[key]; ok {
			allowed[key] = text
		}
	}
	if typed["name"] == "" {
		name := []rune(out.Name)
		out.Name = string(name[:min(len(name), 70)]) + ", board"
		delete(allowed, "name")
	}
	notices := specFields.apply(&out, allowed, sys)
	from, err1 := spec.Shape()
	to, err2 := out.Shape()
	if err1 == nil && err2 == nil && len(out.Things) > 0 {
		out.Things = composition.Fit(out.Things, from, to)
	}
	return out, notices
}

// KeepRescaled plans the other board as a piece of its own.
func (s *Studio) KeepRescaled(ctx context.Context, id int64, typed map[string]string) (Piece, Notices, error) {
	plan, err := s.Plan(ctx, id)
	if err != nil {
		return Piece{}, Notices{}, err
	}
	spec, notices := rescaled(plan.Piece.Spec, typed, plan.Settings.Units)
	if !notices.OK() {
		return Piece{Spec: spec}, notices, nil
	}
	p, err := s.AddPiece(ctx, spec)
	return p, notices, err
}

// PigmentsByID returns the shelf by id, retired ones too.
func (s *Studio) PigmentsByID(ctx context.Context) (map[int64]Pigment, error) {
	all, err := s.Pigments(ctx)
	out := make(map[int64]Pigment, len(all))
	for _, p := range all {
		out[p.ID] = p
	}
	return out, err
}
