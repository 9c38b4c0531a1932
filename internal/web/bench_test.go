package web_test

import (
	"bufio"
	"context"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// listen opens a stream of a bench day and sends a value for each screen that
// comes down it.
func listen(tb testing.TB, client *http.Client, address string) <-chan string {
	tb.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	tb.Cleanup(cancel)
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	require.NoError(tb, err)
	res, err := client.Do(req)
	require.NoError(tb, err)
	require.Equal(tb, http.StatusOK, res.StatusCode)
	tb.Cleanup(func() { res.Body.Close() })
	out := make(chan string, 64)
	go func() {
		defer close(out)
		lines := bufio.NewScanner(res.Body)
		lines.Buffer(nil, 1<<20)
		for lines.Scan() {
			if strings.Contains(lines.Text(), `data-rev="`) {
				out <- lines.Text()
			}
		}
	}()
	return out
}

func press(tb testing.TB, client *http.Client, address string, rev int) {
	tb.Helper()
	res, err := client.PostForm(address, url.Values{"rev": {fmt.Sprint(rev)}})
	require.NoError(tb, err)
	res.Body.Close()
	require.Less(tb, res.StatusCode, 400)
}

func TestEveryScreenHearsOfAStep(t *testing.T) {
	s := open(t)
	b, err := s.studio.StartBench(t.Context(), 1, "first", 0)
	require.NoError(t, err)
	base := fmt.Sprintf("%s/benches/%d", s.server.URL, b.ID)
	var screens []<-chan string
	for range 3 {
		screens = append(screens, listen(t, s.server.Client(), base+"/stream"))
	}
	press(t, s.server.Client(), base+"/done", 1)
	for _, screen := range screens {
		assert.Contains(t, <-screen, `data-rev="2"`)
	}
	res, err := s.server.Client().PostForm(base+"/done", url.Values{"rev": {"1"}})
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusUnprocessableEntity, res.StatusCode, "a press on a stale screen")
}

// BenchmarkTwentyScreens is the time from a press to the last of 20 screens.
func BenchmarkTwentyScreens(b *testing.B) {
	s := openSite(b)
	bench, err := s.studio.StartBench(b.Context(), 1, "first", 0)
	require.NoError(b, err)
	base := fmt.Sprintf("%s/benches/%d", s.server.URL, bench.ID)
	var screens []<-chan string
	for range 20 {
		screens = append(screens, listen(b, s.server.Client(), base+"/stream"))
	}
	rev := 1
	for b.Loop() {
		path := "/done"
		if rev%2 == 0 {
			path = "/undo"
		}
		press(b, s.server.Client(), base+path, rev)
		rev++
		for _, screen := range screens {
			for line := range screen {
				if strings.Contains(line, fmt.Sprintf(`data-rev="%d"`, rev)) {
					break
				}
			}
		}
	}
}
