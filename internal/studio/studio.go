// Package studio is what the painter does: plan a piece, put a resin on the
// shelf, weigh out, level a board, record what a coat took. It is the one
// place where the sums of the core meet what is kept in the store.
//
// Everything typed comes in as text under a field key and goes out the same
// way (see [Fields]); everything shown comes out of a [Plan], which is
// reckoned afresh from the piece each time and never kept.
package studio

import (
	"context"
	"errors"
	"fmt"
	"time"

	"jevvo/internal/device"
	"jevvo/internal/store"
)

// A Studio works on one store by one clock.
type Studio struct {
	store     *store.Store
	now       func() time.Time
	scale     device.Scale
	room      device.RoomSensor
	weighings hub
	benches   hub
	planner   planner
	mail      Mailer
	spectra   spectra
}

// New opens the studio on a store, with a scale on the bench, and lays out the
// shelf and the settings if it is the first time.
func New(ctx context.Context, s *store.Store, scale device.Scale, now func() time.Time) (*Studio, error) {
	st := &Studio{store: s, now: now, scale: scale}
	if err := st.firstTime(ctx); err != nil {
		return nil, fmt.Errorf("lay out the studio: %w", err)
	}
	return st, nil
}

// Scale returns the scale on the bench.
func (s *Studio) Scale() device.Scale { return s.scale }

// Now returns the studio's time.
func (s *Studio) Now() time.Time { return s.now() }

func (s *Studio) firstTime(ctx context.Context) error {
	if err := s.layOutPigments(ctx); err != nil {
		return err
	}
	var set Settings
	found, err := s.store.Setting(ctx, settingsKey, &set)
	if err != nil || found {
		return err
	}
	for _, p := range builtInShelf {
		p.Stock = 2 * p.Kit // a new studio begins with two kits of each
		if _, err := s.store.CreateItem(ctx, store.Resins, p.Name, p); err != nil && !errors.Is(err, store.ErrTaken) {
			return err
		}
	}
	return s.store.SetSetting(ctx, settingsKey, DefaultSettings())
}

// Notices are what is wrong with typed values and what was assumed about
// them, by field key.
type Notices struct {
	Errors map[string]string
	Notes  map[string]string
}

func newNotices() Notices { return Notices{Errors: map[string]string{}, Notes: map[string]string{}} }

// OK reports whether nothing was refused.
func (n Notices) OK() bool { return len(n.Errors) == 0 }
