package schedule

import (
	"context"
	"encoding/json"
	"flag"
	"math/rand/v2"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ofSize is a network of so many pieces with so many tasks each.
func ofSize(pieces, tasks int) *network {
	p := Problem{Open: []Interval{{0, 100_000}}}
	for range pieces {
		p.Pieces = append(p.Pieces, Piece{Due: NoDue, Tasks: make([]Task, tasks)})
	}
	return newNetwork(context.Background(), p)
}

// The effort is by the size: all orders of few pieces both ways, and never so much that
// the whole takes more than its steps.
func TestTheEffortIsByTheSize(t *testing.T) {
	for n, want := range map[int]int{0: 1, 1: 1, 2: 2, 5: 120, 7: 5040} {
		assert.Equal(t, want, factorial(n), n)
	}
	assert.GreaterOrEqual(t, ofSize(7, 3).tries(), 2*5040, "seven pieces in all orders, both ways")
	assert.Equal(t, 10_400, ofSize(5, 5).tries())
	assert.Equal(t, 10_080, ofSize(13, 2).tries())
	assert.Equal(t, 130_000/27, ofSize(27, 1).tries())
	assert.Equal(t, 200, ofSize(100, 8).tries(), "at least")
	assert.Equal(t, 10_000_000/34, ofSize(26, 1).changes())
	assert.Equal(t, 3_500_000/35, ofSize(27, 1).changes())
	n := ofSize(1, 1)
	assert.Equal(t, 300_000, n.nodes(Settings{}, small))
	assert.Equal(t, 4_000_000/(13*13), n.nodes(Settings{}, small+1))
	assert.Equal(t, 50, n.nodes(Settings{Nodes: 50}, small))
	assert.Equal(t, 50, n.nodes(Settings{Nodes: 50}, small+1))
	assert.Equal(t, 4_000_000/(26*26), n.nodes(Settings{Nodes: 1 << 30}, 26))
}

// All orders of n things come once.
func TestAllOrdersComeOnce(t *testing.T) {
	for n := range 7 {
		seen := map[string]bool{}
		permute(n, func(order []int) bool {
			raw, _ := json.Marshal(order)
			seen[string(raw)] = true
			sorted := slices.Sorted(slices.Values(order))
			for k, v := range sorted {
				require.Equal(t, k, v)
			}
			return false
		})
		assert.Len(t, seen, factorial(n))
	}
}

func TestOneIsMovedInAnOrder(t *testing.T) {
	assert.Equal(t, []int{1, 2, 0, 3}, moved([]int{0, 1, 2, 3}, 0, 2))
	assert.Equal(t, []int{3, 0, 1, 2}, moved([]int{0, 1, 2, 3}, 3, 0))
	assert.Equal(t, []int{0, 1, 2, 3}, moved([]int{0, 1, 2, 3}, 1, 1))
}

// The rules the search begins with, on three pieces that each puts first another way, and
// the piece that wants bettering most.
func TestTheOrdersItBeginsWith(t *testing.T) {
	piece := func(id, mix string, due, hands int) Piece {
		return Piece{ID: id, Due: due,
			Tasks: []Task{{Hands: 1}, {Hands: hands, Mix: mix, Waits: []Wait{{After: 0, Min: 0, Max: NoMax}}}}}
	}
	n := newNetwork(t.Context(), Problem{Open: []Interval{{0, 10_000}}, Pieces: []Piece{
		piece("long, due late", "b", 400, 300), piece("due first", "c", 100, 10), piece("due as early", "a", 100,
			5), piece("no due day", "", NoDue, 30)}})
	assert.Equal(t, [][]int{
		{1, 2, 0, 3}, // by due day
		{1, 2, 0, 3}, // by slack: 89, 94, 99
		{0, 3, 1, 2}, // the longest first
		{2, 1, 0, 3}, // by due day, then mix
		{3, 2, 0, 1}, // by mix
	}, n.firstOrders())

	plan := Plan{Starts: [][]int{{0, 200}, {0, 150}, {0, 90}, {0, 900}}} // ends 500, 160, 95, 930: late 100, 60, 0, 0
	for skip, want := range []int{0, 1, 3, 2, 2} {
		assert.Equal(t, want, n.worst(plan, skip), skip)
	}
}

var update = flag.Bool("update", false, "take the plans and what they took anew")

// A keptPlan is what the search made of a studio and how many steps it took.
type keptPlan struct {
	Late, Last, Sessions, Bound int
	Proven                      bool
	Starts                      [][]int
	Steps                       int
}

// ways are the efforts the plans are kept for.
var ways = map[string]Settings{
	"orders of pieces": {Changes: -1, Exact: 1, Tries: 40},
	"little of all":    {Tries: 12, Exact: 14, Nodes: 400, Changes: 300},
	"changes":          {Tries: 4, Exact: 1, Changes: 800},
}

// Regression: the same studio gets the same plan, in as many steps, from version to
// version. A new plan turns over the days of every studio, so it has to be meant: then
// they are taken anew with -update, and the seasons of the independent solver and of ten
// minutes say whether it is better.
func TestPlansStayAsTheyWere(t *testing.T) {
	const file = "testdata/plans.json"
	got := map[string][]keptPlan{}
	for way, s := range ways {
		for seed := range uint64(64) {
			draw := rand.New(rand.NewPCG(seed, 9))
			n := newNetwork(t.Context(), anyStudio(draw, 2+int(seed)%9, 2+int(seed)%4))
			plan, err := n.solve(s)
			if err != nil {
				require.ErrorIs(t, err, ErrInfeasible)
				plan = Plan{}
			} else {
				KeepsTheRules(t, n.Problem, plan)
			}
			got[way] = append(got[way], keptPlan{plan.Late, plan.LastEnd, plan.Sessions, plan.Bound, plan.Proven, plan.Starts,
				n.steps})
		}
	}
	if *update {
		raw, err := json.Marshal(got)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(file, raw, 0o644))
	}
	raw, err := os.ReadFile(file)
	require.NoError(t, err)
	var want map[string][]keptPlan
	require.NoError(t, json.Unmarshal(raw, &want))
	for way := range ways {
		require.Len(t, got[way], len(want[way]))
		for i := range got[way] {
			assert.Equal(t, want[way][i], got[way][i], "%s, studio %d", way, i)
		}
	}
}
