package cache_test

import (
	"context"
	"errors"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/studio/cache"
)

// However many ask at once, a value is made once.
func TestMadeOnce(t *testing.T) {
	m := cache.Memo[string, int]{Most: 2}
	var made atomic.Int32
	hold := make(chan struct{})
	var wg sync.WaitGroup
	var asked sync.WaitGroup
	for range 20 {
		wg.Add(1)
		asked.Add(1)
		go func() {
			defer wg.Done()
			asked.Done()
			v, err := m.Get(t.Context(), "plan", func(context.Context) (int, error) {
				<-hold
				return int(made.Add(1)), nil
			})
			assert.NoError(t, err)
			assert.Equal(t, 1, v)
		}()
	}
	asked.Wait()
	close(hold)
	wg.Wait()
	assert.EqualValues(t, 1, made.Load())
}

// Who leaves does not stop it for the others, and a failure is not remembered.
func TestLeavingAndFailing(t *testing.T) {
	m := cache.Memo[string, int]{Most: 1}
	gone, leave := context.WithCancel(t.Context())
	hold := make(chan struct{})
	leave()
	_, err := m.Get(gone, "a", func(ctx context.Context) (int, error) {
		<-hold
		return 7, ctx.Err()
	})
	require.ErrorIs(t, err, context.Canceled)
	close(hold)
	v, err := m.Get(t.Context(), "a", func(context.Context) (int, error) { return 7, nil })
	require.NoError(t, err)
	assert.Equal(t, 7, v)
	_, err = m.Get(t.Context(), "b", func(context.Context) (int, error) { return 0, errors.New("no") })
	require.Error(t, err)
	v, err = m.Get(t.Context(), "b", func(context.Context) (int, error) { return 8, nil })
	require.NoError(t, err)
	assert.Equal(t, 8, v)
	_, ok := m.Known("a")
	assert.False(t, ok, "the oldest is forgotten")
}

// Whoever asks for what cannot be made is told so; the program goes on.
func TestPanicsAreFailures(t *testing.T) {
	var m cache.Memo[string, int]
	_, err := m.Get(t.Context(), "a", func(context.Context) (int, error) {
		var none *int
		return *none, nil
	})
	require.ErrorContains(t, err, "nil pointer")
	v, err := m.Get(t.Context(), "a", func(context.Context) (int, error) { return 7, nil })
	require.NoError(t, err)
	assert.Equal(t, 7, v)
}

// When all who waited have left, what they waited for ends; who comes then begins anew.
func TestAllHaveLeft(t *testing.T) {
	var m cache.Memo[string, int]
	ended := make(chan error)
	ctx, leave := context.WithCancel(t.Context())
	begun := make(chan struct{})
	go func() { <-begun; leave() }()
	_, err := m.Get(ctx, "a", func(ctx context.Context) (int, error) {
		close(begun)
		<-ctx.Done()
		ended <- ctx.Err()
		return 0, ctx.Err()
	})
	require.ErrorIs(t, err, context.Canceled)
	v, err := m.Get(t.Context(), "a", func(context.Context) (int, error) { return 7, nil })
	require.NoError(t, err)
	assert.Equal(t, 7, v)
	require.ErrorIs(t, <-ended, context.Canceled)
}
