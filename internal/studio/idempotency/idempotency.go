// Package idempotency sees to it that a form that arrives twice is done once: a double click,
// a page sent again after going back, a browser that repeats itself after a restart.
package idempotency

import (
	"context"
	"errors"
	"time"

	"golang.org/x/sync/singleflight"

	"jevvo/internal/store"
)

// A Service knows what has been done.
type Service struct {
	store *store.Store
	now   func() time.Time
	group singleflight.Group
}

// New returns the service over a store.
func New(db *store.Store, now func() time.Time) *Service { return &Service{store: db, now: now} }

// Do runs do unless what the key stands for was kept before. The first change under the
// context of do is kept together with the key, so that not even an end of the program
// comes between. do returns the address it leads to, "" when nothing is to be
// remembered of it. Do returns that address and whether it was kept before; one that
// arrives meanwhile waits.
func (s *Service) Do(ctx context.Context, key string, do func(context.Context) (string, error)) (address string,
	before bool, err error) {
	mine := false
	_, err, _ = s.group.Do(key, func() (any, error) {
		mine = true
		address, before, err = s.do(ctx, key, do)
		return nil, err
	})
	if mine {
		return address, before, err
	}
	return s.do(ctx, key, do)
}

func (s *Service) do(ctx context.Context, key string, do func(context.Context) (string, error)) (string, bool, error) {
	address, before, err := s.store.Pressed(ctx, key)
	if err != nil || before {
		return address, before, err
	}
	address, err = do(store.WithPress(ctx, key, s.now()))
	if errors.Is(err, store.ErrPressed) {
		return s.store.Pressed(ctx, key)
	}
	// Who sent it may have gone; where it led is kept all the same.
	return address, false, errors.Join(err, s.store.Led(context.WithoutCancel(ctx), key, address))
}
