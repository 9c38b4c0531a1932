package colour

import "sync"

// A Memo remembers reflectances by swatch: finding one takes half a
// millisecond, and a plan is calculated at every keystroke. The zero Memo is
// ready, and many may ask at once.
type Memo struct {
	mu    sync.Mutex
	known map[string]Spectrum
}

// mostKnown bounds the memory; beyond it everything is found again.
const mostKnown = 4096

// Reflectance returns the reflectance of a swatch "#rrggbb".
func (m *Memo) Reflectance(hex string) (Spectrum, error) {
	m.mu.Lock()
	s, ok := m.known[hex]
	m.mu.Unlock()
	if ok {
		return s, nil
	}
	c, err := ParseHex(hex)
	if err != nil {
		return s, err
	}
	if s, err = c.Reflectance(); err != nil {
		return s, err
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.known == nil || len(m.known) >= mostKnown {
		m.known = map[string]Spectrum{}
	}
	m.known[hex] = s
	return s, nil
}
