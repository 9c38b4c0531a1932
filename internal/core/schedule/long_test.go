package schedule_test

import (
	"context"
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/schedule"
	"jevvo/internal/testsize"
)

// The best of ten minutes of annealing (our own search with that much time;
// regression values), late minutes and last end, by pieces of ten tasks. Made by
// JEVVO_ANNEAL=10m go test -run TenMinutes -timeout 1h ./internal/core/schedule
var tenMinutes = map[int][2]int{6: {0, 25440}, 12: {25918, 34035}, 40: {0, 45600}}

func TestTenMinutesOfAnnealing(t *testing.T) {
	wanted, err := time.ParseDuration(os.Getenv("JEVVO_ANNEAL"))
	if err != nil {
		t.Skip("takes ten minutes a season; set JEVVO_ANNEAL=10m to make the values anew")
	}
	for _, pieces := range []int{6, 12, 40} {
		ctx, cancel := context.WithTimeout(t.Context(), wanted)
		best := [2]int{1 << 40, 0}
		for changes := 1_000_000; ctx.Err() == nil; changes *= 2 {
			plan, err := schedule.Solve(ctx, season(pieces), schedule.Settings{Changes: changes, Steps: 1 << 60, Exact: 1})
			if err == nil && (plan.Late < best[0] || (plan.Late == best[0] && plan.LastEnd < best[1])) {
				best = [2]int{plan.Late, plan.LastEnd}
			}
		}
		cancel()
		t.Logf("%d pieces: late %d, ends %d", pieces, best[0], best[1])
	}
}

// Within 15 % of that at 60 and 120 tasks and 5 % at 400, in its own short time.
func TestSeasonsNearTenMinutesOfAnnealing(t *testing.T) {
	if testsize.Raced {
		t.Skip("run whole without the race detector")
	}
	for pieces, best := range tenMinutes {
		p := season(pieces)
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		require.NoError(t, err)
		check(t, p, plan)
		near := 1.15
		if pieces == 40 {
			near = 1.05
		}
		assert.LessOrEqual(t, float64(plan.Late), near*float64(best[0]), "%d pieces", pieces)
		if plan.Late <= best[0] {
			assert.LessOrEqual(t, float64(plan.LastEnd), near*float64(best[1]), "%d pieces", pieces)
		}
		assert.GreaterOrEqual(t, plan.LastEnd, plan.Bound)
	}
}
