package materials

import (
	"context"
	"slices"

	"jevvo/internal/core/material"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
)

// Examples are data sheets and pigments to copy from. They are among nobody's materials
// until somebody copies them.
type Examples struct {
	Resins   []material.Product
	Pigments []material.Pigment
}

// AllExamples returns those the program ships with.
func AllExamples() (Examples, error) {
	pigments, err := BuiltInPigments()
	return Examples{slices.Clone(builtInResins), pigments}, err
}

// Left returns the examples that no resin or pigment of the book has the name of.
func (e Examples) Left(b *Book) Examples {
	return Examples{
		slices.DeleteFunc(slices.Clone(e.Resins), func(x material.Product) bool {
			return slices.ContainsFunc(b.Resins, func(p material.Product) bool { return p.Name == x.Name })
		}),
		slices.DeleteFunc(slices.Clone(e.Pigments), func(x material.Pigment) bool {
			return slices.ContainsFunc(b.Paints, func(p material.Pigment) bool { return p.Name == x.Name })
		}),
	}
}

// CopyExamples adds the examples with these names to the materials; one that has its
// name there already is left out.
func (s *Service) CopyExamples(ctx context.Context, names []string) error {
	all, err := AllExamples()
	if err != nil {
		return err
	}
	b, err := s.Book(ctx)
	if err != nil {
		return err
	}
	left, found := all.Left(b), 0
	err = s.store.Write(ctx, "copy the examples", func(tx *store.Tx) error {
		for _, p := range left.Resins {
			if slices.Contains(names, p.Name) {
				found++
				p.Notes = msg.ID(p.Notes).In(b.Settings.Lang())
				if _, err := tx.Create(ctx, store.Resins, p.Name, p, s.now()); err != nil {
					return err
				}
			}
		}
		for _, p := range left.Pigments {
			if slices.Contains(names, p.Name) {
				found++
				if _, err := tx.Create(ctx, store.Pigments, p.Name, p, s.now()); err != nil {
					return err
				}
			}
		}
		return nil
	})
	if err == nil && found == 0 {
		return form.Refusef("example", "choose an example that is not in your materials yet")
	}
	return err
}

// CopyAllExamples adds every example to the materials, as the demo does.
func (s *Service) CopyAllExamples(ctx context.Context) error {
	all, err := AllExamples()
	if err != nil {
		return err
	}
	var names []string
	for _, p := range all.Resins {
		names = append(names, p.Name)
	}
	for _, p := range all.Pigments {
		names = append(names, p.Name)
	}
	return s.CopyExamples(ctx, names)
}
