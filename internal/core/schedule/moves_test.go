package schedule

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// begun is a sequencer with an order of its jobs laid, false where none could be.
func begun(n *network, draw *rand.Rand) (*sequencer, sequence, bool) {
	s := newSequencer(n)
	s.random = draw
	for range 20 {
		start, stuck := n.build(draw.Perm(len(n.Pieces)), draw.IntN(2) == 0)
		if stuck >= 0 {
			continue
		}
		if q, ok := s.begin(start); ok {
			return s, q, true
		}
	}
	return s, sequence{}, false
}

// onStudios does something with the sequences of studios that have any job to move.
func onStudios(t *testing.T, pieces, tasks int, do func(t *rapid.T, n *network, s *sequencer, q sequence)) {
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, pieces, tasks)
		if s, q, ok := begun(n, draw); ok && len(s.free) > 0 {
			do(t, n, s, q)
		}
	})
}

// keepsOrder asserts that an order holds every job once, each behind those it waits for.
func keepsOrder(t require.TestingT, n *network, order []int) {
	placed := make([]bool, len(n.jobs))
	require.Len(t, order, len(n.jobs))
	for _, j := range order {
		require.False(t, placed[j], "twice")
		for _, e := range n.lower[j] {
			require.True(t, placed[e.to], "%d before what it waits for", j)
		}
		placed[j] = true
	}
}

func at(order []int) []int {
	out := make([]int, len(order))
	for p, j := range order {
		out[j] = p
	}
	return out
}

// without a job, an order.
func lacking(order []int, j int) []int {
	return slices.DeleteFunc(slices.Clone(order), func(k int) bool { return k == j })
}

// Every change keeps the jobs and their waits.
func TestChangesKeepTheWaits(t *testing.T) {
	onStudios(t, 4, 4, func(t *rapid.T, n *network, s *sequencer, q sequence) {
		before := clone(q)
		next := slices.Clone(q.order)
		for range 60 {
			s.change(&q, next)
			keepsOrder(t, n, next)
			require.Equal(t, before, q, "the sequence it came from is as it was")
		}
	})
}

// One job moves to any place between what it waits for and what waits for it, and to no
// other; the rest stay in their order.
func TestAJobMovesWhereItsWaitsLetIt(t *testing.T) {
	onStudios(t, 2, 4, func(t *rapid.T, n *network, s *sequencer, q sequence) {
		allowed := map[[2]int]bool{}
		for _, j := range s.free {
			rest := lacking(q.order, j)
			for p := range len(rest) + 1 {
				trial := slices.Insert(slices.Clone(rest), p, j)
				here := at(trial)
				fine := !slices.ContainsFunc(n.lower[j], func(e edge) bool { return here[e.to] > p })
				for k := range n.jobs {
					fine = fine && !(here[k] < p && slices.ContainsFunc(n.lower[k], func(e edge) bool { return e.to == j }))
				}
				if fine && !slices.Equal(trial, q.order) {
					allowed[[2]int{j, p}] = true
				}
			}
		}
		seen := map[[2]int]bool{}
		for range 4000 {
			next := slices.Clone(q.order)
			s.at = at(next)
			if !s.move(next) {
				require.Equal(t, q.order, next)
				continue
			}
			require.NotEqual(t, q.order, next)
			one := false
			for k := range allowed {
				if next[k[1]] == k[0] && slices.Equal(lacking(next, k[0]), lacking(q.order, k[0])) {
					seen[k], one = true, true
				}
			}
			require.True(t, one, "%v from %v", next, q.order)
			if len(seen) == len(allowed) {
				break
			}
		}
		require.Len(t, seen, len(allowed), "each can be reached")
	})
}

// Two jobs change places where the waits of both let them.
func TestTwoJobsChangePlaces(t *testing.T) {
	swapped := 0
	onStudios(t, 2, 4, func(t *rapid.T, n *network, s *sequencer, q sequence) {
		allowed, seen := map[[2]int]bool{}, map[[2]int]bool{}
		where := at(q.order)
		for _, a := range s.free {
			for _, b := range s.free {
				trial := slices.Clone(q.order)
				trial[where[a]], trial[where[b]] = b, a
				if a < b && inOrder(n, trial) {
					allowed[[2]int{a, b}] = true
				}
			}
		}
		for range 3000 {
			next := slices.Clone(q.order)
			s.at = at(next)
			if !s.exchange(next) {
				require.Equal(t, q.order, next)
				continue
			}
			swapped++
			pair := differing(q.order, next)
			require.True(t, allowed[pair], "%v from %v", next, q.order)
			seen[pair] = true
		}
		require.Len(t, seen, len(allowed))
	})
	assert.Positive(t, swapped)
}

func inOrder(n *network, order []int) bool {
	where := at(order)
	for j, edges := range n.lower {
		for _, e := range edges {
			if where[e.to] > where[j] {
				return false
			}
		}
	}
	return true
}

// differing are the jobs at the two places where orders differ.
func differing(a, b []int) [2]int {
	var out []int
	for p := range a {
		if a[p] != b[p] {
			out = append(out, a[p])
		}
	}
	slices.Sort(out)
	if len(out) != 2 {
		return [2]int{-1, -1}
	}
	return [2]int(out)
}

// A block is a job and all that windows of at most a day tie to it, both ways and one
// after the other; what is pinned is left where it is.
func TestABlockIsWhatWindowsTie(t *testing.T) {
	tied := 0
	rapid.Check(t, func(t *rapid.T) {
		n, _ := drawnNetwork(t, 3, 5)
		s := newSequencer(n)
		joined := func(a, b int) bool {
			for _, pair := range [][2]int{{a, b}, {b, a}} {
				for _, w := range n.jobs[pair[0]].Waits {
					if n.jobs[a].piece == n.jobs[b].piece && w.After == n.jobs[pair[1]].task && w.Max != NoMax && w.Max <= 1440 {
						return true
					}
				}
			}
			return false
		}
		for _, j := range s.free {
			want := []int{j}
			for grown := true; grown; {
				grown = false
				for k, t := range n.jobs {
					if t.Fixed == nil && !slices.Contains(want, k) &&
						slices.ContainsFunc(want, func(a int) bool { return joined(a, k) }) {
						want, grown = append(want, k), true
					}
				}
			}
			tied += len(want) - 1
			require.ElementsMatch(t, want, s.tied(j))
		}
	})
	assert.Positive(t, tied)
}

// A block goes to where another job begins or ends, all its jobs by as much.
func TestABlockGoesToAnotherJob(t *testing.T) {
	onStudios(t, 3, 4, func(t *rapid.T, n *network, s *sequencer, q sequence) {
		var orders [][]int
		for _, j := range s.free {
			for other := range n.jobs {
				for _, by := range []int{q.start[other] - q.start[j], q.start[other] + n.jobs[other].Hands - q.start[j]} {
					keys := slices.Clone(q.start)
					for _, k := range s.tied(j) {
						keys[k] += by
					}
					orders = append(orders, s.sorted(keys))
				}
			}
		}
		for range 50 {
			next := slices.Clone(q.order)
			if s.block(&q, next) {
				require.True(t, slices.ContainsFunc(orders, func(o []int) bool { return slices.Equal(o, next) }), "%v from %v",
					next, q.order)
			} else {
				require.Equal(t, q.order, next)
			}
		}
	})
}

// A piece goes, from one of its tasks on, by one of the steps; or two change places.
func TestAPieceIsShifted(t *testing.T) {
	onStudios(t, 3, 4, func(t *rapid.T, n *network, s *sequencer, q sequence) {
		shifted := func(keys []int, numbers []int, by int) {
			for _, j := range numbers {
				if n.jobs[j].Fixed == nil {
					keys[j] += by
				}
			}
		}
		var one, two [][]int
		for i, numbers := range n.number {
			for from := range numbers {
				for _, by := range shifts {
					keys := slices.Clone(q.start)
					shifted(keys, numbers[from:], by)
					one = append(one, s.sorted(keys))
				}
			}
			for k, others := range n.number {
				if k == i {
					continue
				}
				keys := slices.Clone(q.start)
				by := q.start[others[0]] - q.start[numbers[0]]
				shifted(keys, numbers, by)
				shifted(keys, others, -by)
				two = append(two, s.sorted(keys))
			}
		}
		has := func(orders [][]int, next []int) bool {
			return slices.ContainsFunc(orders, func(o []int) bool { return slices.Equal(o, next) })
		}
		for range 40 {
			next := slices.Clone(q.order)
			require.True(t, s.shift(&q, next, false))
			require.True(t, has(one, next), "%v from %v", next, q.order)
			require.True(t, s.shift(&q, next, true))
			require.True(t, has(one, next) || has(two, next), "%v from %v", next, q.order)
		}
		require.Negative(t, slices.Min(shifts), "earlier")
		require.Positive(t, slices.Max(shifts), "and later")
	})
}

// Pieces that are taken out are planned anew among the others, which keep their times.
func TestPiecesArePlannedAnew(t *testing.T) {
	onStudios(t, 5, 3, func(t *rapid.T, n *network, s *sequencer, q sequence) {
		for range 20 {
			next := slices.Clone(q.order)
			if !s.again(&q, next) {
				require.Equal(t, q.order, next)
				continue
			}
			keepsOrder(t, n, next)
			anew := 0
			for _, numbers := range n.number {
				if slices.ContainsFunc(numbers, func(j int) bool { return s.key[j] != q.start[j] }) {
					anew++
				}
			}
			require.LessOrEqual(t, anew, 3)
			plan := n.plan(s.key)
			KeepsTheRules(t, n.Problem, plan)
		}
	})
}

// Every other time a piece is chosen that is late, if one is; else any of them.
func TestLatePiecesAreChosenMoreOften(t *testing.T) {
	p := Problem{Open: []Interval{{0, 10_000}}}
	for range 4 {
		p.Pieces = append(p.Pieces, Piece{Due: 1000, Tasks: []Task{{Hands: 30}, {Hands: 30}}})
	}
	s := newSequencer(newNetwork(t.Context(), p))
	for name, c := range map[string]struct {
		first, second int // starts of the last piece
		want          float64
	}{
		"just in time":      {0, 970, 0.25},
		"late at the end":   {0, 971, 0.5 + 0.5/4},
		"late at the start": {971, 0, 0.5 + 0.5/4},
	} {
		start := []int{0, 40, 80, 120, 160, 200, c.first, c.second}
		var picked [4]int
		const draws = 40_000
		for range draws {
			picked[s.choose(start)]++
		}
		// four standard deviations of a share of so many draws
		assert.InDelta(t, c.want, float64(picked[3])/draws, 4*math.Sqrt(c.want*(1-c.want)/draws), name)
		for i := range 3 {
			rest := (1 - c.want) / 3
			assert.InDelta(t, rest, float64(picked[i])/draws, 4*math.Sqrt(rest*(1-rest)/draws), name)
		}
	}
}

// Each kind of change has its share of the draws, so that none is starved: of twenty
// seven move a job, two exchange, four take a block, five shift, two plan anew.
func TestEveryKindOfChangeComesUp(t *testing.T) {
	p := Problem{Open: []Interval{{0, 10_000}}}
	for range 6 {
		p.Pieces = append(p.Pieces,
			Piece{Due: NoDue, Tasks: []Task{{Hands: 30}, {Hands: 30, Waits: []Wait{{After: 0, Min: 10, Max: NoMax}}}}})
	}
	s := newSequencer(newNetwork(t.Context(), p))
	start, stuck := s.build([]int{0, 1, 2, 3, 4, 5}, false)
	require.Negative(t, stuck)
	q, ok := s.begin(start)
	require.True(t, ok)
	same, moved, other := 0, 0, 0
	next := slices.Clone(q.order)
	const draws = 20_000
	for range draws {
		switch changed := s.change(&q, next); {
		case !changed || slices.Equal(next, q.order):
			same++
		case slices.ContainsFunc(next, func(j int) bool { return slices.Equal(lacking(next, j), lacking(q.order, j)) }):
			moved++
		default:
			other++
		}
	}
	for name, n := range map[string]int{"nothing": same, "one job": moved, "more": other} {
		assert.Greater(t, n, draws/10, name)
	}
}
