package bench

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"jevvo/internal/core/refusal"
	"jevvo/internal/form"
	"jevvo/internal/store"
	"jevvo/internal/web/frame"
)

// A feed tells what a screen shows from now on, at once and whenever it changes, until
// ctx ends or what it shows can no longer be read.
type feed func(ctx context.Context, tell tell)

// tell hands on a part of a screen.
type tell func(part, page, block string, data any)

// mostScreens is how many screens one stream follows.
const mostScreens = 24

// streams follows several screens by one stream, for all pages of a browser: it opens
// few connections to one program. Each event is named by its screen and its part.
func (a *area) streams(c *gin.Context) error {
	of := c.QueryArray("of")
	slices.Sort(of)
	of = slices.Compact(of)
	if len(of) == 0 || len(of) > mostScreens {
		return form.Refusef("of", "a stream follows 1 to %d screens", mostScreens)
	}
	feeds := make([]feed, len(of))
	for k, address := range of {
		f, err := a.feedOf(c.Request.Context(), address)
		if errors.Is(err, store.ErrNotFound) {
			continue // its page says so; the others go on
		}
		if err != nil {
			return err
		}
		feeds[k] = f
	}
	a.follow(c, of, feeds)
	return nil
}

// An event is a part of a screen on its way.
type event struct{ name, text string }

func (a *area) follow(c *gin.Context, of []string, feeds []feed) {
	ctx, end := context.WithCancel(c.Request.Context())
	defer end()
	events := make(chan event)
	var all sync.WaitGroup
	defer all.Wait()
	defer end()
	for k, f := range feeds {
		if f == nil {
			continue
		}
		all.Go(func() {
			f(ctx, func(part, page, block string, data any) {
				text, err := a.Told(ctx, page, block, data)
				if err != nil {
					a.Log.Error("render", "block", block, "error", err)
					return
				}
				select {
				case events <- event{of[k] + "#" + part, text}:
				case <-ctx.Done():
				}
			})
		})
	}
	s := frame.OpenStream(c)
	beat := time.NewTicker(frame.Beat)
	defer beat.Stop()
	for there := true; there; {
		select {
		case <-ctx.Done():
			return
		case e := <-events:
			there = s.Send(e.name, e.text)
		case <-beat.C:
			there = s.Beat()
		}
	}
}

// feedOf finds what a screen at an address shows.
func (a *area) feedOf(ctx context.Context, address string) (feed, error) {
	kind, number, _ := strings.Cut(strings.TrimPrefix(address, "/"), "/")
	id := frame.Number(number)
	switch kind {
	case "benches", "rehearsals":
		rehearsal := kind == "rehearsals"
		b, err := a.Studio.Bench.Log().Bench(ctx, id, rehearsal)
		return func(ctx context.Context, t tell) { a.feedBench(ctx, b, t) }, err
	case "weighings":
		w, err := a.Studio.Bench.Log().Weighing(ctx, id)
		return func(ctx context.Context, t tell) { a.feedWeighing(ctx, w, t) }, err
	}
	return nil, &form.Refused{Field: "of",
		Err: refusal.New("%q is no screen: %s", address, http.StatusText(http.StatusNotFound))}
}
