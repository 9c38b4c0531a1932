package frame

import (
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"
)

// A client that reads nothing is dropped, however much is to be told.
func TestAClientThatReadsNothingIsDropped(t *testing.T) {
	was := slowest
	slowest = 100 * time.Millisecond
	t.Cleanup(func() { slowest = was })
	dropped := make(chan struct{})
	engine := gin.New()
	engine.GET("/", func(c *gin.Context) {
		defer close(dropped)
		s := OpenStream(c)
		for s.Send("body", strings.Repeat("x", 1<<16)) {
		}
	})
	server := httptest.NewServer(engine)
	defer server.Close()
	c, err := net.Dial("tcp", server.Listener.Addr().String())
	require.NoError(t, err)
	defer c.Close()
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, server.URL, nil)
	require.NoError(t, err)
	require.NoError(t, r.Write(c))
	<-dropped
}
