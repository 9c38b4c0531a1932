package hub

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
)

// changed takes what waits on a channel, without waiting.
func changed(ch <-chan struct{}) (n int) {
	for {
		select {
		case <-ch:
			n++
		default:
			return n
		}
	}
}

// Who watches is told of what it watches; a slow one once for many changes; who left, no more.
func TestWhoWatchesIsTold(t *testing.T) {
	var h Hub[int]
	h.Tell(1)
	h.TellAll()
	a, leaveA := h.Watch(1)
	b, leaveB := h.Watch(1)
	c, leaveC := h.Watch(2)
	h.Tell(1)
	h.Tell(1)
	assert.Equal(t, []int{1, 1, 0}, []int{changed(a), changed(b), changed(c)})
	h.TellAll()
	assert.Equal(t, []int{1, 1, 1}, []int{changed(a), changed(b), changed(c)})
	leaveA()
	h.Tell(1)
	assert.Equal(t, []int{0, 1}, []int{changed(a), changed(b)})
	leaveB()
	leaveC()
	assert.Empty(t, h.listeners, "nothing is left of who left")
}

// Many watch, leave and tell at the same time, and the last change is never missed.
func TestManyWatchAtOnce(t *testing.T) {
	var h Hub[int]
	var all sync.WaitGroup
	for i := range 50 {
		all.Go(func() {
			ch, leave := h.Watch(i % 3)
			defer leave()
			h.Tell(i % 3)
			assert.Positive(t, changed(ch))
		})
	}
	all.Wait()
}
