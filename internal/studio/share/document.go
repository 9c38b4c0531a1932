package share

import (
	"context"

	"jevvo/internal/core/plan"
	"jevvo/internal/exchange/piecefile"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/studio/materials"
	"jevvo/internal/studio/pieces"
)

// Document returns a piece in the open format, its resins and pigments by the names
// they own.
func (s *Service) Document(ctx context.Context, id int64) (piecefile.Document, error) {
	p, err := s.pieces.Piece(ctx, id)
	if err != nil {
		return piecefile.Document{}, err
	}
	b, err := s.materials.Book(ctx)
	if err != nil {
		return piecefile.Document{}, err
	}
	names := piecefile.Names{Resins: map[int64]string{}, Pigments: map[int64]string{}}
	for id, r := range b.Products {
		names.Resins[id] = r.Name
	}
	for id, p := range b.Pigments {
		names.Pigments[id] = p.Name
	}
	return piecefile.Of(p.Spec, names), nil
}

// AddDocument makes a piece of a document; its resins and pigments are found on the
// materials by their names. It says what was taken for what the document leaves out.
func (s *Service) AddDocument(ctx context.Context, d piecefile.Document) (pieces.Piece, []piecefile.Taken, error) {
	draft, b, err := s.pieces.Draft(ctx)
	if err != nil {
		return pieces.Piece{}, nil, err
	}
	spec, taken, err := d.Spec(b.Context, refsOf(b))
	if e := piecefile.AsError(err); e != nil {
		return pieces.Piece{}, nil, &form.Refused{Field: e.Field, Err: e.Err}
	}
	if err != nil {
		return pieces.Piece{}, nil, err
	}
	if spec.Start = draft.Start; spec.Name == "" {
		spec.Name = msg.ID("A piece from a file").In(b.Settings.Lang())
	}
	if _, err := plan.Evaluate(spec, b.Context, plan.Timing{}); err != nil {
		return pieces.Piece{}, nil, &form.Refused{Field: "layers", Err: err}
	}
	p, err := s.pieces.Add(ctx, spec)
	return p, taken, err
}

// refsOf are the resins and pigments of the materials by their names.
func refsOf(b *materials.Book) piecefile.Refs {
	refs := piecefile.Refs{Resins: map[string]int64{}, Pigments: map[string]int64{}}
	for _, r := range b.Resins {
		refs.Resins[r.Name] = r.ID
	}
	for _, p := range b.Paints {
		refs.Pigments[p.Name] = p.ID
	}
	return refs
}
