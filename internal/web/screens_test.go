package web_test

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/plan"
	"jevvo/internal/studio/bench"
)

// listen opens a screen's stream and returns the lines that carry a revision.
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

// streamOf is where a screen is followed.
func streamOf(screen string) string {
	u, err := url.Parse(screen)
	if err != nil {
		panic(err)
	}
	return u.Scheme + "://" + u.Host + "/streams?of=" + url.QueryEscape(u.Path)
}

func press(tb testing.TB, client *http.Client, address string, rev int) int {
	tb.Helper()
	res, err := client.PostForm(address, url.Values{"rev": {fmt.Sprint(rev)}})
	require.NoError(tb, err)
	res.Body.Close()
	return res.StatusCode
}

// benchAt begins a bench day on a listening server.
func benchAt(tb testing.TB) (client *http.Client, base string) {
	s := open(tb)
	p, _, err := s.Pieces.Create(tb.Context(), map[string]string{"name": "Mudflat"})
	require.NoError(tb, err)
	b, err := s.Bench.Start(tb.Context(), p.ID, plan.FirstCoat, 0, bench.Answers{Anyway: true})
	require.NoError(tb, err)
	server := httptest.NewServer(s.h)
	tb.Cleanup(server.Close)
	return server.Client(), fmt.Sprintf("%s/benches/%d", server.URL, b.ID)
}

func TestEveryScreenHearsOfAStep(t *testing.T) {
	client, base := benchAt(t)
	var screens []<-chan string
	for range 3 {
		screens = append(screens, listen(t, client, streamOf(base)))
	}
	for _, screen := range screens {
		assert.Contains(t, <-screen, `data-rev="1"`, "the present state at once")
	}
	require.Less(t, press(t, client, base+"/done", 1), 400)
	for _, screen := range screens {
		assert.Contains(t, <-screen, `data-rev="2"`)
	}
	assert.Equal(t, http.StatusConflict, press(t, client, base+"/done", 1), "a press on a stale screen")
}

// BenchmarkTwentyScreens is the time from a press to the last of 20 screens.
func BenchmarkTwentyScreens(b *testing.B) {
	client, base := benchAt(b)
	twentyScreens(b, client, base, "/done")
}

// BenchmarkTwentyScreensHeat is the same for a pass of heat, which moves all windows.
func BenchmarkTwentyScreensHeat(b *testing.B) {
	client, base := benchAt(b)
	require.Less(b, press(b, client, base+"/met", 1), 400)
	twentyScreens(b, client, base, "/heat")
}

// BenchmarkAdvice is the time from a complaint to its answer.
func BenchmarkAdvice(b *testing.B) {
	client, base := benchAt(b)
	require.Less(b, press(b, client, base+"/met", 1), 400)
	for b.Loop() {
		res, err := client.Get(base + "/advice?complaint=too-white&place=middle")
		require.NoError(b, err)
		text, err := io.ReadAll(res.Body)
		require.NoError(b, err)
		require.NoError(b, res.Body.Close())
		require.Contains(b, string(text), "Scrape it off")
	}
}

func twentyScreens(b *testing.B, client *http.Client, base, does string) {
	var screens []<-chan string
	for range 20 {
		screens = append(screens, listen(b, client, streamOf(base)))
	}
	res, err := client.Get(base)
	require.NoError(b, err)
	page, err := io.ReadAll(res.Body)
	require.NoError(b, err)
	require.NoError(b, res.Body.Close())
	first, err := strconv.Atoi(regexp.MustCompile(`data-rev="(\d+)"`).FindStringSubmatch(string(page))[1])
	require.NoError(b, err)
	rev := first
	for b.Loop() {
		path := does
		if (rev-first)%2 == 1 {
			path = "/undo"
		}
		require.Less(b, press(b, client, base+path, rev), 400)
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
