// Package cache remembers values that take time to make by what they stand on,
// so that they are made once however many ask, and never under a lock.
package cache

import (
	"context"
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"

	"jevvo/internal/studio/recovery"
)

// A Memo remembers the values asked for last by their keys. The zero Memo keeps one.
type Memo[K comparable, V any] struct {
	Most int // values kept; 1 when 0

	mu    sync.Mutex
	known *simplelru.LRU[K, V] // nil until there is one
	calls map[K]*call[V]
}

// A call is a value being made.
type call[V any] struct {
	waits int // how many wait for it
	stop  context.CancelFunc
	done  chan struct{}
	value V
	err   error
}

// Get returns the value of a key, made by build the first time. Who asks while it is made
// waits for the same one; who leaves does not stop it for the others, and when all have
// left its context ends. A failure is not remembered; a panic of build is one.
func (m *Memo[K, V]) Get(ctx context.Context, key K, build func(context.Context) (V, error)) (V, error) {
	m.mu.Lock()
	if v, ok := m.look(key); ok {
		m.mu.Unlock()
		return v, nil
	}
	c := m.calls[key]
	if c == nil {
		c = m.begin(ctx, key, build)
	}
	c.waits++
	m.mu.Unlock()
	select {
	case <-c.done:
		return c.value, c.err
	case <-ctx.Done():
		m.leave(key, c)
		var none V
		return none, ctx.Err()
	}
}

// begin lets a value be made; the memo is locked.
func (m *Memo[K, V]) begin(ctx context.Context, key K, build func(context.Context) (V, error)) *call[V] {
	c := &call[V]{done: make(chan struct{})}
	ctx, c.stop = context.WithCancel(context.WithoutCancel(ctx))
	if m.calls == nil {
		m.calls = map[K]*call[V]{}
	}
	m.calls[key] = c
	go func() {
		defer c.stop()
		c.err = recovery.Do(func() (err error) {
			c.value, err = build(ctx)
			return err
		})
		if c.err == nil {
			m.keep(key, c.value)
		}
		m.forget(key, c)
		close(c.done)
	}()
	return c
}

// leave is somebody waiting no longer.
func (m *Memo[K, V]) leave(key K, c *call[V]) {
	m.mu.Lock()
	c.waits--
	last := c.waits == 0
	m.mu.Unlock()
	if last {
		c.stop()
		m.forget(key, c)
	}
}

// forget lets who asks next begin anew.
func (m *Memo[K, V]) forget(key K, c *call[V]) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.calls[key] == c {
		delete(m.calls, key)
	}
}

// Known returns the value of a key if it is there.
func (m *Memo[K, V]) Known(key K) (V, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.look(key)
}

// look finds what is known; the memo is locked.
func (m *Memo[K, V]) look(key K) (v V, ok bool) {
	if m.known == nil {
		return v, false
	}
	return m.known.Get(key)
}

func (m *Memo[K, V]) keep(key K, v V) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.known == nil {
		m.known, _ = simplelru.NewLRU[K, V](max(1, m.Most), nil) // of at least one
	}
	m.known.Add(key, v)
}
