package schedule

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// everyOrder calls try with all orders of the jobs that keep their waits and their places.
func everyOrder(n *network, try func(order []int)) {
	var order []int
	placed, held := make([]bool, len(n.jobs)), slices.Clone(n.standing)
	var walk func()
	walk = func() {
		if len(order) == len(n.jobs) {
			try(order)
			return
		}
		for j, t := range n.jobs {
			if placed[j] || slices.ContainsFunc(n.lower[j], func(e edge) bool { return !placed[e.to] }) {
				continue
			}
			piece, by := n.Pieces[t.piece], 0
			if len(n.Rack) > 0 && !t.Done && !t.Begun {
				want := max(1, piece.Places)
				if t.Take && held[piece.Rack]+want > n.Rack[piece.Rack] {
					continue
				}
				if t.Take {
					by += want
				}
				if t.Free {
					by -= want
				}
			}
			placed[j], order = true, append(order, j)
			if by != 0 {
				held[piece.Rack] += by
			}
			walk()
			if by != 0 {
				held[piece.Rack] -= by
			}
			placed[j], order = false, order[:len(order)-1]
		}
	}
	walk()
}

// The tree finds what trying every order finds, whatever the plan it begins with: none,
// the best, or one of that many sessions.
func TestTheTreeFindsTheBestOfAllOrders(t *testing.T) {
	solved := 0
	rapid.Check(t, func(t *rapid.T) {
		n, _ := drawnNetwork(t, 2, 3)
		best, can := Plan{}, false
		everyOrder(n, func(order []int) {
			start, ok := earliest(n, order, func(j int) bool { return !n.jobs[j].Done })
			if !ok {
				return
			}
			if plan := n.plan(start); !can || plan.better(best) {
				best, can = plan, true
			}
		})
		plan, ok, done := n.exact(Plan{}, false, 1<<30)
		require.True(t, done)
		require.Equal(t, can, ok)
		if !can {
			return
		}
		solved++
		KeepsTheRules(t, n.Problem, plan)
		goals := func(p Plan) [3]int { return [3]int{p.Late, p.LastEnd, p.waiting()} }
		require.Equal(t, goals(best), goals(plan))
		worse := best
		for _, change := range []func(){func() { worse.Late++ }, func() { worse = best; worse.LastEnd++ },
			func() { worse = best; worse.Sessions++ }} {
			change()
			again, ok, _ := n.exact(worse, true, 1<<30)
			require.True(t, ok)
			require.Equal(t, goals(best), goals(again), "from one that is a little worse")
		}
		again, ok, _ := n.exact(best, true, 1<<30)
		require.True(t, ok)
		require.Equal(t, best, again, "there is none better to exchange it for")
	})
	assert.Positive(t, solved)
}

// happened are the jobs that have, or are in hand.
func happened(n *network) []int {
	var out []int
	for j, t := range n.jobs {
		if t.Done || t.Begun {
			out = append(out, j)
		}
	}
	return out
}

// What the tree cuts off is no better than what it has: hopeless is said only where every
// end of the branch is worse.
func TestABranchIsCutOnlyWhereNoneIsBetter(t *testing.T) {
	cuts, kept := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, 2, 3)
		s := newSearch(n)
		for range draw.IntN(len(n.jobs) + 1) {
			ready := slices.DeleteFunc(slices.Collect(func(yield func(int) bool) {
				for j := range n.jobs {
					if !yield(j) {
						return
					}
				}
			}), func(j int) bool { return s.placed[j] || !s.ready(j) })
			if len(ready) == 0 {
				return
			}
			if !s.push(ready[draw.IntN(len(ready))]) {
				return
			}
		}
		begun := slices.Clone(s.order[s.begun:])
		want, can := earliest(n, slices.Concat(happened(n), begun), func(j int) bool { return !n.jobs[j].Done })
		if len(s.order) == s.open {
			require.True(t, can)
			require.Equal(t, want, s.start, "what is pushed one after the other is laid as early as all at once")
			return
		}
		best, any := Plan{}, false
		everyOrder(n, func(order []int) {
			order = slices.DeleteFunc(slices.Clone(order), func(j int) bool { return n.jobs[j].Done || n.jobs[j].Begun })
			if !slices.Equal(order[:len(begun)], begun) {
				return
			}
			if start, ok := earliest(n, slices.Concat(happened(n), order), func(j int) bool { return !n.jobs[j].Done }); ok {
				if plan := n.plan(start); !any || plan.better(best) {
					best, any = plan, true
				}
			}
		})
		if s.hopeless() {
			require.False(t, any, "without a plan only what has none is hopeless")
			return
		}
		if !any {
			return
		}
		s.have, s.best = true, best
		s.best.Sessions++
		require.False(t, s.hopeless(), "a plan of one session less is at the end of it")
		s.best = best
		s.best.Late--
		if s.hopeless() {
			cuts++
		} else {
			kept++
		}
	})
	assert.Greater(t, cuts, kept, "most branches with nothing better are seen to be so")
}

// The candidates of a branch are the jobs that may come next, those first that can be
// earliest.
func TestCandidatesComeByHowEarlyTheyCan(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, 4, 4)
		s := newSearch(n)
		for range draw.IntN(len(n.jobs)) {
			if s.hopeless() {
				return
			}
			next := s.candidates()
			for k := 1; k < len(next); k++ {
				require.LessOrEqual(t, s.earl[next[k-1]], s.earl[next[k]])
			}
			for j := range n.jobs {
				may := !s.placed[j] && !slices.ContainsFunc(n.lower[j], func(e edge) bool { return !s.placed[e.to] })
				piece := n.Pieces[n.jobs[j].piece]
				if job := n.jobs[j]; job.Take && !job.Done && !job.Begun && len(n.Rack) > 0 {
					may = may && s.held[piece.Rack]+max(1, piece.Places) <= n.Rack[piece.Rack]
				}
				require.Equal(t, may, slices.Contains(next, j))
			}
			if len(next) == 0 {
				return
			}
			j := next[draw.IntN(len(next))]
			before := slices.Clone(s.held)
			earl := s.earl[j]
			ok := s.push(j)
			if ok {
				require.GreaterOrEqual(t, s.start[j], earl, "it is no earlier than was calculated")
				continue
			}
			s.pop(j)
			require.Equal(t, before, s.held)
			return
		}
	})
}

// Regression: how many branches the tree looks at until it is done. Who betters the bound
// takes them anew; more is slower.
func TestTheTreeIsNoLargerThanItWas(t *testing.T) {
	was := []int{4, 21, 5, 64, 503, 43, 189, 5, 9, 19, 11, 8, 35, 66, 8, 428, 10, 25, 23, 73, 18, 2, 50, 71}
	for seed, want := range was {
		s := newSearch(newNetwork(t.Context(), anyStudio(rand.New(rand.NewPCG(uint64(seed), 5)), 3, 3)))
		s.limit = 200_000
		s.branch()
		assert.LessOrEqual(t, s.nodes, want, "studio %d", seed)
	}
}
