package frame

import (
	"context"
	"net/http"
	"net/http/httptest"
	"runtime"
	"sync"
	"testing"
	"testing/synctest"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/web/peer"
)

// asker sends heavy work from an address of the network and returns its status.
func asker(h http.Handler, address, method, path string) int {
	return ask(h, peer.Peer{}, address, method, path)
}

func ask(h http.Handler, from peer.Peer, address, method, path string) int {
	r := httptest.NewRequestWithContext(peer.With(context.Background(), from), method, path, nil)
	r.RemoteAddr = address + ":4000"
	w := httptest.NewRecorder()
	h.ServeHTTP(w, r)
	if w.Code == http.StatusTooManyRequests {
		return -w.Code * len(w.Header().Values("Retry-After"))
	}
	return w.Code
}

// One source has two pieces of heavy work under way, the next is told when to come again;
// others and the bench are not held up by it.
func TestHeavyWorkTakesTurns(t *testing.T) {
	gin.SetMode(gin.ReleaseMode)
	f := &Frame{turns: newTurns()}
	e := gin.New()
	e.Use(f.takeTurn)
	begun, end := make(chan struct{}, 8), make(chan struct{})
	e.POST("/calculators/long", func(*gin.Context) {
		begun <- struct{}{}
		<-end
	})
	e.GET(HeavyRoutes[0], func(c *gin.Context) { c.Status(http.StatusOK) })
	e.GET("/benches/1", func(c *gin.Context) { c.Status(http.StatusOK) })
	var working sync.WaitGroup
	for range mostOfOne {
		working.Go(func() { assert.Equal(t, http.StatusOK, asker(e, "10.0.0.9", http.MethodPost, "/calculators/long")) })
	}
	<-begun // one works; the other works or waits for a core
	assert.Eventually(t, func() bool {
		f.turns.mu.Lock()
		defer f.turns.mu.Unlock()
		return f.turns.of["10.0.0.9"] == mostOfOne
	}, mostWait, mostWait/1000)
	assert.Equal(
		t,
		-http.StatusTooManyRequests,
		asker(e, "10.0.0.9", http.MethodPost, "/calculators/long"),
		"and is told when to come again",
	)
	page := "/palettes/4/colours/2/recipes"
	assert.Equal(t, -http.StatusTooManyRequests, asker(e, "10.0.0.9", http.MethodGet, page), "so are pages of such work")
	assert.Equal(t, http.StatusOK, asker(e, "10.0.0.9", http.MethodGet, "/benches/1"), "the bench is never held up")
	close(end)
	working.Wait()
	assert.Equal(t, http.StatusOK, asker(e, "10.0.0.9", http.MethodPost, "/calculators/long"),
		"then it has its turn again")
	assert.Empty(t, f.turns.of)
}

// At the screen the program runs on a page that asks for much at once gets all of it; who comes
// from the network is told after mostWait to come again.
func TestTheOwnScreenWaits(t *testing.T) {
	gin.SetMode(gin.ReleaseMode)
	synctest.Test(t, func(t *testing.T) {
		f := &Frame{turns: newTurns()}
		e := gin.New()
		e.Use(f.takeTurn)
		e.POST("/calculators/long", func(c *gin.Context) { c.Status(http.StatusOK) })
		cores := int64(max(1, runtime.GOMAXPROCS(0)-1))
		require.NoError(t, f.turns.all.Acquire(t.Context(), cores))
		own := make(chan int, 1)
		go func() { own <- ask(e, peer.Peer{Here: true}, "127.0.0.1", http.MethodPost, "/calculators/long") }()
		assert.Equal(t, http.StatusServiceUnavailable, asker(e, "10.0.0.9", http.MethodPost, "/calculators/long"))
		assert.Empty(t, own, "it still waits")
		f.turns.all.Release(cores)
		assert.Equal(t, http.StatusOK, <-own)
	})
}
