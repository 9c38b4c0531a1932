package schedule_test

import (
	"encoding/json"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/schedule"
)

// Optimal values of forty small random problems from an independent solver,
// HiGHS (npm: highs), as mixed integer programmes; made by
// e2e/generate/schedules.js.
func TestOptimaOfAnIndependentSolver(t *testing.T) {
	raw, err := os.ReadFile("testdata/optima.json")
	require.NoError(t, err)
	var cases []drawnSeason
	require.NoError(t, json.Unmarshal(raw, &cases))
	require.GreaterOrEqual(t, len(cases), 30)
	for n, c := range cases {
		p := c.problem()
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		if !c.Optimum.Feasible {
			assert.ErrorIs(t, err, schedule.ErrInfeasible, "case %d", n)
			continue
		}
		require.NoError(t, err, "case %d", n)
		check(t, p, plan)
		assert.True(t, plan.Proven, "case %d", n)
		assert.Equal(t, [2]int{c.Optimum.Late, *c.Optimum.Last}, [2]int{plan.Late, plan.LastEnd}, "case %d", n)
	}
}
