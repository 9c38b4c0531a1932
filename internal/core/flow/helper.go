package flow

import (
	"runtime"
	"sync"
	"sync/atomic"
	"time"
)

// A helper does a part of the work on another core. A step of the film is some twenty
// loops of a tenth of a millisecond each: a helper that slept between them would take as
// long to wake, so it looks out for the next one for a while before it sleeps.
type helper struct {
	taken  atomic.Bool // by whom it works for
	todo   atomic.Bool // what stands below is to be done
	asleep atomic.Bool
	wake   chan struct{}
	do     func(from, to int)
	from   int
	to     int
	fell   any // what the work panicked with
}

const (
	mostHelpers = 15
	lookout     = 300_000   // glances before it sleeps: some tenths of a millisecond
	patience    = 2_000_000 // at work that is not done yet: about one
)

// helpers are one a core but the caller's, for all films together.
var helpers = sync.OnceValue(func() []*helper {
	all := make([]*helper, min(mostHelpers, runtime.NumCPU()-1))
	for k := range all {
		all[k] = &helper{wake: make(chan struct{}, 1)}
		go all[k].serve()
	}
	return all
})

// claim takes as many helpers as are free, no more than there is room for.
func claim(room []*helper) []*helper {
	n := 0
	for _, h := range helpers() {
		if n == len(room) {
			break
		}
		if h.taken.CompareAndSwap(false, true) {
			room[n] = h
			n++
		}
	}
	return room[:n]
}

// begin hands work over to a helper that was claimed.
func (h *helper) begin(do func(from, to int), from, to int) {
	h.do, h.from, h.to, h.fell = do, from, to, nil
	h.todo.Store(true)
	if h.asleep.CompareAndSwap(true, false) {
		h.wake <- struct{}{}
	}
}

// end waits until it is done, lets the helper go, and returns what it panicked with.
func (h *helper) end() any {
	for k := 0; h.todo.Load(); k++ {
		if k >= patience { // another program has its core
			time.Sleep(20 * time.Microsecond)
		}
	}
	fell := h.fell
	h.do = nil
	h.taken.Store(false)
	return fell
}

func (h *helper) serve() {
	for {
		h.await()
		h.fell = falls(h.do, h.from, h.to)
		h.todo.Store(false)
	}
}

// await looks out for work, and sleeps when none comes.
func (h *helper) await() {
	for range lookout {
		if h.todo.Load() {
			return
		}
	}
	h.asleep.Store(true)
	if h.todo.Load() && h.asleep.CompareAndSwap(true, false) {
		return // it came just before
	}
	<-h.wake
}

// falls does some work and returns what it panicked with.
func falls(do func(from, to int), from, to int) (fell any) {
	defer func() { fell = recover() }()
	do(from, to)
	return nil
}
