package schedule_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jevvo/internal/core/schedule"
)

// crowded is a season with too little time: pieces with windows, places and due days
// that cannot all be met.
func crowded(seed uint64) schedule.Problem {
	draw := rand.New(rand.NewPCG(seed, 11))
	p := random(draw, 6+draw.IntN(5), 4+draw.IntN(4))
	for i := range p.Pieces {
		p.Pieces[i].Due = (1 + draw.IntN(4)) * 1440
	}
	return p
}

// little is the effort it is given.
var little = schedule.Settings{Tries: 12, Exact: 1, Nodes: 50, Changes: 1500}

// found are the seed of a crowded season, and the late minutes and the last end that the
// search found of it with little effort.
var found = [][3]int{
	{0, 107040, 31185}, {2, 27090, 11130}, {3, 162435, 49545}, {4, 66255, 22230}, {6, 22980, 12015},
	{7, 188460, 53790}, {10, 119745, 29505}, {13, 107160, 27900}, {16, 152820, 33660}, {21, 36285, 12375},
	{22, 97530, 32265}, {23, 52665, 14925}, {24, 52755, 19440}, {25, 75255, 17850}, {30, 103800, 29820},
	{33, 45060, 14970}, {34, 73770, 18075}, {37, 62040, 26490}, {39, 30780, 13860}, {43, 100560, 25080},
	{44, 100800, 30825}, {45, 18090, 12030}, {47, 138120, 35085}, {48, 25935, 14955}, {49, 141480, 30855},
	{50, 102465, 27885}, {52, 36465, 13455}, {54, 64425, 22110}, {56, 26475, 10605}, {60, 30465, 10905},
	{66, 160545, 41220}, {67, 105780, 36555}, {68, 81525, 30825}, {70, 70170, 21120}, {75, 27090, 12300},
	{76, 77805, 21030}, {78, 96990, 26520}, {80, 98430, 26490}, {81, 59445, 22140}, {86, 61815, 17985},
	{87, 171030, 45315},
}

// Regression: with the same little effort the search finds no worse plans than it did
// when these numbers were taken. Who betters the search takes them anew.
func TestTheSearchIsNoWorseThanItWas(t *testing.T) {
	for _, was := range found {
		p := crowded(uint64(was[0]))
		plan, err := schedule.Solve(t.Context(), p, little)
		require.NoError(t, err, was[0])
		check(t, p, plan)
		worse := plan.Late > was[1] || plan.Late == was[1] && plan.LastEnd > was[2]
		assert.False(t, worse, "season %d: %d late and ends %d, was %d and %d", was[0], plan.Late, plan.LastEnd, was[1], was[2])
	}
}
