package device

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math"
	"strconv"
	"strings"
	"sync"
	"time"

	"go.bug.st/serial"

	"jevvo/internal/core/units"
)

// A LineScale is a scale that sends its display line by line over a serial port.
// Whatever it sends beside the numbers is left alone; a line that cannot be read
// changes nothing. It is zeroed here, not on the scale.
type LineScale struct {
	step units.Mass
	now  func() time.Time

	mu    sync.Mutex
	shown units.Mass
	tare  units.Mass
	said  bool      // it says itself whether it moves
	moves bool      // and it does
	since time.Time // it has shown about this
	last  time.Time // line that could be read
}

// How long a scale may keep silent, and how long a display must stand for one
// that does not say when it rests.
const (
	silentFor = 3 * time.Second
	restsFor  = 500 * time.Millisecond
)

// NewLineScale returns a scale that reads to step and has sent nothing yet.
func NewLineScale(step units.Mass, now func() time.Time) *LineScale {
	return &LineScale{step: step, now: now}
}

// Line takes one line of the display.
func (s *LineScale) Line(line string) {
	d, err := units.ParseDisplay(line)
	if err != nil {
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	now := s.now()
	if s.last.IsZero() || math.Abs(float64(d.Mass-s.shown)) > 1.01*float64(s.step) {
		s.since = now
	}
	s.shown, s.last, s.moves = d.Mass, now, d.Moving
	s.said = s.said || d.Moving
}

// Read returns what the display shows, over what it was zeroed at.
func (s *LineScale) Read() Weight {
	s.mu.Lock()
	defer s.mu.Unlock()
	now := s.now()
	w := Weight{Grams: s.shown - s.tare, Lost: s.last.IsZero() || now.Sub(s.last) > silentFor}
	w.Stable = !w.Lost && !s.moves && (s.said || now.Sub(s.since) >= restsFor)
	return w
}

// Tare zeroes the display.
func (s *LineScale) Tare() {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.tare = s.shown
}

// Step returns what it reads to.
func (s *LineScale) Step() units.Mass { return s.step }

// Follow reads lines until the reader ends.
func (s *LineScale) Follow(r io.Reader) error {
	lines := bufio.NewScanner(r)
	lines.Buffer(make([]byte, 0, 256), 4096)
	lines.Split(splitLines)
	for lines.Scan() {
		s.Line(lines.Text())
	}
	return lines.Err()
}

// splitLines ends a line at a carriage return as well.
func splitLines(data []byte, atEOF bool) (advance int, token []byte, err error) {
	if i := strings.IndexAny(string(data), "\r\n"); i >= 0 {
		return i + 1, data[:i], nil
	}
	if atEOF && len(data) > 0 {
		return len(data), data, nil
	}
	return 0, nil, nil
}

// A Port is where a serial scale is plugged in.
type Port struct {
	Name string
	Baud int
}

// usualBaud is the default rate of bench scales (common practice).
const usualBaud = 9600

// ParsePort reads a port, with its speed after an @ where it is not 9600.
func ParsePort(text string) (Port, error) {
	name, speed, found := strings.Cut(text, "@")
	p := Port{Name: name, Baud: usualBaud}
	if found {
		var err error
		if p.Baud, err = strconv.Atoi(speed); err != nil || p.Baud < 300 || p.Baud > 1_000_000 {
			return p, fmt.Errorf("%q is not a port; write it as /dev/ttyUSB0@9600 or COM3@9600", text)
		}
	}
	if name == "" {
		return p, errors.New("a scale needs a port, such as /dev/ttyUSB0@9600")
	}
	return p, nil
}

// plugAgain is how often a port that dropped out is tried again.
const plugAgain = 2 * time.Second

// Serve follows the scale at a port until ctx ends; one that is pulled out is
// tried again and again.
func (s *LineScale) Serve(ctx context.Context, p Port, log *slog.Logger) {
	for first := true; ctx.Err() == nil; first = false {
		err := s.plugged(ctx, p)
		if err != nil && ctx.Err() == nil && first {
			log.Warn("the scale does not answer", "port", p.Name, "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(plugAgain):
		}
	}
}

func (s *LineScale) plugged(ctx context.Context, p Port) error {
	port, err := serial.Open(p.Name, &serial.Mode{BaudRate: p.Baud})
	if err != nil {
		return err
	}
	stop := context.AfterFunc(ctx, func() { port.Close() })
	defer stop()
	return errors.Join(s.Follow(port), port.Close())
}
