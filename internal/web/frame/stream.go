package frame

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
)

// A Stream is an open stream of server-sent events. It is not safe for concurrent use.
type Stream struct {
	c    *gin.Context
	late *http.ResponseController
}

const (
	Beat     = 15 * time.Second // how often a stream says that it is there
	sayAgain = 1000             // after how many ms a browser is to ask again
)

// slowest is how long a client may take for an event; one that takes longer is dropped.
var slowest = 10 * time.Second // shorter in tests

// OpenStream opens a stream.
func OpenStream(c *gin.Context) *Stream {
	h := c.Writer.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("X-Accel-Buffering", "no")
	c.Status(http.StatusOK)
	s := &Stream{c, http.NewResponseController(c.Writer)}
	s.write(fmt.Sprintf("retry: %d\n\n", sayAgain))
	return s
}

func (s *Stream) write(text string) bool {
	// A writer without deadlines, as in tests of handlers, has no slow clients.
	_ = s.late.SetWriteDeadline(time.Now().Add(slowest))
	_, err := s.c.Writer.WriteString(text)
	s.c.Writer.Flush()
	return err == nil
}

// Send writes an event; false when the page has gone.
func (s *Stream) Send(name, text string) bool {
	return s.write("event: " + name + "\ndata: " + strings.ReplaceAll(strings.TrimSpace(text), "\n", "\ndata: ") + "\n\n")
}

// Beat says that the stream is there, so that both ends hear of the other's end.
func (s *Stream) Beat() bool { return s.write(": \n\n") }

// Told renders a block to be sent to who asks.
func (a *Area) Told(ctx context.Context, page, block string, data any) (string, error) {
	var b bytes.Buffer
	if err := a.execute(ctx, &b, page, block, data); err != nil {
		return "", fmt.Errorf("render %s of %s: %w", block, page, err)
	}
	return string(a.offered(ctx, numbered(b.Bytes()))), nil
}
