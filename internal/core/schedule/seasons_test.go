package schedule_test

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/schedule"
	"jevvo/internal/testsize"
)

// A drawnSeason is a random problem with its optimum by an independent solver.
type drawnSeason struct {
	Case   int
	Open   [][2]int
	Rack   int
	Pieces []struct {
		Due   int
		Tasks []struct {
			Hands, Min int
			Max        *int
		}
	}
	Optimum struct {
		Feasible bool
		Late     int
		Last     *int // nil where only the lateness was proven in the time
	}
}

func (s drawnSeason) problem() schedule.Problem {
	p := schedule.Problem{Rack: []int{s.Rack}}
	for _, o := range s.Open {
		p.Open = append(p.Open, schedule.Interval{From: o[0], To: o[1]})
	}
	for i, piece := range s.Pieces {
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
	return p
}

// seasons are problems of 9 to 26 tasks with their optima by HiGHS (npm:
// highs), as time-indexed mixed integer programmes; made by
// e2e/generate/seasons.js.
func seasons(tb testing.TB) []drawnSeason {
	tb.Helper()
	f, err := os.Open("testdata/seasons.jsonl")
	require.NoError(tb, err)
	defer f.Close()
	var out []drawnSeason
	for lines := bufio.NewScanner(f); lines.Scan(); {
		var s drawnSeason
		require.NoError(tb, json.Unmarshal(lines.Bytes(), &s))
		out = append(out, s)
	}
	return out
}

// At least 95 of 100 proven optima are met, and no plan is more than 3 % of the
// late minutes over its optimum.
func TestSeasonsOfAnIndependentSolver(t *testing.T) {
	all := seasons(t)
	require.GreaterOrEqual(t, len(all), 60)
	met, proven, late, best := 0, 0, 0, 0
	for i, s := range all {
		if i%testsize.OneIn() != 0 {
			continue
		}
		p := s.problem()
		plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
		if !s.Optimum.Feasible {
			assert.ErrorIs(t, err, schedule.ErrInfeasible, "case %d", s.Case)
			continue
		}
		require.NoError(t, err, "case %d", s.Case)
		check(t, p, plan)
		proven++
		late, best = late+plan.Late, best+s.Optimum.Late
		require.GreaterOrEqual(t, plan.Late, s.Optimum.Late, "case %d: better than the optimum", s.Case)
		assert.LessOrEqual(t, float64(plan.Late), 1.03*float64(s.Optimum.Late), "case %d", s.Case)
		if plan.Late == s.Optimum.Late && (s.Optimum.Last == nil || plan.LastEnd <= *s.Optimum.Last) {
			met++
		} else {
			t.Logf("case %d of %d tasks: late %d, best %d; ends %d, best %d", s.Case, count(p), plan.Late, s.Optimum.Late,
				plan.LastEnd, *s.Optimum.Last)
		}
		if plan.Proven && s.Optimum.Last != nil {
			assert.Equal(t, [2]int{s.Optimum.Late, *s.Optimum.Last}, [2]int{plan.Late, plan.LastEnd},
				"case %d is said to be proven", s.Case)
		}
	}
	t.Logf("%d of %d optima met; late %d against %d", met, proven, late, best)
	assert.GreaterOrEqual(t, float64(met), 0.95*float64(proven))
}

func TestMain(m *testing.M) { os.Exit(testsize.Draws(m)) }

func count(p schedule.Problem) int {
	n := 0
	for _, piece := range p.Pieces {
		n += len(piece.Tasks)
	}
	return n
}
