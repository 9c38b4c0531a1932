package web_test

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/bench"
	"jevvo/internal/testsize"
)

// usualPresses is how many presses the screens hear of with all tests.
func usualPresses() int {
	if testsize.Raced {
		return 24
	}
	return 60
}

// used is what a program holds.
type used struct {
	goroutines, files int
	heap              uint64
}

func usedNow(t *testing.T) used {
	t.Helper()
	runtime.GC()
	runtime.GC() // what finalizers let go
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	files, err := os.ReadDir("/proc/self/fd")
	require.NoError(t, err)
	return used{runtime.NumGoroutine(), len(files), m.HeapAlloc}
}

// Twenty screens at the bench and the weigh-out, some of which go and come again: what
// they hold does not grow. $JEVVO_SOAK presses, of which 1440 are those of eight hours at
// one every twenty seconds.
func TestScreensForHours(t *testing.T) {
	if runtime.GOOS != "linux" {
		t.Skip("counts files as this system shows them")
	}
	s := open(t)
	p := s.piece(map[string]string{})
	b, err := s.Bench.Start(t.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(t, err)
	w, err := s.Bench.StartWeighing(t.Context(), p.ID, plan.FirstCoat)
	require.NoError(t, err)
	server := httptest.NewServer(s.h)
	defer server.Close()
	client := server.Client()
	const screens = 20
	var closers [screens]func()
	open := func(k int) {
		ctx, cancel := context.WithCancel(t.Context())
		r, err := http.NewRequestWithContext(ctx, http.MethodGet,
			fmt.Sprintf("%s/streams?of=/benches/%d&of=/weighings/%d", server.URL, b.ID, w.ID), nil)
		require.NoError(t, err)
		res, err := client.Do(r)
		require.NoError(t, err)
		ended := make(chan struct{})
		go func() {
			defer close(ended)
			_, _ = io.Copy(io.Discard, res.Body) // ends with the stream
			res.Body.Close()
		}()
		closers[k] = func() { cancel(); <-ended }
	}
	for k := range screens {
		open(k)
	}
	n := testsize.Of(t, "JEVVO_SOAK", usualPresses())
	press := func(i int) {
		what, path := "skip", "/skip"
		if i%2 == 1 {
			what, path = "take back", "/undo"
		}
		res, err := client.Post(fmt.Sprintf("%s/benches/%d%s", server.URL, b.ID, path), "application/x-www-form-urlencoded",
			strings.NewReader(""))
		require.NoError(t, err)
		_, err = io.Copy(io.Discard, res.Body)
		require.NoError(t, err)
		res.Body.Close()
		require.Less(t, res.StatusCode, 400, what)
		closers[i%screens]() // this one's tablet slept, and wakes
		open(i % screens)
	}
	for i := range n / 3 {
		press(i)
	}
	before := usedNow(t)
	for i := n / 3; i < n; i++ {
		press(i)
	}
	after := usedNow(t)
	t.Logf("%d presses, %d screens: goroutines %d → %d, files %d → %d, heap %d → %d kB", n, screens, before.goroutines,
		after.goroutines, before.files, after.files, before.heap>>10, after.heap>>10)
	assert.InDelta(t, before.goroutines, after.goroutines, 8)
	assert.InDelta(t, before.files, after.files, 6)
	// Every press is an event of the bench day: what is kept grows by some hundred bytes each.
	assert.Less(t, float64(after.heap), float64(before.heap)+4e6+float64(n)*4e3)
	for _, end := range closers {
		end()
	}
}
