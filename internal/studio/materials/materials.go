// Package materials holds a studio's library: resins, pigments, techniques,
// and what its own pours taught. Joined with the settings it is the context
// every plan stands on, loaded once and remembered until something of it
// changes.
package materials

import (
	"context"
	"errors"
	"time"

	"jevvo/internal/core/colour"
	"jevvo/internal/core/material"
	"jevvo/internal/core/plan"
	"jevvo/internal/core/technique"
	"jevvo/internal/core/units"
	"jevvo/internal/form"
	"jevvo/internal/msg"
	"jevvo/internal/store"
	"jevvo/internal/studio/cache"
	"jevvo/internal/studio/setup"
)

// A Service reads and changes the materials.
type Service struct {
	store   *store.Store
	setup   *setup.Service
	now     func() time.Time
	spectra *colour.Memo
	books   cache.Memo[store.Versions, *Book]
}

// New returns the service.
func New(db *store.Store, s *setup.Service, now func() time.Time) *Service {
	return &Service{store: db, setup: s, now: now, spectra: &colour.Memo{},
		books: cache.Memo[store.Versions, *Book]{Most: 2}}
}

// A Book is the settings and all materials as they stand: what plans are
// calculated with. It is not changed once it was loaded.
type Book struct {
	*plan.Context
	Settings setup.Settings
	Resins   []material.Product // those in use first
	Paints   []material.Pigment
	At       store.Versions // of settings and materials: two books of one version are alike
}

// Book returns the book as it stands.
func (s *Service) Book(ctx context.Context) (*Book, error) {
	v, err := s.store.Versions(ctx)
	if err != nil {
		return nil, err
	}
	return s.BookAt(ctx, v)
}

// BookAt returns the book of versions that were just read.
func (s *Service) BookAt(ctx context.Context, v store.Versions) (*Book, error) {
	at := v.Of(store.ScopeSettings, store.ScopeMaterials)
	return s.books.Get(ctx, at, func(ctx context.Context) (*Book, error) { return s.load(ctx, at) })
}

func (s *Service) load(ctx context.Context, at store.Versions) (*Book, error) {
	set, err := s.setup.Settings(ctx)
	if err != nil {
		return nil, err
	}
	b := &Book{Settings: set, At: at, Context: &plan.Context{
		Calendar: set.Calendar, Room: set.Room, Night: set.Night, ScaleStep: set.ScaleStep, JugStep: set.JugStep,
		Jug: set.Jug, CupLoss: set.CupLoss,
		Moulds: set.Moulds, Schools: set.Ways, Spectra: s.spectra, Surface: set.Surface(), Humidity: set.Humidity,
		People: set.People, Machine: set.Machine, Own: set.Own,
		Products: map[int64]material.Product{}, Pigments: map[int64]material.Pigment{},
	}}
	if b.Resins, err = s.products(ctx); err != nil {
		return nil, err
	}
	for _, p := range b.Resins {
		b.Products[p.ID] = p
	}
	if b.Paints, err = s.pigments(ctx, set.Surface()); err != nil {
		return nil, err
	}
	for _, p := range b.Paints {
		b.Pigments[p.ID] = p
	}
	if b.Context.Book, err = s.techniques(ctx); err != nil {
		return nil, err
	}
	if b.Learned, err = s.learned(ctx); err != nil {
		return nil, err
	}
	b.Paces, err = s.paces(ctx)
	return b, err
}

// learned is the recorded use of coats, by technique.
func (s *Service) learned(ctx context.Context) (map[string]plan.History, error) {
	uses, err := s.store.Learned(ctx)
	if err != nil {
		return nil, err
	}
	resets, err := s.store.LearningResets(ctx)
	out := map[string]plan.History{}
	for _, u := range uses {
		h := out[u.Technique]
		h.Reset = resets[u.Technique]
		h.Uses = append(h.Uses, plan.Taken{At: u.At, Planned: units.Volume(u.Planned), Used: units.Volume(u.Used)})
		out[u.Technique] = h
	}
	return out, err
}

// recentDays is how many of the newest days of a step count: hands get faster.
const recentDays = 12

// paces are this studio's own times of steps.
func (s *Service) paces(ctx context.Context) (map[string]map[string]technique.Pace, error) {
	times, err := s.store.StepTimes(ctx)
	if err != nil {
		return nil, err
	}
	ratios := map[string]map[string][]float64{}
	for _, t := range times {
		if ratios[t.Technique] == nil {
			ratios[t.Technique] = map[string][]float64{}
		}
		step := technique.StepID(t.Step) // days from before steps had ids know their names
		if of := ratios[t.Technique][step]; len(of) < recentDays {
			ratios[t.Technique][step] = append(of, t.Took/t.Usual)
		}
	}
	out := map[string]map[string]technique.Pace{}
	for id, steps := range ratios {
		out[id] = map[string]technique.Pace{}
		for step, r := range steps {
			out[id][step] = technique.PaceOf(r)
		}
	}
	return out, nil
}

// Techniques returns the library and the studio's own.
func (b *Book) Techniques() technique.Book { return b.Context.Book }

// Spectra remembers reflectances for everyone who asks.
func (s *Service) Spectra() *colour.Memo { return s.spectra }

// keep saves a new thing (id 0) or a change of one that is still at rev; a
// name in use and a change from another page are said at the name.
func (s *Service) keep(ctx context.Context, kind store.Kind, id, rev int64, name string, doc any,
	n form.Notices) (int64, error) {
	err := s.store.Write(ctx, "keep "+name, func(tx *store.Tx) error {
		var err error
		if id == 0 {
			id, err = tx.Create(ctx, kind, name, doc, s.now())
			return err
		}
		return tx.Save(ctx, kind, id, rev, name, doc)
	})
	switch {
	case errors.Is(err, store.ErrTaken):
		n.Refuse("name", msg.ID("another material has this name"))
	case errors.Is(err, store.ErrConflict):
		n.Refuse("name", msg.ID("this was changed on another page; look at it again before you save"))
	default:
		return id, err
	}
	return id, nil
}

// TakeBack makes a resin, a pigment or other goods what they were before their last change; done
// again it makes the change again.
func (s *Service) TakeBack(ctx context.Context, kind store.Kind, id int64) error {
	err := s.store.Write(ctx, "take the change back", func(tx *store.Tx) error { return tx.TakeBack(ctx, kind, id) })
	if errors.Is(err, store.ErrTaken) {
		return form.Refusef("name", "another material has this name now")
	}
	return err
}

// Changed reports whether there is a change to take back.
func (s *Service) Changed(ctx context.Context, kind store.Kind, id int64) (bool, error) {
	return s.store.HasBefore(ctx, kind, id)
}

// setOff retires something or puts it back; pieces that use it keep it.
func (s *Service) setOff(ctx context.Context, kind store.Kind, id int64, off bool) error {
	var at *time.Time
	if off {
		now := s.now()
		at = &now
	}
	return s.store.Write(ctx, "retire it", func(tx *store.Tx) error { return tx.SetOff(ctx, kind, id, at) })
}

// ResetLearning forgets a technique's pours.
func (s *Service) ResetLearning(ctx context.Context, id string) error {
	b, err := s.Book(ctx)
	if err != nil {
		return err
	}
	if _, ok := b.Techniques().Find(id); !ok {
		return store.ErrNotFound
	}
	return s.store.Write(ctx, "reset what was learnt",
		func(tx *store.Tx) error { return tx.ResetLearning(ctx, id, s.now()) })
}
