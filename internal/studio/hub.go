package studio

import "sync"

// A hub tells every open screen that something changed. The zero hub is
// ready; a screen that is slow misses repeats, never the last change.
type hub struct {
	mu        sync.Mutex
	listeners map[int64]map[chan struct{}]bool
}

func (h *hub) subscribe(id int64) (<-chan struct{}, func()) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.listeners == nil {
		h.listeners = map[int64]map[chan struct{}]bool{}
	}
	if h.listeners[id] == nil {
		h.listeners[id] = map[chan struct{}]bool{}
	}
	ch := make(chan struct{}, 1)
	h.listeners[id][ch] = true
	return ch, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		delete(h.listeners[id], ch)
		if len(h.listeners[id]) == 0 {
			delete(h.listeners, id)
		}
	}
}

func (h *hub) publish(id int64) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for ch := range h.listeners[id] {
		select {
		case ch <- struct{}{}:
		default: // one is waiting already
		}
	}
}

// publishAll tells every screen.
func (h *hub) publishAll() {
	h.mu.Lock()
	ids := make([]int64, 0, len(h.listeners))
	for id := range h.listeners {
		ids = append(ids, id)
	}
	h.mu.Unlock()
	for _, id := range ids {
		h.publish(id)
	}
}
