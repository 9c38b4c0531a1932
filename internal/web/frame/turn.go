package frame

import (
	"context"
	"net/http"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"
)

// Heavy work: what anybody may ask a calculator for. It never takes the last core, so
// that the bench always has one; one source has no more than mostOfOne under way, and
// nobody from the network waits longer than mostWait for a turn.
const (
	mostOfOne = 2
	mostWait  = 5 * time.Second
	ownWait   = time.Minute // at the screen the program runs on, a page of many recipes asks for all at once
)

// heavy are the beginnings of addresses that are posted to and whose work can take a core
// for seconds; HeavyRoutes are single routes that can.
var (
	heavy       = []string{"/api/v1/calc/", "/calculators/"}
	HeavyRoutes = []string{"/palettes/:id/colours/:at/recipes", "/pieces/:id/coats/:coat/cups/:colour/recipe"}
)

// turns are given to heavy work. The zero value is not ready; see newTurns.
type turns struct {
	all *semaphore.Weighted
	mu  sync.Mutex
	of  map[string]int // under way, by source
}

func newTurns() *turns {
	return &turns{all: semaphore.NewWeighted(int64(max(1, runtime.GOMAXPROCS(0)-1))), of: map[string]int{}}
}

// enter counts a source in; false when it has enough under way.
func (t *turns) enter(source string) bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.of[source] >= mostOfOne {
		return false
	}
	t.of[source]++
	return true
}

func (t *turns) leave(source string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.of[source]--; t.of[source] <= 0 {
		delete(t.of, source)
	}
}

// takeTurn lets heavy work wait for its turn, or says when to come again.
func (f *Frame) takeTurn(c *gin.Context) {
	if !isHeavy(c.Request, c.FullPath()) {
		return
	}
	source, wait := Source(c), ownWait
	if source != ownScreen {
		wait = mostWait
		if !f.turns.enter(source) {
			comeAgain(c, http.StatusTooManyRequests)
			return
		}
		defer f.turns.leave(source)
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), wait)
	err := f.turns.all.Acquire(ctx, 1)
	cancel()
	if err != nil {
		comeAgain(c, http.StatusServiceUnavailable)
		return
	}
	defer f.turns.all.Release(1)
	c.Next()
}

func isHeavy(r *http.Request, route string) bool {
	if slices.Contains(HeavyRoutes, route) {
		return true
	}
	if r.Method != http.MethodPost {
		return false
	}
	for _, at := range heavy {
		if strings.HasPrefix(r.URL.Path, at) {
			return true
		}
	}
	return false
}

// comeAgain refuses work for now.
func comeAgain(c *gin.Context, status int) {
	c.Header("Retry-After", strconv.Itoa(int(mostWait.Seconds())))
	c.Header("Content-Type", "application/problem+json")
	c.String(status, `{"title":"Busy","status":%d,"detail":"other work is under way; ask again in a few seconds"}`, status)
	c.Abort()
}
