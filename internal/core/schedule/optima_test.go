package schedule_test

import (
	"encoding/json"
	"fmt"
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
	var cases []struct {
		Open   [][2]int
		Shelf  int
		Pieces []struct {
			Due   int
			Tasks []struct {
				Hands, Min int
				Max        *int
			}
		}
		Optimum struct {
			Feasible   bool
			Late, Last int
		}
	}
	require.NoError(t, json.Unmarshal(raw, &cases))
	require.GreaterOrEqual(t, len(cases), 30)
	for n, c := range cases {
		p := schedule.Problem{Shelf: []int{c.Shelf}}
		for _, o := range c.Open {
			p.Open = append(p.Open, schedule.Interval{From: o[0], To: o[1]})
		}
		for i, piece := range c.Pieces {
			out := schedule.Piece{ID: fmt.Sprint("p", i), Due: piece.Due}
			for k, task := range piece.Tasks {
				one := schedule.Task{ID: fmt.Sprint("t", k), Hands: task.Hands, Take: k == 0, Free: k == len(piece.Tasks)-1}
				if k > 0 {
					most := schedule.NoMax
					if task.Max != nil {
						most = *task.Max
					}
					one.Waits = []schedule.Wait{wait(k-1, task.Min, most)}
				}
				out.Tasks = append(out.Tasks, one)
			}
			p.Pieces = append(p.Pieces, out)
		}
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		if !c.Optimum.Feasible {
			assert.ErrorIs(t, err, schedule.ErrInfeasible, "case %d", n)
			continue
		}
		require.NoError(t, err, "case %d", n)
		check(t, p, plan)
		assert.True(t, plan.Proven, "case %d", n)
		assert.Equal(t, [2]int{c.Optimum.Late, c.Optimum.Last}, [2]int{plan.Late, plan.LastEnd}, "case %d", n)
	}
}
