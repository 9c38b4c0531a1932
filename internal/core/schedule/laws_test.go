package schedule_test

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
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
			"no rack to mind": func(q *schedule.Problem) { q.Rack = nil },
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

// tight is a chain of tasks with hardly any play, hours too short for some of
// them: raising one raises all.
func tight(n int) schedule.Problem {
	p := schedule.Problem{Open: days(900, 8*60, 9*60)}
	piece := schedule.Piece{ID: "chain", Due: schedule.NoDue}
	for k := range n {
		t := schedule.Task{ID: fmt.Sprint("t", k), Hands: 7}
		if k > 0 {
			t.Waits = []schedule.Wait{wait(k-1, 31, 33)}
		}
		piece.Tasks = append(piece.Tasks, t)
	}
	p.Pieces = []schedule.Piece{piece}
	return p
}

// A solve ends: after its steps, whatever is asked, and with whoever asked.
func TestEverySolveEnds(t *testing.T) {
	_, err := schedule.Solve(t.Context(), tight(400), schedule.Settings{Steps: 200_000})
	require.Error(t, err)
	assert.True(t, errors.Is(err, schedule.ErrStopped) || errors.Is(err, schedule.ErrInfeasible))
	gone, leave := context.WithCancel(t.Context())
	leave()
	_, err = schedule.Solve(gone, tight(400), schedule.Settings{})
	assert.ErrorIs(t, err, context.Canceled)
	_, err = schedule.Solve(gone, season(12), schedule.Settings{})
	if err != nil {
		assert.ErrorIs(t, err, context.Canceled)
	}
	few := season(6)
	plan, err := schedule.Solve(t.Context(), few, schedule.Settings{Steps: 60_000})
	require.NoError(t, err, "what was found before the steps were spent is kept")
	check(t, few, plan)
	assert.False(t, plan.Proven)
}
