//go:build linux

package device_test

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"sync"
	"testing"
	"time"

	"github.com/creack/pty"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/device"
)

// A hand that moves the clock.
type wall struct {
	mu sync.Mutex
	t  time.Time
}

func (w *wall) now() time.Time {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.t
}

func (w *wall) pass(d time.Duration) {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.t = w.t.Add(d)
}

// A scale that sends lines: rest, movement, noise, silence.
func TestAScaleThatSendsLines(t *testing.T) {
	w := &wall{t: time.Unix(1e9, 0)}
	s := device.NewLineScale(0.1, w.now)
	assert.True(t, s.Read().Lost, "it has sent nothing yet")
	s.Line("12.0 g")
	assert.False(t, s.Read().Stable)
	w.pass(600 * time.Millisecond)
	s.Line("12.1 g")
	assert.True(t, s.Read().Stable, "a flicker of a step is rest")
	s.Tare()
	s.Line("#!~\x00")
	s.Line("57.1 g")
	assert.InDelta(t, 45, s.Read().Grams.Grams(), 1e-9)
	assert.False(t, s.Read().Stable)
	w.pass(time.Second)
	assert.True(t, s.Read().Stable)
	s.Line("US,+ 57.1 g")
	assert.False(t, s.Read().Stable, "it says itself that it moves")
	s.Line("ST,+ 57.1 g")
	assert.True(t, s.Read().Stable)
	w.pass(4 * time.Second)
	got := s.Read()
	assert.True(t, got.Lost, "silence is said, not guessed over")
	assert.False(t, got.Stable)
}

// A simulated scale on a pseudo-terminal: the real serial port code reads it, and
// a cable that is pulled is noticed.
func TestAScaleOnAPort(t *testing.T) {
	master, slave, err := pty.Open()
	require.NoError(t, err)
	ctx, stop := context.WithCancel(t.Context())
	s := device.NewLineScale(0.1, time.Now)
	over := make(chan struct{})
	go func() {
		defer close(over)
		s.Serve(ctx, device.Port{Name: slave.Name(), Baud: 9600}, slog.New(slog.DiscardHandler))
	}()
	go func() {
		for i := 0; ctx.Err() == nil; i++ {
			if _, err := fmt.Fprintf(master, "ST,GS,+ %6.1f g\r\n", min(float64(i), 88.5)); err != nil {
				return
			}
		}
	}()
	require.Eventually(t, func() bool { return s.Read().Grams.Grams() == 88.5 }, 10*time.Second, 5*time.Millisecond)
	stop()
	<-over
	require.NoError(t, master.Close())
	_ = slave.Close()
}

func TestPorts(t *testing.T) {
	p, err := device.ParsePort("/dev/ttyUSB0@4800")
	require.NoError(t, err)
	assert.Equal(t, device.Port{Name: "/dev/ttyUSB0", Baud: 4800}, p)
	p, err = device.ParsePort("COM3")
	require.NoError(t, err)
	assert.Equal(t, 9600, p.Baud)
	for _, bad := range []string{"", "@9600", "COM3@fast", "COM3@1"} {
		_, err := device.ParsePort(bad)
		assert.Error(t, err, bad)
	}
	assert.NoError(t, device.NewLineScale(0.1, time.Now).Follow(io.MultiReader()))
}

func FuzzParsePort(f *testing.F) {
	f.Add("/dev/ttyUSB0@9600")
	f.Add("COM3")
	f.Fuzz(func(t *testing.T, text string) {
		p, err := device.ParsePort(text)
		if err == nil && (p.Name == "" || p.Baud < 300) {
			t.Fatalf("%q read as %v", text, p)
		}
	})
}
