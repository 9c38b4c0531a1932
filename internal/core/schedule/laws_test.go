package schedule_test

import (
	"errors"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jevvo/internal/core/schedule"
)

// proven solves a problem small enough to be searched to its end.
func proven(t *rapid.T, p schedule.Problem) (schedule.Plan, bool) {
	plan, err := schedule.Solve(t.Context(), p, schedule.Settings{})
	if errors.Is(err, schedule.ErrInfeasible) {
		return plan, false
	}
	require.NoError(t, err)
	require.True(t, plan.Proven)
	check(t, p, plan)
	return plan, true
}

// worth is what is wished for, in its order.
func worth(p schedule.Plan) [2]int { return [2]int{p.Late, p.LastEnd} }

func notWorse(t *rapid.T, better, than schedule.Plan, why string) {
	a, b := worth(better), worth(than)
	require.False(t, a[0] > b[0] || a[0] == b[0] && a[1] > b[1], "%s: %v after %v", why, a, b)
}

func small(t *rapid.T) schedule.Problem {
	draw := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 7))
	return random(draw, 2, 3)
}

// The order in which pieces are told makes no difference to what can be
// reached.
func TestTheOrderOfTellingDoesNotMatter(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := small(rt)
		plan, ok := proven(rt, p)
		turned := p
		turned.Pieces = slices.Clone(p.Pieces)
		slices.Reverse(turned.Pieces)
		again, okAgain := proven(rt, turned)
		require.Equal(rt, ok, okAgain)
		if ok {
			require.Equal(rt, worth(plan), worth(again))
		}
	})
}

// Less to do, longer hours, a later due day, wider windows or more places
// never make the best plan worse.
func TestAskingLessIsNeverWorse(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := small(rt)
		plan, ok := proven(rt, p)
		if !ok {
			return
		}
		easier := func(change func(*schedule.Problem)) schedule.Problem {
			q := p
			q.Pieces = make([]schedule.Piece, len(p.Pieces))
			for i, piece := range p.Pieces {
				q.Pieces[i] = piece
				q.Pieces[i].Tasks = make([]schedule.Task, len(piece.Tasks))
				for k, task := range piece.Tasks {
					q.Pieces[i].Tasks[k] = task
					q.Pieces[i].Tasks[k].Waits = slices.Clone(task.Waits)
				}
			}
			change(&q)
			return q
		}
		for why, change := range map[string]func(*schedule.Problem){
			"one piece less": func(q *schedule.Problem) { q.Pieces = q.Pieces[:1] },
			"longer hours": func(q *schedule.Problem) {
				q.Open = slices.Clone(q.Open)
				for i := range q.Open {
					q.Open[i].To += 60
				}
				q.Open = schedule.Union(q.Open)
			},
			"a later due day": func(q *schedule.Problem) {
				for i := range q.Pieces {
					if q.Pieces[i].Due != schedule.NoDue {
						q.Pieces[i].Due += 600
					}
				}
			},
			"open windows": func(q *schedule.Problem) {
				for i := range q.Pieces {
					for k := range q.Pieces[i].Tasks {
						for w := range q.Pieces[i].Tasks[k].Waits {
							q.Pieces[i].Tasks[k].Waits[w].Max = schedule.NoMax
						}
					}
				}
			},
			"no shelf to mind": func(q *schedule.Problem) { q.Shelf = nil },
		} {
			better, ok := proven(rt, easier(change))
			require.True(rt, ok, why)
			notWorse(rt, better, plan, why)
		}
	})
}

// Everything a day later is the same plan a day later.
func TestAPlanMovesWithItsDays(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := small(rt)
		plan, ok := proven(rt, p)
		const shift = 1440
		q := p
		q.Open, q.Pieces = slices.Clone(p.Open), slices.Clone(p.Pieces)
		for i := range q.Open {
			q.Open[i].From += shift
			q.Open[i].To += shift
		}
		for i := range q.Pieces {
			if q.Pieces[i].Due != schedule.NoDue {
				q.Pieces[i].Due += shift
			}
		}
		later, okLater := proven(rt, q)
		require.Equal(rt, ok, okLater)
		if ok {
			require.Equal(rt, [2]int{plan.Late, plan.LastEnd + shift}, worth(later))
		}
	})
}

// Pinning every task where the best plan has it keeps the plan.
func TestPinsWhereItLiesChangeNothing(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		p := small(rt)
		plan, ok := proven(rt, p)
		if !ok {
			return
		}
		q := p
		q.Pieces = slices.Clone(p.Pieces)
		for i := range q.Pieces {
			q.Pieces[i].Tasks = slices.Clone(p.Pieces[i].Tasks)
			for k := range q.Pieces[i].Tasks {
				q.Pieces[i].Tasks[k].Fixed = &plan.Starts[i][k]
			}
		}
		pinned, ok := proven(rt, q)
		require.True(rt, ok)
		require.Equal(rt, plan.Starts, pinned.Starts)
	})
}
