package access

import (
	"time"

	"golang.org/x/time/rate"
)

// How often one source may try one kind of thing: six times at once, then every ten
// seconds (six a minute).
const (
	triesAtOnce = 6
	triesEvery  = 10 * time.Second
	mostSources = 1000 // remembered; those that have not tried for a minute go first
)

// try is a kind of thing that is tried, from where.
type try struct{ kind, source string }

// tries counts what was tried in vain, by kind and source: what one does shuts nobody
// else out. Its time is given to it.
type tries struct{ by map[try]*rate.Limiter }

// take spends a try; give gives it back to who was right. It reports false when too many
// were spent.
func (t *tries) take(kind, source string, now time.Time) (give func(), ok bool) {
	key := try{kind, source}
	l := t.by[key]
	if l == nil {
		t.forget(now)
		l = rate.NewLimiter(rate.Every(triesEvery), triesAtOnce)
		t.by[key] = l
	}
	r := l.ReserveN(now, 1)
	if !r.OK() || r.DelayFrom(now) > 0 {
		r.CancelAt(now)
		return nil, false
	}
	return func() { r.CancelAt(now) }, true
}

// forget makes room: sources whose tries are whole again are as good as unknown.
func (t *tries) forget(now time.Time) {
	if len(t.by) < mostSources {
		return
	}
	for key, l := range t.by {
		if l.TokensAt(now) >= triesAtOnce {
			delete(t.by, key)
		}
	}
}
