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

// drawnNetwork is any studio as a network, and the draw it came from.
func drawnNetwork(t *rapid.T, pieces, tasks int) (*network, *rand.Rand) {
	draw := rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 3))
	p := anyStudio(draw, pieces, tasks)
	require.NoError(t, p.Check())
	return newNetwork(t.Context(), p), draw
}

// anyOrder is an order of all jobs, each behind those it waits for.
func anyOrder(n *network, draw *rand.Rand) []int {
	var order []int
	placed := make([]bool, len(n.jobs))
	for len(order) < len(n.jobs) {
		j := draw.IntN(len(n.jobs))
		if !placed[j] && !slices.ContainsFunc(n.lower[j], func(e edge) bool { return !placed[e.to] }) {
			placed[j] = true
			order = append(order, j)
		}
	}
	return order
}

// earliest raises the starts of an order, looking at each job, the one before it and
// each wait alone, until nothing is left to raise: slow, and written apart from lay.
// Those that take turns are said by the caller; what is in hand lies before them all.
func earliest(n *network, order []int, takesTurn func(j int) bool) ([]int, bool) {
	start := make([]int, len(n.jobs))
	for j := range start {
		start[j] = -1 << 20
	}
	for moved := true; moved; {
		moved = false
		before := -1
		for _, j := range order {
			t := n.jobs[j].Task
			turn := takesTurn(j) && !t.Begun
			need := start[j]
			if t.Fixed == nil {
				need = max(need, t.NotIn)
			}
			for _, w := range t.Waits {
				k := n.number[n.jobs[j].piece][w.After]
				need = max(need, start[k]+n.jobs[k].Hands+w.Min)
			}
			for k, other := range n.jobs {
				for _, w := range other.Waits {
					if other.piece == n.jobs[j].piece && w.After == n.jobs[j].task && w.Max != NoMax {
						need = max(need, start[k]-w.Max-t.Hands)
					}
				}
			}
			for _, other := range n.jobs {
				if turn && other.Begun {
					need = max(need, *other.Fixed+other.Hands)
				}
			}
			if turn && before >= 0 {
				need = max(need, start[before]+n.jobs[before].Hands)
			}
			if turn {
				before = j
			}
			at := -1
			switch {
			case t.Done:
				at = *t.Fixed
			case t.Fixed != nil && need > *t.Fixed:
				return nil, false
			case t.Fixed != nil:
				at = *t.Fixed
			default:
				for _, o := range n.Open {
					if s := max(need, o.From); s+t.Hands <= o.To {
						at = s
						break
					}
				}
				if at < 0 {
					return nil, false
				}
			}
			if at != start[j] {
				start[j], moved = at, true
			}
		}
	}
	return start, true
}

// An order of all jobs is laid as early as its rules allow, or it has no plan.
func TestAnOrderIsLaidAsEarlyAsItCan(t *testing.T) {
	laid, none := 0, 0
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, 1+int(rapid.IntRange(0, 2).Draw(t, "pieces")), 4)
		n.Rack = nil
		s := newSequencer(n)
		s.limit = math.Inf(1)
		order, start := anyOrder(n, draw), make([]int, len(n.jobs))
		want, can := earliest(n, order, func(j int) bool { return s.inline[j] })
		got := s.lay(order, start)
		require.Equal(t, can, got)
		if !can {
			none++
			return
		}
		laid++
		require.Equal(t, want, start)

		late := s.judge(start).late
		s.limit = float64(late)
		require.True(t, s.lay(order, start), "so late may be accepted")
		s.limit = float64(late) - 1
		require.False(t, s.lay(order, start), "that late may not")
	})
	assert.Positive(t, laid)
	assert.Positive(t, none)
}

// With places to mind and jobs that pass those which a longest wait holds back, what
// is laid keeps the rules, and is the earliest of the order that comes out.
func TestWhatIsLaidKeepsTheRules(t *testing.T) {
	laid := 0
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, 4, 4)
		s := newSequencer(n)
		s.limit = math.Inf(1)
		s.passing = rapid.Bool().Draw(t, "passing")
		order, start := anyOrder(n, draw), make([]int, len(n.jobs))
		if !s.lay(order, start) {
			return
		}
		laid++
		plan := n.plan(start)
		KeepsTheRules(t, n.Problem, plan)
		want, can := earliest(n, order, func(j int) bool { return s.inline[j] })
		require.True(t, can)
		if !s.passing {
			require.Equal(t, want, start)
		}
		for j, at := range want { // what was pulled before another passed it may lie later
			require.GreaterOrEqual(t, start[j], at)
		}
		g := s.judged(start)
		require.Equal(t, [4]int{plan.Late, plan.LastEnd, plan.Sessions, plan.Ends},
			[4]int{g.late, g.last, g.sessions, g.ends})
		sum := 0
		for _, at := range start {
			sum += at
		}
		require.Equal(t, sum, g.starts)
	})
	assert.Positive(t, laid)
}

// An order made of starts is by time, and each job behind those it waits for.
func TestAnOrderOfStarts(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, 3, 5)
		s := newSequencer(n)
		start := make([]int, len(n.jobs))
		for j := range start {
			start[j] = 10 * draw.IntN(12)
		}
		order := s.sorted(start)
		at := make([]int, len(order))
		for p, j := range order {
			at[j] = p
		}
		// a job comes no earlier than the latest of all it waits for, one after another
		from := func(int) int { return 0 }
		from = func(j int) int {
			v := start[j]
			for _, w := range n.jobs[j].Waits {
				v = max(v, from(n.number[n.jobs[j].piece][w.After]))
			}
			return v
		}
		for p, j := range order {
			for _, w := range n.jobs[j].Waits {
				require.Less(t, at[n.number[n.jobs[j].piece][w.After]], p)
			}
			if p > 0 {
				require.LessOrEqual(t, from(order[p-1]), from(j))
			}
		}
	})
}

// Plans are compared by lateness, then the last end, then sessions and all ends together, a session as
// a day, then by all starts.
func TestGoalsAreComparedInTheirOrder(t *testing.T) {
	rising := []goal{{0, 9, 9, 9, 9}, {1, 0, 9, 9, 9}, {1, 1, 1, 9, 9}, {1, 1, 0, 1450, 9}, {1, 1, 2, 8, 0},
		{1, 1, 2, 8, 1}}
	for i, g := range rising {
		for k, h := range rising {
			assert.Equal(t, i < k, g.better(h), "%v %v", g, h)
			p, q := Plan{Late: g.late, LastEnd: g.last, Sessions: g.sessions, Ends: g.ends},
				Plan{Late: h.late, LastEnd: h.last, Sessions: h.sessions, Ends: h.ends}
			assert.Equal(t, i < k && i < 4, p.better(q), "%v %v", p, q)
		}
	}
	assert.Greater(t, goal{late: 1}.cost(), goal{last: 19, starts: 90}.cost(),
		"a minute late weighs more than nineteen of the last end")
	assert.Greater(t, goal{last: 1}.cost(), goal{starts: 99}.cost())
	assert.Positive(t, goal{starts: 1}.cost())
}

// Places are handed on in the order of the line: whoever finds none waits, with all that
// follows of it, behind the job that gives one back.
func TestTheLineForAPlace(t *testing.T) {
	stay := func(id string, places, class int, tasks int) Piece {
		p := Piece{ID: id, Due: NoDue, Places: places, Rack: class}
		for k := range tasks {
			p.Tasks = append(p.Tasks, Task{ID: id, Hands: 10, Take: k == 0, Free: k == tasks-1})
		}
		return p
	}
	for name, c := range map[string]struct {
		rack   []int
		pieces []Piece
		order  []int // by number: piece 0 has 0 and 1, piece 1 the next …
		want   []int // nil where it can not be
	}{
		"room for all": {[]int{2}, []Piece{stay("a", 1, 0, 2), stay("b", 1, 0, 2)}, []int{0, 2, 1, 3},
			[]int{0, 2, 1, 3}},
		"one waits": {[]int{1}, []Piece{stay("a", 1, 0, 2), stay("b", 1, 0, 2)}, []int{0, 2, 3, 1},
			[]int{0, 1, 2, 3}},
		"two wait in line": {[]int{1}, []Piece{stay("a", 1, 0, 2), stay("b", 1, 0, 2), stay("c", 1, 0, 2)},
			[]int{0, 2, 4, 3, 5, 1}, []int{0, 1, 2, 3, 4, 5}},
		"a small one slips": {[]int{2}, []Piece{stay("a", 1, 0, 2), stay("b", 2, 0, 2), stay("c", 1, 0, 2)},
			[]int{0, 2, 4, 1, 5, 3}, []int{0, 4, 1, 5, 2, 3}},
		"a set waits for two": {[]int{2}, []Piece{stay("a", 1, 0, 2), stay("b", 1, 0, 2), stay("c", 2, 0, 2)},
			[]int{0, 2, 4, 1, 5, 3}, []int{0, 2, 1, 3, 4, 5}},
		"other racks": {[]int{1, 1}, []Piece{stay("a", 1, 0, 2), stay("b", 1, 1, 2)}, []int{0, 2, 1, 3},
			[]int{0, 2, 1, 3}},
		"in and out at once": {[]int{1}, []Piece{stay("a", 1, 0, 2), stay("b", 1, 0, 1)}, []int{0, 2, 1}, []int{0, 1, 2}},
		"it never comes":     {[]int{1}, []Piece{stay("a", 1, 0, 2), stay("b", 2, 0, 2)}, []int{0, 2, 1, 3}, nil},
		"the middle waits": {[]int{1}, []Piece{stay("a", 1, 0, 3), stay("b", 1, 0, 3)}, []int{0, 3, 4, 1, 5, 2},
			[]int{0, 1, 2, 3, 4, 5}},
		"some wait for their own": {[]int{2}, []Piece{stay("a", 2, 0, 2), stay("b", 1, 0, 3), stay("c", 1, 0, 2)},
			[]int{0, 2, 5, 3, 1, 4, 6},
			[]int{0, 1, 2, 3, 5, 4, 6}},
	} {
		n := newNetwork(t.Context(), Problem{Open: []Interval{{0, 1000}}, Rack: c.rack, Pieces: c.pieces})
		order := slices.Clone(c.order)
		if ok := newSequencer(n).queue(order); c.want == nil {
			assert.False(t, ok, name)
		} else if assert.True(t, ok, name) {
			assert.Equal(t, c.want, order, name)
		}
	}
}

// However an order begins, after the line it never holds more than there are places, and
// the jobs of each piece come as they came.
func TestTheLineLosesNobody(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n, draw := drawnNetwork(t, 6, 4)
		if len(n.Rack) == 0 {
			return
		}
		order := anyOrder(n, draw)
		before := slices.Clone(order)
		if !newSequencer(n).queue(order) {
			return
		}
		require.ElementsMatch(t, before, order)
		held := slices.Clone(n.standing)
		for _, j := range order {
			piece := n.Pieces[n.jobs[j].piece]
			if n.jobs[j].Done || n.jobs[j].Begun {
				continue
			}
			if n.jobs[j].Take && !n.jobs[j].Free {
				held[piece.Rack] += max(1, piece.Places)
			}
			if n.jobs[j].Free && !n.jobs[j].Take {
				held[piece.Rack] -= max(1, piece.Places)
			}
			if n.jobs[j].Take {
				require.LessOrEqual(t, held[piece.Rack], n.Rack[piece.Rack])
			}
		}
		for i := range n.Pieces {
			of := func(order []int) []int {
				return slices.DeleteFunc(slices.Clone(order), func(j int) bool { return n.jobs[j].piece != i })
			}
			require.Equal(t, of(before), of(order))
		}
	})
}
