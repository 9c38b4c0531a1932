package session

import (
	"context"
	"time"
)

type (
	personKey struct{}
	timeKey   struct{}
)

// By says who does what is done under the context.
func By(ctx context.Context, person string) context.Context {
	return context.WithValue(ctx, personKey{}, person)
}

func personOf(ctx context.Context) string {
	p, _ := ctx.Value(personKey{}).(string)
	return p
}

// longestLate is how late a press may arrive that was kept on a device.
const longestLate = 24 * time.Hour

// Late says how long ago it was that what arrives now was pressed.
func Late(ctx context.Context, by time.Duration) context.Context {
	return context.WithValue(ctx, timeKey{}, min(max(by, 0), longestLate))
}

// When is the time of what is pressed or typed under the context.
func (l *Log) When(ctx context.Context) time.Time {
	late, _ := ctx.Value(timeKey{}).(time.Duration)
	return l.now().Add(-late)
}
