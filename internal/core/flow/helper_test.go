package flow

import (
	"runtime"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

const large = 1 << 20 // cells: worth splitting

// Every line is done once, however many ask for help at once, and whether the helpers
// sleep or look out.
func TestWorkIsDividedWhole(t *testing.T) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(4))
	var all sync.WaitGroup
	for caller := range 6 {
		all.Go(func() {
			for lines := range 200 {
				done := make([]atomic.Int32, lines)
				split(lines, large, func(from, to int) {
					for k := from; k < to; k++ {
						done[k].Add(1)
					}
				})
				for k := range done {
					assert.EqualValues(t, 1, done[k].Load(), "caller %d, line %d of %d", caller, k, lines)
				}
			}
		})
	}
	all.Wait()
	for _, h := range helpers() {
		assert.Eventually(t, h.asleep.Load, 5*time.Second, time.Millisecond, "a helper nobody asks sleeps")
		assert.False(t, h.taken.Load())
	}
	sum := atomic.Int64{}
	split(100, large, func(from, to int) { sum.Add(int64(to - from)) })
	assert.EqualValues(t, 100, sum.Load(), "and is woken")
}

// What falls on another core falls where it was asked for, and the helper goes on.
func TestAFallIsAnsweredForWhereItWasAsked(t *testing.T) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(2))
	for _, bad := range []int{0, 99} {
		assert.PanicsWithValue(t, bad, func() {
			split(100, large, func(from, to int) {
				if from <= bad && bad < to {
					panic(bad)
				}
			})
		})
	}
	sum := atomic.Int64{}
	split(100, large, func(from, to int) { sum.Add(int64(to - from)) })
	assert.EqualValues(t, 100, sum.Load())
}
