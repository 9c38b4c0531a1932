// Package memo remembers values that take time to make by what they stand on,
// so that they are made once however many ask, and never under a lock.
package memo

import (
	"context"
	"fmt"
	"sync"

	"golang.org/x/sync/singleflight"

	"jevvo/internal/studio/guard"
)

// A Memo remembers the newest values by their keys. The zero Memo keeps one.
type Memo[K comparable, V any] struct {
	Most int // values kept; 1 when 0

	mu    sync.Mutex
	known map[K]V
	order []K
	group singleflight.Group
}

// Get returns the value of a key, made by make the first time. Who asks while
// it is made waits for the same one; who leaves does not stop it for the
// others. A failure is not remembered; a panic of make is one.
func (m *Memo[K, V]) Get(ctx context.Context, key K, make func(context.Context) (V, error)) (V, error) {
	if v, ok := m.Known(key); ok {
		return v, nil
	}
	made := m.group.DoChan(fmt.Sprint(key), func() (any, error) {
		if v, ok := m.Known(key); ok {
			return v, nil
		}
		var v V
		err := guard.Do(func() (err error) {
			v, err = make(context.WithoutCancel(ctx))
			return err
		})
		if err == nil {
			m.keep(key, v)
		}
		return v, err
	})
	select {
	case r := <-made:
		v, _ := r.Val.(V)
		return v, r.Err
	case <-ctx.Done():
		var none V
		return none, ctx.Err()
	}
}

// Known returns the value of a key if it is there.
func (m *Memo[K, V]) Known(key K) (V, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	v, ok := m.known[key]
	return v, ok
}

func (m *Memo[K, V]) keep(key K, v V) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.known == nil {
		m.known = map[K]V{}
	}
	if _, ok := m.known[key]; !ok {
		m.order = append(m.order, key)
	}
	m.known[key] = v
	for len(m.order) > max(1, m.Most) {
		delete(m.known, m.order[0])
		m.order = m.order[1:]
	}
}
