// Package hub tells every open screen that something it shows has changed.
package hub

import "sync"

// A Hub is ready as it is, by what a screen watches. A screen that is slow misses repeats,
// never the last change. It is safe for concurrent use.
type Hub[K comparable] struct {
	mu        sync.Mutex
	listeners map[K]map[chan struct{}]bool
}

// Watch returns a channel that gets a value whenever k changes, until stop is called.
func (h *Hub[K]) Watch(k K) (changes <-chan struct{}, stop func()) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.listeners == nil {
		h.listeners = map[K]map[chan struct{}]bool{}
	}
	if h.listeners[k] == nil {
		h.listeners[k] = map[chan struct{}]bool{}
	}
	ch := make(chan struct{}, 1)
	h.listeners[k][ch] = true
	return ch, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.listeners[k], ch)
		if len(h.listeners[k]) == 0 {
			delete(h.listeners, k)
		}
	}
}

// Tell tells those who watch k.
func (h *Hub[K]) Tell(k K) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.tell(k)
}

func (h *Hub[K]) tell(k K) {
	for ch := range h.listeners[k] {
		select {
		case ch <- struct{}{}:
		default: // one is waiting already
		}
	}
}

// TellAll tells everyone.
func (h *Hub[K]) TellAll() {
	h.mu.Lock()
	defer h.mu.Unlock()
	for k := range h.listeners {
		h.tell(k)
	}
}
